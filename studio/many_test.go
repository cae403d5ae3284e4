package studio

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"velours/core/look"
	"velours/demo"
	"velours/library"
)

// A look carried to 200 shots is one act, and one undo; how long that takes is told against a single edit.
func TestCarryingToTwoHundred(t *testing.T) {
	dir := t.TempDir()
	media := filepath.Join(dir, "media")
	if err := demo.Unpack(media); err != nil {
		t.Fatal(err)
	}
	s := must(Open(filepath.Join(dir, "data")))
	t.Cleanup(func() { s.Close() })
	if err := s.Allow(media); err != nil {
		t.Fatal(err)
	}
	var edl strings.Builder
	edl.WriteString("TITLE: MANY\nFCM: NON-DROP FRAME\n\n")
	for i := range 201 {
		fmt.Fprintf(&edl, "%03d  WORKBENC V     C        00:00:00:00 00:00:01:00 01:%02d:%02d:00 01:%02d:%02d:00\n* FROM CLIP NAME: WORKBENCH.MOV\n", i+1, i/60, i%60, (i+1)/60, (i+1)%60)
	}
	list := filepath.Join(media, "many.edl")
	if err := os.WriteFile(list, []byte(edl.String()), 0o644); err != nil {
		t.Fatal(err)
	}
	reel := must(s.AddReel("Many")).ID
	got := must(s.AddProgramme(ctx, reel, list, "24", 0, library.Author{}))
	if len(got.Shots) != 201 {
		t.Fatalf("%d shots came in", len(got.Shots))
	}
	first := got.Shots[0].ID
	set(t, s, first, look.OfShot, "balance.exposure.stops=0.5", "balance.white.temperature=6", "balance.contrast.amount=108")
	var to []uint
	for _, x := range got.Shots[1:] {
		to = append(to, x.ID)
	}
	began := time.Now()
	set(t, s, first, look.OfShot, "balance.exposure.stops=0.6")
	one := time.Since(began)
	began = time.Now()
	must(s.Carry(CarryAsk{From: CarrySource{Shot: first}, To: to, Carry: look.Carry{Parts: []look.Part{look.PartBalance}}}, library.Author{}))
	all := time.Since(began)
	t.Logf("one edit %v, 200 shots in one act %v: %.0f times as long", one.Round(time.Microsecond), all.Round(time.Millisecond), float64(all)/float64(one))
	for _, id := range to {
		if p := must(parse(must(s.Shot(id)).Look)).Step(look.Balance, "exposure"); p == nil || p.Settings["stops"] != 0.6 {
			t.Fatalf("shot %d was left out", id)
		}
	}
	if _, err := s.Undo(to[150], library.Author{}); err != nil {
		t.Fatal(err)
	}
	for _, id := range to {
		if must(parse(must(s.Shot(id)).Look)).Step(look.Balance, "exposure") != nil {
			t.Fatalf("one undo has left it on shot %d", id)
		}
	}
}
