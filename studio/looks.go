package studio

import (
	"encoding/json"
	"fmt"
	"slices"

	"velours/core/cache"
	"velours/core/look"
	"velours/demo"
)

// ReadyLook is a look that can be tried: one that ships, or that of a pin.
type ReadyLook struct {
	ID    string `json:"id"`
	Label string `json:"label"`
	Mood  string `json:"mood,omitempty"`
	Note  string `json:"note"`
	// Kept is its number in the library, 0 for one that is not kept there.
	Kept uint            `json:"kept,omitempty"`
	Look json.RawMessage `json:"look" ts:"Look"`
}

// Read is a stored look as this program reads it: what it cannot read is put aside in it, so that a window that sends it
// back sends nothing that is refused. A document that is no look at all becomes one that says so. Values
// that come of defaults of its time are written out.
func Read(stored string) json.RawMessage {
	doc, err := readLooks.Get(stored, func() (json.RawMessage, error) {
		l, err := look.ParseStored([]byte(stored))
		if err != nil {
			l = look.NewLook("cannot be read")
		}
		l.Settle()
		return l.Stored()
	})
	if err != nil {
		return json.RawMessage("null")
	}
	return doc
}

// readLooks are looks as they were read last: a reel is listed again and again. What can be read of them changes with
// what the library holds.
var readLooks = cache.Results[json.RawMessage]{Size: 1024}

// Looks lists the looks there are: those that ship, then those of pins, newest first.
func (s *Sessions) Looks() ([]ReadyLook, error) {
	list := []ReadyLook{}
	for _, d := range demo.Shots {
		l, err := demo.LookOf(d)
		if err != nil {
			return nil, err
		}
		doc, err := json.Marshal(l)
		if err != nil {
			return nil, err
		}
		list = append(list, ReadyLook{ID: "demo:" + d.Look, Label: d.Name, Note: "The film setting of the demo shot", Look: doc})
	}
	assets, err := s.lib.Assets()
	if err != nil {
		return nil, err
	}
	for i := range slices.Backward(assets) {
		a := &assets[i]
		if a.Kind != "look" || a.Away {
			continue
		}
		saved, _, err := savedLook(a)
		if err != nil { // the others are there all the same
			continue
		}
		list = append(list, ReadyLook{ID: a.Key, Label: a.Name, Mood: saved.Mood, Note: saved.Note, Kept: a.ID, Look: Read(string(saved.Look))})
	}
	pins, err := s.lib.Pins()
	if err != nil {
		return nil, err
	}
	for _, p := range pins {
		if !p.Reference {
			list = append(list, ReadyLook{ID: fmt.Sprintf("pin:%d", p.ID), Label: p.Name, Note: "The settings of a pin", Look: Read(p.Look)})
		}
	}
	return list, nil
}
