package steps

import (
	"fmt"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/look"
	"velours/core/lut"
	"velours/core/registry"
	"velours/core/render"
)

func init() { look.Declare(tableKind) }

var tableKind = &look.Kind{
	ID: "table", Place: 20, Station: look.Print, Label: "Table print", HasStrength: true, Film: true,
	Purpose: "Prints with a table from elsewhere, in the medium's place. Light is brought to the codes that the table expects, and what it gives is taken for those of the display it was made for.",
	Settings: []look.Setting{
		{
			ID: "id", Label: "Table", Live: tableChoices,
			Help: "A .cube or CLF that you have loaded. None leaves the print to the medium.",
		},
		{
			ID: "from", Label: "Expects", Live: expectedChoices, Refers: encodingReference,
			Help: "The encoding of the picture that the table was made for; print tables mostly expect printing-density log. It is written in the table's notes, or was told with it.",
		},
		{
			ID: "to", Label: "Made for", Choices: displayChoices(),
			Help: "The display whose code values come out of the table.",
		},
	},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		t, err := FindTable(v.Choice("id"))
		if err != nil {
			return // none
		}
		from, _ := colour.FindEncoding(v.Choice("from"))
		to, _ := colour.FindDisplay(v.Choice("to"))
		b.Film.Table, b.Film.TableMix = &film.Through{ID: t.ID + " " + from.Key() + " " + to.ID, Table: t.List, From: from, To: to}, s
	}},
}

// encodingReference tells encodings by their numbers: one of a person's own may be corrected under the same id.
var encodingReference = &look.Reference{Key: func(id, _ string) string {
	e, err := colour.FindEncoding(id)
	if err != nil {
		return id
	}
	return e.Key()
}}

// expectedChoices are the encodings that light can be written in, the usual one of print tables first.
func expectedChoices() []look.Choice {
	c := []look.Choice{{ID: "printing-density", Label: "Printing-density log"}}
	for _, e := range colour.Encodings() {
		if e.Encode != nil && e.ID != "printing-density" {
			c = append(c, look.Choice{ID: e.ID, Label: e.Label, Away: look.IsAway(e.ID)})
		}
	}
	return c
}

// Table is a colour table that looks may name.
type Table struct {
	ID, Label, Note string
	List            *lut.List
}

// known are the tables there are. A table's id holds a digest of what it does, so that a look that names
// it means this very table.
var known registry.Registry[*Table]

// KnowTable adds a table, in place of one of its id.
func KnowTable(t *Table) { known.Add(t.ID, t) }

// ForgetTable takes a table away.
func ForgetTable(id string) { known.Remove(id) }

// FindTable finds a table by its id.
func FindTable(id string) (*Table, error) {
	for _, t := range known.All() {
		if t.ID == id {
			return t, nil
		}
	}
	return nil, fmt.Errorf("there is no table %q here; load it first", id)
}

// tableChoices are no table, and all there are.
func tableChoices() []look.Choice {
	c := []look.Choice{{ID: "none", Label: "None"}}
	for _, t := range known.All() {
		c = append(c, look.Choice{ID: t.ID, Label: t.Label, Note: t.Note, Away: look.IsAway(t.ID)})
	}
	return c
}
