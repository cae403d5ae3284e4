package main

import (
	"encoding/json"
	"fmt"
	"math"
	"testing"

	"velours/core/measure"
)

func measured(t *testing.T, args ...string) measure.Spread {
	t.Helper()
	var s measure.Spread
	if err := json.Unmarshal([]byte(must(t, append([]string{"measure", "spread", "--json"}, args...)...)), &s); err != nil {
		t.Fatal(err)
	}
	return s
}

// Every family at every grade leaves of a contrast what its equation says, written out here with the design's constants
// (scatter-and-grain, B1 and B2): exp(−τq(1−K̂)), behind a net times a + (1−a)·max(0, 1−νλf/wh) with a = 0.9^q. Its table for
// grade 1 is checked beside it.
func TestFamiliesTransferAsTheySay(t *testing.T) {
	type family struct {
		tau    float64
		sigma  []float64
		weight []float64
		table  [4]float64 // at 3, 30, 150, 600 cycles, grade 1
	}
	cycles := []float64{3, 30, 150, 600}
	for name, f := range map[string]family{
		"mist": {.22, []float64{.004, .012, .035}, []float64{.55, .30, .15}, [4]float64{.992, .884, .803, .803}},
		"fog":  {.45, []float64{.006, .025, .09, .28}, []float64{.20, .25, .25, .30}, [4]float64{.792, .669, .638, .638}},
		"net":  {.16, []float64{.003, .012}, []float64{.5, .5}, [4]float64{.995, .888, .768, .767}},
		"veil": {.30, []float64{.0015, .02, .35}, []float64{.15, .25, .60}, [4]float64{.831, .774, .753, .741}},
		"silk": {.24, []float64{.005, .016, .05}, []float64{.45, .35, .20}, [4]float64{.979, .844, .787, .787}},
	} {
		worst := 0.0
		for _, q := range []float64{0.125, 0.25, 0.5, 1, 2} {
			for _, warm := range []float64{0, 1} {
				if warm == 1 && q != 1 && q != 0.25 {
					continue
				}
				s := measured(t, "--width", "1280", "--set", "lens.diffusion.family="+name, "--set", fmt.Sprint("lens.diffusion.grade=", q), "--set", fmt.Sprint("lens.diffusion.warmth=", 100*warm))
				for i, c := range cycles {
					for p, lambda := range [3]float64{.62e-3, .54e-3, .46e-3} {
						k := 0.0
						for j, sigma := range f.sigma {
							k += f.weight[j] * math.Exp(-2*math.Pow(math.Pi*sigma*c, 2))
						}
						depth := f.tau * q * (1 + warm*([3]float64{1.25, 1, .70}[p]-1))
						want := math.Exp(-depth * (1 - k))
						if name == "net" {
							a := math.Pow(.9, q)
							want *= a + (1-a)*max(0, 1-c*lambda*50/(24.9*.1))
						}
						got := s.Transfers[i].RGB[p]
						worst = max(worst, math.Abs(got-want))
						if math.Abs(got-want) > 0.01 {
							t.Errorf("%s %g, warmth %g, channel %d, %g cycles: %.4f, want %.4f", name, q, warm, p, c, got, want)
						}
						if q == 1 && warm == 0 && p == 1 && math.Abs(got-f.table[i]) > 0.01 {
							t.Errorf("%s at %g cycles: %.4f, the table has %.3f", name, c, got, f.table[i])
						}
					}
				}
				// what has not left the frame is all there
				if name == "mist" || name == "silk" || name == "net" {
					for p, e := range s.Energy {
						if math.Abs(e-1) > 0.01 {
							t.Errorf("%s %g: channel %d has %.4f of its light", name, q, p, e)
						}
					}
				}
			}
		}
		t.Logf("%s: worst %.4f", name, worst)
	}
}

// The trims of halation do what they say: the ring moves with the spread within 2 %, hue turns the halo's colour by its degrees
// within 2°, and neither changes the luminance that returns by more than 2 %.
func TestTrimsOfHalation(t *testing.T) {
	halo := func(sets ...string) measure.Spread {
		args := []string{"--width", "1600", "--set", "negative.stock.id=serein-500t", "--set", "negative.halation.backing=0"}
		for _, s := range sets {
			args = append(args, "--set", "negative.halation."+s)
		}
		return measured(t, args...)
	}
	luminance := func(c [3]float64) float64 { return 0.2722287168*c[0] + 0.6740817658*c[1] + 0.0536895174*c[2] } // of ACEScg
	plain := halo("amount=100")
	for _, turn := range []float64{-40, -15, 20, 35} {
		s := halo("amount=100", fmt.Sprint("hue=", turn), "saturation=60")
		d := math.Mod(s.Halo.Hue-plain.Halo.Hue+540, 360) - 180
		k := luminance(s.Halo.RGB) / luminance(plain.Halo.RGB)
		t.Logf("hue %+g: turned by %+.2f°, luminance × %.4f", turn, d, k)
		if math.Abs(d-turn) > 2 || math.Abs(k-1) > 0.02 {
			t.Errorf("hue %+g: turned by %+.2f°, luminance × %.4f", turn, d, k)
		}
	}
	if s := halo("amount=100", "saturation=50"); math.Abs(luminance(s.Halo.RGB)/luminance(plain.Halo.RGB)-1) > 0.02 || s.Halo.Chroma > 0.75*plain.Halo.Chroma {
		t.Errorf("half the saturation: %v after %v", s.Halo, plain.Halo)
	}
	// the mean distance of what returns goes with the spread, and so does the ring
	mean := func(s measure.Spread) float64 {
		sum, weight := 0.0, 0.0
		for i, r := range s.Profile {
			if i > 0 { // rings lie a twentieth of their radius apart
				w := r.RGB[0] * r.Radius * r.Radius
				sum += w * r.Radius
				weight += w
			}
		}
		return sum / weight
	}
	ring := func(s measure.Spread) float64 { // the middle of what has half of the peak and more, by its logarithm
		top := 0.0
		for _, r := range s.Profile[1:] {
			top = max(top, r.RGB[0])
		}
		sum, weight := 0.0, 0.0
		for _, r := range s.Profile[1:] {
			if w := r.RGB[0] - top/2; w > 0 {
				sum += w * math.Log(r.Radius)
				weight += w
			}
		}
		return math.Exp(sum / weight)
	}
	for _, k := range []float64{0.5, 1.5, 2} {
		s := halo("amount=100", fmt.Sprint("spread=", 100*k))
		m, r := mean(s)/mean(plain)/k, ring(s)/ring(plain)/k
		t.Logf("spread × %g: mean distance × %.4f of that, ring × %.3f", k, m, r)
		if math.Abs(m-1) > 0.02 || math.Abs(r-1) > 0.02 {
			t.Errorf("spread × %g: mean distance × %.4f of that, ring × %.3f", k, m, r)
		}
	}
	if near, far := halo("amount=100", "far=0"), halo("amount=100", "near=0"); near.Profile[3].RGB[0] <= far.Profile[3].RGB[0] {
		t.Error("near is not nearer than far")
	}
}

func TestSpreadSaysWhatIsWrong(t *testing.T) {
	for _, args := range [][]string{{"--width", "10"}, {"--cycles", "3,x"}, {"--cycles", "5000"}, {"--light", "40"}} {
		if code, _, problem := velours(append([]string{"measure", "spread"}, args...)...); code != 2 || problem == "" {
			t.Errorf("%v: exit %d, %q", args, code, problem)
		}
	}
	if text := must(t, "measure", "spread", "--width", "256"); len(text) < 100 {
		t.Errorf("no table: %q", text)
	}
}
