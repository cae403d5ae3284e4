package main

import (
	"bytes"
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"os"

	"velours/core/look"
	"velours/core/measure"
	"velours/studio"
)

func init() {
	commands = append(commands, command{"measure", "wedge [--look FILE] [--set ...] [--from STOPS] [--to STOPS] [--step STOPS] [--json] [--csv FILE] [--svg FILE] [--with STOCK]\n          or spread [--look FILE] [--set ...] [--cycles LIST] [--width PIXELS] [--light STOPS] [--json]\n          or grain [--look FILE] [--set ...] [--width PIXELS] [--at STATION] [--json]\n          or grain --in CLIP [--encoding ID] [--frames A-B] [--box X,Y,W,H] [--card FILE] [--json]\n          or stock --id STOCK [--with STOCK] [--json] [--svg FILE]\n          or likeness --in SRC --to PICTURE [--encoding ID] [--look FILE] [--frames N] [--out LOOK] [--json]", "Read the densities and the light of a step wedge, and draw the curves; or how a look spreads a point of light; or how grainy greys are; or what makes a stock itself, and whether its card's claims hold; or which film brings a shot near a picture.", measureCommand})
}

func measureCommand(ctx context.Context, args []string, out io.Writer) error {
	what := ""
	if len(args) > 0 {
		what, args = args[0], args[1:]
	}
	switch what {
	case "grain":
		return measureGrain(ctx, args, out)
	case "spread":
		return measureSpread(ctx, args, out)
	case "stock":
		return measureStock(ctx, args, out)
	case "likeness":
		return measureLikeness(ctx, args, out)
	case "wedge":
	default:
		return studio.Bad("measure what? wedge, spread, grain, stock or likeness, not %q", what)
	}
	fs := flag.NewFlagSet("measure wedge", flag.ContinueOnError)
	var l lookFlags
	l.declare(fs)
	from := fs.Float64("from", -8, "the darkest step, in `STOPS` from mid grey")
	to := fs.Float64("to", 8, "the brightest step, in `STOPS` from mid grey")
	step := fs.Float64("step", 1, "the distance of two steps, in `STOPS`")
	asJSON := fs.Bool("json", false, "as JSON")
	csv := fs.String("csv", "", "write the curves to `FILE`, a table of text")
	svg := fs.String("svg", "", "draw the curves and the spectra into `FILE`")
	with := fs.String("with", "", "the id of a `STOCK` to compare with, in --csv and --svg")
	if err := parse(fs, args); err != nil {
		return err
	}
	look, err := l.look()
	if err != nil {
		return err
	}
	w, err := measure.MeasureWedge(look, *from, *to, *step)
	if err != nil {
		return studio.Bad("%v", err)
	}
	if *csv != "" || *svg != "" {
		if err := plotFilm(look, *with, *csv, *svg); err != nil {
			return err
		}
	}
	if *asJSON {
		e := json.NewEncoder(out)
		e.SetIndent("", " ")
		return e.Encode(w)
	}
	fmt.Fprintf(out, "%s %s\n\nlayer   gamma  gradient  stops below, above  D-min  D-max\n", w.Stock, w.Medium)
	for i, s := range w.Layers {
		fmt.Fprintf(out, "%-7s %5.2f  %8.2f  %11.1f, %5.1f  %5.2f  %5.2f\n", [3]string{"red", "green", "blue"}[i], s.Gamma, s.Gradient, s.Below, s.Above, s.DMin, s.DMax)
	}
	fmt.Fprint(out, "\nstops   above base           read                 print  code\n")
	for _, s := range w.Steps {
		print := "    –"
		if s.Print != nil {
			print = fmt.Sprintf("%5.2f", *s.Print)
		}
		fmt.Fprintf(out, "%+5.1f   %4.2f  %4.2f  %4.2f   %5.2f %5.2f %5.2f   %s  %.3f %.3f %.3f\n", s.Stops, s.Density[0], s.Density[1], s.Density[2], s.Read[0], s.Read[1], s.Read[2], print, s.Code[0], s.Code[1], s.Code[2])
	}
	return nil
}

// plotFilm writes the curves of a look's film, and of a second stock in its place.
func plotFilm(look *look.Look, with, csv, svg string) error {
	s, err := measure.MeasureFilm(look, nil)
	if err != nil {
		return studio.Bad("%v", err)
	}
	var other *measure.Sensitometer
	if with != "" {
		second := look.Clone()
		if err := second.Set("negative.stock.id", with); err != nil {
			return studio.Bad("%w", err)
		}
		if other, err = measure.MeasureFilm(second, nil); err != nil {
			return err
		}
	}
	if err := writeFile(csv, func(w io.Writer) error { return studio.WriteFilmCSV(w, s, other) }); err != nil {
		return err
	}
	return writeFile(svg, func(w io.Writer) error { return studio.DrawFilm(w, s, studio.Drawing{Other: other}) })
}

// writeFile writes what f makes to a file, "" for none; where f fails nothing is left.
func writeFile(file string, f func(w io.Writer) error) error {
	if file == "" {
		return nil
	}
	var b bytes.Buffer
	if err := f(&b); err != nil {
		return err
	}
	if err := os.WriteFile(file, b.Bytes(), 0o644); err != nil {
		return studio.Bad("%s: cannot be written; check the folder", file)
	}
	return nil
}
