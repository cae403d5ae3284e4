package path

import (
	"fmt"

	"velours/core/lut"
	"velours/core/shelf"
)

// Table is a colour table that looks may name.
type Table struct {
	ID, Label, Note string
	List            *lut.List
}

// known are the tables there are. A table's id holds a digest of what it does, so that a look that names
// it means this very table.
var known shelf.Register[*Table]

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
func tableChoices() []Choice {
	c := []Choice{{ID: "none", Label: "None"}}
	for _, t := range known.All() {
		c = append(c, Choice{ID: t.ID, Label: t.Label, Note: t.Note, Away: isAway(t.ID)})
	}
	return c
}
