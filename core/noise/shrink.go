package noise

import (
	"context"
	"math"
	"sync"

	"velours/core/frame"
	"velours/core/vec"
)

const (
	// size is that of the squares whose cosine transform is shrunk, and rise how far one row of them is below the last, at first and then; across
	// they follow pixel by pixel. Every pixel lies in size/rise × size of them.
	size, firstRise, rise = 8, 8, 4
	// strongest is how many deviations of its noise a frequency must have to be taken for picture, at first.
	strongest = 2.7
	// before and after are samples beside a row that squares reach.
	before, after = 16, 32
	// together is how many squares side by side are worked on at once: what they need stays in the cache.
	together = 512
)

// spectrum is the variance of noise in each frequency of a square, down and across, as vec.Cosine scales them.
type spectrum [size][size]float32

// spectrumOf is the spectrum of noise that has covariances.
func spectrumOf(l *Lags) (s spectrum) {
	var own [size][size]float64 // Σ b(i)·b(i+d) of each frequency's wave b
	for k := range size {
		for d := range size {
			for i := 0; i+d < size; i++ {
				own[k][d] += wave(k, i) * wave(k, i+d)
			}
		}
	}
	for k := range size {
		for j := range size {
			sum := 0.0
			for dy := 1 - size; dy < size; dy++ {
				for dx := 1 - size; dx < size; dx++ {
					sum += own[k][abs(dy)] * own[j][abs(dx)] * l[lags+dy][lags+dx]
				}
			}
			scale := vec.CosineScales[k] * vec.CosineScales[j]
			s[k][j] = float32(max(sum, 0.01*l[lags][lags], 1e-6) * scale * scale)
		}
	}
	return s
}

// spread is noise by its covariances, in each of three planes, and how many times its variance is taken for what it is.
type spread struct {
	lags   [3]Lags
	factor [3]float32
}

// scales is how many sizes of a picture noise is taken out at, each half the last: large spots are small in small pictures.
const scales = 3

// shrink takes noise out of three planes. At each pixel there is a share left of its variance; shares may be nil where it is whole. Each size of
// the picture is shrunk by itself, and what is larger than the squares of one is taken from the next.
func shrink(ctx context.Context, dst, src, shares *frame.Frame, n *spread, level int) error {
	pilot := frame.Get(src.W, src.H, 3)
	defer pilot.Release()
	if shares != nil {
		if err := mirror(ctx, shares); err != nil {
			return err
		}
	}
	if err := mirror(ctx, src); err != nil {
		return err
	}
	var spectra [3]spectrum
	for p := range 3 {
		spectra[p] = spectrumOf(&n.lags[p])
	}
	bands := func(to, pilot *frame.Frame, k float32) error {
		return frame.Bands(ctx, src.H, bandRows, func(y0, y1 int) {
			for p := range 3 {
				shrinkBand(to, p, src, pilot, shares, &spectra[p], k*n.factor[p], y0, y1)
			}
		})
	}
	if err := bands(pilot, nil, strongest*strongest); err != nil {
		return err
	}
	if err := mirror(ctx, pilot); err != nil {
		return err
	}
	if err := bands(dst, pilot, 1); err != nil {
		return err
	}
	if level+1 == scales || src.W < 64 || src.H < 64 {
		return nil
	}
	small, err := half(ctx, src, 3)
	if err != nil {
		return err
	}
	defer small.Release()
	var smallShares *frame.Frame
	if shares != nil {
		if smallShares, err = half(ctx, shares, 1); err != nil {
			return err
		}
		defer smallShares.Release()
	}
	smaller := spread{factor: n.factor}
	for p := range 3 {
		smaller.lags[p] = n.lags[p].halved()
	}
	clean := frame.Get(small.W, small.H, 3)
	defer clean.Release()
	if err := shrink(ctx, clean, small, smallShares, &smaller, level+1); err != nil {
		return err
	}
	had, err := half(ctx, dst, 3)
	if err != nil {
		return err
	}
	defer had.Release()
	for p := range 3 {
		for y := range had.H {
			vec.Mix(clean.Row(p, y), clean.Row(p, y), had.Row(p, y), 1, -1)
		}
	}
	return addDouble(ctx, dst, clean)
}

// bandRows is how many rows are worked on at once.
const bandRows = 96

// shrinkBand makes rows y0 to y1 of a plane: by strength alone without a pilot, by it with one.
func shrinkBand(dst *frame.Frame, plane int, src, pilot, shares *frame.Frame, s *spectrum, factor float32, y0, y1 int) {
	w, h := src.W, src.H
	wide := (before + w + 15) &^ 15
	rise := rise
	if pilot == nil {
		rise = firstRise
	}
	room, _ := rooms.Get().(*squares)
	if room == nil {
		room = newSquares()
	}
	defer rooms.Put(room)
	sums, drop := room.rows(y1-y0, wide+after+16)
	for top := y0 - size + rise - mod(y0, rise); top < y1; top += rise {
		var in, guide, share eight
		for i := range size {
			y := mirrored(top+i, h)
			in[i] = src.Around(plane, y)[frame.LeftPad-before:]
			if pilot != nil {
				guide[i] = pilot.Around(plane, y)[frame.LeftPad-before:]
			}
			if shares != nil {
				share[i] = shares.Around(0, y)[frame.LeftPad-before:]
			}
		}
		var out eight
		for i := range size {
			if y := top + i; y >= y0 && y < y1 {
				out[i] = sums[y-y0]
			} else {
				out[i] = drop
			}
		}
		for x := 0; x < wide; x += together {
			room.shrink(&out, &in, &guide, &share, x, min(together, wide-x), s, factor)
		}
	}
	each := float32(rise) / (size * size) / (8 * 8) // of which 8 × 8 are vec.CosineBack's
	for i, row := range sums {
		vec.Mix(dst.Row(plane, y0+i), row[before:], row[before:], each, 0)
	}
}

// eight are eight rows.
type eight [size][]float32

// from tells where rows begin, x samples on.
func (e *eight) from(at *vec.Eight, x int) {
	for i, row := range e {
		at[i] = &row[x]
	}
}

// squares is room for squares side by side.
type squares struct {
	down, guide      eight // frequencies down, of what is shrunk and of its pilot
	both, guideBoth  eight // frequencies across of one frequency down
	back             eight // the inverse across, with margin samples of nothing on either side
	sum              eight // of it, a frequency down each
	share, shareDown []float32
	at               [4]vec.Eight
	had              int       // squares that were worked on last
	sums             []float32 // rows of what squares add up to
}

// rooms are squares that nobody is working on.
var rooms sync.Pool

// rows are so many rows of nothing, and one for what is not wanted.
func (q *squares) rows(n, wide int) (rows [][]float32, drop []float32) {
	if len(q.sums) < (n+1)*wide {
		q.sums = make([]float32, (n+1)*wide)
	} else {
		clear(q.sums[:(n+1)*wide])
	}
	for i := range n + 1 {
		rows = append(rows, q.sums[i*wide:(i+1)*wide:(i+1)*wide])
	}
	return rows[:n], rows[n]
}

const margin = 16

func newSquares() *squares {
	const n = together + after
	make8 := func(e *eight) {
		for i := range e {
			e[i] = make([]float32, n+2*margin)
		}
	}
	q := &squares{share: make([]float32, n+2*margin), shareDown: make([]float32, n+2*margin)}
	for _, e := range []*eight{&q.down, &q.guide, &q.both, &q.guideBoth, &q.back, &q.sum} {
		make8(e)
	}
	return q
}

// shrink works on n squares side by side, the first at x of the rows that go in. n is a multiple of 16.
func (q *squares) shrink(out, in, guide, share *eight, x, n int, s *spectrum, factor float32) {
	long := n + size
	piloted := guide[0] != nil
	at, to := &q.at[0], &q.at[1] // kept here, since what kernels are given is allocated otherwise
	in.from(at, x)
	q.down.from(to, 0)
	vec.Cosine(to, at, long)
	if piloted {
		guide.from(at, x)
		q.guide.from(to, 0)
		vec.Cosine(to, at, long)
	}
	// the share of a square is the mean of its pixels'
	if share[0] != nil {
		share.from(at, x)
		vec.SumEight(q.shareDown, at, long)
		at.Rows(q.shareDown, 1)
		vec.SumEight(q.share, at, n)
		vec.Mix(q.share[:n], q.share, q.share, 1.0/(size*size), 0)
	} else {
		for i := range q.share[:n] {
			q.share[i] = 1
		}
	}
	both, guided, back := &q.at[1], &q.at[2], &q.at[3]
	q.both.from(both, 0)
	q.guideBoth.from(guided, 0)
	q.back.from(back, margin)
	if n < q.had { // what is beyond the squares is nothing
		for i := range size {
			clear(q.back[i][margin+n:])
		}
	}
	q.had = n
	for k := range size {
		at.Rows(q.down[k], 1)
		vec.Cosine(both, at, n)
		if piloted {
			at.Rows(q.guide[k], 1)
			vec.Cosine(guided, at, n)
			for j := range size {
				if k+j == 0 {
					continue
				}
				vec.Wiener(q.both[j], q.guideBoth[j], q.share, n, factor*s[k][j])
			}
		} else {
			for j := range size {
				if k+j > 0 { // the mean always stays
					vec.Strong(q.both[j], q.share, n, factor*s[k][j])
				}
			}
		}
		vec.CosineBack(back, both, n)
		for i := range size {
			at[i] = &q.back[i][margin-i]
		}
		vec.SumEight(q.sum[k], at, long)
	}
	q.sum.from(at, 0)
	vec.CosineBack(both, at, long)
	for i := range size {
		to := out[i][x : x+long]
		vec.Mix(to, to, q.both[i], 1, 1)
	}
}

// mirror continues a frame's rows beyond their ends, as seen in a mirror.
func mirror(ctx context.Context, f *frame.Frame) error {
	return frame.Bands(ctx, f.H, 64, func(y0, y1 int) {
		for p := range f.Planes {
			for y := y0; y < y1; y++ {
				mirrorRow(f.Around(p, y), f.W)
			}
		}
	})
}

// mirrorRow continues a row of w samples that begins at frame.LeftPad.
func mirrorRow(row []float32, w int) {
	for i := 1; i <= before; i++ {
		row[frame.LeftPad-i] = row[frame.LeftPad+mirrored(-i, w)]
	}
	for i := range after + 16 {
		row[frame.LeftPad+w+i] = row[frame.LeftPad+mirrored(w+i, w)]
	}
}

// mirrored is a place within 0 to n, for one that may lie beyond.
func mirrored(i, n int) int {
	if i < 0 {
		i = -i
	}
	if i < n {
		return i
	}
	if n == 1 {
		return 0
	}
	if i = i % (2*n - 2); i >= n {
		i = 2*n - 2 - i
	}
	return i
}

func mod(a, n int) int { return ((a % n) + n) % n }

func abs(a int) int { return max(a, -a) }

// wave is sample i of the orthonormal cosine of a frequency.
func wave(k, i int) float64 {
	v := 0.5 * math.Cos(float64(2*i+1)*float64(k)*math.Pi/16)
	if k == 0 {
		return v * math.Sqrt2 / 2
	}
	return v
}

// between reads covariances between lags, straight; beyond the last there is none.
func (l *Lags) between(y, x float64) float64 {
	i, j := math.Floor(y), math.Floor(x)
	u, v := y-i, x-j
	at := func(i, j float64) float64 {
		if math.Abs(i) > lags || math.Abs(j) > lags {
			return 0
		}
		return l[lags+int(i)][lags+int(j)]
	}
	return (1-u)*((1-v)*at(i, j)+v*at(i, j+1)) + u*((1-v)*at(i+1, j)+v*at(i+1, j+1))
}
