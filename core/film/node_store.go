package film

import (
	"encoding/binary"
	"math"
)

// writeNodes and readNodes bring exposures at the nodes of a table to bytes and back, to the bit.
func writeNodes(nodes [][3]float64) []byte {
	out := make([]byte, 0, 24*len(nodes))
	for _, n := range nodes {
		for _, v := range n {
			out = binary.LittleEndian.AppendUint64(out, math.Float64bits(v))
		}
	}
	return out
}

func readNodes(size int) func(data []byte) ([][3]float64, bool) {
	return func(data []byte) ([][3]float64, bool) {
		out := make([][3]float64, size*size*size)
		if len(data) != 24*len(out) {
			return nil, false
		}
		for i := range out {
			for c := range 3 {
				out[i][c] = math.Float64frombits(binary.LittleEndian.Uint64(data[24*i+8*c:]))
			}
		}
		return out, true
	}
}
