package studio

import (
	"context"
	"path/filepath"
	"testing"

	"velours/core/colour"
	"velours/core/look"
)

// From every encoding that a camera writes to every SDR display, what the table says of its own error
// holds on other colours too: within a fifth, or a few hundredths.
func TestBakeTellsItsError(t *testing.T) {
	ctx := context.Background()
	look := look.NewLook("film")
	for set, v := range map[string]any{"negative.stock.id": "aubade-250d", "print.medium.id": "rideau"} {
		if err := look.Set(set, v); err != nil {
			t.Fatal(err)
		}
	}
	for _, e := range colour.Encodings() {
		for _, d := range []string{"bt1886", "srgb", "p3-d65"} {
			b := Bake{Out: "x.cube", Look: look, From: e.ID, Display: d, Size: 33}
			if testing.Short() && d != "srgb" {
				continue
			}
			baked, err := b.Make(ctx)
			if err != nil {
				t.Fatal(err)
			}
			settled, _, from, err := b.settled()
			if err != nil {
				t.Fatal(err)
			}
			other, err := compare(ctx, baked.Table, settled, from, 99)
			if err != nil {
				t.Fatal(err)
			}
			t.Logf("%-16s %-6s %v", e.ID, d, baked.Error)
			if far(baked.Error.Mean, other.Mean, 0.02) || far(baked.Error.P99, other.P99, 0.15) {
				t.Errorf("%s to %s: reported %v, found %v", e.ID, d, baked.Error, other)
			}
		}
	}
}

func far(a, b, floor float64) bool { return a-b > max(a*0.2, floor) || b-a > max(b*0.2, floor) }

// Light has a curve before the cube, in the form that the format has for it.
func TestBakeOfLight(t *testing.T) {
	dir := t.TempDir()
	for _, name := range []string{"a.cube", "a.clf"} {
		b, err := Bake{Out: filepath.Join(dir, name), From: "linear-bt709", Display: "srgb", Size: 65}.Run(context.Background())
		if err != nil {
			t.Fatal(err)
		}
		if len(b.Table.Nodes) != 2 || b.Error.P99 > 1 {
			t.Errorf("%s: %d nodes, %v", name, len(b.Table.Nodes), b.Error)
		}
	}
}

// With a curve before the cube, no camera's codes lose what an eye would see.
func TestBakeWithACurve(t *testing.T) {
	look := look.NewLook("film")
	for set, v := range map[string]any{"negative.stock.id": "aubade-250d", "print.medium.id": "rideau"} {
		if err := look.Set(set, v); err != nil {
			t.Fatal(err)
		}
	}
	for _, e := range colour.Encodings() {
		if !e.Camera {
			continue
		}
		for _, name := range []string{"a.cube", "a.clf"} {
			b, err := Bake{Out: name, Look: look, From: e.ID, Display: "srgb", Size: 65, Curve: true}.Make(context.Background())
			if err != nil {
				t.Fatal(err)
			}
			if len(b.Table.Nodes) != 2 || b.Error.Mean > 0.15 || b.Error.P99 > 0.6 {
				t.Errorf("%s, %s: %d nodes, %v", e.ID, name, len(b.Table.Nodes), b.Error)
			}
		}
	}
}
