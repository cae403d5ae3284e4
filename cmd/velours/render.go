package main

import (
	"context"
	"flag"
	"fmt"
	"io"

	"velours/core/look"
	"velours/studio"
)

func init() {
	commands = append(commands, command{"render", "--in SRC --out DST [--look FILE] [--set station.kind.setting=value]... [--encoding ID] [--display ID] [--frames A-B] [--size WxH] [--tap STATION] [--codec CODEC] [--depth BITS] [--range legal|full] [--megabits N] [--bracket station.kind.setting=a,b,c]...", "Render frames through a look.", render})
}

func render(ctx context.Context, args []string, out io.Writer) error {
	fs := flag.NewFlagSet("render", flag.ContinueOnError)
	var l lookFlags
	l.declare(fs)
	var j studio.Job
	fs.StringVar(&j.In, "in", "", "`SRC`: a file, or a sequence with a counter")
	fs.StringVar(&j.Out, "out", "", "`DST`: a file, or a sequence with a counter")
	fs.Func("encoding", "`ID` of the source's encoding", encodingFlag(&j.Encoding))
	fs.StringVar(&j.Display, "display", "", "`ID` of the display")
	fs.BoolVar(&j.PlacedGrain, "placed-grain", false, "make grain of clouds that are placed one by one: the reference, a hundred times slower")
	fs.BoolVar(&j.Half, "half", false, "write EXR in half instead of float")
	fs.StringVar(&j.Codec, "codec", "", "`CODEC` of a movie: prores-hq, prores-4444, h264, h265 or ffv1")
	fs.StringVar(&j.Range, "range", "", "`RANGE` of the code values: legal or full; movies are legal and stills full by themselves")
	fs.Float64Var(&j.Megabits, "megabits", 0, "`N` megabits a second of an H.264 or H.265 movie; without it, as many as good quality needs")
	fs.IntVar(&j.Depth, "depth", 0, "`BITS` of a still: 8, 10, 12, 16 or 32, as its format allows")
	frames := fs.String("frames", "", "`A-B`, counted from 0")
	size := fs.String("size", "", "`WxH` of the result")
	tap := fs.String("tap", string(look.Finish), "`STATION` after which the picture is taken")
	var brackets []*look.Bracket
	fs.Func("bracket", "`station.kind.setting=a,b,c`: one frame under each value, on one labelled sheet; twice for a grid of two settings", func(v string) error {
		b, err := look.ParseBracket(v)
		brackets = append(brackets, b)
		return err
	})
	if err := parse(fs, args); err != nil {
		return err
	}
	if j.In == "" || j.Out == "" {
		return studio.Bad("--in and --out are needed")
	}
	var err error
	if j.Look, err = l.look(); err != nil {
		return err
	}
	if j.Encoding == "" {
		j.Encoding = l.encoding
	}
	if j.First, j.Last, err = studio.ParseFrames(*frames); err != nil {
		return studio.Bad("--frames %v", err)
	}
	if j.W, j.H, err = studio.ParseSize(*size); err != nil {
		return studio.Bad("--size %v", err)
	}
	if j.Tap, err = look.ParseStation(*tap); err != nil {
		return studio.Bad("--tap: %v", err)
	}
	if len(brackets) > 0 {
		err = j.ContactSheet(ctx, brackets)
	} else {
		err = j.Run(ctx, nil)
	}
	if err != nil {
		return err
	}
	fmt.Fprintln(out, j.Out)
	return nil
}
