package steps

import (
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
)

// edited makes edits of a look.
func edited(t testing.TB, l *look.Look, edits ...look.Edit) *look.Look {
	t.Helper()
	for _, e := range edits {
		var err error
		if l, _, err = e.Apply(l); err != nil {
			t.Fatalf("%+v: %v", e, err)
		}
	}
	return l
}

// two is a look of two exposures, a stop over and a stop under, the second in a group.
func two(t testing.TB, lay look.Lay) *look.Look {
	t.Helper()
	l := lookOf(t, "balance.exposure.stops=1")
	return edited(t, l,
		look.Edit{Op: look.OpAdd, Station: look.Balance, Kind: "exposure"},
		look.Edit{Op: look.OpSet, Station: look.Balance, Kind: "exposure-2", Setting: "stops", Value: -1.0},
		look.Edit{Op: look.OpGroup, Station: look.Balance, Names: []string{"exposure-2"}, Name: "Under"},
		look.Edit{Op: look.OpLay, Station: look.Balance, Group: "group", Name: string(lay)},
	)
}

// A group laid over the step above it takes the picture from before that, channel by channel as the way to lay says; by its strength
// and inside its matte. The figures are the definitions, worked out here.
func TestGroupsAreLaidOverTheOneAbove(t *testing.T) {
	const w, h = 64, 36
	src := scene{w, h}
	plain := rendered(t, look.NewLook(""), src, w, h, look.Balance)
	for lay, want := range map[look.Lay]func(a, b float64) float64{
		look.InTurn:      nil,
		look.LayMix:      func(_, b float64) float64 { return b },
		look.LayLighten:  math.Max,
		look.LayDarken:   math.Min,
		look.LayScreen:   func(a, b float64) float64 { return a + b - math.Min(math.Max(a, 0), 1)*math.Min(math.Max(b, 0), 1) },
		look.LayMultiply: func(a, b float64) float64 { return a * math.Min(math.Max(b, 0), 1) },
	} {
		for _, strength := range []float64{1, 0.4, 0} {
			l := edited(t, two(t, lay), look.Edit{Op: look.OpMix, Station: look.Balance, Group: "group", Value: strength})
			got := rendered(t, l, src, w, h, look.Balance)
			for y := range h {
				for x := range w {
					in, out := plain.At(x, y), got.At(x, y)
					for c := range 3 {
						over := 2 * in[c]
						var laid float64
						if want == nil { // in turn: the group takes what the one above has made
							laid = 0.5 * over
						} else {
							laid = want(over, 0.5*in[c])
						}
						if v := over + strength*(laid-over); math.Abs(out[c]-v) > 1e-5*math.Max(1, math.Abs(v)) {
							t.Fatalf("%q at %g, channel %d at %d,%d: %g becomes %g, not %g", lay, strength, c, x, y, in[c], out[c], v)
						}
					}
				}
			}
		}
	}
}

// Three side by side take the same picture; one that is off leaves the one above it as it is.
func TestGroupsSideBySideTakeTheSamePicture(t *testing.T) {
	const w, h = 48, 27
	src := scene{w, h}
	plain := rendered(t, look.NewLook(""), src, w, h, look.Balance)
	l := edited(t, two(t, look.LayMix),
		look.Edit{Op: look.OpMix, Station: look.Balance, Group: "group", Value: 0.5},
		look.Edit{Op: look.OpAdd, Station: look.Balance, Kind: "exposure"},
		look.Edit{Op: look.OpSet, Station: look.Balance, Kind: "exposure-3", Setting: "stops", Value: -2.0},
		look.Edit{Op: look.OpGroup, Station: look.Balance, Names: []string{"exposure-3"}, Name: "Darker"},
		look.Edit{Op: look.OpLay, Station: look.Balance, Group: "group-2", Name: "mix"},
		look.Edit{Op: look.OpMix, Station: look.Balance, Group: "group-2", Value: 0.5},
	)
	check := func(what string, l *look.Look, times float64) {
		t.Helper()
		got := rendered(t, l, src, w, h, look.Balance)
		for y := range h {
			for x := range w {
				if in, out := plain.At(x, y)[1], got.At(x, y)[1]; math.Abs(out-times*in) > 1e-5*math.Max(1, math.Abs(out)) {
					t.Fatalf("%s: %g becomes %g, not %g", what, in, out, times*in)
				}
			}
		}
	}
	check("all three", l, (0.5*2+0.5*0.5)*0.5+0.5*0.25)
	check("the second off", edited(t, l, look.Edit{Op: look.OpOff, Station: look.Balance, Group: "group"}), 0.5*2+0.5*0.25)
	check("the third off", edited(t, l, look.Edit{Op: look.OpOff, Station: look.Balance, Group: "group-2"}), 0.5*2+0.5*0.5)
	check("the first off", edited(t, l, look.Edit{Op: look.OpOff, Station: look.Balance, Kind: "exposure"}), (0.5*1+0.5*0.5)*0.5+0.5*0.25)
	check("the matte of the third enters by what enters all", l.Upto(look.Balance, "exposure-3"), 1)
}

// A group that is on, whole and everywhere changes no bit, in any station that has groups, at any raster and level.
func TestAPlainGroupChangesNothing(t *testing.T) {
	l := filmLook(t, append([]string{"lens.vignette.stops=1", "negative.grain.amount=80", "print.lights.red=2", "balance.exposure.stops=0.5"}, house...)...)
	var edits []look.Edit
	for _, s := range []look.Station{look.Balance, look.Lens, look.Negative, look.Print, look.Finish} {
		e := look.Edit{Op: look.OpGroup, Station: s, Name: "All"}
		for _, p := range l.Stations[s].Steps {
			e.Names = append(e.Names, p.Name())
		}
		edits = append(edits, e)
	}
	grouped := edited(t, l, edits...)
	shot := level(t, "balance.white.temperature=4")
	for _, size := range [][2]int{{160, 90}, {101, 57}} {
		src := scene{size[0], size[1]}
		if !equal(rendered(t, grouped, src, size[0], size[1], look.Finish), rendered(t, l, src, size[0], size[1], look.Finish)) {
			t.Errorf("grouped, the picture at %v is another", size)
		}
		with, flat := look.Levels{Shot: shot, Reel: grouped}, look.Levels{Shot: shot, Reel: l}
		if !equal(rendered(t, with.Whole(), src, size[0], size[1], look.Finish), rendered(t, flat.Whole(), src, size[0], size[1], look.Finish)) {
			t.Errorf("grouped on a level, the picture at %v is another", size)
		}
	}
}

// What looks beside a pixel, and what surveys the shot, does in a group what it does by itself; half a group is half of it.
func TestGroupsOfLightThatSpreads(t *testing.T) {
	const w, h = 128, 72
	src := stage(w)
	l := lookOf(t, "lens.bloom.amount=30", "lens.diffusion.grade=1")
	draw := func(l *look.Look) *frame.Frame {
		p, err := render.Compile(ctx, l, logC3, render.Raster{W: w, H: h}, look.Lens)
		if err != nil {
			t.Fatal(err)
		}
		f, err := render.NewRenderer(64<<20).Render(ctx, p, src, 0)
		if err != nil {
			t.Fatal(err)
		}
		return f
	}
	none, whole := draw(look.NewLook("")), draw(l)
	grouped := edited(t, l, look.Edit{Op: look.OpGroup, Station: look.Lens, Names: []string{"diffusion", "bloom"}, Name: "Soft"}, look.Edit{Op: look.OpLay, Station: look.Lens, Group: "group", Name: "mix"})
	if d := farthest(draw(grouped), whole); d > 1e-6 {
		t.Errorf("laid by itself, bloom is %g off", d)
	}
	half := draw(edited(t, grouped, look.Edit{Op: look.OpMix, Station: look.Lens, Group: "group", Value: 0.5}))
	for y := range h {
		for x := range w {
			a, b, c := none.At(x, y)[0], whole.At(x, y)[0], half.At(x, y)[0]
			if v := a + 0.5*(b-a); math.Abs(c-v) > 1e-5*math.Max(1, v) {
				t.Fatalf("half of a group of bloom makes %g of %g and %g", c, a, b)
			}
		}
	}
}

// farthest is the greatest difference, as a share of what is brighter than 1.
func farthest(a, b *frame.Frame) (d float64) {
	for y := range a.H {
		for x := range a.W {
			for c, v := range a.At(x, y) {
				d = math.Max(d, math.Abs(v-b.At(x, y)[c])/math.Max(1, math.Abs(v)))
			}
		}
	}
	return d
}

// A group acts inside its matte, by pixels alone and with a soft edge, which is computed otherwise; in stations of film its strength
// and matte are those of its steps.
func TestGroupsInAMatte(t *testing.T) {
	const w, h = 96, 54
	src := scene{w, h}
	for _, blur := range []float64{0, 1} {
		l := lookOf(t, "balance.exposure.stops=1")
		l.SetMatte("here", &look.Matte{Blur: blur, Parts: []*look.MattePart{{Kind: "rectangle", Settings: map[string]any{"a": 20.0, "b": 20.0, "in": 0.0, "out": 0.0}}}})
		grouped := edited(t, l, look.Edit{Op: look.OpGroup, Station: look.Balance, Names: []string{"exposure"}, Name: "In"}, look.Edit{Op: look.OpMask, Station: look.Balance, Group: "group", Name: "here"})
		by := edited(t, l, look.Edit{Op: look.OpMask, Station: look.Balance, Kind: "exposure", Name: "here"})
		if d := farthest(rendered(t, grouped, src, w, h, look.Balance), rendered(t, by, src, w, h, look.Balance)); d > 1e-6 {
			t.Errorf("blur %g: the group's matte is %g off its step's", blur, d)
		}
		if renamed := edited(t, grouped, look.Edit{Op: look.OpRename, Name: "here", Value: "there"}); *renamed.Stations[look.Balance].Groups["group"].Matte != "there" {
			t.Error("a group's matte keeps its old name")
		}
		if gone := edited(t, grouped, look.Edit{Op: look.OpUncover, Name: "here"}); gone.Stations[look.Balance].Groups["group"].Matte != nil {
			t.Error("a group acts in a matte that is gone")
		}
	}
	film := filmLook(t, "negative.grain.amount=100")
	film.SetMatte("here", &look.Matte{Parts: []*look.MattePart{{Kind: "ellipse"}}})
	grouped := edited(t, film, look.Edit{Op: look.OpGroup, Station: look.Negative, Names: []string{"halation", "grain"}, Name: "Film"},
		look.Edit{Op: look.OpMix, Station: look.Negative, Group: "group", Value: 0.5}, look.Edit{Op: look.OpMask, Station: look.Negative, Group: "group", Name: "here"})
	var each []look.Edit
	for _, k := range []string{"halation", "grain"} {
		each = append(each, look.Edit{Op: look.OpMix, Station: look.Negative, Kind: k, Value: 0.5}, look.Edit{Op: look.OpMask, Station: look.Negative, Kind: k, Name: "here"})
	}
	if !equal(rendered(t, grouped, src, w, h, look.Finish), rendered(t, edited(t, film, each...), src, w, h, look.Finish)) {
		t.Error("a group of film steps is not what its strength and matte make of each")
	}
}

// Whatever is edited, groups hold together, a look with them is read back as it was, and what undo compares is stable.
func TestGroupsHoldTogether(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 9))
	for range 40 {
		l := lookOf(t, "balance.exposure.stops=1", "balance.saturation.all=105")
		for range 30 {
			st := l.Stations[look.Balance]
			var names []string
			for _, p := range st.Steps {
				names = append(names, p.Name())
			}
			groups := slices.Sorted(func(yield func(string) bool) {
				for name := range st.Groups {
					if !yield(name) {
						return
					}
				}
			})
			e := look.Edit{Station: look.Balance}
			switch n := r.IntN(7); {
			case n == 0:
				e.Op, e.Kind, e.Value = look.OpAdd, "exposure", float64(r.IntN(len(names)+1))
			case n == 1 && len(names) > 1:
				e.Op, e.Kind, e.Value = look.OpMove, names[r.IntN(len(names))], float64(r.IntN(len(names)))
			case n == 2 && len(names) > 1:
				from := r.IntN(len(names))
				e.Op, e.Names, e.Name = look.OpGroup, names[from:min(len(names), from+1+r.IntN(3))], "G"
			case n == 3 && len(groups) > 0:
				e.Op, e.Group = look.OpUngroup, groups[r.IntN(len(groups))]
			case n == 4 && len(groups) > 0:
				e.Op, e.Group, e.Name = look.OpLay, groups[r.IntN(len(groups))], []string{"", "mix", "screen"}[r.IntN(3)]
			case n == 5 && len(names) > 2:
				e.Op, e.Names = look.OpRemove, []string{names[r.IntN(len(names))]}
			default:
				e.Op, e.Kind, e.Setting, e.Value = look.OpSet, "white", "temperature", float64(r.IntN(5))
			}
			next, _, err := e.Apply(l)
			if err != nil {
				if strings.Contains(err.Error(), "keeps its place") || strings.Contains(err.Error(), "stands once") {
					continue
				}
				t.Fatalf("%+v: %v", e, err)
			}
			l = next
			st = l.Stations[look.Balance]
			seen := map[string]bool{}
			for i, p := range st.Steps {
				if p.Group == "" {
					continue
				}
				if st.Groups[p.Group] == nil {
					t.Fatalf("%s is in a group %q that there is not", p.Name(), p.Group)
				}
				if seen[p.Group] && st.Steps[i-1].Group != p.Group {
					t.Fatalf("the group %s is torn apart after %+v", p.Group, e)
				}
				seen[p.Group] = true
			}
			if len(seen) != len(st.Groups) {
				t.Fatalf("%d groups have steps, and there are %d", len(seen), len(st.Groups))
			}
		}
		text := doc(t, l)
		back, err := look.ParseStored([]byte(text))
		if err != nil || doc(t, back) != text {
			t.Fatalf("read back, %v:\n%s\nis\n%s", err, text, doc(t, back))
		}
	}
}

// Groups come along when parts are carried, with their mattes; single steps leave theirs; a station taken to another level keeps them.
func TestGroupsAreCarried(t *testing.T) {
	from := lookOf(t, "balance.exposure.stops=1", "balance.saturation.all=120")
	from.SetMatte("here", &look.Matte{Parts: []*look.MattePart{{Kind: "ellipse"}}})
	from = edited(t, from, look.Edit{Op: look.OpGroup, Station: look.Balance, Names: []string{"exposure", "saturation"}, Name: "Both"},
		look.Edit{Op: look.OpMask, Station: look.Balance, Group: "group", Name: "here"})
	for _, c := range []struct {
		what  string
		carry look.Carry
		group bool
		steps int
	}{
		{"the balance with mattes", look.Carry{Parts: []look.Part{look.PartBalance, look.PartMattes}}, true, 2},
		{"the balance without", look.Carry{Parts: []look.Part{look.PartBalance}}, false, 0},
		{"a step", look.Carry{Steps: []look.StepPath{{Station: look.Balance, Name: "saturation"}}}, false, 1},
	} {
		got := parsed(c.carry.To(look.NewLook(""), from, func(look.Station) *look.Look { return nil }))
		st := got.Stations[look.Balance]
		if (len(st.Groups) == 1) != c.group || len(st.Steps) != c.steps {
			t.Errorf("%s: %d groups and %d steps came", c.what, len(st.Groups), len(st.Steps))
		}
		if c.group && (got.Mattes["here"] == nil || *st.Groups["group"].Matte != "here") {
			t.Errorf("%s: the group's matte did not come", c.what)
		}
	}
	told := from.Tell().String()
	if !strings.Contains(told, "group Both, inside the matte here") || !strings.Contains(told, "(in Both)") {
		t.Errorf("the summary does not tell of the group:\n%s", told)
	}
}

// A group that is stored wrongly is put aside with its place told, its steps stay, and nothing is lost.
func TestAGroupThatCannotBeRead(t *testing.T) {
	text := `{"velours":2,"name":"x","stations":{"balance":{"on":true,"strength":1,"groups":{"group":{"title":"G","on":true,"strength":7,"matte":null}},"steps":[{"kind":"exposure","on":true,"strength":1,"settings":{"stops":1},"matte":null,"group":"group"}]}}}`
	l, err := look.ParseStored([]byte(text))
	if err != nil {
		t.Fatal(err)
	}
	if l.Step(look.Balance, "exposure") == nil || l.Unread["group balance group"] == nil {
		t.Fatalf("read as %s", doc(t, l))
	}
	if _, err := look.ParseLook([]byte(text)); err == nil || !strings.Contains(err.Error(), `the group "group": its strength is 7`) {
		t.Errorf("loaded, it says %v", err)
	}
	mended := strings.Replace(doc(t, l), `"strength":7`, `"strength":0.7`, 1)
	again, err := look.ParseStored([]byte(mended))
	if err != nil {
		t.Fatal(err)
	}
	if g := again.Stations[look.Balance].GroupOf(again.Step(look.Balance, "exposure")); g == nil || g.Strength != 0.7 {
		t.Errorf("what can be read again is %s", doc(t, again))
	}
	var raw map[string]any
	if err := json.Unmarshal([]byte(fmt.Sprint(doc(t, again))), &raw); err != nil {
		t.Fatal(err)
	}
}

// Names of groups that would be taken for those of another level are refused where a look is loaded, and put aside where it is stored.
func TestNamesOfGroups(t *testing.T) {
	for _, name := range []string{"reel:group", "scene:group", "", "group-0", "Group", "group-99999"} {
		text := fmt.Sprintf(`{"velours":2,"name":"x","stations":{"balance":{"on":true,"strength":1,"groups":{%q:{"title":"G","on":true,"strength":1,"matte":null}},"steps":[{"kind":"exposure","on":true,"strength":1,"settings":{},"matte":null,"group":%q}]}}}`, name, name)
		if _, err := look.ParseLook([]byte(text)); err == nil {
			t.Errorf("a group called %q was loaded", name)
		}
		l := parsed(look.ParseStored([]byte(text)))
		if n := len(l.Stations[look.Balance].Groups); n != 0 || l.Step(look.Balance, "exposure") == nil {
			t.Errorf("stored with a group called %q, %d groups are read", name, n)
		}
	}
}

// A step whose group is off has no reason of its own to do nothing.
func TestNoReasonInAGroupThatIsOff(t *testing.T) {
	l := edited(t, two(t, look.InTurn), look.Edit{Op: look.OpOff, Station: look.Balance, Group: "group"})
	k, err := look.FindKind(look.Balance, "exposure")
	if err != nil {
		t.Fatal(err)
	}
	if why := l.NoEffect(k, l.Step(look.Balance, "exposure-2")); why != "" {
		t.Errorf("it says %q", why)
	}
}
