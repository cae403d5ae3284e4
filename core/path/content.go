package path

import (
	"encoding/json"
	"sort"
	"strings"

	"velours/core/colour"
	"velours/core/film"
)

// Content is a key of all that a look's picture depends on beside the frame: what the look says, and what is in the
// encoding, cards and tables that it names, not what they are called. Equal keys, equal pictures.
func (l *Look) Content() (string, error) {
	doc, err := json.Marshal(l)
	if err != nil {
		return "", err
	}
	var named []string
	l.Steps(func(k *Kind, p *Step) {
		for i := range k.Settings {
			s := &k.Settings[i]
			if s.Live == nil {
				continue
			}
			id, ok := l.values(k, p)[s.ID].(string)
			if !ok {
				continue
			}
			if e, err := colour.FindEncoding(id); err == nil {
				named = append(named, e.Key())
			}
			if s, err := film.StockAs(id, l.digestFor("stock", id)); err == nil {
				named = append(named, s.Key())
			}
			if m, err := film.MediumAs(id, l.digestFor("medium", id)); err == nil {
				named = append(named, m.Key())
			}
		}
	})
	sort.Strings(named)
	return string(doc) + "|" + strings.Join(named, "|"), nil
}
