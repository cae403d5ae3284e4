package noise

import (
	"fmt"

	"velours/core/registry"
)

// known are the cards there are besides what is measured: those that persons keep. A card's id there holds a digest of it, so that a look that names it
// means this very card.
var known registry.Registry[*Card]

// Know adds a card, in place of one of its id.
func Know(c *Card) { known.Add(c.ID, c) }

// Forget takes a card away.
func Forget(id string) { known.Remove(id) }

// Cards lists them, the oldest first.
func Cards() []*Card { return known.All() }

// Find finds a card by its id.
func Find(id string) (*Card, error) {
	if c, ok := known.Find(id); ok {
		return c, nil
	}
	return nil, fmt.Errorf("there is no grain card %q here; load it first", id)
}
