package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"io"

	"velours/core/look"
	"velours/studio"
)

func init() {
	commands = append(commands, command{"scope", "--in SRC [--out FILE.png] [--json] [--scope waveform|parade|vector|histogram|chroma] [--look FILE] [--set ...] [--encoding ID] [--display ID] [--frames N] [--size WxH] [--tap STATION] [--nits] [--cells WxH]", "Measure a frame: draw a scope, or print its figures.", scopeCommand})
}

func scopeCommand(ctx context.Context, args []string, out io.Writer) error {
	fs := flag.NewFlagSet("scope", flag.ContinueOnError)
	var l lookFlags
	l.declare(fs)
	j := studio.Job{}
	q := studio.ScopeAsk{W: 512, H: 256}
	fs.StringVar(&j.In, "in", "", "`SRC`: a file, or a sequence with a counter")
	fs.StringVar(&j.Out, "out", "", "`FILE` of the drawing")
	fs.Func("encoding", "`ID` of the source's encoding", encodingFlag(&j.Encoding))
	fs.StringVar(&j.Display, "display", "", "`ID` of the display")
	fs.StringVar(&q.ID, "scope", "waveform", "`KIND`: waveform, parade, vector, histogram or chroma")
	fs.BoolVar(&q.Nits, "nits", false, "read display code values as light in cd/m²")
	figures := fs.Bool("json", false, "print the figures as JSON")
	frames := fs.String("frames", "", "`N`, counted from 0")
	size := fs.String("size", "", "`WxH` at which the frame is measured")
	cells := fs.String("cells", "", "`WxH` of the drawing")
	tap := fs.String("tap", string(look.Finish), "`STATION` after which the picture is taken")
	if err := parse(fs, args); err != nil {
		return err
	}
	if j.In == "" || j.Out == "" && !*figures {
		return studio.Bad("--in, and --out or --json, are needed")
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
	if j.W, j.H, err = studio.ParseSize(*size); err != nil {
		return studio.Bad("--size %v", err)
	}
	if *cells != "" {
		if q.W, q.H, err = studio.ParseSize(*cells); err != nil {
			return studio.Bad("--cells %v", err)
		}
	}
	if q.Tap, err = look.ParseStation(*tap); err != nil {
		return studio.Bad("--tap: %v", err)
	}
	v, im, err := j.Scope(ctx, q)
	if err != nil {
		return err
	}
	if j.Out != "" {
		if im == nil {
			return studio.Bad("a %s has figures alone: use --json", q.ID)
		}
		if err := im.Save(j.Out); err != nil {
			return err
		}
	}
	if *figures {
		e := json.NewEncoder(out)
		e.SetIndent("", " ")
		return e.Encode(v)
	}
	fmt.Fprintln(out, j.Out)
	return nil
}
