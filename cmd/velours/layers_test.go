package main

import (
	"encoding/json"
	"errors"
	"go/parser"
	"go/token"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"sort"
	"strconv"
	"strings"
	"testing"
)

// root is the repository, as seen from this package.
const root = "../.."

// sources lists the files below a folder whose names end so, as paths from the root; tests and what is built are left out.
func sources(t *testing.T, dir string, endings ...string) (files []string) {
	t.Helper()
	err := filepath.WalkDir(filepath.Join(root, dir), func(p string, e os.DirEntry, err error) error {
		if err != nil {
			return err
		}
		if e.IsDir() && (e.Name() == "node_modules" || e.Name() == "dist" || e.Name() == "testdata" || strings.HasPrefix(e.Name(), ".") && len(e.Name()) > 2) {
			return filepath.SkipDir
		}
		for _, end := range endings {
			if strings.HasSuffix(p, end) && !strings.HasSuffix(p, "_test.go") {
				rel, err := filepath.Rel(root, p)
				if err != nil {
					return err
				}
				files = append(files, filepath.ToSlash(rel))
			}
		}
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
	return files
}

func read(t *testing.T, file string) string {
	t.Helper()
	data, err := os.ReadFile(filepath.Join(root, file))
	if err != nil {
		t.Fatal(err)
	}
	return string(data)
}

// mayImport says what each room of the house may import of the others, beside itself; the longest name counts.
var mayImport = map[string][]string{
	"core":         {"core"},
	"core/fault":   {},
	"core/frame":   {"core/fault", "core/vec"},
	"core/vec":     {},
	"core/dither":  {"core/vec"},
	"core/look":    {"core/matte", "core/registry", "core/strict"},
	"core/render":  {"core/look", "core/colour", "core/film", "core/frame", "core/grade", "core/matte", "core/scatter", "core/scope", "core/cache", "core/vec"},
	"core/steps":   {"core"},
	"core/measure": {"core/cache", "core/solve", "core/look", "core/render", "core/film", "core/colour", "core/frame", "core/grade", "core/spectrum"},
	"media":        {"core"},
	"library":      {},
	"demo":         {"core", "media"},
	"studio":       {"core", "media", "library", "demo"},
	"server":       {"core", "media", "library", "studio"},
	"cmd":          {"core", "media", "library", "studio", "server", "demo"},
	"bench":        {"core", "media", "library", "studio", "server", "demo"},
	"docs":         {"core", "studio", "server"},
	"e2e":          {"core", "media", "library", "studio", "server", "demo"},
}

// mayNotMeet are rooms of the core that must not know each other: the document knows neither who renders it nor the
// kinds, who renders it knows no kind, and no science knows of any of them.
var mayNotMeet = map[string][]string{
	"core/look":   {"core/render", "core/steps", "core/measure"},
	"core/render": {"core/steps", "core/measure"},
}

var sciences = []string{"colour", "curve", "film", "frame", "grade", "grain", "lut", "matte", "scatter", "scope", "cache", "registry", "strict", "spectrum", "vec", "fault", "solve", "register"}

func inRoom(pkg, room string) bool { return pkg == room || strings.HasPrefix(pkg, room+"/") }

func roomOf(pkg string) (room string) {
	for r := range mayImport {
		if inRoom(pkg, r) && len(r) > len(room) {
			room = r
		}
	}
	return room
}

// Imports point downward only, and no package of Go comes back to itself.
func TestImportsPointDownward(t *testing.T) {
	graph := map[string][]string{}
	for _, file := range sources(t, ".", ".go") {
		f, err := parser.ParseFile(token.NewFileSet(), filepath.Join(root, file), nil, parser.ImportsOnly)
		if err != nil {
			t.Fatal(err)
		}
		pkg := filepath.ToSlash(filepath.Dir(file))
		room := roomOf(pkg)
		if room == "" {
			t.Errorf("%s lies in no room", file)
			continue
		}
		for _, im := range f.Imports {
			path, _ := strconv.Unquote(im.Path.Value)
			to, own := strings.CutPrefix(path, "velours/")
			if !own {
				if strings.HasPrefix(pkg, "core") && strings.Contains(strings.Split(path, "/")[0], ".") && !strings.HasPrefix(path, "gonum.org/") && !strings.HasPrefix(path, "golang.org/x/sync/") {
					t.Errorf("%s imports %s: the core imports itself, the standard library, gonum and x/sync", file, path)
				}
				continue
			}
			graph[pkg] = append(graph[pkg], to)
			ok := inRoom(to, room) && room != "core"
			for _, r := range mayImport[room] {
				ok = ok || inRoom(to, r)
			}
			for _, r := range mayNotMeet[room] {
				ok = ok && !inRoom(to, r)
			}
			for _, s := range sciences {
				for _, above := range []string{"look", "render", "steps", "measure"} {
					ok = ok && !(inRoom(pkg, "core/"+s) && inRoom(to, "core/"+above))
				}
			}
			if !ok {
				t.Errorf("%s imports %s, and may not", file, to)
			}
		}
	}
	if len(graph) < 20 {
		t.Fatalf("only %d packages were read", len(graph))
	}
	noCircle(t, graph)
}

// noCircle fails for every way that leads back to where it began.
func noCircle(t *testing.T, graph map[string][]string) {
	t.Helper()
	state := map[string]int{} // 1 on the way, 2 done
	var walk func(at string, way []string)
	walk = func(at string, way []string) {
		switch state[at] {
		case 1:
			t.Errorf("a circle: %s → %s", strings.Join(way, " → "), at)
			return
		case 2:
			return
		}
		state[at] = 1
		for _, to := range graph[at] {
			walk(to, append(way, at))
		}
		state[at] = 2
	}
	names := make([]string, 0, len(graph))
	for n := range graph {
		names = append(names, n)
	}
	sort.Strings(names)
	for _, n := range names {
		walk(n, nil)
	}
}

var webImport = regexp.MustCompile(`(?m)^(?:import|export)[^'\n]*(?:\n[^'\n]*)*? from '(\.[^']*)'`)

// The web's modules have no circle either; what is remembered knows nothing of what is seen, controls know no state, what is
// computed (model) knows neither, and neither state nor model touches the document.
func TestWebModulesHaveNoCircle(t *testing.T) {
	graph := map[string][]string{}
	for _, file := range sources(t, "web/src", ".ts", ".tsx") {
		text := read(t, file)
		for _, m := range webImport.FindAllStringSubmatch(text, -1) {
			to := filepath.ToSlash(filepath.Join(filepath.Dir(file), m[1]))
			for _, end := range []string{".ts", ".tsx", "/index.ts", "/index.tsx"} {
				if _, err := os.Stat(filepath.Join(root, to+end)); err == nil {
					to += end
					break
				}
			}
			graph[file] = append(graph[file], to)
			from, into := strings.Split(file, "/")[2], strings.Split(to, "/")[2]
			if from == "state" && (into == "parts" || into == "controls") || from == "controls" && (into == "parts" || into == "state") || from == "model" && into != "model" && into != "api" || from == "api" && into != "api" {
				t.Errorf("%s imports %s, and may not", file, to)
			}
		}
		if (strings.HasPrefix(file, "web/src/state/") || strings.HasPrefix(file, "web/src/model/")) && regexp.MustCompile(`\bdocument\.|\bHTML\w*Element\b|querySelector|devicePixelRatio`).MatchString(text) {
			t.Errorf("%s touches the document: state says what is, parts show it", file)
		}
	}
	if len(graph) < 50 {
		t.Fatalf("only %d modules were read", len(graph))
	}
	noCircle(t, graph)
}

// The core speaks of light and film: not of how it is served, stored or drawn.
func TestCoreSpeaksOfNoScreen(t *testing.T) {
	words := regexp.MustCompile(`(?i)\b(https?|sql|sqlite|gorm|svg|html|css|websocket|browser|dom|json api|react|tooltip|button)\b`)
	for _, file := range sources(t, "core", ".go") {
		for i, line := range strings.Split(read(t, file), "\n") {
			if w := words.FindString(line); w != "" && !strings.Contains(line, "https://") {
				t.Errorf("%s:%d names %q", file, i+1, w)
			}
		}
	}
}

// A kind is named in its own file, in that of its editor where it has one, and nowhere else in the program: adding one is
// one file. What names kinds all the same is listed here, with its reason.
func TestKindsAreNamedOnce(t *testing.T) {
	allowed := map[string]string{
		"core/look/defaults1.json": "defaults of before looks kept theirs",
		"studio/edit.go":           "a camera's encoding brings the camera gamut's step with it",
		"studio/ribbon.go":         "the band of the print shows the print's own black",
		"studio/show.go":           "what has run out of the film is read without its grain",
		"studio/job.go":            "the command line's --display",
		"studio/no_effect.go":      "how far colours reach before the camera gamut's step",
		"studio/sensitometer.go":   "the sensitometer stands at the stock, and compares another",
		"studio/character.go":      "the drawing of a stock's character renders its grain and its halo",
		"studio/grain_cards.go":    "a match puts grain on top, and knows whether noise is taken out",
		"studio/wedge.go":          "greys for grain have no halation between them",
		"core/measure/claim.go":    "the halo that a card claims is that of a new film in a plain look",
	}
	kind := regexp.MustCompile(`ID: "([a-z]+)", Place: \d+`)
	own := map[string]string{}
	for _, file := range sources(t, "core/steps", ".go") {
		for _, m := range kind.FindAllStringSubmatch(read(t, file), -1) {
			own[m[1]] = file
		}
	}
	if len(own) < 35 {
		t.Fatalf("only %d kinds were found", len(own))
	}
	named := map[string][]string{}
	for _, dir := range []string{"core", "studio", "server", "media", "library"} {
		for _, file := range sources(t, dir, ".go") {
			text := read(t, file)
			for id, home := range own {
				// by its full name, or as the id of a step that is looked for
				by := regexp.MustCompile(`"(intake|balance|lens|negative|print|screen|finish)\.` + id + `[."]|(Step|Ensure|Without|Set|FindKind|KindOf)\([^)\n]*"` + id + `"`)
				if file != home && by.MatchString(text) {
					named[file] = append(named[file], id)
				}
			}
		}
	}
	for file, ids := range named {
		if allowed[file] == "" {
			sort.Strings(ids)
			t.Errorf("%s names %s", file, strings.Join(ids, ", "))
		}
	}
	for file := range allowed {
		if len(named[file]) == 0 && strings.HasSuffix(file, ".go") {
			t.Errorf("%s names no kind any more: take it out of the list", file)
		}
	}
}

// The kind that docs/architecture.md adds in one file is one file: put beside the others it compiles, and keeps the
// promises that all kinds keep.
func TestTheExampleKindIsOneFile(t *testing.T) {
	doc := read(t, "docs/architecture.md")
	_, code, ok := strings.Cut(doc, "```go\n")
	code, _, closed := strings.Cut(code, "\n```")
	if !ok || !closed || !strings.Contains(code, "look.Declare(duskKind)") {
		t.Fatal("docs/architecture.md has no example")
	}
	dir := t.TempDir()
	file := filepath.Join(dir, "dusk.go")
	head := "package steps\n\nimport (\n\t\"math\"\n\n\t\"velours/core/colour\"\n\t\"velours/core/look\"\n\t\"velours/core/render\"\n)\n\n"
	overlay, err := json.Marshal(map[string]map[string]string{"Replace": {abs(t, "core/steps/dusk.go"): file}})
	if err != nil {
		t.Fatal(err)
	}
	if err := errors.Join(os.WriteFile(file, []byte(head+code), 0o644), os.WriteFile(filepath.Join(dir, "overlay.json"), overlay, 0o644)); err != nil {
		t.Fatal(err)
	}
	run := exec.Command("go", "test", "-overlay", filepath.Join(dir, "overlay.json"), "-run", "TestDeclarationsAreWhole|TestRestingStepsSaySo|TestStrengthZeroIsOff", "-v", "./core/steps")
	run.Dir = root
	out, err := run.CombinedOutput()
	if err != nil || !strings.Contains(string(out), "--- PASS: TestStrengthZeroIsOff") {
		t.Fatalf("%v\n%s", err, out)
	}
}

func abs(t *testing.T, file string) string {
	t.Helper()
	name, err := filepath.Abs(filepath.Join(root, file))
	if err != nil {
		t.Fatal(err)
	}
	return name
}
