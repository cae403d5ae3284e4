package colour

import (
	"math"

	"velours/core/vec"
)

// Rows are encoded by a table over the logarithm of light, where log curves are straight lines and
// powers are smooth; light below and above it is encoded by formula.
const encodeLo, encodeHi, encodePerStop = -12, 12, 256

// Encoder turns rows of linear light into the code values of an encoding.
type Encoder struct {
	e     *Encoding
	table []float32
}

// NewEncoder makes the table. The encoding must have an Encode.
func NewEncoder(e *Encoding) *Encoder {
	n := &Encoder{e: e, table: make([]float32, (encodeHi-encodeLo)*encodePerStop+2)}
	for i := range n.table {
		n.table[i] = float32(e.Encode(math.Exp2(encodeLo + float64(i)/encodePerStop)))
	}
	return n
}

// Row encodes a row in place; scratch is as long and follows the padding rules of package vec.
func (n *Encoder) Row(row, scratch []float32) {
	if n.e.Linear {
		return
	}
	vec.Log2(scratch, row, 1e-12)
	for i, l := range scratch[:len(row)] {
		u := (l - encodeLo) * encodePerStop
		if !(u >= 0 && u < float32(len(n.table)-1)) {
			row[i] = float32(n.e.Encode(float64(row[i])))
			continue
		}
		k := int(u)
		a := n.table[k]
		row[i] = a + (n.table[k+1]-a)*(u-float32(k))
	}
}
