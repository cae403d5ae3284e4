package standin

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strings"

	"velours/core/frame"
	"velours/media"
)

// File is one file of the set: what it shows, and how it is declared.
type File struct {
	Name, Shows, Encoding string
	// Stops is how much more light the film got than the digital picture tells, Width how wide the picture is on the film in mm.
	Stops, Width float64
}

// Encodings of the digital pictures, and of scans: the light that came through.
const digitalCode, scanCode = "acescct", "linear-bt709"

// Files are those of the set, in the order in which they are measured.
var Files = []File{
	{Name: "wedge-1.csv", Shows: "wedge"}, {Name: "wedge-2.csv", Shows: "wedge"},
	{Name: "chart-digital.png", Shows: "chart, digital", Encoding: digitalCode},
	{Name: "chart-film.png", Shows: "chart, film", Encoding: scanCode, Width: FilmWidth},
	{Name: "chart-film-over.png", Shows: "chart, film", Encoding: scanCode, Stops: 2, Width: FilmWidth},
	{Name: "scene-digital.png", Shows: "scene, digital", Encoding: digitalCode},
	{Name: "scene-film.png", Shows: "scene, film", Encoding: scanCode, Width: FilmWidth},
	{Name: "edge.png", Shows: "edge", Encoding: scanCode, Width: EdgeWidth},
	{Name: "patches.png", Shows: "patches", Encoding: scanCode, Width: GrainWidth},
	{Name: "lamp.png", Shows: "lamp", Encoding: scanCode, Width: LampWidth},
}

// Picture draws a picture of the set.
func (f Faults) Picture(name string) (*frame.Frame, error) {
	switch name {
	case "chart-digital.png":
		return f.digital(f.chartPhoto()), nil
	case "chart-film.png":
		return f.scan(f.seen(f.chartPhoto()), wide, high, FilmWidth, 0, 14), nil
	case "chart-film-over.png":
		g := f
		g.Turn, g.Aslant = -f.Turn/2, -f.Aslant/2
		return g.scan(g.seen(f.chartPhoto()), wide, high, FilmWidth, 2, 14), nil
	case "scene-digital.png":
		return f.digital(f.scenePhoto(false)), nil
	case "scene-film.png":
		return f.scan(f.seen(f.scenePhoto(true)), wide, high, FilmWidth, 0, 14), nil
	case "edge.png":
		return f.edge(), nil
	case "patches.png":
		return f.grain(), nil
	case "lamp.png":
		return f.lamp(), nil
	}
	return nil, fmt.Errorf("the stand-in set has no picture %q", name)
}

// Wedge is a table of densities, as a densitometer of status M reads them: the first of steps from black to mid grey and beyond, the
// second exposed more, by a shutter that is a tenth of a stop off.
func (f Faults) Wedge(second bool) string {
	r := rand.New(rand.NewPCG(f.Seed, 77))
	from, to, off := -2.6, 0.9, 0.0
	if second {
		from, to, off = -0.6, 2.4, 0.03
	}
	var b strings.Builder
	b.WriteString("log exposure,red,green,blue\n")
	for x := from; x < to+1e-6; x += 0.15 {
		d := (Truth{}).Printed(x + off)
		for k := range d {
			d[k] *= 1 + 0.006*r.NormFloat64()
		}
		fmt.Fprintf(&b, "%.2f,%.3f,%.3f,%.3f\n", x, d[0], d[1], d[2])
	}
	return b.String()
}

// Write writes the set to a folder, leaving files that are there already.
func Write(ctx context.Context, dir string) error {
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return fmt.Errorf("the stand-in set: %w", err)
	}
	for _, file := range Files {
		to := filepath.Join(dir, file.Name)
		if _, err := os.Stat(to); err == nil {
			continue
		}
		if file.Shows == "wedge" {
			// whole or not at all: it may be interrupted
			part := to + ".velours-part"
			if err := os.WriteFile(part, []byte(Usual.Wedge(file.Name == "wedge-2.csv")), 0o644); err != nil {
				return fmt.Errorf("the stand-in set: %w", err)
			}
			if err := os.Rename(part, to); err != nil {
				return fmt.Errorf("the stand-in set: %w", err)
			}
			continue
		}
		f, err := Usual.Picture(file.Name)
		if err != nil {
			return err
		}
		if err := writePicture(ctx, to, f); err != nil {
			return fmt.Errorf("the stand-in set: %w", err)
		}
	}
	return nil
}

func writePicture(ctx context.Context, file string, f *frame.Frame) error {
	for p := range 3 {
		for y := range f.H {
			for x, v := range f.Row(p, y) {
				f.Row(p, y)[x] = float32(math.Min(math.Max(float64(v), 0), 1))
			}
		}
	}
	w, err := media.Create(file, 0, media.Options{Depth: 16})
	if err != nil {
		return err
	}
	if err := w.Write(ctx, f); err != nil {
		w.Abort()
		return err
	}
	return w.Close()
}
