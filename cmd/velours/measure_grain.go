package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"os"

	"velours/core/look"
	"velours/core/measure"
	"velours/core/noise"
	"velours/studio"
)

// measureGrain measures the grain of a look on thirteen greys, or that of a clip.
func measureGrain(ctx context.Context, args []string, out io.Writer) error {
	fs := flag.NewFlagSet("measure grain", flag.ContinueOnError)
	var l lookFlags
	l.declare(fs)
	width := fs.Int("width", 1920, "of the picture, in `PIXELS`")
	at := fs.String("at", "finish", "`STATION` at which it is measured: finish for codes of the display, negative for densities")
	asJSON := fs.Bool("json", false, "as JSON")
	j := studio.Job{}
	fs.StringVar(&j.In, "in", "", "measure a clip's instead: `SRC`, a file, or a sequence with a counter")
	fs.Func("encoding", "`ID` of the clip's encoding", encodingFlag(&j.Encoding))
	frames := fs.String("frames", "", "`A-B` of the clip, counted from 0; four of them if none are named")
	var boxes []noise.Area
	fs.Func("box", "measure in a part of the clip's picture alone: `X,Y,W,H` in pixels; it may be given again", func(text string) error {
		var b noise.Area
		if n, err := fmt.Sscanf(text, "%d,%d,%d,%d", &b.X, &b.Y, &b.W, &b.H); err != nil || n != 4 {
			return fmt.Errorf("%q is no box; it is X,Y,W,H", text)
		}
		boxes = append(boxes, b)
		return nil
	})
	write := fs.String("card", "", "write the clip's grain card to `FILE`")
	if err := parse(fs, args); err != nil {
		return err
	}
	if j.In != "" {
		var err error
		if j.First, j.Last, err = studio.ParseFrames(*frames); err != nil {
			return studio.Bad("--frames %v", err)
		}
		card, err := j.Grain(ctx, boxes, nil)
		if err != nil {
			return err
		}
		return tellCard(card, *write, *asJSON, out)
	}
	if *write != "" || len(boxes) > 0 || *frames != "" {
		return studio.Bad("--card, --box and --frames are of a clip; name it with --in")
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

// tellCard prints a clip's grain card, and writes it where a file is named.
func tellCard(c *noise.Card, file string, asJSON bool, out io.Writer) error {
	if file != "" {
		if err := os.WriteFile(file, c.JSON(), 0o644); err != nil {
			return studio.Bad("%s: cannot be written; check the folder", file)
		}
	}
	if asJSON {
		_, err := out.Write(c.JSON())
		return err
	}
	fmt.Fprintf(out, "%s: codes of %s, %d pixels wide, within %.0f %%\n", c.From, c.Codes, c.Width, 100*c.Trust.Within)
	for _, why := range c.Trust.Why {
		fmt.Fprintln(out, why)
	}
	fmt.Fprint(out, "\nluminance  deviation\n")
	for i, y := range c.Tones {
		fmt.Fprintf(out, "%9.3f  %.5f %.5f %.5f\n", y, c.Deviation[i][0], c.Deviation[i][1], c.Deviation[i][2])
	}
	fmt.Fprintf(out, "\ncorrelation RG %.3f, GB %.3f, RB %.3f; soft as through spots of %.2f %.2f %.2f pixels\n", c.Correlation[0], c.Correlation[1], c.Correlation[2], c.Spot[0], c.Spot[1], c.Spot[2])
	if c.Hold > 1 {
		fmt.Fprintf(out, "each noise stays for %d frames\n", c.Hold)
	}
	return nil
}
