package main

import (
	"context"
	"flag"
	"fmt"
	"io"
	"strings"

	"velours/core/film"
	"velours/studio"
)

func init() {
	commands = append(commands, command{"bake", "--out FILE.cube|FILE.clf [--look FILE] [--set ...] [--from ID] [--display ID] [--size 33] [--curve]", "Turn the colour part of a look into a table.", bake})
}

func bake(ctx context.Context, args []string, out io.Writer) error {
	fs := flag.NewFlagSet("bake", flag.ContinueOnError)
	var l lookFlags
	l.declare(fs)
	var b studio.Bake
	fs.StringVar(&b.Out, "out", "", "`FILE`.cube or FILE.clf")
	fs.Func("from", "`ID` of the encoding that goes in", encodingFlag(&b.From))
	fs.StringVar(&b.Display, "display", "", "`ID` of the display that comes out")
	fs.IntVar(&b.Size, "size", film.TableSize, "nodes along an edge, 2 to 129")
	fs.BoolVar(&b.Curve, "curve", false, "put a 1D table before the cube of a .cube: finer in the shadows, for programs that read both")
	if err := parse(fs, args); err != nil {
		return err
	}
	if b.Out == "" {
		return studio.Bad("--out is needed")
	}
	var err error
	if b.Look, err = l.look(); err != nil {
		return err
	}
	if b.From == "" {
		b.From = l.encoding
	}
	baked, err := b.Run(ctx)
	if err != nil {
		return err
	}
	fmt.Fprintln(out, b.Out)
	fmt.Fprintln(out, baked.Error)
	if len(baked.Left) > 0 {
		fmt.Fprintln(out, "left out, because a table cannot carry it: "+strings.Join(baked.Left, ", "))
	}
	return nil
}
