package studio

import (
	"bytes"
	"errors"
	"fmt"
	"image/png"
	"math/rand/v2"
	"os"
	"regexp"
	"strings"
	"sync"
	"testing"

	"velours/core/look"
	"velours/library"
)

func addTrial(t *testing.T, s *Studio, shot uint, level look.Level) library.Trial {
	t.Helper()
	must(s.AddTrial(shot, level, library.Author{}))
	list := trialsAt(t, s, shot, level)
	return list[len(list)-1]
}

func trialsAt(t *testing.T, s *Studio, shot uint, level look.Level) []library.Trial {
	t.Helper()
	var out []library.Trial
	for _, x := range must(s.TrialsOf(must(s.Shot(shot)))) {
		if TrialLevel(&x) == level {
			out = append(out, x)
		}
	}
	return out
}

// The first trial of a shot makes two: what there is, and a copy to change. Each is in use as it was left, pixel by pixel, and can
// be looked at from the other.
func TestTrialsOfAShot(t *testing.T) {
	s, shot, v := filmed(t)
	v.W, v.H = 120, 120
	first := pixels(t, s, v)
	addTrial(t, s, shot, look.OfShot)
	list := trialsAt(t, s, shot, look.OfShot)
	if len(list) != 2 || list[0].Name != "Trial 1" || list[1].Name != "Trial 2" || TrialOf(must(s.Shot(shot))) != list[1].Number {
		t.Fatalf("the first trial made %+v", list)
	}
	one, two := list[0], list[1]
	if !bytes.Equal(pixels(t, s, v), first) {
		t.Error("a new trial is not as what it began from")
	}
	set(t, s, shot, look.OfShot, "balance.exposure.stops=1", "print.medium.id=coulisse")
	second := pixels(t, s, v)
	if bytes.Equal(first, second) {
		t.Fatal("the trials do not differ")
	}
	side := v
	side.Side = Side{Of: ATrial, ID: one.ID}
	if !bytes.Equal(pixels(t, s, side), first) {
		t.Error("the other trial as a side is not the picture that it is in use")
	}
	side.Side.ID = two.ID
	if !bytes.Equal(pixels(t, s, side), second) {
		t.Error("the trial in use as a side is not the picture")
	}
	side.Side, side.Against, side.Show = Side{Of: ATrial, ID: one.ID}, Side{Of: ATrial, ID: one.ID}, ShowDifference
	if !uniform(pixels(t, s, side)) {
		t.Error("a trial differs from itself")
	}
	must(s.UseTrial(shot, one.ID, library.Author{}))
	if !bytes.Equal(pixels(t, s, v), first) {
		t.Error("the first trial in use again is another picture")
	}
	must(s.UseTrial(shot, two.ID, library.Author{}))
	if !bytes.Equal(pixels(t, s, v), second) {
		t.Error("the second trial in use again is another picture")
	}
	if _, err := s.UseTrial(shot, 999, library.Author{}); err == nil {
		t.Error("a trial that there is not was put in use")
	}
}

// uniform tells whether all pixels are one colour.
func uniform(rgba []byte) bool {
	for i := 4; i < len(rgba); i += 4 {
		if !bytes.Equal(rgba[i:i+3], rgba[:3]) {
			return false
		}
	}
	return true
}

// A trial that was changed, left, and whose change is then undone, is without it when it is in use again.
func TestUndoReachesATrialThatWasLeft(t *testing.T) {
	s, shot, v := filmed(t)
	v.W, v.H = 60, 60
	first := pixels(t, s, v)
	addTrial(t, s, shot, look.OfShot)
	list := trialsAt(t, s, shot, look.OfShot)
	set(t, s, shot, look.OfShot, "balance.exposure.stops=1")
	must(s.UseTrial(shot, list[0].ID, library.Author{}))
	for range 2 { // the switch, and the change
		must(s.Undo(shot, library.Author{}))
	}
	must(s.UseTrial(shot, list[0].ID, library.Author{}))
	must(s.UseTrial(shot, list[1].ID, library.Author{}))
	if !bytes.Equal(pixels(t, s, v), first) {
		t.Error("a change that was undone came back with its trial")
	}
}

// state is all that trials and undo may touch, as text.
func trialState(t *testing.T, s *Studio, shot uint) string {
	t.Helper()
	x := must(s.Shot(shot))
	var b strings.Builder
	fmt.Fprintln(&b, x.Look, x.Encoding)
	reel := must(s.Levels(x.ReelID))
	fmt.Fprintln(&b, reel.Look)
	for _, c := range reel.Scenes {
		fmt.Fprintln(&b, c.Look)
	}
	for _, n := range must(s.TrialsOf(x)) {
		full := must(s.Sessions.lib.Trial(n.ID))
		fmt.Fprintln(&b, full.ID, full.Owner, full.OwnerID, full.Number, full.Name, full.Answer, full.Look, full.Encoding)
	}
	return b.String()
}

// Whatever is done with trials at all levels, undo goes back through it, state by state, and redo forward.
func TestTrialsAreUndoneExactly(t *testing.T) {
	s, _, shots, _ := reelOf(t, 4)
	shot := shots[0]
	r := rand.New(rand.NewPCG(7, 7))
	levels := []look.Level{look.OfShot, look.OfScene, look.OfReel}
	states := []string{trialState(t, s, shot)}
	for n := range 60 {
		level := levels[r.IntN(3)]
		list := trialsAt(t, s, shot, level)
		yes := true
		var err error
		switch k := r.IntN(6); {
		case k == 0 || len(list) == 0:
			_, err = s.AddTrial(shot, level, library.Author{})
		case k == 1:
			_, err = s.ChangeTrial(shot, list[r.IntN(len(list))].ID, TrialChange{Answer: &yes}, library.Author{})
		case k == 2:
			name := fmt.Sprint("Name ", n)
			_, err = s.ChangeTrial(shot, list[r.IntN(len(list))].ID, TrialChange{Name: &name}, library.Author{})
		case k == 3 && len(list) > 2:
			_, err = s.ChangeTrial(shot, list[r.IntN(len(list))].ID, TrialChange{Removed: &yes}, library.Author{})
		case k == 4:
			_, err = s.UseTrial(shot, list[r.IntN(len(list))].ID, library.Author{})
		default:
			_, err = s.EditAt(shot, level, look.Edit{Op: look.OpSet, Station: look.Balance, Kind: "exposure", Setting: "stops", Value: float64(n) / 20}, library.Author{})
		}
		if err != nil {
			t.Fatal(err)
		}
		if now := trialState(t, s, shot); now != states[len(states)-1] {
			states = append(states, now)
		}
	}
	for _, list := range [][]library.Trial{trialsAt(t, s, shot, look.OfShot), trialsAt(t, s, shot, look.OfScene)} {
		answers := 0
		for _, x := range list {
			if x.Answer {
				answers++
			}
		}
		if answers > 1 {
			t.Errorf("%d answers among %d trials", answers, len(list))
		}
	}
	for i := len(states) - 2; i >= 0; i-- {
		must(s.Undo(shot, library.Author{}))
		if now := trialState(t, s, shot); now != states[i] {
			t.Fatalf("undone to step %d of %d:\n%s\nis not\n%s", i, len(states), now, states[i])
		}
	}
	for i := 1; i < len(states); i++ {
		must(s.Redo(shot, library.Author{}))
		if now := trialState(t, s, shot); now != states[i] {
			t.Fatalf("done again to step %d of %d:\n%s\nis not\n%s", i, len(states), now, states[i])
		}
	}
}

// A trial of a scene is one of all its shots that follow.
func TestTrialsOfAScene(t *testing.T) {
	s, _, shots, _ := reelOf(t, 8) // two in a scene
	view := func(i int) View { return View{Shot: shots[i], W: 60, H: 60} }
	set(t, s, shots[0], look.OfScene, "negative.stock.id=serein-500t")
	must(s.Edit(shots[1], look.Edit{Op: look.OpOwn, Station: look.Negative}, library.Author{}))
	var was [3][]byte
	for i := range was {
		was[i] = pixels(t, s, view(i))
	}
	two := addTrial(t, s, shots[0], look.OfScene)
	set(t, s, shots[0], look.OfScene, "negative.stock.id=pampille-500t")
	if bytes.Equal(pixels(t, s, view(0)), was[0]) {
		t.Error("the scene's trial does not reach its shot")
	}
	for _, i := range []int{1, 2} {
		if !bytes.Equal(pixels(t, s, view(i)), was[i]) {
			t.Errorf("shot %d has its own negative, or another scene, and changed", i)
		}
	}
	one := trialsAt(t, s, shots[0], look.OfScene)[0]
	now := pixels(t, s, view(0))
	must(s.UseTrial(shots[0], one.ID, library.Author{}))
	if !bytes.Equal(pixels(t, s, view(0)), was[0]) {
		t.Error("the scene's first trial in use again is another picture")
	}
	side := view(0)
	side.Side = Side{Of: ATrial, ID: two.ID}
	if !bytes.Equal(pixels(t, s, side), now) {
		t.Error("the scene's second trial as a side is another picture")
	}
	if _, err := s.UseTrial(shots[2], two.ID, library.Author{}); err == nil {
		t.Error("the trial of one scene was used in another")
	}
}

// A copied reel has the trials of the first, and each goes its own way; what carries a look elsewhere carries no trial.
func TestTrialsAreOfTheirReel(t *testing.T) {
	s, shot, _ := filmed(t)
	addTrial(t, s, shot, look.OfShot)
	set(t, s, shot, look.OfShot, "balance.exposure.stops=1")
	x := must(s.Shot(shot))
	twin := must(s.CopyReel(x.ReelID))
	copied := must(s.Reel(twin.ID)).Shots[0].ID
	list := trialsAt(t, s, copied, look.OfShot)
	if len(list) != 2 || TrialOf(must(s.Shot(copied))) != list[1].Number {
		t.Fatalf("the copy has %+v", list)
	}
	must(s.UseTrial(copied, list[0].ID, library.Author{}))
	if TrialOf(must(s.Shot(shot))) != TrialOf(x) {
		t.Error("the first reel's shot changed its trial with the copy's")
	}
	pin := must(s.AddPin(ctx, shot, 0))
	if strings.Contains(pin.Look, `"trial"`) {
		t.Error("a pin's settings name a trial")
	}
	must(s.TakePin(copied, pin.ID, library.Author{}))
	if TrialOf(must(s.Shot(copied))) != list[0].Number {
		t.Error("taking a pin changed which trial is in use")
	}
}

// Deliveries say which trials they hold; contact sheets have a picture of every trial of every shot.
func TestDeliveriesSayTheirTrial(t *testing.T) {
	s, _, shots, _ := reelOf(t, 4)
	two := addTrial(t, s, shots[0], look.OfShot)
	set(t, s, shots[0], look.OfShot, "balance.exposure.stops=1")
	name, yes := "Warmer", true
	must(s.ChangeTrial(shots[0], two.ID, TrialChange{Name: &name, Answer: &yes}, library.Author{}))
	addTrial(t, s, shots[1], look.OfReel)
	set(t, s, shots[1], look.OfReel, "balance.saturation.all=130")
	d := must(s.Deliver(shots[0], "still-jpeg", 0, false))
	if d = waitFor(t, s, d.ID, "done"); d.Trial != "Warmer, the answer; reel: Trial 2" {
		t.Errorf("the delivery says %q", d.Trial)
	}
	// the first shot has two trials of its own, the others those of the reel: 4 × 2
	d = must(s.DeliverSheet(shots, "sheet-png"))
	if d = waitFor(t, s, d.ID, "done", "failed"); d.State != "done" || d.Done != 8 || d.Total != 8 {
		t.Fatalf("%+v", d)
	}
	f := must(os.Open(d.Path))
	defer f.Close()
	picture := must(png.Decode(f))
	if b := picture.Bounds(); b.Dx() < 2*sheetCellWidth || b.Dy() < 4*sheetCellWidth*9/16 {
		t.Errorf("a sheet of 4 × 2 pictures is %v", b)
	}
	d = must(s.DeliverSheet(shots, "sheet-pdf"))
	if d = waitFor(t, s, d.ID, "done", "failed"); d.State != "done" {
		t.Fatalf("%+v", d)
	}
	pdf := must(os.ReadFile(d.Path))
	if n := len(regexp.MustCompile(`/Subtype /Image`).FindAll(pdf, -1)); n != 8 || !bytes.HasPrefix(pdf, []byte("%PDF-")) {
		t.Errorf("the pages hold %d pictures, not 8", n)
	}
	if _, err := s.DeliverSheet(nil, "sheet-pdf"); err == nil {
		t.Error("a sheet of no shots was begun")
	}
	if _, err := s.DeliverSheet(shots, "still-png"); err == nil {
		t.Error("a still was begun as a sheet")
	}
}

// Two windows that put trials in use at the same moment never write one trial's settings over another's: the slower one is told.
func TestTwoWindowsPutTrialsInUse(t *testing.T) {
	s, shot, _ := filmed(t)
	for range 3 {
		addTrial(t, s, shot, look.OfShot)
	}
	list := trialsAt(t, s, shot, look.OfShot)
	mark := func(x library.Trial) float64 { return float64(x.Number) / 10 }
	for _, x := range list {
		must(s.UseTrial(shot, x.ID, library.Author{}))
		set(t, s, shot, look.OfShot, fmt.Sprintf("balance.exposure.stops=%g", mark(x)))
	}
	var wait sync.WaitGroup
	for window := range 3 {
		wait.Go(func() {
			r := rand.New(rand.NewPCG(uint64(window), 1))
			for range 30 {
				_, err := s.UseTrial(shot, list[r.IntN(len(list))].ID, library.Author{Window: fmt.Sprint(window)})
				var stale *library.StaleError
				if err != nil && !errors.As(err, &stale) {
					t.Error(err)
				}
			}
		})
	}
	wait.Wait()
	for _, x := range list {
		must(s.UseTrial(shot, x.ID, library.Author{}))
		l := must(look.ParseStored([]byte(must(s.Shot(shot)).Look)))
		if v := l.Step(look.Balance, "exposure").Settings["stops"]; v != mark(x) {
			t.Errorf("%s has the exposure %v, not %g", x.Name, v, mark(x))
		}
	}
}
