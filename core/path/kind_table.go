package path

import (
	"velours/core/colour"
	"velours/core/film"
)

var tableKind = &Kind{
	ID: "table", Station: Print, Label: "Table print", Mixes: true, Film: true,
	Purpose: "Prints with a table from elsewhere, in the medium's place. Light is brought to the codes that the table expects, and what it gives is taken for those of the display it was made for.",
	Settings: []Setting{
		{
			ID: "id", Label: "Table", Live: tableChoices,
			Help: "A .cube or CLF that you have loaded. None leaves the print to the medium.",
		},
		{
			ID: "from", Label: "Expects", Live: expectedChoices,
			Help: "The encoding of the picture that the table was made for; print tables mostly expect printing-density log. It is written in the table's notes, or was told with it.",
		},
		{
			ID: "to", Label: "Made for", Choices: displayChoices(),
			Help: "The display whose code values come out of the table.",
		},
	},
	apply: func(b *builder, v values, s float64) {
		t, err := FindTable(v.choice("id"))
		if err != nil {
			return // none
		}
		from, _ := colour.FindEncoding(v.choice("from"))
		to, _ := colour.FindDisplay(v.choice("to"))
		b.film.table, b.film.tableMix = &film.Through{ID: t.ID + " " + from.Key() + " " + to.ID, Table: t.List, From: from, To: to}, s
	},
}

// expectedChoices are the encodings that light can be written in, the usual one of print tables first.
func expectedChoices() []Choice {
	c := []Choice{{ID: "printing-density", Label: "Printing-density log"}}
	for _, e := range colour.Encodings() {
		if e.Encode != nil && e.ID != "printing-density" {
			c = append(c, Choice{ID: e.ID, Label: e.Label, Away: isAway(e.ID)})
		}
	}
	return c
}
