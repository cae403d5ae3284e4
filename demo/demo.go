// Package demo carries the demo reel, The Velvet Matinee: the shots' files and the film setting
// that each arrives with. The scenes are drawn in demo/stage and encoded by demo/generate.
package demo

import (
	"embed"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"velours/core/look"
)

// Name is the reel's name.
const Name = "The Velvet Matinee"

//go:embed media looks
var files embed.FS

// Shot is one shot of the reel.
type Shot struct{ Name, Scene, File, Encoding, Look string }

// Shots lists the reel in order.
var Shots = []Shot{
	{"Footlights", "Matinee", "footlights.mov", "logc4", "footlights.json"},
	{"Workbench", "Matinee", "workbench.mov", "logc3", "workbench.json"},
	{"Courtyard", "Fair", "courtyard.mov", "slog3-cine", "courtyard.json"},
	{"Slate", "Chart", "slate.exr", "acescg", "slate.json"},
}

// LookOf returns the look that a shot comes with.
func LookOf(s Shot) (*look.Look, error) { return read(s.Look) }

// Unpack writes the reel's files to dir, leaving those that are there already.
func Unpack(dir string) error {
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return fmt.Errorf("making the demo reel: %w", err)
	}
	for _, s := range slices.Concat(Shots, Angles) {
		name := filepath.Join(dir, s.File)
		data, err := files.ReadFile("media/" + s.File)
		if err != nil {
			return fmt.Errorf("making the demo reel: %w", err)
		}
		if st, err := os.Stat(name); err == nil && st.Size() == int64(len(data)) {
			continue
		}
		if err := os.WriteFile(name+".velours-part", data, 0o644); err != nil {
			return fmt.Errorf("making the demo reel: %w", err)
		}
		if err := os.Rename(name+".velours-part", name); err != nil {
			return fmt.Errorf("making the demo reel: %w", err)
		}
	}
	return nil
}
