package studio

import (
	"bytes"
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/look"
	"velours/core/lut"
	"velours/core/noise"
	"velours/core/steps"
	"velours/library"
)

// Assets are what persons have added to what ships: encodings, tables, stocks, pins, and what they keep in reach.
type Assets struct {
	shared
	sessions *Sessions // for pictures of shots that become assets
}

// maxTable bounds the file of a table.
const maxTable = 300 << 20

// loadAssets makes known what the library holds.
func (s *Assets) loadAssets() error {
	list, err := s.lib.Assets()
	if err != nil {
		return err
	}
	for i := range list {
		if list[i].Away {
			look.PutAway(list[i].Key)
		}
		if err := know(&list[i]); err != nil { // the others, and all shots, are there all the same
			slog.Warn("something in the library cannot be used", "name", list[i].Name, "error", err)
		}
	}
	return nil
}

// know makes one asset usable.
func know(a *library.Asset) error {
	if a.Kind == "encoding" {
		o, err := colour.ParseOwn(a.Data)
		if err != nil {
			return err
		}
		e, err := o.Encoding()
		if err != nil {
			return err
		}
		colour.Know(e)
		return nil
	}
	if a.Kind == "stock" {
		c, err := film.ParseStock(a.Data)
		if err != nil {
			return err
		}
		return film.Know(c)
	}
	if a.Kind == "look" || a.Kind == "ready" { // it is taken, and named by nothing
		return nil
	}
	if a.Kind == "grain" {
		c, err := noise.ParseCard(a.Data)
		if err != nil {
			return err
		}
		noise.Know(c)
		return nil
	}
	l, err := ReadTable(a.File, bytes.NewReader(a.Data))
	if err != nil {
		return err
	}
	if a.After != "" {
		after, err := colour.FindEncoding(a.After)
		if err != nil {
			return err
		}
		colour.Know(colour.ByTable(a.Key, a.Name, l, after))
		return nil
	}
	steps.KnowTable(&steps.Table{ID: a.Key, Label: a.Name, Note: tableNote(l), List: l})
	return nil
}

// tableNote is what a table says of itself, in a line.
func tableNote(l *lut.List) string {
	for _, s := range append([]string{l.Input}, l.Notes...) {
		if s != "" {
			if r := []rune(s); len(r) > 90 {
				return string(r[:90]) + "…"
			}
			return s
		}
	}
	return l.Title
}

// ReadTable reads a .cube, a CLF, or one ASC colour decision, by the ending of its name.
func ReadTable(name string, r io.Reader) (*lut.List, error) {
	switch strings.ToLower(filepath.Ext(name)) {
	case ".cube":
		return lut.ReadCube(r)
	case ".clf":
		return lut.ReadCLF(r)
	case ".cc", ".ccc", ".cdl":
		list, err := lut.ReadCDL(r)
		if err != nil {
			return nil, err
		}
		if len(list) != 1 {
			return nil, fmt.Errorf("holds %d decisions; a step needs a file with one", len(list))
		}
		return &lut.List{Title: list[0].ID, Notes: []string{list[0].Note}, Nodes: []lut.Node{list[0]}}, nil
	}
	return nil, fmt.Errorf("is no table by its name; load a .cube, .clf, .cc, .ccc or .cdl")
}

var notWord = regexp.MustCompile(`[^a-z0-9]+`)

// tableName is what a table is called, and the key by which looks name it: a word and a digest of it.
func tableName(base string, l *lut.List, data []byte, after string) (name, key string) {
	name = strings.TrimSuffix(base, filepath.Ext(base))
	if l.Title != "" && len(l.Title) < 60 {
		name = l.Title
	}
	key = strings.Trim(notWord.ReplaceAllString(strings.ToLower(name), "-"), "-")
	if len(key) > 40 {
		key = key[:40]
	}
	sum := sha256.Sum256(append(data[:len(data):len(data)], after...))
	key = fmt.Sprintf("%s-%x", key, sum[:4])
	if after != "" {
		key = "own-" + key
	}
	return name, key
}

// LoadTable makes the table of a file known to this process, and returns the id by which a look names it.
func LoadTable(file string) (string, error) {
	data, err := os.ReadFile(file)
	if err != nil {
		return "", Bad("%s: cannot be read; check the name", file)
	}
	l, err := ReadTable(file, bytes.NewReader(data))
	if err != nil {
		return "", Bad("%s: %w", file, err)
	}
	name, key := tableName(filepath.Base(file), l, data, "")
	steps.KnowTable(&steps.Table{ID: key, Label: name, Note: tableNote(l), List: l})
	return key, nil
}

// LoadEncoding makes the own encoding of a file known to this process, and returns its id.
func LoadEncoding(file string) (string, error) {
	data, err := os.ReadFile(file)
	if err != nil {
		return "", Bad("%s: cannot be read; check the name", file)
	}
	o, err := colour.ParseOwn(data)
	if err != nil {
		return "", Bad("%s: %w", file, err)
	}
	e, err := o.Encoding()
	if err != nil {
		return "", Bad("%s: %w", file, err)
	}
	colour.Know(e)
	return e.ID, nil
}

// keep saves an asset, makes it usable, and offers it again if it had been put away.
func (s *Assets) keep(a *library.Asset) error {
	if err := s.lib.SaveAsset(a); err != nil {
		return err
	}
	look.Offer(a.Key)
	err := know(a)
	s.tell(Event{Assets: true})
	if err != nil {
		return BadInput{err}
	}
	return nil
}

// AddTable keeps a table in the library: as a step, or, when after names an encoding, as an input that
// leads to it.
func (s *Assets) AddTable(file, after string, r io.Reader) (*library.Asset, error) {
	base := filepath.Base(file)
	data, err := io.ReadAll(io.LimitReader(r, maxTable+1))
	if err != nil {
		return nil, Bad("%s: the sending broke off: %w; send it again", base, err)
	}
	if len(data) > maxTable {
		return nil, Bad("%s: is larger than %d MB", base, maxTable>>20)
	}
	l, err := ReadTable(base, bytes.NewReader(data))
	if err != nil {
		return nil, Bad("%s: %w", base, err)
	}
	if after != "" {
		e, err := colour.FindEncoding(after)
		if err != nil {
			return nil, BadInput{err}
		}
		if e.Through != nil {
			return nil, Bad("%s is itself known as a table; choose an encoding that has a formula", e.Label)
		}
	}
	name, key := tableName(base, l, data, after)
	a := &library.Asset{Kind: "table", Key: key, Name: name, File: base, Data: data, After: after}
	return a, s.keep(a)
}

// AddEncoding keeps an own encoding in the library, in place of one of the same name.
func (s *Assets) AddEncoding(o *colour.Own) (*library.Asset, error) {
	o.Version = colour.OwnVersion
	e, err := o.Encoding()
	if err != nil {
		return nil, Bad("%q cannot be kept: %w", o.Name, err)
	}
	data, err := json.MarshalIndent(o, "", "  ")
	if err != nil {
		return nil, err
	}
	a := &library.Asset{Kind: "encoding", Key: e.ID, Name: o.Name, File: e.ID + ".json", Data: data}
	return a, s.keep(a)
}

// AddEncodingFile keeps an own encoding that comes as its file.
func (s *Assets) AddEncodingFile(file string, r io.Reader) (*library.Asset, error) {
	data, err := io.ReadAll(io.LimitReader(r, 1<<20))
	if err != nil {
		return nil, Bad("%s: the sending broke off: %w; send it again", file, err)
	}
	o, err := colour.ParseOwn(data)
	if err != nil {
		return nil, Bad("%s: %w", filepath.Base(file), err)
	}
	return s.AddEncoding(o)
}

// AllAssets lists what persons have added, but for what was put away.
func (s *Assets) AllAssets() ([]library.Asset, error) {
	list, err := s.lib.Assets()
	return slices.DeleteFunc(list, func(a library.Asset) bool { return a.Away }), err
}

// Asset finds one.
func (s *Assets) Asset(id uint) (*library.Asset, error) { return s.lib.Asset(id) }

// RemoveAsset takes an asset out of the library, unless a shot needs it. One that the past of a shot names, or a pin,
// is put away: it is no longer offered, and undo works.
func (s *Assets) RemoveAsset(id uint) error {
	defer s.tell(Event{Assets: true})
	a, err := s.lib.Asset(id)
	if err != nil {
		return err
	}
	n, err := s.lib.Uses(a.Key)
	if err != nil {
		return err
	}
	if n > 0 {
		return Bad("%s is used by %d of the shots or tables; declare or set those otherwise first", a.Name, n)
	}
	if n, err = s.lib.Remembered(a.Key); err != nil {
		return err
	}
	if n > 0 { // undo reaches back to it, or a pin
		a.Away = true
		look.PutAway(a.Key)
		return s.lib.SaveAsset(a)
	}
	if err := s.lib.RemoveAsset(id); err != nil {
		return err
	}
	colour.Forget(a.Key)
	steps.ForgetTable(a.Key)
	film.Forget(a.Key)
	noise.Forget(a.Key)
	return nil
}
