package steps

import (
	"encoding/json"
	"math/rand/v2"
	"strings"
	"testing"

	"velours/core/look"
)

// level is the look of a scene or shot: it follows, and has what is set.
func level(t testing.TB, sets ...string) *look.Look {
	t.Helper()
	l := look.Following("level")
	if err := l.SetAll(sets...); err != nil {
		t.Fatal(err)
	}
	return l
}

// own makes stations own, clean, and sets what is in them.
func own(t testing.TB, l *look.Look, s look.Station, sets ...string) *look.Look {
	t.Helper()
	delete(l.Stations, s)
	if err := l.SetAll(sets...); err != nil {
		t.Fatal(err)
	}
	return l
}

func parsed(l *look.Look, err error) *look.Look {
	if err != nil {
		panic(err)
	}
	return l
}

func doc(t testing.TB, l *look.Look) string {
	t.Helper()
	data, err := l.Stored()
	if err != nil {
		t.Fatal(err)
	}
	return string(data)
}

var house = []string{
	"balance.saturation.all=110", "lens.bloom.amount=8", "negative.stock.id=serein-500t", "negative.grain.amount=80", "negative.halation.amount=90",
	"print.medium.id=rideau", "print.lights.red=3", "screen.display.id=srgb", "finish.contrast.amount=112", "finish.overall.film=80",
}

// What levels make together is what the same settings make when they are written out on one: bit for bit, at every raster.
// Balances act from the shot upwards, and so do finishes.
func TestLevelsEqualOneLook(t *testing.T) {
	reel := filmLook(t, house...)
	for _, c := range []struct {
		name        string
		shot, scene *look.Look
		same        []string // in the order in which they act
	}{
		{"the house look alone", level(t), nil, house},
		{"a balance beneath", level(t, "balance.exposure.stops=0.5", "finish.saturation.all=90"), nil,
			append([]string{"balance.exposure.stops=0.5", "finish.saturation.all=90"}, house...)},
		{"three balances", level(t, "balance.exposure.stops=0.5"), level(t, "balance.exposure.stops=-0.25", "balance.white.temperature=6", "finish.contrast.amount=95"),
			[]string{"balance.exposure.stops=0.5", "balance.exposure-2.stops=-0.25", "balance.white.temperature=6", "balance.saturation.all=110", "lens.bloom.amount=8",
				"negative.stock.id=serein-500t", "negative.grain.amount=80", "negative.halation.amount=90", "print.medium.id=rideau", "print.lights.red=3", "screen.display.id=srgb",
				"finish.contrast.amount=95", "finish.contrast-2.amount=112", "finish.overall.film=80"}},
		{"a scene with another print", level(t, "balance.points.red=2"), own(t, level(t), look.Print, "print.medium.id=coulisse"),
			append([]string{"balance.points.red=2", "balance.saturation.all=110", "lens.bloom.amount=8", "negative.stock.id=serein-500t", "negative.grain.amount=80", "negative.halation.amount=90",
				"print.medium.id=coulisse"}, house[7:]...)},
		{"a shot that leaves", own(t, own(t, level(t), look.Negative, "negative.stock.id=pampille-500t"), look.Lens), level(t),
			[]string{"balance.saturation.all=110", "negative.stock.id=pampille-500t", "print.medium.id=rideau", "print.lights.red=3", "screen.display.id=srgb", "finish.contrast.amount=112", "finish.overall.film=80"}},
	} {
		one := look.NewLook("one")
		for _, set := range c.same { // in this order, whatever their usual places are
			if err := one.SetAll(set); err != nil {
				t.Fatal(c.name, err)
			}
		}
		order(one, c.same)
		v := look.Levels{Shot: c.shot, Scene: c.scene, Reel: reel}
		flat, left := v.Flat()
		if len(left) > 0 {
			t.Errorf("%s: flat leaves out %v", c.name, left)
		}
		if _, err := look.ParseLook([]byte(doc(t, flat))); err != nil {
			t.Errorf("%s: the flat look does not stand for itself: %v", c.name, err)
		}
		for _, size := range [][2]int{{320, 180}, {101, 57}} {
			src := scene{w: size[0], h: size[1]}
			want := rendered(t, one, src, size[0], size[1], look.Finish)
			if !equal(rendered(t, v.Whole(), src, size[0], size[1], look.Finish), want) {
				t.Errorf("%s: the levels' picture at %v is another than that of one look", c.name, size)
			}
			if !equal(rendered(t, flat, src, size[0], size[1], look.Finish), want) {
				t.Errorf("%s: the flat look's picture at %v is another", c.name, size)
			}
		}
	}
}

// order puts the steps of a look in the order in which a list sets them.
func order(l *look.Look, sets []string) {
	at := map[string]int{}
	for i, s := range sets {
		part := strings.SplitN(s, ".", 3)
		if p := part[0] + "." + part[1]; at[p] == 0 {
			at[p] = i + 1
		}
	}
	for s, st := range l.Stations {
		for i := range st.Steps {
			for j := i + 1; j < len(st.Steps); j++ {
				if at[string(s)+"."+st.Steps[j].Name()] < at[string(s)+"."+st.Steps[i].Name()] {
					st.Steps[i], st.Steps[j] = st.Steps[j], st.Steps[i]
				}
			}
		}
	}
}

// Mattes of levels that have one name are each their own.
func TestMattesOfLevelsStayApart(t *testing.T) {
	reel := shaped(t, &look.MattePart{Kind: "rectangle", Settings: map[string]any{"a": 20.0, "b": 20.0}})
	masked(t, reel, "balance.exposure.stops", 1.0)
	shot := shaped(t, &look.MattePart{Kind: "ellipse", Settings: map[string]any{"x": 20.0}})
	masked(t, shot, "balance.exposure.stops", -1.0)
	v := look.Levels{Shot: shot, Reel: reel}
	w := v.Whole()
	if len(w.Mattes) != 2 || w.Mattes["here"].Parts[0].Kind != "ellipse" || w.Mattes["reel:here"].Parts[0].Kind != "rectangle" {
		t.Fatalf("mattes are %v", w.Mattes)
	}
	if p := w.Step(look.Balance, "reel:exposure"); p == nil || *p.Matte != "reel:here" {
		t.Fatalf("the reel's step is %+v", p)
	}
	flat, _ := v.Flat()
	if p := flat.Step(look.Balance, "exposure-2"); p == nil || *p.Matte != "here 2" || flat.Mattes["here 2"].Parts[0].Kind != "rectangle" {
		t.Fatalf("in the flat look it is %+v", p)
	}
	if err := flat.Check(); err != nil {
		t.Error(err)
	}
	src := scene{w: 192, h: 108}
	if !equal(rendered(t, w, src, 192, 108, look.Finish), rendered(t, flat, src, 192, 108, look.Finish)) {
		t.Error("flat is another picture")
	}
}

// A matte of the shot that is named as one from above would be keeps its place.
func TestAMatteNamedLikeOneFromAbove(t *testing.T) {
	reel := shaped(t, &look.MattePart{Kind: "rectangle", Settings: map[string]any{}})
	masked(t, reel, "balance.exposure.stops", 1.0)
	shot := look.NewLook("shot")
	shot.SetMatte("reel:here", &look.Matte{Parts: []*look.MattePart{{Kind: "ellipse", Settings: map[string]any{}}}})
	w := look.Levels{Shot: shot, Reel: reel}.Whole()
	if w.Mattes["reel:here"].Parts[0].Kind != "ellipse" || w.Mattes[*w.Step(look.Balance, "reel:exposure").Matte].Parts[0].Kind != "rectangle" {
		t.Errorf("mattes are mixed up: %v", w.Mattes)
	}
}

// To make a station own changes no bit of the picture, and to let it follow again leaves no trace in the look: for every station
// that can, looks of all processes, with mattes.
func TestOwnAndFollowAgain(t *testing.T) {
	src := scene{w: 160, h: 90}
	for process := 1; process <= look.Process; process++ {
		reel := filmLook(t, append([]string{"lens.vignette.stops=-1"}, house...)...)
		reel.Made = &look.Made{Process: process}
		reel.SetMatte("middle", &look.Matte{Parts: []*look.MattePart{{Kind: "ellipse", Settings: map[string]any{}}}})
		name := "middle"
		reel.Step(look.Lens, "vignette").Matte = &name
		reel = parsed(look.ParseStored([]byte(doc(t, reel))))
		shot := parsed(look.ParseStored([]byte(doc(t, level(t, "balance.exposure.stops=0.3")))))
		before := doc(t, shot)
		want := rendered(t, look.Levels{Shot: shot, Reel: reel}.Whole(), src, 160, 90, look.Finish)
		for _, s := range look.Stations {
			mine, err := shot.Own(s, reel)
			if !s.Follows() {
				if err == nil {
					t.Errorf("%s was made own, and follows nothing", s)
				}
				continue
			}
			if err != nil {
				t.Fatal(err)
			}
			mine = parsed(look.ParseStored([]byte(doc(t, mine))))
			if mine.IsFollowing(s) || len(mine.Station(s).Steps) != len(reel.Station(s).Steps) {
				t.Fatalf("%s is not own: %s", s, doc(t, mine))
			}
			if !equal(rendered(t, look.Levels{Shot: mine, Reel: reel}.Whole(), src, 160, 90, look.Finish), want) {
				t.Errorf("process %d: own %s is another picture", process, s)
			}
			again, err := mine.Follow(s)
			if err != nil {
				t.Fatal(err)
			}
			if doc(t, again) != before {
				t.Errorf("process %d: %s leaves a trace:\n%s\n%s", process, s, before, doc(t, again))
			}
		}
	}
}

// What is hidden: the house look while a shot is corrected, or the shot's own. The display stays, so does how the shot came in.
func TestHiding(t *testing.T) {
	reel := filmLook(t, house...)
	shot := level(t, "intake.reframe.scale=120", "balance.exposure.stops=1")
	v := look.Levels{Shot: shot, Scene: level(t, "balance.white.tint=5"), Reel: reel}
	src := scene{w: 160, h: 90}
	same := func(a, b look.Levels) bool {
		return equal(rendered(t, a.Whole(), src, 160, 90, look.Finish), rendered(t, b.Whole(), src, 160, 90, look.Finish))
	}
	if !same(v.Without(look.HideNothing), v) {
		t.Error("nothing hidden is another picture")
	}
	if !same(v.Without(look.HideAbove), look.Levels{Shot: own(t, level(t, "intake.reframe.scale=120", "balance.exposure.stops=1"), look.Screen, "screen.display.id=srgb")}) {
		t.Error("what is above shows")
	}
	if !same(v.Without(look.HideOwn), look.Levels{Shot: level(t, "intake.reframe.scale=120"), Scene: v.Scene, Reel: reel}) {
		t.Error("what is own shows")
	}
}

// A look says itself what follows; what cannot is refused, and what is stored comes back.
func TestFollowingIsChecked(t *testing.T) {
	l := level(t)
	if again := parsed(look.ParseLook([]byte(doc(t, l)))); doc(t, again) != doc(t, l) {
		t.Error("it comes back otherwise")
	}
	for _, bad := range []string{
		`{"velours":2,"stations":{"balance":{"on":true,"strength":1,"follows":true,"steps":[]}}}`,
		`{"velours":2,"stations":{"print":{"on":true,"strength":1,"follows":true,"steps":[{"kind":"lights","on":true,"strength":1}]}}}`,
	} {
		if _, err := look.ParseLook([]byte(bad)); err == nil {
			t.Errorf("%s was taken", bad)
		}
		var back map[string]any
		if err := json.Unmarshal([]byte(doc(t, parsed(look.ParseStored([]byte(bad))))), &back); err != nil {
			t.Error(err)
		}
	}
	set := look.Edit{Op: look.OpSet, Station: look.Print, Kind: "lights", Setting: "red", Value: 1.0}
	if _, _, err := set.Apply(l); err == nil {
		t.Error("a step was set in a station that follows")
	}
}

// Levels of random looks: flat and whole agree, and home is where the station is from.
func TestLevelsOfRandomLooks(t *testing.T) {
	r := rand.New(rand.NewPCG(16, 1))
	src := scene{w: 96, h: 54}
	for range 12 {
		v := look.Levels{Shot: randomLook(r), Scene: randomLook(r), Reel: randomLook(r)}
		for _, l := range []*look.Look{v.Shot, v.Scene} {
			for _, s := range look.Stations {
				if s.Follows() && r.IntN(2) == 0 {
					l.Stations[s] = look.Following("").Stations[s]
				}
			}
		}
		flat, left := v.Flat()
		if err := flat.Check(); err != nil {
			t.Fatal(err)
		}
		if len(left) == 0 && !equal(rendered(t, v.Whole(), src, 96, 54, look.Finish), rendered(t, flat, src, 96, 54, look.Finish)) {
			t.Errorf("flat is another picture: %s", doc(t, flat))
		}
	}
}
