package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"strconv"
	"strings"

	"velours/core/measure"
	"velours/studio"
)

// measureSpread measures how a look spreads a point of light.
func measureSpread(ctx context.Context, args []string, out io.Writer) error {
	fs := flag.NewFlagSet("measure spread", flag.ContinueOnError)
	var l lookFlags
	l.declare(fs)
	var cycles []float64
	fs.Func("cycles", "contrasts to measure, in cycles across the width: `LIST`, as 3,30,150,600", func(text string) error {
		for _, w := range strings.Split(text, ",") {
			c, err := strconv.ParseFloat(strings.TrimSpace(w), 64)
			if err != nil {
				return fmt.Errorf("%q is no number", w)
			}
			cycles = append(cycles, c)
		}
		return nil
	})
	width := fs.Int("width", 1920, "of the picture, in `PIXELS`")
	light := fs.Float64("light", 8, "of the point, in `STOPS` from mid grey")
	asJSON := fs.Bool("json", false, "as JSON")
	if err := parse(fs, args); err != nil {
		return err
	}
	if cycles == nil {
		for _, c := range measure.UsualCycles {
			if c <= float64(*width)/2 {
				cycles = append(cycles, c)
			}
		}
	}
	look, err := l.look()
	if err != nil {
		return err
	}
	s, err := measure.MeasureSpread(ctx, look, *width, *light, cycles)
	if err != nil {
		if ctx.Err() != nil {
			return err
		}
		return studio.Bad("%v", err)
	}
	if *asJSON {
		e := json.NewEncoder(out)
		e.SetIndent("", " ")
		return e.Encode(s)
	}
	fmt.Fprintf(out, "a point of %+g stops, %d pixels wide\n\nenergy  %.4f %.4f %.4f\nhalo    %.4f %.4f %.4f of it, hue %.0f°, chroma %.3f\n", s.Light, s.Width, s.Energy[0], s.Energy[1], s.Energy[2], s.Halo.RGB[0], s.Halo.RGB[1], s.Halo.RGB[2], s.Halo.Hue, s.Halo.Chroma)
	fmt.Fprint(out, "\ncycles  transfer\n")
	for _, t := range s.Transfers {
		fmt.Fprintf(out, "%6g  %.4f %.4f %.4f\n", t.Cycles, t.RGB[0], t.RGB[1], t.RGB[2])
	}
	fmt.Fprint(out, "\nradius, % width  light in a square of 1 % of the width\n")
	for _, r := range s.Profile {
		fmt.Fprintf(out, "%15.3f  %10.3e %10.3e %10.3e\n", r.Radius, r.RGB[0], r.RGB[1], r.RGB[2])
	}
	return nil
}
