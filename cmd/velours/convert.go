package main

import (
	"context"
	"flag"
	"fmt"
	"io"

	"velours/studio"
)

func init() {
	commands = append(commands, command{"convert", "--in SRC --out DST --from ID --to ID", "Convert colour encodings alone: no film, no tone scale, no clipping in float formats.", convert})
}

func convert(ctx context.Context, args []string, out io.Writer) error {
	fs := flag.NewFlagSet("convert", flag.ContinueOnError)
	var c studio.Conversion
	fs.StringVar(&c.In, "in", "", "`SRC`: a file, or a sequence with a counter")
	fs.StringVar(&c.Out, "out", "", "`DST`: a file, or a sequence with a counter")
	fs.Func("from", "`ID` of the source's encoding", encodingFlag(&c.From))
	fs.Func("to", "`ID` of the result's encoding", encodingFlag(&c.To))
	if err := parse(fs, args); err != nil {
		return err
	}
	if c.In == "" || c.Out == "" || c.From == "" || c.To == "" {
		return studio.Bad("--in, --out, --from and --to are needed")
	}
	if err := c.Run(ctx); err != nil {
		return err
	}
	fmt.Fprintln(out, c.Out)
	return nil
}
