package studio

import (
	"math"
	"path/filepath"
	"testing"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/scope"
	"velours/demo"
	"velours/library"
	"velours/media"
)

// castShots makes a reel of the courtyard as it is, then recorded under other lights and apertures: its scene light times gains of the
// camera's channels, as a float still. All have the courtyard's own film.
func castShots(t *testing.T, casts [][3]float64) (*Studio, []uint) {
	t.Helper()
	dir := t.TempDir()
	if err := demo.Unpack(filepath.Join(dir, "media")); err != nil {
		t.Fatal(err)
	}
	s := must(Open(filepath.Join(dir, "data")))
	t.Cleanup(func() { s.Close() })
	reel := must(s.AddReel("Casts")).ID
	yard := demo.Shots[2]
	film := must(demo.LookOf(yard))
	r := must(media.Open(ctx, filepath.Join(dir, "media", yard.File)))
	defer r.Close()
	f := must(frame.Scale(ctx, must(r.Frame(ctx, 0)), 960, 540))
	e := must(colour.FindEncoding(yard.Encoding))
	toWorking := colour.Convert(e.Gamut, colour.AP1)
	var ids []uint
	for i, gain := range append([][3]float64{{1, 1, 1}}, casts...) {
		lit := must(frame.Each(ctx, f, func(c [3]float64) [3]float64 {
			for k := range c {
				c[k] = e.Decode(c[k]) * gain[k]
			}
			return toWorking.Apply(c)
		}))
		name := filepath.Join(dir, []string{"reference", "one", "two", "three", "four"}[i]+".exr")
		w := must(media.Create(name, 0, media.Options{Light: true}))
		if err := w.Write(ctx, lit); err != nil {
			t.Fatal(err)
		}
		if err := w.Close(); err != nil {
			t.Fatal(err)
		}
		shot := must(s.AddShot(ctx, reel, name))
		must(s.Declare([]uint{shot.ID}, "acescg", library.Author{}))
		doc := must(film.Stored())
		if _, err := s.Edit(shot.ID, look.Edit{Op: look.OpReplace, Look: doc}, library.Author{}); err != nil {
			t.Fatal(err)
		}
		ids = append(ids, shot.ID)
	}
	return s, ids
}

// yardPatches are places of the courtyard: plain parts of sky, wall, awning, cloth, boards, ground and leaves, in shares of the picture.
var yardPatches = [][2]float64{{0.06, 0.3}, {0.12, 0.42}, {0.9, 0.35}, {0.83, 0.5}, {0.37, 0.75}, {0.43, 0.75}, {0.5, 0.8}, {0.55, 0.78}, {0.6, 0.8}, {0.4, 0.5}, {0.62, 0.5}, {0.2, 0.9}, {0.75, 0.9}, {0.5, 0.95}, {0.45, 0.18}, {0.55, 0.2}}

// patchesApart is the mean CIEDE2000 of the patches of two shots as their displays show them.
func patchesApart(t *testing.T, s *Studio, a, b uint) float64 {
	t.Helper()
	read := func(id uint) [][3]float64 {
		p := must(s.Show(ctx, View{Shot: id, W: 480, H: 270}))
		lit := must(frame.Each(ctx, p.Frame, p.Display.Light))
		lab := labOn(p.Display)
		var out [][3]float64
		for _, q := range yardPatches {
			out = append(out, lab(around(lit, int(q[0]*480), int(q[1]*270), 5)))
		}
		return out
	}
	x, y := read(a), read(b)
	sum := 0.0
	for i := range x {
		sum += colour.DeltaE2000(x[i], y[i])
	}
	return sum / float64(len(x))
}

// The courtyard under four casts and exposures comes within 3 of its reference by the proposal alone, and within 1.5 after one
// move by hand; one undo takes the proposal back.
func TestMatchBringsCastsBack(t *testing.T) {
	s, ids := castShots(t, [][3]float64{{2.2, 2, 1.6}, {0.4, 0.45, 0.58}, {1.25, 1.45, 1.2}, {0.8, 0.7, 0.62}})
	for i, id := range ids[1:] {
		before := must(s.Shot(id)).Look
		was := patchesApart(t, s, id, ids[0])
		met := must(s.Match(ctx, id, MatchTo{Side: Side{Of: AnotherShot, ID: ids[0]}}, library.Author{}))
		is := patchesApart(t, s, id, ids[0])
		t.Logf("cast %d: ΔE2000 %.2f before, %.2f by the proposal (%s)", i+1, was, is, met.Says)
		if !met.Same || is > 3 || was < 5 {
			t.Errorf("cast %d: same scene %v, %.2f apart, %.2f before", i+1, met.Same, is, was)
		}
		best := is
		for _, hand := range []string{"red", "green", "blue", "all"} {
			for _, by := range []float64{-3, -2, -1, 1, 2, 3} {
				if _, err := s.Edit(id, look.Edit{Op: look.OpSet, Station: look.Balance, Kind: "points", Setting: hand, Value: by}, library.Author{}); err != nil {
					t.Fatal(err)
				}
				best = math.Min(best, patchesApart(t, s, id, ids[0]))
				if _, err := s.Undo(id, library.Author{}); err != nil {
					t.Fatal(err)
				}
			}
		}
		t.Logf("cast %d: %.2f after one move by hand", i+1, best)
		if best > 1.5 {
			t.Errorf("cast %d: %.2f apart after one move by hand", i+1, best)
		}
		if _, err := s.Undo(id, library.Author{}); err != nil {
			t.Fatal(err)
		}
		if must(s.Shot(id)).Look != before {
			t.Errorf("cast %d: one undo has not taken it back", i+1)
		}
	}
}

// A box on each picture: what is inside them is compared, whatever lies around it, and wherever each of them lies.
func TestMatchInsideBoxes(t *testing.T) {
	s, ids := castShots(t, [][3]float64{{2, 2, 2}})
	exposure := func() float64 {
		v := 0.0
		if p := must(parse(must(s.Shot(ids[1])).Look)).Step(look.Balance, "exposure"); p != nil {
			v, _ = p.Settings["stops"].(float64)
		}
		return v
	}
	stops := func(q MatchTo) float64 {
		t.Helper()
		q.Side = Side{Of: AnotherShot, ID: ids[0]}
		was := exposure()
		must(s.Match(ctx, ids[1], q, library.Author{}))
		by := exposure() - was
		must(s.Undo(ids[1], library.Author{}))
		return by
	}
	bright, dark := &scope.Box{X0: 0.05, Y0: 0.6, X1: 0.3, Y1: 0.95}, &scope.Box{X0: 0.42, Y0: 0.25, X1: 0.58, Y1: 0.5}
	if v := stops(MatchTo{Box: bright, Theirs: bright}); math.Abs(v+1) > 0.15 {
		t.Errorf("the same place, a stop brighter: %+.2f stops", v)
	}
	apart := stops(MatchTo{Box: bright, Theirs: dark})
	if near := stops(MatchTo{Box: dark, Theirs: dark}); math.Abs(apart-near) < 0.2 {
		t.Errorf("boxes on other things propose the same: %+.2f and %+.2f stops", apart, near)
	}
}

// Between scenes that have nothing in common nothing absurd is proposed.
func TestMatchOfOtherScenesIsBounded(t *testing.T) {
	s, _, shots, _ := reelOf(t, 4)
	for _, pair := range [][2]uint{{shots[0], shots[1]}, {shots[1], shots[0]}, {shots[2], shots[0]}, {shots[0], shots[3]}} {
		met := must(s.Match(ctx, pair[0], MatchTo{Side: Side{Of: AnotherShot, ID: pair[1]}}, library.Author{}))
		l := must(parse(met.Shot.Look))
		value := func(kind, setting string) float64 {
			k := must(look.FindKind(look.Balance, kind))
			p := l.Step(look.Balance, kind)
			if p == nil {
				p = &look.Step{Kind: kind}
			}
			return l.Values(k, p).Number(setting)
		}
		t.Logf("%s: %s", met.Shot.Name, met.Says)
		if met.Same || math.Abs(value("exposure", "stops")) > 2 || math.Abs(value("white", "temperature")) > 45 || math.Abs(value("white", "tint")) > 15 || math.Abs(value("contrast", "amount")-100) > 20 {
			t.Errorf("%s to another scene: same %v, %s", met.Shot.Name, met.Same, met.Says)
		}
		if met.Is > met.Was {
			t.Errorf("%s is farther than before: %s", met.Shot.Name, met.Says)
		}
		if met.Is < met.Was {
			if _, err := s.Undo(pair[0], library.Author{}); err != nil {
				t.Fatal(err)
			}
		}
	}
	for _, bad := range []MatchTo{{}, {Side: Side{Of: WithoutFilm}}, {Side: Side{Of: AnotherShot, ID: shots[0]}}, {Side: Side{Of: APin, ID: 9}}} {
		if _, err := s.Match(ctx, shots[0], bad, library.Author{}); err == nil {
			t.Errorf("%+v was done", bad)
		}
	}
}

// The second angles of the demo reel come nearer to the first, under their house look.
func TestSecondAnglesAreMatched(t *testing.T) {
	s := must(Open(t.TempDir()))
	t.Cleanup(func() { s.Close() })
	if err := s.LoadDemo(ctx); err != nil {
		t.Fatal(err)
	}
	id := map[string]uint{}
	for _, r := range must(s.Reels()) {
		for _, x := range r.Shots {
			id[x.Name] = x.ID
		}
	}
	for first, second := range map[string]string{"Footlights": "Footlights B", "Courtyard": "Courtyard B"} {
		met := must(s.Match(ctx, id[second], MatchTo{Side: Side{Of: AnotherShot, ID: id[first]}}, library.Author{}))
		t.Logf("%s: %s", second, met.Says)
		l := must(parse(met.Shot.Look))
		stops, _ := l.Step(look.Balance, "exposure").Settings["stops"].(float64)
		if met.Is > 0.6*met.Was || first == "Footlights" != (stops > 0) || math.Abs(stops) < 0.5 {
			t.Errorf("%s: exposure %+.2f, ΔE %.1f to %.1f", second, stops, met.Was, met.Is)
		}
	}
}
