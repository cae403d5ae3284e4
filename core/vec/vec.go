package vec

import "os"

// table is one back end: every kernel takes pointers to samples and a length that is a
// multiple of 16.
type table struct {
	name        string
	matrix      func(r, g, b *float32, n int, m *[12]float32)
	log2        func(dst, src *float32, n int, floor float32)
	exp2        func(dst, src *float32, n int)
	decode      func(dst, src *float32, n int, p *Log)
	curve       func(dst, src *float32, n int, c *Curve)
	short       func(dst, src *float32, n int, c *Short)
	mix         func(dst, a, b *float32, n int, ka, kb float32)
	modulate    func(dst, a, b *float32, n int, ka, kb float32, c *Short)
	taps        func(dst, src *float32, n int, k *Symmetric)
	tetra       func(r, g, b *float32, n int, t *Table3)
	average     func(dst, a, b *float32, n int, k *[4]float32, c, d *float32)
	halve       func(dst, src *float32, n int)
	double      func(dst, src, line *float32, n int, ka, kb float32)
	columns     func(dst *float32, rows *[]float32, n int, k *Symmetric, gain float32)
	noise       func(d0, d1, d2 *float32, n int, first uint64, keys *[3]uint64)
	noiseRow    func(dst *float32, n int, first, key uint64)
	bound       func(row *float32, n int, limit float32)
	oneSided    func(a, b, fa, fb *float32, n int, ka, kb float32, c *Short)
	cosine      func(dst, src *Eight, n int)
	cosineBack  func(dst, src *Eight, n int)
	sumEight    func(dst *float32, from *Eight, n int)
	weighEight  func(dst *float32, from *Eight, k *Weights, n int)
	addSquares  func(dst, src *float32, n int, k float32)
	addExcess   func(dst, src *float32, n int, limit, k float32)
	addProduct  func(dst, a, b *float32, n int)
	strong      func(x, v *float32, n int, q float32)
	wiener      func(x, p, v *float32, n int, q float32)
	cubic       func(dst, data *float32, at *int32, pitch int, tx, ty *float32, n int)
	fromBytes   func(dst *float32, src *byte, n int, k, o float32)
	fromWords   func(dst *float32, src *byte, n int, k, o float32)
	toWords     func(dst *byte, src *float32, n int, t *Thresholds, from int, lo, hi float32)
	sum         func(dst, a, b, c *float32, n int, k *[4]float32)
	every2      func(dst, src *float32, n int)
	between     func(dst, src *float32, n int)
	raise       func(dst, src *float32, n int)
	affine      func(dst, src *float32, n int, k, o float32)
	cube        func(row *float32, n int)
	cubeRoot    func(row *float32, n int)
	product     func(dst, a, b *float32, n int, k float32)
	bendTone    func(dst, src *float32, n int, toe, rollOff float32)
	logistic    func(dst, t, y *float32, n int)
	fitGamut    func(r, g, b, k *float32, n int, w *[3]float32)
	eighthRoot  func(dst, src *float32, n int)
	gather      func(dst, src *float32, n int, b *Blocks, count float32)
	spans       func(dst, src *float32, s *Spans)
	toScreen    func(dst *byte, r, g, b *float32, n int)
	turn        func(dst, a, b *float32, n int)
	changed     func(dst, a0, a1, b0, b1, c *float32, n int)
	where       func(dst, src, at *float32, n int)
	straight    func(dst, src *float32, n int, cut, p, k, o float32)
	addBelow    func(dst, a, b *float32, n int)
	clamp       func(row *float32, n int, lo, hi float32)
	turnColours func(a, b, light, l, sine, cosine, factor, density *float32, n int, half, rich float32)
	saturate    func(a, b, l, k *float32, n int, muted, strong float32)
	fade        func(w, l, a, b, t *float32, n int, f *Fading)
	guard       func(a, b, light, w, hue *float32, n int, g *Guarded)
	chroma      func(dst, l, a, b *float32, n int)
	distance    func(dst, l, a, b *float32, n int, from *[3]float32, k float32)
	within      func(dst, src *float32, n int, r *Range)
	slideDown   func(dst *float32, sum *float64, before, next, last *float32, n int, share, scale float64)
	places      func(at *int32, part, src *float32, n int, top float32)
	numbers     func(dst *int32, src *float32, n int, top float32) bool
	wordsOf     func(dst, src *byte, count, n int, from *[4][16]int8)
	shares      func(dst *float32, src *byte, n int, top float32)
	highest     func(dst, src *float32, from *[]int, n int)
	mixBy       func(dst, was, cover *float32, n int, k float32)
	limit       func(row *float32, n int, k float32)
	slope       func(slope, offset, p, g, pg, gg *float32, n int, edge float32)
	line        func(dst, src, slope, offset *float32, n int)
	slideAcross func(dst, line *[4]*float32, sum *[4]float64, n, whole int, share, scale float64)
	grow        func(dst, src *float32, n int, b *Blocks, vectors, first int)
}

var active = plain

func init() {
	best := available()
	active = best[len(best)-1]
	if want := os.Getenv("VELOURS_VECTOR"); want != "" {
		Use(want)
	}
}

// Backend names the form in use: plain, avx2 or avx512.
func Backend() string { return active.name }

// Backends lists the forms this machine can run, the slowest first.
func Backends() []string {
	var names []string
	for _, t := range available() {
		names = append(names, t.name)
	}
	return names
}

// Use switches to another form; it reports whether the machine has it. Not for use while kernels run.
func Use(name string) bool {
	for _, t := range available() {
		if t.name == name {
			active = t
			return true
		}
	}
	return false
}

// up rounds a length up to whole vectors.
func up(n int) int { return (n + 15) &^ 15 }

// Matrix replaces (r, g, b) by m·(r, g, b) + offset; m is row by row, three factors and an offset.
func Matrix(r, g, b []float32, m *[12]float32) {
	n := up(len(r))
	if n == 0 {
		return
	}
	r, g, b = r[:n], g[:n], b[:n]
	active.matrix(&r[0], &g[0], &b[0], n, m)
}

// Log2 sets dst = log2(max(src, floor)), error below 3e-7. Floor must be a positive normal number.
func Log2(dst, src []float32, floor float32) {
	n := up(len(src))
	if n == 0 {
		return
	}
	dst, src = dst[:n], src[:n]
	active.log2(&dst[0], &src[0], n, floor)
}

// Exp2 sets dst = 2^src for src in [-126, 127], relative error below 3e-7; it clamps outside.
func Exp2(dst, src []float32) {
	n := up(len(src))
	if n == 0 {
		return
	}
	dst, src = dst[:n], src[:n]
	active.exp2(&dst[0], &src[0], n)
}

// Log is a logarithmic decoding with a straight piece: A·x+B below Cut, C·2^(D·x+E)+F from it on.
type Log struct{ Cut, A, B, C, D, E, F float32 }

// Decode applies p to src.
func Decode(dst, src []float32, p *Log) {
	n := up(len(src))
	if n == 0 {
		return
	}
	dst, src = dst[:n], src[:n]
	active.decode(&dst[0], &src[0], n, p)
}

// ApplyCurve sets dst = c(src).
func ApplyCurve(dst, src []float32, c *Curve) {
	n := up(len(src))
	if n == 0 {
		return
	}
	dst, src = dst[:n], src[:n]
	active.curve(&dst[0], &src[0], n, c)
}

// ApplyShort sets dst = c(src).
func ApplyShort(dst, src []float32, c *Short) {
	n := up(len(src))
	if n == 0 {
		return
	}
	dst, src = dst[:n], src[:n]
	active.short(&dst[0], &src[0], n, c)
}

// Mix sets dst = ka·a + kb·b.
func Mix(dst, a, b []float32, ka, kb float32) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	dst, a, b = dst[:n], a[:n], b[:n]
	active.mix(&dst[0], &a[0], &b[0], n, ka, kb)
}

// Modulate adds c(dst)·(ka·a + kb·b) to dst; c keeps its end values outside its range.
func Modulate(dst, a, b []float32, ka, kb float32, c *Short) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	dst, a, b = dst[:n], a[:n], b[:n]
	active.modulate(&dst[0], &a[0], &b[0], n, ka, kb, c)
}

// Weigh sets dst = k₀·a + k₁·b + k₂·c + k₃·d, for the vertical steps of a pyramid.
func Weigh(dst, a, b, c, d []float32, k *[4]float32) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	dst, a, b, c, d = dst[:n], a[:n], b[:n], c[:n], d[:n]
	active.average(&dst[0], &a[0], &b[0], n, k, &c[0], &d[0])
}

// Apply3 runs the three planes through t in place.
func Apply3(r, g, b []float32, t *Table3) {
	n := up(len(r))
	if n == 0 {
		return
	}
	r, g, b = r[:n], g[:n], b[:n]
	active.tetra(&r[0], &g[0], &b[0], n, t)
}

// Bound makes a row fit to compute with: what is no number becomes 0, and what lies beyond ±limit comes to it.
func Bound(row []float32, limit float32) {
	n := up(len(row))
	if n == 0 {
		return
	}
	row = row[:n]
	active.bound(&row[0], n, limit)
}

// OneSided adds what one row gains where another is greater: a += ka·c(fb − fa) where fb is greater, and b += kb·c(fa − fb)
// where fa is. c is a function of what is at least 0, held at its end beyond it.
func OneSided(a, b, fa, fb []float32, ka, kb float32, c *Short) {
	n := up(len(a))
	if n == 0 {
		return
	}
	a, b, fa, fb = a[:n], b[:n], fa[:n], fb[:n]
	active.oneSided(&a[0], &b[0], &fa[0], &fb[0], n, ka, kb, c)
}
