package film

import (
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"slices"
	"velours/core/registry"
)

// Digest is a short digest of what a card does, whatever it is called and said of it; empty for a stock that was not
// read from a card.
func (s *Stock) Digest() string { return s.digest }

// Key tells stocks apart by what they do: equal keys, equal pictures.
func (s *Stock) Key() string { return s.ID + "@" + s.digest }

// Digest is that of the medium's card, as of a stock's.
func (m *Medium) Digest() string { return m.digest }

// Key tells media apart by what they do.
func (m *Medium) Key() string { return m.ID + "@" + m.digest }

// digestOf is a digest of a card without its words.
func digestOf(card any) string {
	data, err := json.Marshal(card)
	if err != nil { // cards hold numbers and text alone
		panic(fmt.Sprintf("film: %v", err))
	}
	return fmt.Sprintf("%x", sha256.Sum256(data))[:16]
}

func (s *Stock) sum() string {
	c := *s
	c.ID, c.Label, c.Family, c.Note, c.Era, c.Tags, c.Claims, c.Printed = "", "", "", "", "", nil, nil, nil
	return digestOf(&c)
}

func (m *Medium) sum() string {
	c := *m
	c.ID, c.Label, c.Family, c.Note, c.Tags = "", "", "", "", nil
	return digestOf(&c)
}

// earlier are cards as they were when looks were made with them, by kind, id and digest.
var earlier registry.Registry[any]

// Remember makes a card known beside the one that now has its id, for the looks that were made with it (StockAs,
// MediumAs). kind is stock or medium. It returns the card's kind, id and digest: "stock id@digest".
func Remember(kind string, data []byte) (key string, err error) {
	switch kind {
	case "stock":
		s, err := ParseStock(data)
		if err != nil {
			return "", err
		}
		key = "stock " + s.Key()
		earlier.Add(key, s)
	case "medium":
		m, err := parseMedium(data)
		if err != nil {
			return "", err
		}
		key = "medium " + m.Key()
		earlier.Add(key, m)
	default:
		return "", fmt.Errorf("a card of a %s is not kept", kind)
	}
	return key, nil
}

// StockAs is the stock of an id as it was when it had a digest; without one, or where that card is not known, as it is.
func StockAs(id, digest string) (*Stock, error) {
	s, err := FindStock(id)
	if digest == "" || err == nil && s.digest == digest {
		return s, err
	}
	if old, ok := earlier.Find("stock " + id + "@" + digest); ok {
		return old.(*Stock), nil
	}
	for _, b := range before {
		if old := b.stocks()[id]; old != nil && old.digest == digest {
			return old, nil
		}
	}
	return s, err
}

// EarlierDigest is the digest of the card by which a look of a process goes on with a stock: the one it noted, if that card is
// known; otherwise, and where it noted none (""), that of the card as it shipped for the process, if it was another then.
func EarlierDigest(id, noted string, process int) string {
	for _, b := range before {
		if process >= b.process {
			continue
		}
		old := b.stocks()[id]
		if old == nil {
			continue
		}
		if s, err := StockAs(id, noted); noted != "" && err == nil && s.digest == noted {
			return noted
		}
		return old.digest
	}
	return noted
}

// MediumAs is StockAs for media.
func MediumAs(id, digest string) (*Medium, error) {
	m, err := FindMedium(id)
	if digest == "" || err == nil && m.digest == digest {
		return m, err
	}
	if old, ok := earlier.Find("medium " + id + "@" + digest); ok {
		return old.(*Medium), nil
	}
	return m, err
}

// Ships tells that a stock is one of those that come with the program.
func (s *Stock) Ships() bool {
	return slices.ContainsFunc(shipped, func(t *Stock) bool { return t.ID == s.ID })
}

// ShippedCard is the card file of a stock or medium that ships, nil for others.
func ShippedCard(kind, id string) []byte {
	dir := map[string]string{"stock": "stocks", "medium": "media"}[kind]
	if kind == "stock" && !slices.ContainsFunc(shipped, func(s *Stock) bool { return s.ID == id }) || kind == "medium" && !slices.ContainsFunc(media, func(m *Medium) bool { return m.ID == id }) {
		return nil
	}
	return card(dir, id)
}
