package curve

import (
	"math"
	"testing"
)

func TestMonotonePassesThroughAndNeverTurns(t *testing.T) {
	x := []float64{0, 1, 1.5, 4, 5, 9}
	y := []float64{0, 0.1, 2, 2, 3, 3.01}
	c := NewMonotone(x, y)
	for i := range x {
		if math.Abs(c.At(x[i])-y[i]) > 1e-12 {
			t.Errorf("at %g: %g, want %g", x[i], c.At(x[i]), y[i])
		}
	}
	last := -1.0
	for u := -1.0; u <= 10; u += 0.01 {
		v := c.At(u)
		if v < last-1e-12 {
			t.Fatalf("turns back at %g: %g after %g", u, v, last)
		}
		last = v
	}
	if c.At(-5) != 0 || c.At(50) != 3.01 {
		t.Error("does not stay at its ends")
	}
}
