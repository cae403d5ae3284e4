package studio

import (
	"testing"

	"velours/core/look"
	"velours/library"
)

// What was carried from a shot to others is undone from there as from any of them, in one, and done again.
func TestACarryIsUndoneFromItsSource(t *testing.T) {
	s, _, shots, _ := reelOf(t, 4)
	set(t, s, shots[0], look.OfShot, "balance.exposure.stops=0.5")
	ask := CarryAsk{Carry: look.Carry{Parts: []look.Part{look.PartBalance}}, From: CarrySource{Shot: shots[0]}, To: shots[1:]}
	must(s.Carry(ask, library.Author{}))
	count := func() (n int) {
		for _, id := range shots {
			if must(look.ParseStored([]byte(must(s.Shot(id)).Look))).Step(look.Balance, "exposure") != nil {
				n++
			}
		}
		return n
	}
	if n := count(); n != 4 {
		t.Fatalf("%d shots have it", n)
	}
	must(s.Undo(shots[0], library.Author{}))
	if n := count(); n != 1 {
		t.Errorf("undone from the source, %d shots have it", n)
	}
	must(s.Redo(shots[0], library.Author{}))
	if n := count(); n != 4 {
		t.Errorf("done again, %d shots have it", n)
	}
	must(s.Undo(shots[2], library.Author{}))
	must(s.Undo(shots[0], library.Author{}))
	if n := count(); n != 0 {
		t.Errorf("undone from a target and then the source, %d shots have it", n)
	}
}
