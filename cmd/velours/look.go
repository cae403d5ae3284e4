package main

import (
	"flag"
	"os"
	"strings"

	"velours/core/look"
	"velours/core/steps"
	"velours/studio"
)

// lookFlags are --look and --set, shared by render and bake.
type lookFlags struct {
	file string
	sets sets
	// encoding is how footage was recorded, by looks of long ago; --encoding and --from go before.
	encoding string
}

type sets []string

func (s *sets) String() string     { return strings.Join(*s, " ") }
func (s *sets) Set(v string) error { *s = append(*s, v); return nil }

func (l *lookFlags) declare(fs *flag.FlagSet) {
	fs.StringVar(&l.file, "look", "", "look `FILE` to render through")
	fs.Var(&l.sets, "set", "`station.kind.setting=value`: switch a step on with this setting; may be repeated")
}

func (l *lookFlags) look() (*look.Look, error) {
	given := look.NewLook("clean")
	if l.file != "" {
		data, err := os.ReadFile(l.file)
		if err != nil {
			return nil, studio.Bad("%s: cannot be read; check the name", l.file)
		}
		l.encoding = look.FormerEncoding(data)
		if given, err = look.ParseLook(data); err != nil {
			return nil, studio.Bad("%s: %v", l.file, err)
		}
	}
	for _, s := range l.sets {
		name, value, ok := strings.Cut(s, "=")
		if !ok {
			return nil, studio.Bad("--set %s: write station.kind.setting=value", s)
		}
		if strings.HasPrefix(name, "intake.encoding.") {
			return nil, studio.Bad("--set %s: how footage was recorded is no part of a look; declare it with --encoding (or --from, of a table)", s)
		}
		if name == "print.table.id" && value != "none" {
			id, err := studio.LoadTable(value)
			if err != nil {
				return nil, err
			}
			value = id
		}
		if name == "negative.stock.id" && strings.HasSuffix(value, ".json") {
			id, err := studio.LoadStock(value)
			if err != nil {
				return nil, err
			}
			value = id
		}
		if (name == "finish.grain.card" || name == "negative.grain.of") && strings.HasSuffix(value, ".json") {
			id, err := studio.LoadGrain(value)
			if err != nil {
				return nil, err
			}
			value = id
		}
		if name == "recipe" {
			var err error
			if given, err = withRecipe(given, value); err != nil {
				return nil, err
			}
			continue
		}
		if err := given.Set(name, value); err != nil {
			return nil, studio.Bad("--set %s: %v", s, err)
		}
	}
	return given, nil
}

// encodingFlag takes the id of an encoding, or the file of one's own.
func encodingFlag(to *string) func(string) error {
	return func(v string) (err error) {
		if strings.HasSuffix(v, ".json") {
			v, err = studio.LoadEncoding(v)
		}
		*to = v
		return err
	}
}

// withRecipe puts a recipe's film in place of a look's.
func withRecipe(l *look.Look, id string) (*look.Look, error) {
	list, err := steps.Recipes()
	if err != nil {
		return nil, err
	}
	for _, r := range list {
		if r.ID == id {
			return r.Onto(l)
		}
	}
	return nil, studio.Bad("there is no recipe %q; velours list recipes tells them", id)
}
