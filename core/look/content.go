package look

import (
	"encoding/json"
	"sort"
	"strings"
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
			if r := k.Settings[i].Refers; r != nil {
				id := l.Values(k, p).Choice(k.Settings[i].ID)
				named = append(named, r.Key(id, l.DigestFor(r.Card, id)))
			}
		}
	})
	sort.Strings(named)
	return string(doc) + "|" + strings.Join(named, "|"), nil
}
