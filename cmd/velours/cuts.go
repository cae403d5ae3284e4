package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"io"

	"velours/studio"
)

func init() {
	commands = append(commands,
		command{"cuts", "--in SRC [--json]", "Find the shots that a movie or a sequence holds, by its hard cuts.", cutsCommand},
		command{"events", "--in LIST --media DIR [--rate RATE] [--handles N] [--json]", "Read an edit list, CMX 3600 (.edl) or OpenTimelineIO (.otio), find its recordings, and say what is missing.", eventsCommand})
}

func cutsCommand(ctx context.Context, args []string, out io.Writer) error {
	fs := flag.NewFlagSet("cuts", flag.ContinueOnError)
	in := fs.String("in", "", "`SRC`: a file, or a sequence with a counter")
	asJSON := fs.Bool("json", false, "as JSON")
	if err := parse(fs, args); err != nil {
		return err
	}
	if *in == "" {
		return studio.Bad("--in names the movie")
	}
	shots, err := studio.ShotsIn(ctx, *in, nil)
	if err != nil {
		return err
	}
	if *asJSON {
		return indented(out, shots)
	}
	for i, s := range shots {
		fmt.Fprintf(out, "%4d  frames %d to %d  %s\n", i+1, s.First, s.Last, s.Timecode)
	}
	return nil
}

func eventsCommand(ctx context.Context, args []string, out io.Writer) error {
	fs := flag.NewFlagSet("events", flag.ContinueOnError)
	in := fs.String("in", "", "edit `LIST`, .edl or .otio")
	folder := fs.String("media", "", "look for recordings in `DIR` and below it")
	rate := fs.String("rate", "24", "`RATE` of an .edl in frames a second: 24, 25, 24000/1001 …")
	handles := fs.Int("handles", 12, "`N` frames more before and after what is seen")
	asJSON := fs.Bool("json", false, "as JSON")
	if err := parse(fs, args); err != nil {
		return err
	}
	if *in == "" || *folder == "" {
		return studio.Bad("--in names the edit list, --media the folder of its recordings")
	}
	p, err := studio.ReadProgramme(ctx, *in, *rate, *folder, *handles)
	if err != nil {
		return err
	}
	if *asJSON {
		return indented(out, p)
	}
	fmt.Fprintf(out, "%s, %d events at %s frames a second\n", p.Title, len(p.Events), p.Rate)
	for _, e := range p.Events {
		fmt.Fprintf(out, "%6s  %s  %-24s ", e.Number, e.Record, e.Name)
		if e.File == "" {
			fmt.Fprintf(out, "missing\n")
		} else {
			fmt.Fprintf(out, "%s, frames %d to %d (%d to %d)", e.File, e.First, e.Last, e.From, e.To)
			if e.Speed != 1 {
				fmt.Fprintf(out, ", speed %.4g", e.Speed)
			}
			if e.Transition != "" {
				fmt.Fprintf(out, ", %s over %d", e.Transition, e.Over)
			}
			fmt.Fprintln(out)
		}
		if e.Why != "" {
			fmt.Fprintf(out, "        %s\n", e.Why)
		}
	}
	for _, t := range p.Told {
		fmt.Fprintf(out, "%s\n", t)
	}
	return nil
}

// indented writes a value as JSON that can be read.
func indented(out io.Writer, v any) error {
	e := json.NewEncoder(out)
	e.SetIndent("", " ")
	return e.Encode(v)
}
