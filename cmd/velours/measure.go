package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"io"

	"velours/core/path"
	"velours/studio"
)

func init() {
	commands = append(commands, command{"measure", "wedge [--look FILE] [--set ...] [--from STOPS] [--to STOPS] [--step STOPS] [--json]", "Read the densities and the light of a step wedge.", measure})
}

func measure(_ context.Context, args []string, out io.Writer) error {
	what := ""
	if len(args) > 0 {
		what, args = args[0], args[1:]
	}
	if what != "wedge" {
		return studio.Bad("measure what? wedge, not %q", what)
	}
	fs := flag.NewFlagSet("measure wedge", flag.ContinueOnError)
	var l lookFlags
	l.declare(fs)
	from := fs.Float64("from", -8, "the darkest step, in `STOPS` from mid grey")
	to := fs.Float64("to", 8, "the brightest step, in `STOPS` from mid grey")
	step := fs.Float64("step", 1, "the distance of two steps, in `STOPS`")
	asJSON := fs.Bool("json", false, "as JSON")
	if err := parse(fs, args); err != nil {
		return err
	}
	look, err := l.look()
	if err != nil {
		return err
	}
	w, err := path.MeasureWedge(look, *from, *to, *step)
	if err != nil {
		return studio.Bad("%v", err)
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
