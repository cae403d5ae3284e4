package studio

import (
	"bytes"
	"crypto/sha256"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"

	"velours/core/film"
	"velours/library"
)

// cardFile is a stock's card as a file. A stock of one's own has a digest in its id, so that a look means this very
// one.
func cardFile(s *film.Stock) ([]byte, error) {
	c := *s
	sum := sha256.New()
	c.ID = ""
	if err := json.NewEncoder(sum).Encode(c); err != nil {
		return nil, err
	}
	base, _, _ := strings.Cut(s.ID, ".")
	c.ID = fmt.Sprintf("%s.%x", base, sum.Sum(nil)[:4])
	if c.Mono {
		return json.MarshalIndent(monoCard(&c), "", "  ")
	}
	return json.MarshalIndent(&c, "", "  ")
}

// monoCard gives a black-and-white card its one layer.
func monoCard(s *film.Stock) any {
	doc, err := json.Marshal(s)
	if err != nil {
		return s
	}
	var m map[string]any
	if json.Unmarshal(doc, &m) != nil {
		return s
	}
	layer := m["layers"].([]any)[0].(map[string]any)
	delete(layer, "dye")
	m["layers"] = []any{layer}
	return m
}

// LoadStock makes the stock of a card's file known to this process, and returns its id.
func LoadStock(file string) (string, error) {
	data, err := readCardFile(file)
	if err != nil {
		return "", err
	}
	s, err := film.ParseStock(data)
	if err != nil {
		return "", Bad("%s: %w", file, err)
	}
	if err := film.Know(s); err != nil {
		return "", Bad("%s: %w", file, err)
	}
	return s.ID, nil
}

// AddStock keeps a stock card in the library.
func (s *Assets) AddStock(data []byte) (*library.Asset, error) {
	card, err := film.ParseStock(data)
	if err != nil {
		return nil, BadInput{err}
	}
	card.Family = "Own"
	if !strings.HasPrefix(card.ID, "own-") {
		card.ID = "own-" + card.ID
	}
	file, err := cardFile(card)
	if err != nil {
		return nil, err
	}
	if card, err = film.ParseStock(file); err != nil {
		return nil, err
	}
	a := &library.Asset{Kind: "stock", Key: card.ID, Name: card.Label, File: strings.ReplaceAll(card.ID, ".", "-") + ".json", Data: file}
	return a, s.keep(a)
}

// AddCardFile keeps a card that comes as a file: a stock, a grain card, or an own encoding.
func (s *Assets) AddCardFile(file string, r io.Reader) (*library.Asset, error) {
	data, err := io.ReadAll(io.LimitReader(r, 1<<20))
	if err != nil {
		return nil, Bad("%s: the sending broke off: %w; send it again", file, err)
	}
	var kind struct {
		Layers    []any `json:"layers"`
		Deviation []any `json:"deviation"`
	}
	add := s.AddStock
	switch {
	case json.Unmarshal(data, &kind) != nil:
		return s.AddEncodingFile(file, bytes.NewReader(data))
	case kind.Deviation != nil:
		add = s.AddGrainFile
	case kind.Layers == nil:
		return s.AddEncodingFile(file, bytes.NewReader(data))
	}
	a, err := add(data)
	var bad BadInput
	if errors.As(err, &bad) {
		return nil, Bad("%s: %w", filepath.Base(file), err)
	}
	return a, err
}

// readCardFile reads the file of a card.
func readCardFile(file string) ([]byte, error) {
	data, err := os.ReadFile(file)
	if err != nil {
		return nil, Bad("%s: cannot be read; check the name", file)
	}
	return data, nil
}
