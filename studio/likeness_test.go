package studio

import (
	"path/filepath"
	"strings"
	"testing"

	"velours/core/look"
	"velours/demo"
)

// A shot's own frame under a hidden film, cropped and turned as a scan may be, is known for the same scene, and the film is found; another
// shot is not taken for it.
func TestLikenessToAStill(t *testing.T) {
	l, err := demo.LookOf(demo.Shots[1])
	if err != nil {
		t.Fatal(err)
	}
	hidden := l.Clone()
	if err := hidden.SetAll("negative.stock.id=vitrail-100", "print.medium.id=coulisse", "print.lights.green=-4"); err != nil {
		t.Fatal(err)
	}
	dir := t.TempDir()
	file := func(name string, scene, encoding string, of *look.Look, w, h int) string {
		to := filepath.Join(dir, name)
		j := Job{In: "../demo/media/" + scene, Out: to, Look: of, Encoding: encoding, Display: "srgb", W: w, H: h}
		if err := j.Run(t.Context(), nil); err != nil {
			t.Fatal(err)
		}
		return to
	}
	reframed := hidden.Clone()
	if err := reframed.SetAll("intake.reframe.scale=112", "intake.reframe.turn=3"); err != nil {
		t.Fatal(err)
	}
	j := Job{In: "../demo/media/workbench.mov", Encoding: "logc3", Look: l}
	told := 0.0
	for name, of := range map[string]*look.Look{"whole.png": hidden, "turned.png": reframed} {
		found, err := j.Likeness(t.Context(), file(name, "workbench.mov", "logc3", of, 960, 540), func(done float64) { told = max(told, done) })
		if err != nil {
			t.Fatal(err)
		}
		first := found.Films[0]
		t.Logf("%s: %s, rendered %.2f", name, found.Says, found.Rendered)
		if !found.Same || !found.Near || first.Stock != "vitrail-100" || first.Medium != "coulisse" || found.Rendered > 1.5 {
			t.Errorf("%s: same %v, near %v, %s on %s, ΔE %.2f", name, found.Same, found.Near, first.Stock, first.Medium, found.Rendered)
		}
		if s := first.Look.Step(look.Print, "lights"); s == nil || !s.On {
			t.Errorf("%s: the look has no lights", name)
		}
	}
	if told < 0.9 || told > 1 {
		t.Errorf("it told that %.2f was done", told)
	}
	other, err := j.Likeness(t.Context(), file("other.png", "courtyard.mov", "slog3-cine", hidden, 960, 540), nil)
	if err != nil {
		t.Fatal(err)
	}
	if other.Same || !strings.Contains(other.Says, "Another scene") {
		t.Errorf("another scene: same %v; %s", other.Same, other.Says)
	}
	if _, err := j.Likeness(t.Context(), "../demo/media/courtyard.mov", nil); err == nil || !strings.Contains(err.Error(), "not made for a display") {
		t.Errorf("a log picture was taken: %v", err)
	}
}
