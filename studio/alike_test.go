package studio

import (
	"context"
	"slices"
	"testing"

	"velours/core/look"
	"velours/demo"
)

// Shots that look like one are the others of its camera and light, whatever is done to them; nothing is changed by asking.
func TestShotsThatLookAlike(t *testing.T) {
	n := len(demo.Shots)
	s, _, shots, _ := reelOf(t, 2*n)
	set(t, s, shots[n], look.OfShot, "balance.exposure.stops=3")
	for i := range n {
		was := must(s.Shot(shots[i])).Revision
		if got := must(s.Alike(ctx, shots[i], nil)); !slices.Equal(got, []uint{shots[n+i]}) {
			t.Errorf("like %s: %v, not %v", must(s.Shot(shots[i])).Name, got, shots[n+i])
		}
		if must(s.Shot(shots[i])).Revision != was {
			t.Error("asking changed a shot")
		}
	}
	gone, stop := context.WithCancel(ctx)
	stop()
	if _, err := s.Alike(gone, shots[0], nil); err == nil {
		t.Error("a search that was stopped went on")
	}
}
