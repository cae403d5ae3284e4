package main

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"velours/core/film"
)

// A stock is measured against its card: by its id, by a card's file, with a drawing; what cannot be is told.
func TestStocksAreMeasured(t *testing.T) {
	dir := t.TempDir()
	svg := filepath.Join(dir, "tulle.svg")
	if out := must(t, "measure", "stock", "--id", "tulle-400", "--svg", svg); !strings.Contains(out, "skies 9° towards cyan") || strings.Contains(out, "NOT") {
		t.Error(out)
	}
	if out := must(t, "measure", "stock", "--id", "tulle-400", "--with", "mine-50"); !strings.Contains(out, "versus mine-50") || strings.Count(out, "|") < 40 {
		t.Error(out)
	}
	if out := must(t, "measure", "stock", "--id", "craie-25", "--json"); !strings.Contains(out, `"response"`) || strings.Contains(out, `"kept": false`) {
		t.Error(out)
	}
	if data, err := os.ReadFile(svg); err != nil || !strings.HasPrefix(string(data), "<svg") {
		t.Errorf("%v, %.40q", err, data)
	}
	// its own card, under another name, with a claim turned round
	card, err := os.ReadFile(filepath.Join("..", "..", "core", "film", "stocks", "tulle-400.json"))
	if err != nil {
		t.Fatal(err)
	}
	text := strings.Replace(string(card), `"id": "tulle-400"`, `"id": "own-tulle"`, 1)
	text = strings.Replace(text, `"figure": "hue", "value": -9`, `"figure": "hue", "value": 9`, 1)
	file := filepath.Join(dir, "own.json")
	if err := os.WriteFile(file, []byte(text), 0o644); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { film.Forget("own-tulle") })
	if out := must(t, "measure", "stock", "--id", file); strings.Count(out, "NOT kept") != 1 {
		t.Error(out)
	}
	for _, c := range []struct {
		args []string
		why  string
	}{{[]string{"--id", "nix"}, "tulle-400"}, {nil, "which stock"}, {[]string{"--id", filepath.Join(dir, "none.json")}, "none.json"}} {
		if code, _, problem := velours(append([]string{"measure", "stock"}, c.args...)...); code != 2 || !strings.Contains(problem, c.why) {
			t.Errorf("%v: exit %d, %q", c.args, code, problem)
		}
	}
}
