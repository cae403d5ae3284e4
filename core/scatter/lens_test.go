package scatter

import (
	"math"
	"testing"

	"velours/core/frame"
)

// Every family at every grade, warm or not, alone or behind others, is drawn within 0.0025 of its exact transfer at any contrast,
// and all of its light is there.
func TestFitsAreTheTransfer(t *testing.T) {
	for name, f := range map[string]Family{"mist": Mist, "fog": Fog, "net": Mesh, "veil": Veil, "silk": Silk} {
		for _, grade := range []float64{0.125, 0.5, 2} {
			own := f.Filter(grade, 0.7, 1)
			half := f.Filter(grade, 0, 0.5)
			for _, chain := range [][]Filter{{own}, {half}, {own, Mist.Filter(0.5, 0, 1), {Depth: [3]float64{.1, .1, .1}, Lobes: []Gaussian{{.004, .72}, {.02, .28}}, Mix: 1}}} {
				fit, worst := newFit(chain), 0.0
				for c := 0.1; c < 2000; c *= 1.07 {
					for i := range 3 {
						want, got := 1.0, fit.direct[i]
						for _, s := range chain {
							want *= s.Transfer(c)[i]
						}
						for _, term := range fit.terms {
							got += term.Weight[i] * gaussianTransfer(term.Sigma, c)
						}
						worst = max(worst, math.Abs(got-want))
					}
				}
				sum := fit.direct[0]
				for _, term := range fit.terms {
					sum += term.Weight[0]
				}
				if worst > 0.0025 || math.Abs(sum-1) > 1e-9 {
					t.Errorf("%s %g, %d filters: off by %.4f, %.9f of the light", name, grade, len(chain), worst, sum)
				}
			}
		}
	}
}

func point(w, h int) *frame.Frame {
	return fill(w, h, func(x, y int) float64 {
		if x == w/2 && y == h/2 {
			return 1
		}
		return 0
	})
}

// A net's arm has, along its direction, the transfer of its equation, however it is turned, and keeps all light.
func TestArmsOfANet(t *testing.T) {
	const w = 640
	for _, turn := range []float64{0, 30, 45, 90, -70} {
		n := *Mesh.Threads(2, 0, 50, 24.9)
		out, err := n.arm(ctx, point(w, w), turn)
		if err != nil {
			t.Fatal(err)
		}
		sin, cos := math.Sincos(turn * math.Pi / 180)
		for _, cycles := range []float64{3, 30, 60, 92, 150} {
			for p := range 3 {
				got := 0.0
				for y := range w {
					for x, v := range out.Row(p, y) {
						got += float64(v) * math.Cos(2*math.Pi*cycles*(float64(x-w/2)*cos+float64(y-w/2)*sin)/w)
					}
				}
				if want := n.Transfer(cycles)[p]; math.Abs(got-want) > 0.004 {
					t.Errorf("turned by %g°, channel %d, %g cycles: %.4f, want %.4f", turn, p, cycles, got, want)
				}
			}
		}
		if s := sum(out, 1); math.Abs(s-1) > 1e-4 {
			t.Errorf("turned by %g°: %.5f of the light", turn, s)
		}
	}
}

// What is out of focus is a disc, not a bell: even inside, dark outside, and with all of its light.
func TestFocusIsADisc(t *testing.T) {
	const w = 400
	for _, radius := range []float64{6, 14, 40} {
		share := frame.New(w, w, 1)
		for y := range w {
			row := share.Row(0, y)
			for x := range row {
				row[x] = 1
			}
		}
		lamp := fill(w, w, func(x, y int) float64 {
			if abs(x-w/2) < 2 && abs(y-w/2) < 2 {
				return 100
			}
			return 0
		})
		out, err := Focus{Radius: radius / w}.Run(ctx, lamp, share)
		if err != nil {
			t.Fatal(err)
		}
		var inside, outside float64
		least, most := math.Inf(1), 0.0
		for y := range w {
			for x, v := range out.Row(1, y) {
				switch d := math.Hypot(float64(x-w/2), float64(y-w/2)); {
				case d < 0.7*radius:
					least, most = min(least, float64(v)), max(most, float64(v))
					inside += float64(v)
				case d > 1.25*radius+3:
					outside += float64(v)
				}
			}
		}
		all := sum(out, 1) / sum(lamp, 1)
		t.Logf("radius %g: from %.3f to %.3f inside, %.4f outside, %.4f of the light", radius, least, most, outside/sum(lamp, 1), all)
		if most > 1.5*least || outside > 0.02*sum(lamp, 1) || math.Abs(all-1) > 0.02 {
			t.Errorf("radius %g: from %.3f to %.3f inside, %.4f outside, %.4f of the light", radius, least, most, outside/sum(lamp, 1), all)
		}
	}
}

// One number is one glass at every raster, another number another.
func TestDirtIsOfTheGlass(t *testing.T) {
	d := Dirt{Seed: 3, Specks: 1, Smears: 0.5, Size: 1}
	small, err := d.Map(ctx, 320, 180)
	if err != nil {
		t.Fatal(err)
	}
	large, err := d.Map(ctx, 1280, 720)
	if err != nil {
		t.Fatal(err)
	}
	other, err := Dirt{Seed: 4, Specks: 1, Smears: 0.5, Size: 1}.Map(ctx, 320, 180)
	if err != nil {
		t.Fatal(err)
	}
	scaled, err := frame.Scale(ctx, large, 320, 180)
	if err != nil {
		t.Fatal(err)
	}
	var same, apart, most float64
	for y := range small.H {
		for x, v := range small.Row(0, y) {
			if v < 0 || v > 1 {
				t.Fatalf("%g of a place is covered", v)
			}
			same += math.Abs(float64(v - scaled.Row(0, y)[x]))
			apart += math.Abs(float64(v - other.Row(0, y)[x]))
			most = max(most, float64(v))
		}
	}
	if most < 0.2 || same > 0.1*apart {
		t.Errorf("rasters differ by %.1f, glasses by %.1f, the most that is covered is %.2f", same, apart, most)
	}
}
