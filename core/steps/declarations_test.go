package steps

import (
	"os"
	"path/filepath"
	"strings"
	"testing"
	"velours/core/look"
	"velours/core/render"
)

func TestLooksRefuseByName(t *testing.T) {
	for _, c := range []struct{ look, want string }{
		{`{"velours":1,"name":"x","stations":{},"extra":1}`, "extra"},
		{`{"velours":9,"name":"x","stations":{}}`, "version 9"},
		{`{"velours":1,"stations":{"cellar":{"on":true,"strength":1,"steps":[]}}}`, "cellar"},
		{`{"velours":1,"stations":{"lens":{"on":true,"strength":1,"steps":[{"kind":"fog","on":true,"strength":1}]}}}`, "fog"},
		{`{"velours":1,"stations":{"lens":{"on":true,"strength":1,"steps":[{"kind":"bloom","on":true,"strength":1,"settings":{"glow":1}}]}}}`, "glow"},
		{`{"velours":1,"stations":{"lens":{"on":true,"strength":1,"steps":[{"kind":"bloom","on":true,"strength":1,"settings":{"amount":101}}]}}}`, "0 to 100"},
		{`{"velours":1,"stations":{"negative":{"on":true,"strength":1,"steps":[{"kind":"stock","on":true,"strength":1,"settings":{"id":"nix"}}]}}}`, "nix"},
		{`{"velours":1,"stations":{"lens":{"on":true,"strength":1,"steps":[{"kind":"bloom","on":true,"strength":3}]}}}`, "strength"},
		{`[]`, "not a look"},
	} {
		_, err := look.ParseLook([]byte(c.look))
		if err == nil || !strings.Contains(err.Error(), c.want) {
			t.Errorf("%s: %v, want a word about %q", c.look, err, c.want)
		}
	}
}

func FuzzParseLook(f *testing.F) {
	f.Add([]byte(`{"velours":1,"name":"x","stations":{"lens":{"on":true,"strength":1,"steps":[{"kind":"bloom","on":true,"strength":1,"settings":{"amount":10},"matte":null}]}}}`))
	f.Add([]byte(`{"velours":1,"name":"m","stations":{"balance":{"on":true,"strength":1,"steps":[{"kind":"contrast","id":"contrast-2","on":true,"strength":0.5,"settings":{"amount":120},"matte":"a","outside":true}]}},"mattes":{"a":{"parts":[{"kind":"polygon","settings":{"points":"0:0 1:0 0.5:1"},"keys":[{"frame":1,"settings":{"points":"0:0 1:0 0.5:0.9"}}]}],"grow":1,"blur":0.5}}}`))
	f.Add([]byte(`{}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		l, err := look.ParseLook(data)
		if err != nil {
			return
		}
		if _, err := render.Compile(ctx, l, logC3, render.Raster{W: 8, H: 8}, look.Lens); err != nil {
			t.Errorf("a look that parses does not compile: %v", err)
		}
	})
}

// Every setting has a unit or choices, a range that holds its default, and help.
func TestDeclarationsAreWhole(t *testing.T) {
	seen := map[string]bool{}
	for _, k := range look.Kinds() {
		if k.Purpose == "" || k.Label == "" || seen[k.Path()] {
			t.Errorf("%s: no purpose or label, or declared twice", k.Path())
		}
		seen[k.Path()] = true
		checkDeclared(t, k.Path(), k.Settings)
		for _, r := range k.Ready {
			if err := look.CheckSettings(k.Path()+" "+r.ID, k.Settings, r.Values); err != nil || r.Label == "" {
				t.Errorf("a ready setting does not fit: %v", err)
			}
		}
		if err := look.CheckSettings(k.Path(), k.Settings, k.Begin); err != nil {
			t.Error(err)
		}
	}
	for _, k := range look.MatteKinds() {
		checkDeclared(t, "matte "+k.ID, k.Settings)
	}
	checkDeclared(t, "matte", look.MatteSettings())
}

func checkDeclared(t *testing.T, owner string, list []look.Setting) {
	t.Helper()
	for _, s := range list {
		switch {
		case s.Help == "" || s.Label == "":
			t.Errorf("%s.%s has no help or label", owner, s.ID)
		case len(s.List()) > 0:
		case s.Min >= s.Max || s.Default < s.Min || s.Default > s.Max || s.Points == "" && (s.Unit == "" || s.Step <= 0):
			t.Errorf("%s.%s: unit %q, range %g to %g, default %g, step %g", owner, s.ID, s.Unit, s.Min, s.Max, s.Default, s.Step)
		}
	}
}

// A dial of light that begins at nothing is slow where a subtle amount lies.
func TestDialsOfLightAreSlowAtTheirLowEnd(t *testing.T) {
	seen := 0
	for _, k := range look.Kinds() {
		if k.Station != look.Lens && !k.Scatters {
			continue
		}
		for _, s := range k.Settings {
			if len(s.List()) > 0 || s.Default != 0 || s.Min > 0 || strings.Contains(s.Unit, "°") || s.Unit == "no." {
				continue
			}
			seen++
			if s.Curve <= 1 {
				t.Errorf("%s.%s has even travel", k.ID, s.ID)
			}
		}
	}
	if seen < 30 {
		t.Errorf("only %d dials were looked at", seen)
	}
}

// The core knows nobody above it.
func TestCoreImportsItselfAlone(t *testing.T) {
	err := filepath.WalkDir("..", func(name string, e os.DirEntry, err error) error {
		if err != nil || e.IsDir() || !strings.HasSuffix(name, ".go") {
			return err
		}
		outside := strings.HasSuffix(name, "outside_test.go") // compares with other programs
		data, err := os.ReadFile(name)
		if err != nil {
			return err
		}
		for _, line := range strings.Split(string(data), "\n") {
			q := strings.TrimSpace(line)
			q = strings.TrimPrefix(q, "import ")
			if !strings.HasPrefix(q, `"`) || !strings.HasSuffix(q, `"`) {
				continue
			}
			for _, bad := range []string{`"velours/media`, `"velours/library`, `"velours/studio`, `"velours/server`, `"velours/demo`, `"net/http"`, `"database/sql"`, `"os/exec"`, `"github.com`, `"gorm.io`} {
				if strings.HasPrefix(q, bad) && !(outside && bad == `"os/exec"`) {
					t.Errorf("%s imports %s", name, q)
				}
			}
		}
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
}
