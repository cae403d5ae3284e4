package media

// Dither rounds rows of one plane to whole codes so that their mean is kept: what a sample loses by
// rounding goes to its neighbours that are still to come (Floyd & Steinberg 1976), row by row in turn to
// the right and to the left. A sample that is a whole code already passes unchanged, and passes what it
// was given on.
type Dither struct {
	lo, hi    float32
	now, next []float32 // what the row and the one after it owe, one wider at either end
	left      bool
}

// NewDither prepares for rows of w samples between codes lo and hi.
func NewDither(w int, lo, hi float32) *Dither {
	return &Dither{lo: lo, hi: hi, now: make([]float32, w+2), next: make([]float32, w+2)}
}

// Row rounds v, in codes, and gives each code to put.
func (d *Dither) Row(v []float32, put func(x int, code uint16)) {
	d.now, d.next = d.next, d.now
	clear(d.next)
	one := func(x, ahead int) {
		want := min(max(v[x], d.lo), d.hi)
		if !(v[x] > d.lo) { // NaN too
			want = d.lo
		}
		// held near the sample, so that no debt outlives a stretch at either end
		due := want + min(max(d.now[x+1], -0.5), 0.5)
		code := float32(int(min(max(due, d.lo), d.hi) + 0.5))
		owed := due - code
		put(x, uint16(code))
		d.now[x+1+ahead] += owed * (7.0 / 16)
		d.next[x+1-ahead] += owed * (3.0 / 16)
		d.next[x+1] += owed * (5.0 / 16)
		d.next[x+1+ahead] += owed * (1.0 / 16)
	}
	if d.left {
		for x := len(v) - 1; x >= 0; x-- {
			one(x, -1)
		}
	} else {
		for x := range v {
			one(x, 1)
		}
	}
	d.left = !d.left
}
