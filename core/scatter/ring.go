package scatter

import (
	"fmt"
	"math"
	"sort"

	"gonum.org/v1/gonum/dsp/fourier"
	"gonum.org/v1/gonum/mat"

	"velours/core/cache"
	"velours/core/vec"
)

// ringReach is the half-width of a sampled spread, mm. Its sharp parts, the rings of the first bounces,
// lie within nearReach; from nearFrom on, the smooth rest takes over, on a grid of about farPitch.
const ringReach, nearReach, nearFrom, farPitch = 2.4, 0.75, 0.4, 0.105

// nearRank and farRank are how many separable terms stand for either part: a disc's halo is drawn within
// a hundredth.
const nearRank, farRank = 4, 3

// sampled is the spread of a base on square grids: near on that of its pitch, far on one coarse times as
// wide, which may be 1 where near alone is all of it.
type sampled struct {
	near, far separable
	coarse    int
}

// separable is a sum of separable terms: half-kernels, centre first, and their weights.
type separable struct {
	taps    []*vec.Symmetric
	weights []float32
}

var rings = cache.Results[*sampled]{Size: 256}

// sample computes the spread, all bounces, averaged over cells of the given pitch (mm), normalised to
// sum 1. Where near and far are wanted apart, far is there on a coarse grid too.
func sample(b Base, pitch float64, apart bool) *sampled {
	key := fmt.Sprintf("%v|%v", b, pitch)
	coarse := max(1, int(math.Round(farPitch/pitch)))
	if apart && coarse == 1 {
		key += "|apart"
	}
	s, _ := rings.GetStored("spread of a base", key, writeSampled, readSampled, func() (*sampled, error) {
		return sampleNow(b, pitch, coarse, apart), nil
	})
	return s
}

func sampleNow(b Base, pitch float64, coarse int, apart bool) *sampled {
	r := max(int(math.Ceil(ringReach/pitch)), 2)
	n := 2*r + 1
	grid := bounces(b, cells(b, pitch, r), pitch, r)
	total := 0.0
	for _, v := range grid {
		total += v
	}
	for i := range grid {
		grid[i] /= total
	}
	s := &sampled{coarse: coarse}
	if s.coarse == 1 && !apart {
		s.near = separate(grid, r, nearRank, 0)
	} else {
		near := make([]float64, len(grid))
		m := s.coarse
		rc := (r + m - 1) / m
		far := make([]float64, (2*rc+1)*(2*rc+1))
		for i := -r; i <= r; i++ {
			for j := -r; j <= r; j++ {
				at := (r+i)*n + r + j
				near[at] = grid[at] * nearness(math.Hypot(float64(i), float64(j))*pitch)
				ci, cj := int(math.Round(float64(i)/float64(m))), int(math.Round(float64(j)/float64(m)))
				if ci >= -rc && ci <= rc && cj >= -rc && cj <= rc {
					far[(rc+ci)*(2*rc+1)+rc+cj] += grid[at] - near[at]
				}
			}
		}
		rn := min(int(math.Ceil(nearReach/pitch)), r)
		s.near = separate(inner(near, r, rn), rn, nearRank, 0)
		s.far = separate(far, rc, farRank, 0)
	}
	return s
}

// nearShare is the share of the spread of a base that is near.
func nearShare(b Base, pitch float64) float64 {
	s := sample(b, pitch, true)
	sum := func(s separable) float64 {
		out := 0.0
		for k, t := range s.taps {
			one := float64(t.At(0))
			for i := 1; i <= t.Reach(); i++ {
				one += 2 * float64(t.At(i))
			}
			out += float64(s.weights[k]) * one * one
		}
		return out
	}
	near, far := sum(s.near), sum(s.far)
	return near / (near + far)
}

// nearness is the share of the spread at distance d, mm, that belongs to its near part: all of it up to
// nearFrom, none from nearReach on.
func nearness(d float64) float64 {
	t := min(max((d-nearFrom)/(nearReach-nearFrom), 0), 1)
	return 0.5 + 0.5*math.Cos(math.Pi*t)
}

// inner is the middle of a grid of half-width r, of half-width to.
func inner(grid []float64, r, to int) []float64 {
	n := 2*to + 1
	out := make([]float64, 0, n*n)
	for i := range n {
		from := (r-to+i)*(2*r+1) + r - to
		out = append(out, grid[from:from+n]...)
	}
	return out
}

// separate splits a symmetric grid of half-width r into separable terms by its eigenvectors, and keeps its
// sum. There are rank of them, or fewer if those miss no more than a share of it, in the mean square.
func separate(grid []float64, r, rank int, miss float64) separable {
	n := 2*r + 1
	want := 0.0
	sym := mat.NewSymDense(n, nil)
	for i := range n {
		for j := range n {
			want += grid[i*n+j]
			if j >= i {
				sym.SetSym(i, j, grid[i*n+j])
			}
		}
	}
	var eig mat.EigenSym
	eig.Factorize(sym, true)
	values := eig.Values(nil)
	var vectors mat.Dense
	eig.VectorsTo(&vectors)
	order := make([]int, n)
	rest := 0.0 // of the squares
	for i := range order {
		order[i] = i
		rest += values[i] * values[i]
	}
	most := miss * miss * rest
	sort.SliceStable(order, func(i, j int) bool { return math.Abs(values[order[i]]) > math.Abs(values[order[j]]) })
	var s separable
	sum := 0.0
	for i, k := range order[:min(rank, n)] {
		if miss > 0 && i > 0 && rest <= most {
			break
		}
		rest -= values[k] * values[k]
		half, total := make([]float32, r+1), 0.0
		for i := range half {
			// the spread is even, so its eigenvectors are; the mean takes rounding out
			v := (vectors.At(r+i, k) + vectors.At(r-i, k)) / 2
			half[i] = float32(v)
			total += v
			if i > 0 {
				total += v
			}
		}
		s.taps = append(s.taps, vec.NewSymmetric(half))
		s.weights = append(s.weights, float32(values[k]))
		sum += values[k] * total * total
	}
	for i := range s.weights {
		s.weights[i] *= float32(want / sum)
	}
	return s
}

// cells averages one bounce over each cell of the grid; the ring is sharper than a cell.
func cells(b Base, pitch float64, r int) []float64 {
	n := 2*r + 1
	// a fine radial table spares the Fresnel arithmetic
	const fine = 1 << 14
	far := (ringReach + 2*pitch) * math.Sqrt2
	table := make([]float64, fine+2)
	for i := range table {
		table[i] = b.Return(far * float64(i) / fine)
	}
	at := func(d float64) float64 {
		u := d / far * fine
		i := min(int(u), fine)
		return table[i] + (table[i+1]-table[i])*(u-float64(i))
	}
	grid := make([]float64, n*n)
	const sub = 12
	for i := 0; i <= r; i++ {
		for j := 0; j <= i; j++ {
			s := 0.0
			for a := range sub {
				for c := range sub {
					x := (float64(i) + (float64(a)+0.5)/sub - 0.5) * pitch
					y := (float64(j) + (float64(c)+0.5)/sub - 0.5) * pitch
					s += at(math.Hypot(x, y))
				}
			}
			s *= pitch * pitch / sub / sub
			for _, p := range [8][2]int{{i, j}, {j, i}, {-i, j}, {j, -i}, {i, -j}, {-j, i}, {-i, -j}, {-j, -i}} {
				grid[(r+p[0])*n+r+p[1]] = s
			}
		}
	}
	return grid
}

// bounces adds the later bounces, K/(1 − ρK) in the Fourier plane.
func bounces(b Base, grid []float64, pitch float64, r int) []float64 {
	n := 2*r + 1
	size := 1
	for size < 2*n {
		size *= 2
	}
	f := make([]complex128, size*size)
	wrap := func(i int) int { return (i - r + size) % size }
	for i := range n {
		for j := range n {
			f[wrap(i)*size+wrap(j)] = complex(grid[i*n+j], 0)
		}
	}
	fft := fourier.NewCmplxFFT(size)
	transform := func(back bool) {
		one := func(v []complex128) {
			if back {
				fft.Sequence(v, v)
			} else {
				fft.Coefficients(v, v)
			}
		}
		col := make([]complex128, size)
		for i := range size {
			one(f[i*size : (i+1)*size])
		}
		for j := range size {
			for i := range size {
				col[i] = f[i*size+j]
			}
			one(col)
			for i := range size {
				f[i*size+j] = col[i]
			}
		}
	}
	transform(false)
	for i, k := range f {
		f[i] = k / (1 - complex(b.Emulsion, 0)*k)
	}
	transform(true)
	for i := range n {
		for j := range n {
			grid[i*n+j] = real(f[wrap(i)*size+wrap(j)]) / float64(size*size)
		}
	}
	return grid
}
