package vec

// Table3 is a table of N×N×N colours over the unit cube, red running fastest, four floats a
// colour so that one vertex is one load. Inputs outside the cube take the value at its face.
type Table3 struct {
	N    int
	Data []float32
}

// NewTable3 makes a table of zeros.
func NewTable3(n int) *Table3 { return &Table3{n, make([]float32, 4*n*n*n+16)} }

// Set gives node (i, j, k) its colour.
func (t *Table3) Set(i, j, k int, r, g, b float32) {
	o := 4 * ((k*t.N+j)*t.N + i)
	t.Data[o], t.Data[o+1], t.Data[o+2] = r, g, b
}

// At looks a colour up by tetrahedral interpolation, as the kernels do.
func (t *Table3) At(r, g, b float32) (float32, float32, float32) {
	top := float32(t.N - 1)
	x, y, z := unit(r)*top, unit(g)*top, unit(b)*top
	last := int32(t.N - 2)
	i, j, k := min(int32(x), last), min(int32(y), last), min(int32(z), last)
	x, y, z = x-float32(i), y-float32(j), z-float32(k)
	sx, sy, sz := int32(4), int32(4*t.N), int32(4*t.N*t.N)
	base := i*sx + j*sy + k*sz
	// the largest fraction leads to the second vertex, the smallest is left out of the third
	first, miss := sz, sz
	if x >= y && x >= z {
		first = sx
	} else if y >= z {
		first = sy
	}
	if x < y && x < z {
		miss = sx
	} else if y < z {
		miss = sy
	}
	f1, f3 := max(x, y, z), min(x, y, z)
	f2 := max(min(x, y), min(max(x, y), z))
	d := t.Data
	v0, v1 := d[base:base+4], d[base+first:base+first+4]
	v2, v3 := d[base+sx+sy+sz-miss:], d[base+sx+sy+sz:]
	w0, w1, w2 := 1-f1, f1-f2, f2-f3
	return v0[0]*w0 + v1[0]*w1 + v2[0]*w2 + v3[0]*f3,
		v0[1]*w0 + v1[1]*w1 + v2[1]*w2 + v3[1]*f3,
		v0[2]*w0 + v1[2]*w1 + v2[2]*w2 + v3[2]*f3
}

// unit holds v to 0…1; what is not a number is 0.
func unit(v float32) float32 {
	if !(v > 0) {
		return 0
	}
	return min(v, 1)
}
