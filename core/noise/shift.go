package noise

import (
	"math"
	"math/cmplx"

	"gonum.org/v1/gonum/dsp/fourier"
)

// shifter moves lines of one length by so much, in parts of a sample, by a phase ramp: every frequency passes, so noise keeps its variance.
type shifter struct {
	by    float64
	ramp  []complex128 // what each frequency is turned by
	fft   *fourier.FFT
	coeff []complex128
	line  []float64
}

// ramp is what frequencies of lines of n samples are turned by.
func ramp(n int, by float64) []complex128 {
	out := make([]complex128, n/2+1)
	for k := range out {
		turn := -2 * math.Pi * float64(k) * by / float64(n)
		out[k] = cmplx.Exp(complex(0, turn))
		if 2*k == n { // the finest frequency has no side to turn to
			out[k] = complex(math.Cos(turn), 0)
		}
	}
	return out
}

func newShifter(n int, by float64, ramp []complex128) *shifter {
	return &shifter{by, ramp, fourier.NewFFT(n), make([]complex128, n/2+1), make([]float64, n)}
}

// move shifts the shifter's line to the right. Its ends are joined by a slope that is taken off first, so that they do not
// ring through it.
func (s *shifter) move() {
	n := len(s.line)
	first, last := s.line[0], s.line[n-1]
	slope := (last - first) / float64(n)
	for i := range s.line {
		s.line[i] -= first + slope*float64(i)
	}
	c := s.fft.Coefficients(s.coeff, s.line)
	for k, turn := range s.ramp {
		c[k] *= turn
	}
	s.fft.Sequence(s.line, c)
	for i := range s.line {
		s.line[i] = s.line[i]/float64(n) + first + slope*(float64(i)-s.by)
	}
}

// shifted is a plane moved to the right and down, by parts of a pixel. About its edges it is not to be used.
func (p *plane) shifted(dx, dy float64) *plane {
	out := newPlane(p.w, p.h)
	copy(out.v, p.v)
	if dx != 0 {
		turns := ramp(p.w, dx)
		each(8, func(part int) {
			s := newShifter(p.w, dx, turns)
			for y := part * p.h / 8; y < (part+1)*p.h/8; y++ {
				row := out.row(y)
				for x, v := range row {
					s.line[x] = float64(v)
				}
				s.move()
				for x, v := range s.line {
					row[x] = float32(v)
				}
			}
		})
	}
	if dy != 0 {
		const together = 16 // columns, so that a line of memory is read once for all of them
		n := (p.w + together - 1) / together
		turns := ramp(p.h, dy)
		each(8, func(part int) {
			s := newShifter(p.h, dy, turns)
			columns := make([]float64, together*p.h)
			for g := part * n / 8; g < (part+1)*n/8; g++ {
				x0, x1 := g*together, min((g+1)*together, p.w)
				for y := range p.h {
					for x, v := range out.row(y)[x0:x1] {
						columns[x*p.h+y] = float64(v)
					}
				}
				for x := range x1 - x0 {
					s.line = columns[x*p.h : (x+1)*p.h]
					s.move()
				}
				for y := range p.h {
					row := out.row(y)[x0:x1]
					for x := range row {
						row[x] = float32(columns[x*p.h+y])
					}
				}
			}
		})
	}
	return out
}

// shifted is a picture moved.
func (p *picture) shifted(dx, dy float64) *picture {
	if dx == 0 && dy == 0 {
		return p
	}
	out := &picture{}
	for i := range 3 {
		out.c[i] = p.c[i].shifted(dx, dy)
	}
	out.weigh()
	return out
}
