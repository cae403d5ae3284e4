package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"io"

	"velours/core/look"
	"velours/core/measure"
	"velours/studio"
)

// measureGrain measures the grain of a look on thirteen greys.
func measureGrain(ctx context.Context, args []string, out io.Writer) error {
	fs := flag.NewFlagSet("measure grain", flag.ContinueOnError)
	var l lookFlags
	l.declare(fs)
	width := fs.Int("width", 1920, "of the picture, in `PIXELS`")
	at := fs.String("at", "finish", "`STATION` at which it is measured: finish for codes of the display, negative for densities")
	asJSON := fs.Bool("json", false, "as JSON")
	if err := parse(fs, args); err != nil {
		return err
	}
	made, err := l.look()
	if err != nil {
		return err
	}
	var stops []float64
	for s := -6.0; s <= 6; s++ {
		stops = append(stops, s)
	}
	g, err := measure.MeasureGrain(ctx, made, *width, stops, look.Station(*at))
	if err != nil {
		if ctx.Err() != nil {
			return err
		}
		return studio.Bad("%v", err)
	}
	if *asJSON {
		e := json.NewEncoder(out)
		e.SetIndent("", " ")
		return e.Encode(g)
	}
	fmt.Fprintf(out, "%s, %d pixels wide, %.2f µm of the film each\n\nstops   mean                  deviation                correlation RG GB RB   neighbours across, down\n", g.Of, g.Width, g.Pitch)
	for _, t := range g.Tones {
		fmt.Fprintf(out, "%+5g   %.3f %.3f %.3f   %.5f %.5f %.5f   %6.3f %6.3f %6.3f     %.3f %.3f\n", t.Stops, t.Mean[0], t.Mean[1], t.Mean[2],
			t.Deviation[0], t.Deviation[1], t.Deviation[2], t.Correlation[0], t.Correlation[1], t.Correlation[2], t.Across[1], t.Down[1])
	}
	fmt.Fprint(out, "\ncycles a pixel  power along rows, mid grey\n")
	for _, s := range g.Spectrum {
		fmt.Fprintf(out, "%14.2f  %.3f %.3f %.3f\n", s.Cycles, s.RGB[0], s.RGB[1], s.RGB[2])
	}
	return nil
}
