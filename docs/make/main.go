// Command make writes the reference of steps and the schema of looks from the declarations.
//
//go:generate go run .
package main

import (
	"encoding/json"
	"fmt"
	"log"
	"os"
	"strings"

	"velours/core/path"
)

func main() {
	schema, err := json.MarshalIndent(path.Schema(), "", "  ")
	check(err)
	check(os.WriteFile("../look.schema.json", append(schema, '\n'), 0o644))
	check(os.WriteFile("../reference.md", []byte(reference()), 0o644))
}

func check(err error) {
	if err != nil {
		log.Fatal(err)
	}
}

func reference() string {
	var b strings.Builder
	b.WriteString("# Steps and their settings\n\nMade from the declarations in `core/path` by `make generate`. The name in front of each setting is what\n`--set` takes on the command line; setting a value switches its step on.\n")
	for _, s := range path.Stations {
		fmt.Fprintf(&b, "\n## %s\n", s.Label())
		for _, k := range path.Kinds() {
			if k.Station != s {
				continue
			}
			fmt.Fprintf(&b, "\n### %s\n\n%s\n\n| setting | unit and range | default | |\n|---|---|---|---|\n", k.Label, k.Purpose)
			rows(&b, k.Path()+".", k.Settings)
			for _, r := range k.Ready {
				fmt.Fprintf(&b, "\nReady: *%s* (%s).\n", r.Label, r.Note)
			}
		}
	}
	b.WriteString("\n## Mattes\n\nParts of a matte, as they stand in a look's file, and the settings of a whole one.\n")
	for _, k := range path.MatteKinds() {
		fmt.Fprintf(&b, "\n### %s\n\n%s `\"kind\": \"%s\"`\n\n| setting | unit and range | default | |\n|---|---|---|---|\n", k.Label, k.Purpose, k.ID)
		rows(&b, "", k.Settings)
	}
	b.WriteString("\n### The whole\n\n| setting | unit and range | default | |\n|---|---|---|---|\n")
	rows(&b, "", path.MatteSettings())
	return b.String()
}

// rows are the lines of a table of settings.
func rows(b *strings.Builder, prefix string, list []path.Setting) {
	for _, x := range list {
		rng := fmt.Sprintf("%g … %g %s", x.Min, x.Max, x.Unit)
		if choices := x.List(); len(choices) > 0 {
			var ids []string
			for _, c := range choices {
				ids = append(ids, "`"+c.ID+"`")
			}
			rng = strings.Join(ids, " ")
		}
		if x.Points != "" {
			rng = fmt.Sprintf("points x:y, each %g … %g", x.Min, x.Max)
		}
		fmt.Fprintf(b, "| `%s%s` | %s | %v | %s |\n", prefix, x.ID, rng, x.Initial(), x.Help)
	}
}
