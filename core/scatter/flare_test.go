package scatter

import (
	"math"
	"testing"

	"velours/core/colour"
)

// A lamp at the edge of the frame flares as it does in the middle: it does not go on beyond the edge.
func TestFlareOfALampAtTheEdge(t *testing.T) {
	const w, h = 320, 180
	flare := &Flare{Seed: 2, Streak: 0.1, Length: 0.3, Taper: 0.5, Rays: 1, StreakColour: colour.Identity}
	along := func(cx int) float64 { // a tenth of the width to the right of the lamp's middle
		lamp := fill(w, h, func(x, y int) float64 {
			if math.Hypot(float64(x-cx), float64(y-90)) < 5 {
				return 100
			}
			return 0
		})
		out, _, err := flare.Scattered(ctx, lamp, false)
		if err != nil {
			t.Fatal(err)
		}
		return float64(out.Row(1, 90)[cx+w/10])
	}
	middle := along(w / 2)
	if edge := along(5); middle <= 0 || math.Abs(edge/middle-1) > 0.06 {
		t.Errorf("at the edge the streak has %.4f, in the middle %.4f", edge, middle)
	}
}

// What a flare holds is what is taken for it, while it stays in the frame; ghosts of another seed are others.
func TestFlareKeepsItsLight(t *testing.T) {
	const w, h = 320, 180
	lamp := fill(w, h, func(x, y int) float64 {
		if math.Hypot(float64(x-150), float64(y-84)) < 4 {
			return 200
		}
		return 0
	})
	ghosts := func(seed uint64) float64 {
		f := &Flare{Seed: seed, Ghost: 0.05, Ghosts: 5, Size: 1, StreakColour: colour.Identity}
		out, _, err := f.Scattered(ctx, lamp, false)
		if err != nil {
			t.Fatal(err)
		}
		if share := sum(out, 1) / sum(lamp, 1); math.Abs(share/0.05-1) > 0.1 {
			t.Errorf("seed %d: ghosts hold %.4f of the light, want 0.05", seed, share)
		}
		return float64(out.Row(1, 100)[180])
	}
	if ghosts(1) == ghosts(2) {
		t.Error("two lenses have the same ghosts")
	}
	veil := &Flare{Veil: 0.02, StreakColour: colour.Identity}
	out, _, err := veil.Scattered(ctx, lamp, false)
	if err != nil {
		t.Fatal(err)
	}
	if share := sum(out, 1) / sum(lamp, 1); math.Abs(share/0.02-1) > 0.01 {
		t.Errorf("the veil holds %.4f of the light, want 0.02", share)
	}
}
