package main

import (
	"context"
	"flag"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strconv"
	"strings"

	"velours/demo/standin"
	"velours/studio"
)

func init() {
	commands = append(commands, command{"fit", "--name NAME --out CARD [--wedge CSV ...] [--status m|a|scan] [--grey LOG] [--chart DIGITAL,FILM[,STOPS] ...] [--scene DIGITAL,FILM[,STOPS] ...] [--edge FILE,MM] [--patches FILE,MM] [--lamp FILE,MM[,STOPS]] [--digital ID] [--film ID] [--grid COLUMNSxROWS --digital-corners ... --film-corners ...] [--like STOCK]\n          or --stand-in DIR", "Make a stock card of measurements; or write a made-up set of them to try.", fitCommand})
}

func fitCommand(ctx context.Context, args []string, out io.Writer) error {
	fs := flag.NewFlagSet("fit", flag.ContinueOnError)
	var q studio.FilmAsk
	var pictures []studio.FilmFile
	var grey, grid string
	var corners [2]string
	fs.StringVar(&q.Name, "name", "", "what the stock will be called: `NAME`")
	fs.StringVar(&q.Like, "like", "", "id of the `STOCK` to start from; one of the same sort by itself")
	fs.StringVar(&q.Status, "status", "", "`BANDS` of the densitometer that read the wedges: m, a, or scan for a film scanner's")
	fs.StringVar(&grey, "grey", "", "`LOG` exposure of mid grey in the wedges; by the film's speed, or as a chart has it, if it is not given")
	fs.Func("wedge", "`CSV`: log exposure, red, green, blue, a line for each step; several of the same film are joined", func(file string) error {
		text, err := os.ReadFile(file)
		if err != nil {
			return studio.Bad("%s: cannot be read; check the name", file)
		}
		q.Wedges = append(q.Wedges, studio.WedgeText{File: file, Text: string(text)})
		return nil
	})
	picture := func(shows studio.TestShot, help string) {
		fs.Func(string(shows), help, func(text string) error {
			p, err := filmFile(shows, text)
			pictures = append(pictures, p)
			return err
		})
	}
	picture(studio.ShowsChart, "`DIGITAL,FILM[,STOPS]`: a chart as a digital camera or a renderer has it, and scanned from the film, which got so many stops more light; again for a bracket")
	picture(studio.ShowsScene, "`DIGITAL,FILM[,STOPS]`: the same of any scene; the two are laid over each other")
	picture(studio.ShowsEdge, "`FILE,MM`: a slanted edge scanned from the film, so many millimetres wide on it")
	picture(studio.ShowsPatches, "`FILE,MM`: even greys")
	picture(studio.ShowsLamp, "`FILE,MM[,STOPS]`: a small lamp on black, and how bright it is from mid grey")
	digital := fs.String("digital", "acescct", "`ID` of the encoding of the digital pictures")
	scan := fs.String("film", "linear-bt709", "`ID` of the encoding of the scans: printing-density for densities, any other for the light that came through")
	fs.StringVar(&grid, "grid", "", "`COLUMNSxROWS` of the chart, with both corners")
	fs.StringVar(&corners[0], "digital-corners", "", "middles of the corner patches, `X,Y` four times, as shares of width and height: top left, top right, bottom right, bottom left; found by itself without")
	fs.StringVar(&corners[1], "film-corners", "", "the same in the scan: `X,Y` four times")
	to := fs.String("out", "", "`CARD`: the file to write")
	set := fs.String("stand-in", "", "write the stand-in set to the folder `DIR`")
	if err := parse(fs, args); err != nil {
		return err
	}
	if *set != "" {
		return writeStandIn(ctx, *set, out)
	}
	if *to == "" {
		return studio.Bad("--out is missing: the card to write")
	}
	if grey != "" {
		v, err := strconv.ParseFloat(grey, 64)
		if err != nil {
			return studio.Bad("--grey is %q, not a number", grey)
		}
		q.Grey = &v
	}
	hand, err := places(grid, corners)
	if err != nil {
		return err
	}
	for i := range pictures {
		p := &pictures[i]
		p.Encodings = [2]string{*digital, *scan}
		if p.Shows == studio.ShowsChart {
			p.Places = hand
		}
	}
	f, err := studio.MeasureFilm(ctx, q, pictures, nil)
	if err != nil {
		return err
	}
	if err := os.WriteFile(*to, append(f.Card, '\n'), 0o644); err != nil {
		return studio.Bad("%s: cannot be written; check the folder", *to)
	}
	tellFit(out, f)
	return nil
}

// filmFile reads what a flag says of a picture.
func filmFile(shows studio.TestShot, text string) (p studio.FilmFile, err error) {
	p.Shows = shows
	part := strings.Split(text, ",")
	number := func(i int, of string) (float64, error) {
		v, err := strconv.ParseFloat(strings.TrimSpace(part[i]), 64)
		if err != nil {
			return 0, fmt.Errorf("%s is %q, not a number", of, part[i])
		}
		return v, nil
	}
	if len(part) < 2 || len(part) > 3 {
		return p, fmt.Errorf("%q: two or three parts, with commas between", text)
	}
	if shows == studio.ShowsChart || shows == studio.ShowsScene {
		p.Files = [2]string{part[0], part[1]}
	} else {
		p.Files[1] = part[0]
		if p.Width, err = number(1, "the width in millimetres"); err != nil {
			return p, err
		}
	}
	if len(part) == 3 {
		v, err := number(2, "the light in stops")
		if err != nil {
			return p, err
		}
		p.Stops = &v
	}
	return p, nil
}

// tellFit writes down what a card came to.
func tellFit(out io.Writer, f *studio.Fitted) {
	r := f.Report
	fmt.Fprintf(out, "%s, started from %s\n\n", f.Label, r.Like)
	for _, p := range r.Parts {
		from := p.From
		if p.Measured {
			from = "from " + from
		}
		if p.Sure != "" {
			from += ": " + p.Sure
		}
		fmt.Fprintf(out, "%-8s %s\n", p.Of, from)
		if p.Problem != "" {
			fmt.Fprintf(out, "%-8s ! %s\n", "", p.Problem)
		}
	}
	fmt.Fprintf(out, "\ndensity: %.4f off on the whole, %.4f at most\n", r.Rms, r.Worst)
	if len(r.Steps) > 0 {
		fmt.Fprintf(out, "mid grey at log exposure %.2f\n", r.Grey)
	}
	for _, p := range r.Pairs {
		fmt.Fprintf(out, "%s, on a print: %.2f ΔE2000 over what was fitted, %.2f over what was kept out; %+.2f stops off, light uneven by %.0f %%\n", p.Name, p.Mean, p.KeptOut, p.Exposure, 100*p.Uneven)
	}
	if len(r.Patches) > 0 {
		fmt.Fprint(out, "\npatch   scene               measured          fitted            ΔE\n")
	}
	for i, p := range r.Patches {
		if r.Pairs[p.Pair].OfScene {
			continue
		}
		mark := ""
		if p.KeptOut {
			mark = "  kept out"
		}
		fmt.Fprintf(out, "%5d   %.3f %.3f %.3f   %.2f %.2f %.2f   %.2f %.2f %.2f   %.2f%s\n", i+1, p.Scene[0], p.Scene[1], p.Scene[2], p.Measured[0], p.Measured[1], p.Measured[2], p.Fitted[0], p.Fitted[1], p.Fitted[2], p.Error, mark)
	}
	for _, l := range r.Limits {
		fmt.Fprintln(out, "·", l)
	}
}

// writeStandIn writes the stand-in set, and how it is measured.
func writeStandIn(ctx context.Context, dir string, out io.Writer) error {
	if err := standin.Write(ctx, dir); err != nil {
		return studio.Bad("%s: %w; check the folder", dir, err)
	}
	line := []string{"velours fit", fmt.Sprintf("--name %q", standin.Label), "--out card.json --status m --grey 0"}
	digital := ""
	for _, f := range standin.Files {
		path := filepath.Join(dir, f.Name)
		switch what, whose, _ := strings.Cut(f.Shows, ", "); {
		case what == "wedge":
			line = append(line, "--wedge "+path)
		case whose == "digital":
			digital = path
		case whose == "film":
			line = append(line, fmt.Sprintf("--%s %s,%s,%g", what, digital, path, f.Stops))
		case what == string(studio.ShowsLamp):
			line = append(line, fmt.Sprintf("--lamp %s,%g,%g", path, f.Width, standin.LampStops))
		default:
			line = append(line, fmt.Sprintf("--%s %s,%g", what, path, f.Width))
		}
	}
	fmt.Fprintln(out, strings.Join(line, " \\\n  "))
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
			return nil, studio.Bad("%s has %d numbers; four corners are 8", [2]string{"--digital-corners", "--film-corners"}[i], len(parts))
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
