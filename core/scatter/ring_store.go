package scatter

import (
	"encoding/binary"
	"math"

	"velours/core/vec"
)

// writeSampled and readSampled bring the sampled spread of a base to bytes and back, to the bit: how coarse its far grid is, then for either
// part how many terms there are, and of each its reach, its weight, and its half-kernel.
func writeSampled(s *sampled) []byte {
	out := binary.LittleEndian.AppendUint32(nil, uint32(s.coarse))
	for _, part := range []separable{s.near, s.far} {
		out = binary.LittleEndian.AppendUint32(out, uint32(len(part.taps)))
		for k, t := range part.taps {
			out = binary.LittleEndian.AppendUint32(out, uint32(t.Reach()))
			out = binary.LittleEndian.AppendUint32(out, math.Float32bits(part.weights[k]))
			for i := range t.Reach() + 1 {
				out = binary.LittleEndian.AppendUint32(out, math.Float32bits(t.At(i)))
			}
		}
	}
	return out
}

func readSampled(data []byte) (*sampled, bool) {
	whole := true
	next := func() uint32 {
		if len(data) < 4 {
			whole = false
			return 0
		}
		v := binary.LittleEndian.Uint32(data)
		data = data[4:]
		return v
	}
	s := &sampled{coarse: int(next())}
	for _, part := range []*separable{&s.near, &s.far} {
		for range next() {
			reach, weight := int(next()), math.Float32frombits(next())
			if !whole || reach > len(data)/4 {
				return nil, false
			}
			half := make([]float32, reach+1)
			for i := range half {
				half[i] = math.Float32frombits(next())
			}
			part.taps, part.weights = append(part.taps, vec.NewSymmetric(half)), append(part.weights, weight)
		}
	}
	return s, whole && len(data) == 0 && s.coarse > 0
}
