package main

import (
	"flag"
	"os"
	"strings"

	"velours/core/path"
	"velours/studio"
)

// lookFlags are --look and --set, shared by render and bake.
type lookFlags struct {
	file string
	sets sets
}

type sets []string

func (s *sets) String() string     { return strings.Join(*s, " ") }
func (s *sets) Set(v string) error { *s = append(*s, v); return nil }

func (l *lookFlags) declare(fs *flag.FlagSet) {
	fs.StringVar(&l.file, "look", "", "look `FILE` to render through")
	fs.Var(&l.sets, "set", "`station.kind.setting=value`: switch a step on with this setting; may be repeated")
}

func (l *lookFlags) look() (*path.Look, error) {
	look := path.NewLook("clean")
	if l.file != "" {
		data, err := os.ReadFile(l.file)
		if err != nil {
			return nil, studio.Bad("%s: cannot be read; check the name", l.file)
		}
		if look, err = path.ParseLook(data); err != nil {
			return nil, studio.Bad("%s: %v", l.file, err)
		}
	}
	for _, s := range l.sets {
		name, value, ok := strings.Cut(s, "=")
		if !ok {
			return nil, studio.Bad("--set %s: write station.kind.setting=value", s)
		}
		if name == "print.table.id" && value != "none" {
			id, err := studio.LoadTable(value)
			if err != nil {
				return nil, err
			}
			value = id
		}
		if err := look.Set(name, value); err != nil {
			return nil, studio.Bad("--set %s: %v", s, err)
		}
	}
	return look, nil
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
