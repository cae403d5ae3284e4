package scope

// Unit is the weight of one pixel in a trace.
const Unit = 256

// Trace is a field of counts, row 0 at the top.
type Trace struct {
	W, H, Channels int
	count          []uint32
	// Share is the weight that a cell would have if all that could fall into it did; in a waveform, by
	// column.
	Share []float64
}

func newTrace(w, h, channels int) *Trace {
	return &Trace{W: w, H: h, Channels: channels, count: make([]uint32, w*h*channels)}
}

// At is the count of a cell.
func (t *Trace) At(channel, x, y int) uint32 { return t.count[(channel*t.H+y)*t.W+x] }

// Waveform counts, for each of w columns of the picture, how often each of h levels occurs. Its channels
// are red, green, blue and the weighted sum. w may not exceed the picture's width.
func Waveform(p Picture, w, h int) *Trace {
	w = min(w, p.W)
	t := newTrace(w, h, 4)
	column := make([]int, p.W)
	t.Share = make([]float64, w)
	for x := range column {
		column[x] = x * w / p.W
		t.Share[column[x]] += Unit * float64(p.H)
	}
	top := float32(h - 1)
	p.rows(func(_ int, c [4][]float32) {
		for i, row := range c {
			field := t.count[i*h*w : (i+1)*h*w]
			for x, v := range row {
				at := (1 - v) * top
				j := int(at)
				k := uint32((at-float32(j))*Unit + 0.5)
				o := j*w + column[x]
				field[o] += Unit - k
				if k > 0 {
					field[o+w] += k
				}
			}
		}
	})
	return t
}

// splat gives a pixel to the four cells around (u, v), which are in cells from the left and the top;
// what lies outside is not counted.
func (t *Trace) splat(u, v float32) {
	if !(u >= 0 && v >= 0 && u <= float32(t.W-1) && v <= float32(t.H-1)) {
		return
	}
	i, j := int(u), int(v)
	a, b := uint32((u-float32(i))*16+0.5), uint32((v-float32(j))*16+0.5)
	o := j*t.W + i
	t.count[o] += (16 - a) * (16 - b)
	if a > 0 {
		t.count[o+1] += a * (16 - b)
	}
	if b > 0 {
		t.count[o+t.W] += (16 - a) * b
		if a > 0 {
			t.count[o+t.W+1] += a * b
		}
	}
}
