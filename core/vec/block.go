package vec

import "math"

// Blocks are f×f samples of a picture that one of a smaller picture stands for.

// Blocks holds what the kernels need to gather rows into blocks of f samples, and to grow them again. It may be shared.
type Blocks struct {
	f int
	// pick tells, for each of f vectors of eight sums, the eight results' places in it, and take which of them lie there.
	pick [][8]uint32
	take [][8]int32
	// at tells, for each of f vectors of a grown row, where the samples of the smaller that it lies between begin, from those of the
	// eight that the f vectors are made of; low are their places from there, and part how far each lies from one to the next.
	at   []int32
	low  [][8]uint32
	part [][8]float32
}

// NewBlocks prepares for blocks of f samples.
func NewBlocks(f int) *Blocks {
	b := &Blocks{f: f, pick: make([][8]uint32, f), take: make([][8]int32, f), at: make([]int32, f), low: make([][8]uint32, f), part: make([][8]float32, f)}
	for i := range 8 {
		j := f * i
		b.pick[j/8][i], b.take[j/8][i] = uint32(j%8), -1
	}
	for j := range f {
		first := int(math.Floor((float64(8*j)+0.5)/float64(f) - 0.5))
		b.at[j] = int32(first)
		for i := range 8 {
			u := (float64(8*j+i)+0.5)/float64(f) - 0.5
			b.low[j][i], b.part[j][i] = uint32(int(math.Floor(u))-first), b.Share((8*j+i)%f)
		}
	}
	return b
}

// Share is how far sample i of a block lies from the middle of one block to that of the next.
func (b *Blocks) Share(i int) float32 {
	u := (float64(i)+0.5)/float64(b.f) - 0.5
	return float32(u - math.Floor(u))
}

// Gather sets dst to the sums of blocks of src, each over count: a row that is the sum of count/f rows gives their mean. src must hold
// f·up(len(dst)) + f + 8 samples.
func (b *Blocks) Gather(dst, src []float32, count float32) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	dst, src = dst[:n], src[:b.f*n+b.f+7]
	active.gather(&dst[0], &src[0], n, b, count)
}

// Grow adds a row, enlarged f times between its samples, to dst: src[1+i] is sample i, one stands before them, and it must hold
// len(dst)/f + 28 samples.
func (b *Blocks) Grow(dst, src []float32) { b.GrowFrom(dst, src, 0, -1) }

// GrowFrom is Grow of a part: dst begins at column x0, a multiple of 8, and src with sample first, the one before what the first of dst
// lies between, or that itself.
func (b *Blocks) GrowFrom(dst, src []float32, x0, first int) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	dst, src = dst[:n], src[:n/b.f+11]
	active.grow(&dst[0], &src[0], n, b, x0/8, first)
}

func plainGather(pd, ps *float32, n int, b *Blocks, count float32) {
	d, s := rows(n, pd), rows(b.f*n, ps)
	for x := range d {
		var sum float32
		for _, v := range s[x*b.f : (x+1)*b.f] {
			sum += v
		}
		d[x] = sum / count
	}
}

func plainGrow(pd, ps *float32, n int, b *Blocks, vectors, first int) {
	d, s := rows(n, pd), rows(n/b.f+11, ps)
	for x := range d {
		j, i := vectors+x/8, x%8
		at := 8*(j/b.f) + int(b.at[j%b.f]) - first + int(b.low[j%b.f][i])
		d[x] += s[at] + (s[at+1]-s[at])*b.part[j%b.f][i]
	}
}
