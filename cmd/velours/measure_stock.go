package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"strings"

	"velours/core/film"
	"velours/core/measure"
	"velours/studio"
)

// stockMeasured is what measure stock says of a stock.
type stockMeasured struct {
	Stock     string             `json:"stock"`
	Against   string             `json:"against"`
	Signature *measure.Signature `json:"signature"`
	Claims    []claimMeasured    `json:"claims"`
	Versus    []studio.VersusRow `json:"versus,omitempty"`
}

// claimMeasured is a claim of a card beside what is measured.
type claimMeasured struct {
	film.Claim
	Words    string  `json:"words"`
	Measured float64 `json:"measured"`
	Kept     bool    `json:"kept"`
}

func measureStock(ctx context.Context, args []string, out io.Writer) error {
	fs := flag.NewFlagSet("measure stock", flag.ContinueOnError)
	id := fs.String("id", "", "the `STOCK`'s id, or the file of its card")
	with := fs.String("with", "", "set it against another `STOCK`, colour by colour")
	asJSON := fs.Bool("json", false, "as JSON")
	svg := fs.String("svg", "", "draw its character into `FILE`")
	if err := parse(fs, args); err != nil {
		return err
	}
	s, err := stockFor(*id)
	if err != nil {
		return err
	}
	m := stockMeasured{Stock: s.Label, Against: film.Reference().Label, Signature: measure.SignatureOf(s)}
	for _, c := range s.Claims {
		v, err := measure.Claimed(ctx, s, c)
		if err != nil {
			return studio.Bad("%v", err)
		}
		m.Claims = append(m.Claims, claimMeasured{c, measure.Words(c), v, measure.Check(ctx, s, c) == nil})
	}
	if *with != "" {
		other, err := stockFor(*with)
		if err != nil {
			return err
		}
		if m.Versus, err = studio.Versus(s.ID, other.ID); err != nil {
			return err
		}
	}
	if err := writeFile(*svg, func(w io.Writer) error { return studio.DrawCharacter(ctx, w, s.ID, false) }); err != nil {
		return err
	}
	if *asJSON {
		e := json.NewEncoder(out)
		e.SetIndent("", " ")
		return e.Encode(m)
	}
	g := m.Signature
	fmt.Fprintf(out, "%s against %s, on the print of reference\n\ncontrast %+.0f %%; shadows a* %+.1f b* %+.1f; whites a* %+.1f b* %+.1f\n\n", m.Stock, m.Against, g.Gamma, g.Shadows[0], g.Shadows[1], g.Whites[0], g.Whites[1])
	for _, group := range measure.Groups {
		if t, ok := g.Groups[group.Name]; ok {
			fmt.Fprintf(out, "%-8s hue %+5.1f°  chroma %4.0f %%  lightness %+5.1f\n", group.Name, t.Hue, t.Chroma, t.Lightness)
		} else {
			fmt.Fprintf(out, "%-8s %+5.2f stops\n", group.Name, g.Response[group.Name])
		}
	}
	if len(m.Claims) > 0 {
		fmt.Fprintln(out)
	}
	for _, c := range m.Claims {
		kept := "kept"
		if !c.Kept {
			kept = "NOT kept"
		}
		fmt.Fprintf(out, "%-44s %+7.2f of %+7.2f ± %.2f, %s\n", c.Words, c.Measured, c.Value, c.Within, kept)
	}
	if len(m.Versus) > 0 {
		fmt.Fprintf(out, "\nversus %s   L*    C*    h   |   L*    C*    h   | ΔE2000\n", *with)
	}
	for _, v := range m.Versus {
		fmt.Fprintf(out, "%-10s", v.Name)
		for _, side := range v.Sides {
			fmt.Fprintf(out, " %5.1f %5.1f %4.0f° |", side.Lightness, side.Chroma, side.Hue)
		}
		fmt.Fprintf(out, " %5.1f\n", v.Apart)
	}
	return nil
}

// stockFor is the stock of an id, or of a card's file.
func stockFor(id string) (*film.Stock, error) {
	if id == "" {
		return nil, studio.Bad("which stock? give --id; `velours list stocks` has the ids, or name a card's file")
	}
	var err error
	if strings.HasSuffix(id, ".json") {
		if id, err = studio.LoadStock(id); err != nil {
			return nil, err
		}
	}
	s, err := film.FindStock(id)
	if err != nil {
		return nil, studio.Bad("%v", err)
	}
	return s, nil
}
