package main

import (
	"context"
	"flag"
	"fmt"
	"io"
	"os"
	"strconv"
	"strings"

	"velours/studio"
)

func init() {
	commands = append(commands, command{"fit", "wedge --in CSV | pair --scene FILE --scene-encoding ID --scan FILE --scan-encoding ID [--corners ...] --name NAME --out CARD [--like STOCK]", "Make a stock card of measurements.", fitCommand})
}

func fitCommand(ctx context.Context, args []string, out io.Writer) error {
	what := ""
	if len(args) > 0 {
		what, args = args[0], args[1:]
	}
	fs := flag.NewFlagSet("fit "+what, flag.ContinueOnError)
	var q studio.PairAsk
	fs.StringVar(&q.Name, "name", "", "what the stock will be called: `NAME`")
	fs.StringVar(&q.Like, "like", "", "id of the `STOCK` to start from; one of the same sort by itself")
	to := fs.String("out", "", "`CARD`: the file to write")
	var in, scene, scan, grey string
	var corners [2]string
	var grid string
	switch what {
	case "wedge":
		fs.StringVar(&in, "in", "", "`CSV`: log exposure, red, green, blue, a line for each step")
		fs.StringVar(&grey, "grey", "", "`LOG` exposure of mid grey in it; by the film's speed if it is not given")
	case "pair":
		fs.StringVar(&scene, "scene", "", "`FILE`: the chart as a digital camera or a renderer has it")
		fs.StringVar(&scan, "scan", "", "`FILE`: the same chart on the film, scanned")
		fs.StringVar(&q.Scene, "scene-encoding", "", "`ID` of the encoding of the first")
		fs.StringVar(&q.Scan, "scan-encoding", "", "`ID` of the encoding of the second: printing-density for densities, any other for the light that came through")
		fs.StringVar(&grid, "grid", "", "`COLUMNSxROWS` of the chart, with both corners")
		fs.StringVar(&corners[0], "scene-corners", "", "middles of the corner patches, `X,Y` four times, as shares of width and height: top left, top right, bottom right, bottom left; found by itself without")
		fs.StringVar(&corners[1], "scan-corners", "", "the same in the scan: `X,Y` four times")
	default:
		return studio.Bad("fit what? wedge or pair, not %q", what)
	}
	if err := parse(fs, args); err != nil {
		return err
	}
	if *to == "" {
		return studio.Bad("--out is missing: the card to write")
	}
	var f *studio.Fitted
	var err error
	if what == "wedge" {
		if grey != "" {
			v, err := strconv.ParseFloat(grey, 64)
			if err != nil {
				return studio.Bad("--grey is %q, not a number", grey)
			}
			q.Grey = &v
		}
		file, err2 := os.Open(in)
		if err2 != nil {
			return studio.Bad("%s: cannot be read; check the name", in)
		}
		defer file.Close()
		f, err = studio.FitWedge(in, file, q.FitAsk)
	} else {
		if q.Places, err = places(grid, corners); err != nil {
			return err
		}
		f, err = studio.FitPair(ctx, scene, scan, q)
	}
	if err != nil {
		return err
	}
	if err := os.WriteFile(*to, append(f.Card, '\n'), 0o644); err != nil {
		return studio.Bad("%s: cannot be written; check the folder", *to)
	}
	r := f.Report
	fmt.Fprintf(out, "%s, started from %s\ndensity: %.4f off on the whole, %.4f at most\n", f.Label, r.Like, r.Rms, r.Worst)
	if what == "wedge" {
		fmt.Fprintf(out, "mid grey at log exposure %.2f\n", r.Grey)
	} else {
		fmt.Fprintf(out, "on a print: %.2f ΔE2000 over the patches fitted, %.2f over those kept out\n\npatch   scene               measured          fitted            ΔE\n", r.Mean, r.MeanKeptOut)
		for i, p := range r.Patches {
			mark := ""
			if p.KeptOut {
				mark = "  kept out"
			}
			fmt.Fprintf(out, "%5d   %.3f %.3f %.3f   %.2f %.2f %.2f   %.2f %.2f %.2f   %.2f%s\n", i+1, p.Scene[0], p.Scene[1], p.Scene[2], p.Measured[0], p.Measured[1], p.Measured[2], p.Fitted[0], p.Fitted[1], p.Fitted[2], p.Error, mark)
		}
	}
	for _, l := range r.Limits {
		fmt.Fprintln(out, "·", l)
	}
	return nil
}

// places reads where a chart lies in both pictures; nothing is to find it.
func places(grid string, corners [2]string) ([]studio.ChartPlace, error) {
	if grid == "" && corners == [2]string{} {
		return nil, nil
	}
	var out []studio.ChartPlace
	for i, text := range corners {
		var p studio.ChartPlace
		if _, err := fmt.Sscanf(grid, "%dx%d", &p.Columns, &p.Rows); err != nil {
			return nil, studio.Bad("--grid is %q; write COLUMNSxROWS, as 6x4", grid)
		}
		parts := strings.Split(text, ",")
		if len(parts) != 8 {
			return nil, studio.Bad("%s has %d numbers; four corners are 8", [2]string{"--scene-corners", "--scan-corners"}[i], len(parts))
		}
		for k, s := range parts {
			v, err := strconv.ParseFloat(strings.TrimSpace(s), 64)
			if err != nil {
				return nil, studio.Bad("%q is not a number", s)
			}
			p.Corners[k/2][k%2] = v
		}
		out = append(out, p)
	}
	return out, nil
}
