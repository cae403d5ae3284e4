package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"math"
	"os"

	"velours/studio"
)

// measureLikeness finds the films that bring a shot near a picture.
func measureLikeness(ctx context.Context, args []string, out io.Writer) error {
	fs := flag.NewFlagSet("measure likeness", flag.ContinueOnError)
	var l lookFlags
	l.declare(fs)
	j := studio.Job{}
	fs.StringVar(&j.In, "in", "", "`SRC`: a file, or a sequence with a counter")
	fs.Func("encoding", "`ID` of the source's encoding", encodingFlag(&j.Encoding))
	frames := fs.String("frames", "", "`N`, counted from 0")
	to := fs.String("to", "", "the `PICTURE` to come near to, made for a display: PNG, JPEG, TIFF")
	write := fs.String("out", "", "write the look with the nearest film to `FILE`")
	asJSON := fs.Bool("json", false, "as JSON")
	if err := parse(fs, args); err != nil {
		return err
	}
	if j.In == "" || *to == "" {
		return studio.Bad("--in and --to are needed")
	}
	var err error
	if j.Look, err = l.look(); err != nil {
		return err
	}
	if j.Encoding == "" {
		j.Encoding = l.encoding
	}
	if j.First, _, err = studio.ParseFrames(*frames); err != nil {
		return studio.Bad("--frames %v", err)
	}
	found, err := j.Likeness(ctx, *to, nil)
	if err != nil {
		return err
	}
	if *write != "" {
		data, err := found.Films[0].Look.Stored()
		if err != nil {
			return err
		}
		if err := os.WriteFile(*write, append(data, '\n'), 0o644); err != nil {
			return studio.Bad("%s: cannot be written; check the folder", *write)
		}
	}
	if *asJSON {
		e := json.NewEncoder(out)
		e.SetIndent("", " ")
		return e.Encode(found)
	}
	fmt.Fprintln(out, found.Says)
	if found.Same {
		fmt.Fprintf(out, "the same scene; rendered, the nearest is ΔE2000 %.2f from it\n", found.Rendered)
	}
	fmt.Fprint(out, "\napart  stock           medium          stops  lights       what remains\n")
	for i, f := range found.Films {
		rest := ""
		for k, says := range f.Says {
			if k < 2 {
				rest += [2]string{"", "; "}[k] + says
			}
		}
		if i < 12 {
			fmt.Fprintf(out, "%5.2f  %-14s  %-14s  %+5.1f  %+3.0f %+3.0f %+3.0f  %s\n", f.Apart, f.StockLabel, f.MediumLabel, f.Exposure, math.Round(f.Lights[0]), math.Round(f.Lights[1]), math.Round(f.Lights[2]), rest)
		}
	}
	return nil
}
