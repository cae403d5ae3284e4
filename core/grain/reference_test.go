package grain

import (
	"fmt"
	"math"
	"testing"

	"velours/core/frame"
)

// The quick generator and the reference agree, on even densities at three rasters (scatter-and-grain, part C4): means within 0.002 of density,
// deviations within 4 %, correlation of neighbours within 0.03.
func TestReferenceAgrees(t *testing.T) {
	for _, c := range []struct{ g, cloud float64 }{{6, 1.5}, {14, 3}} {
		for _, pitch := range []float64{3, 6.5, 13} {
			for _, density := range []float64{0.3, 1, 2} {
				t.Run(fmt.Sprintf("G%g-%gum-D%g", c.g, pitch, density), func(t *testing.T) {
					s := Selwyn(c.g, c.cloud)
					set := Setting{Pitch: pitch, Cloud: [3]float64{c.cloud, c.cloud, c.cloud}, S: [3]float64{s, s, s}, Seed: 5, Top: 2.5}
					side := min(int(700/pitch), 110)
					src := frame.New(side, side, 3)
					for p := range 3 {
						for y := range side {
							for x := range side {
								src.Row(p, y)[x] = float32(density)
							}
						}
					}
					const frames = 3
					var mean, square, next, n float64
					for f := range frames {
						out, err := NewReference(set).Run(t.Context(), src, f, 0, 0)
						if err != nil {
							t.Fatal(err)
						}
						for p := range 3 {
							for y := range side {
								row := out.Row(p, y)
								for x := 1; x < side; x++ {
									d := float64(row[x]) - density
									mean, square, next, n = mean+d, square+d*d, next+d*(float64(row[x-1])-density), n+1
								}
							}
						}
						out.Release()
					}
					mean /= n
					got := math.Sqrt(square/n - mean*mean)
					want := Deviation(s*Law(c.cloud)(density), pitch, c.cloud, 1)
					lag, wantLag := next/square, Autocovariance(pitch, c.cloud, 1)/Autocovariance(pitch, c.cloud, 0)
					t.Logf("mean %+.4f, deviation %.5f of %.5f, neighbours %.3f of %.3f", mean, got, want, lag, wantLag)
					// what chance leaves of the mean, beside the bar
					chance := 4 * want / math.Sqrt(n) * math.Sqrt(1+4*wantLag+4*wantLag*wantLag)
					if math.Abs(mean) > 0.002+chance || math.Abs(got/want-1) > 0.04 || math.Abs(lag-wantLag) > 0.03 {
						t.Errorf("mean %+.4f, deviation %.5f of %.5f, neighbours %.3f of %.3f", mean, got, want, lag, wantLag)
					}
				})
			}
		}
	}
}

// A sine of density loses contrast by the clouds' transfer (part C6: 0.9837, 0.8930 and 0.6359 at 19.2, 50.5 and 101 cycles a millimetre), and a part
// of a picture is made as the whole has it.
func TestReferenceIsMadeOfClouds(t *testing.T) {
	const pitch, w, h = 3.0, 160, 80
	s := Selwyn(6, 1.5)
	set := Setting{Pitch: pitch, Cloud: [3]float64{1.5, 1.5, 1.5}, S: [3]float64{s, s, s}, Seed: 8, Top: 2.5, Link: 1}
	r := NewReference(set)
	for _, c := range []struct{ cycles, left float64 }{{19.2, 0.9837}, {50.5, 0.8930}, {101, 0.6359}} {
		f := c.cycles * pitch / 1000
		src := frame.New(w, h, 3)
		wave := func(x int) float64 { return math.Cos(2 * math.Pi * f * (float64(x) - w/2)) }
		for p := range 3 {
			for y := range h {
				for x := range w {
					src.Row(p, y)[x] = float32(1 + 0.4*wave(x))
				}
			}
		}
		out, err := r.Run(t.Context(), src, 0, 0, 0)
		if err != nil {
			t.Fatal(err)
		}
		var got, of float64
		for y := range h {
			for x := 10; x < w-10; x++ {
				got, of = got+(float64(out.Row(1, y)[x])-1)*wave(x), of+0.4*wave(x)*wave(x)
			}
		}
		if got /= of; math.Abs(got/c.left-1) > 0.02 {
			t.Errorf("%.1f cycles a millimetre: %.4f of the contrast is left, closed form %.4f", c.cycles, got, c.left)
		}
		part, err := r.Run(t.Context(), src.Crop(40, 16, 100, 60), 0, 40, 16)
		if err != nil {
			t.Fatal(err)
		}
		edge := r.Reach()
		for y := edge; y < 60-edge; y++ {
			for x := edge; x < 100-edge; x++ {
				if part.Row(1, y)[x] != out.Row(1, y+16)[x+40] {
					t.Fatalf("a part differs at %d, %d", x, y)
				}
			}
		}
	}
}

// A scan, soft or hard, does the same to both: on even greys their deviations agree within 4 %, the correlation of neighbours within 0.03, and a hard one
// stands further apart than a soft one. The mean stays.
func TestReferenceIsScanned(t *testing.T) {
	const side, density = 120, 1.0
	s := Selwyn(14, 3)
	lags := map[float64]float64{}
	for _, crisp := range []float64{-0.7, 0.6} {
		set := Setting{Pitch: 6.5, Cloud: [3]float64{3, 3, 3}, S: [3]float64{s, s, s}, Crisp: crisp, Link: 1, Seed: 5, Top: 2.5}
		of := func(make func(f int) *frame.Frame) (mean, deviation, lag float64) {
			var square, next, n float64
			for f := range 4 {
				out := make(f)
				for y := range side {
					row := out.Row(1, y)
					for x := 1; x < side; x++ {
						d, before := float64(row[x])-density, float64(row[x-1])-density
						mean, square, next, n = mean+d, square+d*d, next+d*before, n+1
					}
				}
			}
			mean /= n
			return mean, math.Sqrt(square/n - mean*mean), next / square
		}
		even := func() *frame.Frame {
			src := frame.New(side, side, 3)
			for p := range 3 {
				for y := range side {
					for x := range side {
						src.Row(p, y)[x] = density
					}
				}
			}
			return src
		}
		mean, got, lag := of(func(f int) *frame.Frame {
			out, err := NewReference(set).Run(t.Context(), even(), f, 0, 0)
			if err != nil {
				t.Fatal(err)
			}
			return out
		})
		_, want, wantLag := of(func(f int) *frame.Frame {
			out := even()
			rows := New(set).Columns(f, 0, side, 0)
			for y := range side {
				rows.Add(y, [3][]float32{out.Row(0, y), out.Row(1, y), out.Row(2, y)})
			}
			return out
		})
		t.Logf("crisp %g: mean %+.4f, deviation %.5f of %.5f, neighbours %.3f of %.3f", crisp, mean, got, want, lag, wantLag)
		if math.Abs(mean) > 0.003 || math.Abs(got/want-1) > 0.04 || math.Abs(lag-wantLag) > 0.03 {
			t.Errorf("crisp %g: mean %+.4f, deviation %.5f of %.5f, neighbours %.3f of %.3f", crisp, mean, got, want, lag, wantLag)
		}
		lags[crisp] = lag
	}
	if lags[0.6] > lags[-0.7]-0.2 {
		t.Errorf("neighbours correlate by %.3f after a hard scan, %.3f after a soft one", lags[0.6], lags[-0.7])
	}
}
