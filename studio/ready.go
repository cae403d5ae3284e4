package studio

import (
	"encoding/json"
	"fmt"
	"strings"

	"velours/core/look"
	"velours/core/strict"
	"velours/library"
)

// OwnReady are settings of a kind of step that a person keeps ready, beside those that ship with it.
type OwnReady struct {
	// Kind is station.kind.
	Kind   string         `json:"kind"`
	Name   string         `json:"name"`
	Values map[string]any `json:"values"`
}

// ParseReady reads what is kept of ready settings.
func ParseReady(data []byte) (*OwnReady, error) {
	r := &OwnReady{}
	if err := strict.JSON(data, r); err != nil {
		return nil, err
	}
	_, err := r.check()
	return r, err
}

func (r *OwnReady) check() (*look.Kind, error) {
	station, id, _ := strings.Cut(r.Kind, ".")
	k, err := look.FindKind(look.Station(station), id)
	if err != nil {
		return nil, Bad("there is no kind %q", r.Kind)
	}
	if len(r.Values) == 0 {
		return nil, Bad("nothing of %s is away from its defaults; set something first", k.Label)
	}
	if err := look.CheckSettings(k.Path(), k.Settings, r.Values); err != nil {
		return nil, BadInput{err}
	}
	return k, nil
}

// KeepReady keeps settings of a kind ready, in place of those of the same name.
func (s *Assets) KeepReady(r OwnReady) (*library.Asset, error) {
	name, err := nameOf("ready setting", r.Name)
	if err != nil {
		return nil, err
	}
	r.Name = name
	if _, err := r.check(); err != nil {
		return nil, err
	}
	data, err := json.Marshal(r)
	if err != nil {
		return nil, err
	}
	a := &library.Asset{Kind: "ready", Key: fmt.Sprintf("ready %s %s", r.Kind, name), Name: name, File: name + ".json", Data: data}
	return a, s.keep(a)
}
