package vec

import "math"

// Colours in Oklab, a row at a time: l is lightness, a and b the opponent colours. Package grade has what they are for.
// Products and sums are rounded apart, so that all forms give the same bits.

// TurnColours turns a and b, whose lightness is l, by the angle that has the given sine and cosine, and multiplies them by a factor.
// Density is stops of light that a colour loses as far as it is strong: half of them at a chroma of half, as a share of lightness;
// each makes it richer by the share rich. Light is what it then gains, in stops. Where l is not above 0 nothing moves.
func TurnColours(a, b, light, l []float32, sine, cosine, factor, density []float32, half, rich float32) {
	n := up(len(l))
	if n == 0 {
		return
	}
	a, b, light, l = a[:n], b[:n], light[:n], l[:n]
	sine, cosine, factor, density = sine[:n], cosine[:n], factor[:n], density[:n]
	active.turnColours(&a[0], &b[0], &light[0], &l[0], &sine[0], &cosine[0], &factor[0], &density[0], n, half*half, rich)
}

// Saturate multiplies a and b by k, and by 1 + muted as far as they are pale and by 1 + strong as far as they are not; a chroma
// of a tenth of the lightness l lies between. Where l is not above 0 nothing moves.
func Saturate(a, b, l, k []float32, muted, strong float32) {
	n := up(len(l))
	if n == 0 {
		return
	}
	a, b, l, k = a[:n], b[:n], l[:n], k[:n]
	active.saturate(&a[0], &b[0], &l[0], &k[0], n, muted, strong)
}

// Fading are the ranges in which a weight of skin rises and falls: of chroma as a share of lightness, and of tone, in which it
// rises over the stop below Low and falls over the stop above High.
type Fading struct{ Pale, Rise, Strong, Fall, Low, High float32 }

// Fade multiplies w, the weight of a hue, by those of chroma and tone t: chroma rises from Pale over Rise and falls from Strong
// over Fall. It is 0 where l is not above 0.
func Fade(w, l, a, b, t []float32, f *Fading) {
	n := up(len(w))
	if n == 0 {
		return
	}
	w, l, a, b, t = w[:n], l[:n], a[:n], b[:n], t[:n]
	active.fade(&w[0], &l[0], &a[0], &b[0], &t[0], n, f)
}

// Guarded is what becomes of guarded colours: a turn, in turns; the share Line by which their hue goes to the hue At; what is
// added to a factor of 1 on their chroma; stops of light.
type Guarded struct{ Turn, At, Line, Chroma, Light float32 }

// Guard moves a and b, whose hue is given in turns, and sets light to the stops by which they are to move, all by the weight w.
// They are turned by less than a fifth of a turn: sine and cosine are series to the eighth power, good to 2e-5.
func Guard(a, b, light, w, hue []float32, g *Guarded) {
	n := up(len(w))
	if n == 0 {
		return
	}
	a, b, light, w, hue = a[:n], b[:n], light[:n], w[:n], hue[:n]
	active.guard(&a[0], &b[0], &light[0], &w[0], &hue[0], n, g)
}

// Chroma sets dst to the chroma of a, b as a share of the lightness l, 0 where that is not above 0.
func Chroma(dst, l, a, b []float32) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	dst, l, a, b = dst[:n], l[:n], a[:n], b[:n]
	active.chroma(&dst[0], &l[0], &a[0], &b[0], n)
}

// Distance sets dst to the distance of colours from one, l, a and b of it; a and b count k times over.
func Distance(dst, l, a, b []float32, from *[3]float32, k float32) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	dst, l, a, b = dst[:n], l[:n], a[:n], b[:n]
	active.distance(&dst[0], &l[0], &a[0], &b[0], n, from, k*k)
}

// Range is 1 from Lo to Hi, and falls smoothly to 0 over 1/Steep on either side.
type Range struct{ Lo, Hi, Steep float32 }

// At is 1 within the range and 0 beyond its fall.
func (r *Range) At(v float32) float32 {
	u := 1 - min(max(r.Lo-v, v-r.Hi, 0)*r.Steep, 1)
	return u * u * (3 - 2*u)
}

// Within multiplies dst by how far src lies in a range.
func Within(dst, src []float32, r *Range) {
	n := up(len(dst))
	if n == 0 {
		return
	}
	dst, src = dst[:n], src[:n]
	active.within(&dst[0], &src[0], n, r)
}

// smooth rises from 0 at 0 to 1 at 1 with level ends.
func smooth(u float32) float32 {
	u = min(max(u, 0), 1)
	return u * u * (3 - 2*u)
}

func plainTurnColours(pa, pb, plight, pl, ps, pc, pk, pd *float32, n int, half, rich float32) {
	as, bs, light, ls := rows(n, pa), rows(n, pb), rows(n, plight), rows(n, pl)
	sine, cosine, factor, density := rows(n, ps), rows(n, pc), rows(n, pk), rows(n, pd)
	for i, l := range ls {
		if !(l > 0) {
			light[i] = 0
			continue
		}
		a, b := as[i], bs[i]
		c := a*a + b*b
		d := density[i] * (c / max(c+half*l*l, tiny))
		k := factor[i] * (1 + rich*d)
		as[i], bs[i], light[i] = (a*cosine[i]-b*sine[i])*k, (a*sine[i]+b*cosine[i])*k, -d
	}
}

// tiny keeps quotients of nothing by nothing at nothing.
const tiny = 1e-36

func plainSaturate(pa, pb, pl, pk *float32, n int, muted, strong float32) {
	a, b, ls, ks := rows(n, pa), rows(n, pb), rows(n, pl), rows(n, pk)
	for i, l := range ls {
		if !(l > 0) {
			continue
		}
		over := smooth((a[i]*a[i] + b[i]*b[i]) / max(l*l, tiny) * 50)
		k := ks[i] * ((1 + muted*(1-over)) * (1 + strong*over))
		a[i] *= k
		b[i] *= k
	}
}

func plainFade(pw, pl, pa, pb, pt *float32, n int, f *Fading) {
	w, ls, a, b, t := rows(n, pw), rows(n, pl), rows(n, pa), rows(n, pb), rows(n, pt)
	for i, l := range ls {
		if !(l > 0) {
			w[i] = 0
			continue
		}
		c := float32(math.Sqrt(float64(a[i]*a[i]+b[i]*b[i]))) / l
		v := w[i] * (smooth((c-f.Pale)*f.Rise) * (1 - smooth((c-f.Strong)*f.Fall)))
		w[i] = v * smooth(t[i]-f.Low+1) * (1 - smooth(t[i]-f.High))
	}
}

func plainGuard(pa, pb, plight, pw, ph *float32, n int, g *Guarded) {
	as, bs, light, w, hue := rows(n, pa), rows(n, pb), rows(n, plight), rows(n, pw), rows(n, ph)
	for i, v := range w {
		d := hue[i] - g.At
		if d > 0.5 {
			d--
		}
		if d < -0.5 {
			d++
		}
		x := (v*g.Turn - v*g.Line*d) * (2 * math.Pi)
		q := x * x
		s, c := x*(1-q*(1.0/6-q*(1.0/120-q*(1.0/5040)))), 1-q*(1.0/2-q*(1.0/24-q*(1.0/720-q*(1.0/40320))))
		a, b, k := as[i], bs[i], 1+v*g.Chroma
		as[i], bs[i], light[i] = (a*c-b*s)*k, (a*s+b*c)*k, v*g.Light
	}
}

func plainChroma(pd, pl, pa, pb *float32, n int) {
	d, ls, a, b := rows(n, pd), rows(n, pl), rows(n, pa), rows(n, pb)
	for i, l := range ls {
		d[i] = 0
		if l > 0 {
			d[i] = float32(math.Sqrt(float64(a[i]*a[i]+b[i]*b[i]))) / l
		}
	}
}

func plainDistance(pd, pl, pa, pb *float32, n int, from *[3]float32, k float32) {
	d, l, a, b := rows(n, pd), rows(n, pl), rows(n, pa), rows(n, pb)
	for i := range d {
		x, y, z := l[i]-from[0], a[i]-from[1], b[i]-from[2]
		d[i] = float32(math.Sqrt(float64(x*x + k*(y*y+z*z))))
	}
}

func plainWithin(pd, ps *float32, n int, r *Range) {
	d, s := rows(n, pd), rows(n, ps)
	for i, v := range s {
		d[i] *= r.At(v)
	}
}
