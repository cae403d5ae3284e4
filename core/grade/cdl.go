package grade

import (
	"math"

	"velours/core/vec"
)

// CDL is the correction of the ASC: slope, offset and power of each channel, then saturation with the
// weights of BT.709 (ASC CDL 1.2; ACES S-2014-006).
type CDL struct {
	Slope, Offset, Power [3]float64
	Saturation           float64
	// Log lets it act on ACEScct codes, not on light.
	Log bool
	// Clamp holds values to 0…1, as the standard has it; without, what lies below 0 passes the power by.
	Clamp bool
}

// ACEScct (ACES S-2016-001): below the cut a straight line, above it (log2 x + 9.72)/17.52.
const (
	cctCut, cctSlope, cctOffset = 0.0078125, 10.5402377416545, 0.0729055341958355
	cctAdd, cctScale            = 9.72, 17.52
	cctCutCode                  = 0.155251141552511
	cctTop                      = 24 // log2 of MostLight
)

func encodeCCT(row, t []float32) {
	vec.Log2(t, row, cctCut)
	vec.Straight(t, t, math.MaxFloat32, cctAdd, 1/cctScale, 0)
	vec.Straight(t, row, cctCut, 0, cctSlope, cctOffset)
	copy(row, t)
}

func decodeCCT(row, t []float32) {
	vec.Affine(t, row, cctScale, -cctAdd)
	vec.Clamp(t, -math.MaxFloat32, cctTop) // beyond lies no light that is counted (vec.Exp2 would go on to 2^127)
	vec.Exp2(t, t)
	vec.Straight(t, row, cctCutCode, -cctOffset, 1/cctSlope, 0)
	copy(row, t)
}

// Rows implements Op.
func (o *CDL) Rows(w int) func(r, g, b []float32) {
	one := [3]float64{1, 1, 1}
	if o.Slope == one && o.Power == one && o.Offset == [3]float64{} && o.Saturation == 1 && !o.Clamp {
		return func(r, g, b []float32) {} // there and back through codes would cost the last bits
	}
	t := scratch(w)
	clamp := func(row []float32) {
		if o.Clamp {
			vec.Clamp(row, 0, 1)
		}
	}
	return func(r, g, b []float32) {
		t := t[:len(r)]
		rows := [3][]float32{r, g, b}
		for c, row := range rows {
			if o.Log {
				encodeCCT(row, t)
			}
			vec.Affine(row, row, float32(o.Slope[c]), float32(o.Offset[c]))
			clamp(row)
			if o.Power[c] != 1 {
				power(t, row, float32(o.Power[c]))
				vec.AddBelow(row, t, row)
			}
		}
		if s := float32(o.Saturation); s != 1 {
			for i := range r {
				y := 0.2126*r[i] + 0.7152*g[i] + 0.0722*b[i]
				r[i], g[i], b[i] = y+s*(r[i]-y), y+s*(g[i]-y), y+s*(b[i]-y)
			}
		}
		for _, row := range rows {
			clamp(row)
			if o.Log {
				decodeCCT(row, t)
			}
		}
	}
}
