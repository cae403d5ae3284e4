package steps

import (
	"testing"

	"velours/core/colour"
	"velours/core/look"
	"velours/core/render"
)

// A step that is keyed is, at each of its keys, the step that stands there; between them it moves, before and after it stays.
func TestStepsMoveOverFrames(t *testing.T) {
	const w, h = 96, 54
	src := given{lampAt(w, h)}
	for _, c := range []struct {
		sets     []string
		kind     look.StepPath
		from, to map[string]any
	}{
		{[]string{"lens.vignette.stops=-2"}, look.StepPath{Station: look.Lens, Name: "vignette"}, map[string]any{"x": 20.0, "y": 30.0}, map[string]any{"x": 80.0, "y": 60.0}},
		{[]string{"lens.flare.ghosts=50", "lens.flare.lamp=11"}, look.StepPath{Station: look.Lens, Name: "flare"}, map[string]any{"x": -10.0, "y": 20.0}, map[string]any{"x": 110.0, "y": 40.0}},
		{[]string{"lens.focus.size=5"}, look.StepPath{Station: look.Lens, Name: "focus"}, map[string]any{"radius": 0.0}, map[string]any{"radius": 3.0}},
	} {
		at := func(l *look.Look, n int) []float32 {
			p, err := render.Compile(ctx, l, colour.Working(), render.Raster{W: w, H: h}, look.Finish)
			if err != nil {
				t.Fatal(err)
			}
			f, err := render.NewRenderer(1<<24).Render(ctx, p, src, n)
			if err != nil {
				t.Fatal(err)
			}
			var out []float32
			for y := range h {
				out = append(out, f.Row(1, y)...)
			}
			return out
		}
		same := func(a, b []float32) bool {
			for i := range a {
				if a[i] != b[i] {
					return false
				}
			}
			return true
		}
		still := func(values map[string]any) *look.Look {
			l := lookOf(t, c.sets...)
			for id, v := range values {
				l.Step(c.kind.Station, c.kind.Name).Settings[id] = v
			}
			return l
		}
		moving := lookOf(t, c.sets...)
		for frame, values := range map[float64]map[string]any{10: c.from, 30: c.to} {
			e := look.Edit{Op: look.OpKey, Station: c.kind.Station, Kind: c.kind.Name, Value: frame, Values: values}
			var err error
			if moving, _, err = e.Apply(moving); err != nil {
				t.Fatal(err)
			}
		}
		for n, want := range map[int]map[string]any{0: c.from, 10: c.from, 30: c.to, 40: c.to} {
			if !same(at(moving, n), at(still(want), n)) {
				t.Errorf("%v at frame %d is not what its key says", c.kind, n)
			}
		}
		between := at(moving, 20)
		if same(between, at(moving, 10)) || same(between, at(moving, 30)) {
			t.Errorf("%v does not move between its keys", c.kind)
		}
		// inside a matte, and nowhere else
		inside := moving.Clone()
		name := "left"
		inside.SetMatte(name, &look.Matte{Parts: []*look.MattePart{{Kind: "rectangle", Settings: map[string]any{"x": 25.0, "a": 25.0, "b": 60.0, "in": 0.0, "out": 0.0}}}})
		inside.Step(c.kind.Station, c.kind.Name).Matte = &name
		plain := at(moving.Without(c.kind.Station, c.kind.Name), 20)
		if part := at(inside, 20); part[h/2*w+w-4] != plain[h/2*w+w-4] || same(part, plain) {
			t.Errorf("%v does not keep to its matte", c.kind)
		}
		// a look with keys is written and read as it is
		data, err := moving.Stored()
		if err != nil {
			t.Fatal(err)
		}
		again, err := look.ParseStored(data)
		if err != nil || len(again.Step(c.kind.Station, c.kind.Name).Keys) != 2 || !same(at(again, 17), at(moving, 17)) {
			t.Errorf("%v is read back as something else: %v", c.kind, err)
		}
		for _, frame := range []float64{10, 30} {
			e := look.Edit{Op: look.OpUnkey, Station: c.kind.Station, Kind: c.kind.Name, Value: frame}
			if moving, _, err = e.Apply(moving); err != nil {
				t.Fatal(err)
			}
		}
		if !same(at(moving, 0), at(still(c.to), 0)) {
			t.Errorf("%v without keys does not stay where its last one was", c.kind)
		}
	}
	for _, e := range []look.Edit{
		{Op: look.OpKey, Station: look.Lens, Kind: "bloom", Value: 3.0},
		{Op: look.OpKey, Station: look.Lens, Kind: "vignette", Value: -1.0},
		{Op: look.OpKey, Station: look.Lens, Kind: "vignette", Value: 1.5},
		{Op: look.OpKey, Station: look.Lens, Kind: "vignette", Value: 1.0, Values: map[string]any{"stops": -1.0}},
		{Op: look.OpUnkey, Station: look.Lens, Kind: "vignette", Value: 7.0},
	} {
		if _, _, err := e.Apply(lookOf(t, "lens.vignette.stops=-1", "lens.bloom.amount=10")); err == nil {
			t.Errorf("%+v is taken", e)
		}
	}
}
