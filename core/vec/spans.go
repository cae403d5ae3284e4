package vec

// Spans hold what the kernels need to weigh runs of samples: sample x of the new row is the sum of weights times the samples of the old
// one from a place on. It may be shared.
type Spans struct {
	n     int
	eight []spansOf8
}

// spansOf8 are eight samples of the new row. Each lies at its own place in one of the vectors of eight from at on: pick is the place, and
// take, for each vector, which of the eight lie there. The same holds a sample further on for the next weight.
type spansOf8 struct {
	at     int32
	pick   [8]uint32
	take   [][8]int32
	weight [][8]float32
}

// NewSpans prepares for samples that begin at places, which ascend, with weights of their own.
func NewSpans(places []int, weights [][]float32) *Spans {
	s := &Spans{n: len(places), eight: make([]spansOf8, (len(places)+7)/8)}
	for j := range s.eight {
		e := &s.eight[j]
		last := min(8*j+7, s.n-1)
		e.at = int32(places[8*j])
		e.take = make([][8]int32, (places[last]-places[8*j])/8+1)
		for i := range 8 {
			x := min(8*j+i, last)
			place := places[x] - places[8*j]
			e.pick[i] = uint32(place % 8)
			e.take[place/8][i] = -1
			for k, w := range weights[x] {
				if k == len(e.weight) {
					e.weight = append(e.weight, [8]float32{})
				}
				e.weight[k][i] = w
			}
		}
	}
	return s
}

// Weigh sets dst, of as many samples as there are spans, to their sums over src. It reads up to 16 samples behind the last that has a
// weight, which must be numbers.
func (s *Spans) Weigh(dst, src []float32) {
	n := up(s.n)
	if n == 0 {
		return
	}
	dst = dst[:n]
	e := &s.eight[len(s.eight)-1]
	_ = src[:int(e.at)+len(e.weight)-1+8*len(e.take)]
	active.spans(&dst[0], &src[0], s)
}

func plainSpans(pd, ps *float32, s *Spans) {
	for j := range s.eight {
		e := &s.eight[j]
		d := rows(8*len(s.eight), pd)[8*j : 8*j+8]
		src := rows(int(e.at)+len(e.weight)-1+8*len(e.take), ps)[e.at:]
		for i := range d {
			place := int(e.pick[i])
			for k := range e.take {
				if e.take[k][i] != 0 {
					place += 8 * k
				}
			}
			var sum float32
			for k := range e.weight {
				sum += e.weight[k][i] * src[place+k]
			}
			d[i] = sum
		}
	}
}
