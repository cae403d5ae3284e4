package scatter

import (
	"reflect"
	"testing"
)

// The spread of a base comes back from its bytes to the bit, with a far part and without; bytes that are cut short or too long are refused.
func TestSampledSpreadIsStored(t *testing.T) {
	for _, pitch := range []float64{0.012, 0.09} {
		for _, apart := range []bool{false, true} {
			s := sample(Removed(0.13, 1.5), pitch, apart)
			data := writeSampled(s)
			got, ok := readSampled(data)
			if !ok || !reflect.DeepEqual(got, s) {
				t.Errorf("pitch %g: another spread", pitch)
			}
			for n := range len(data) {
				if n%7 > 0 && n > 40 {
					continue
				}
				if _, ok := readSampled(data[:n]); ok {
					t.Fatalf("%d of %d bytes were believed", n, len(data))
				}
			}
			if _, ok := readSampled(append(data, 0)); ok {
				t.Error("a byte too many was believed")
			}
		}
	}
}
