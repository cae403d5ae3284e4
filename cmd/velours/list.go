package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"io"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/look"
	"velours/core/steps"
	"velours/studio"
)

func init() {
	commands = append(commands, command{"list", "encodings|displays|stocks|media|kinds|mattes|recipes|looks [--json]", "List what there is, by id.", list})
}

// listed is one thing that can be named.
type listed struct {
	ID    string `json:"id"`
	Label string `json:"label"`
	Note  string `json:"note,omitempty"`
	*look.Kind
	// Settings are those of a kind, of step or of matte.
	Settings []look.Setting `json:"settings,omitempty"`
}

func list(_ context.Context, args []string, out io.Writer) error {
	what := ""
	if len(args) > 0 {
		what, args = args[0], args[1:]
	}
	fs := flag.NewFlagSet("list", flag.ContinueOnError)
	asJSON := fs.Bool("json", false, "as a JSON array")
	if err := parse(fs, args); err != nil {
		return err
	}
	items := []listed{}
	switch what {
	case "encodings":
		for _, e := range colour.Encodings() {
			items = append(items, listed{ID: e.ID, Label: e.Label})
		}
	case "displays":
		for _, d := range colour.Displays() {
			items = append(items, listed{ID: d.ID, Label: d.Label})
		}
	case "stocks":
		for _, s := range film.Stocks() {
			items = append(items, listed{ID: s.ID, Label: s.Label, Note: s.Family + ". " + s.Note})
		}
	case "media":
		for _, m := range film.Media() {
			items = append(items, listed{ID: m.ID, Label: m.Label, Note: m.Family + ". " + m.Note})
		}
	case "kinds":
		for _, k := range look.Kinds() {
			items = append(items, listed{ID: k.Path(), Label: k.Label, Note: k.Purpose, Kind: k, Settings: k.Settings})
		}
	case "mattes":
		for _, k := range look.MatteKinds() {
			items = append(items, listed{ID: k.ID, Label: k.Label, Note: k.Purpose, Settings: k.Settings})
		}
	case "recipes":
		recipes, err := steps.Recipes()
		if err != nil {
			return err
		}
		for _, r := range recipes {
			items = append(items, listed{ID: r.ID, Label: r.Label, Note: r.Era + ". " + r.Note})
		}
	case "looks":
		items = append(items, shippedLooks()...)
	default:
		return studio.Bad("list what? encodings, displays, stocks, media, kinds, mattes, recipes or looks, not %q", what)
	}
	if *asJSON {
		e := json.NewEncoder(out)
		e.SetIndent("", "  ")
		return e.Encode(items)
	}
	for _, i := range items {
		fmt.Fprintf(out, "%-22s %-24s %s\n", i.ID, i.Label, i.Note)
	}
	return nil
}
