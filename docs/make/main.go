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
			for _, x := range k.Settings {
				rng := fmt.Sprintf("%g … %g %s", x.Min, x.Max, x.Unit)
				if len(x.List()) > 0 {
					var ids []string
					for _, c := range x.List() {
						ids = append(ids, "`"+c.ID+"`")
					}
					rng = strings.Join(ids, " ")
				}
				fmt.Fprintf(&b, "| `%s.%s` | %s | %v | %s |\n", k.Path(), x.ID, rng, x.Initial(), x.Help)
			}
		}
	}
	return b.String()
}
