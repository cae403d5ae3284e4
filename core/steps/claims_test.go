package steps

import (
	"strings"
	"testing"

	"velours/core/film"
	"velours/core/measure"
)

// Every claim of every card holds, and none holds turned round.
func TestClaimsOfCards(t *testing.T) {
	said := map[string]string{}
	for _, s := range film.Stocks() {
		if n := len(s.Claims); n < 3 || n > 6 {
			t.Errorf("%s makes %d claims; three to six make it itself", s.ID, n)
		}
		var words []string
		for _, c := range s.Claims {
			if err := measure.Check(t.Context(), s, c); err != nil {
				t.Error(err)
			}
			if err := measure.Check(t.Context(), s, measure.Turned(c)); err == nil {
				t.Errorf("%s also keeps the opposite of %q", s.ID, measure.Words(c))
			}
			words = append(words, measure.Words(c))
		}
		all := strings.Join(words, "; ")
		if other := said[all]; other != "" {
			t.Errorf("%s claims what %s does", s.ID, other)
		}
		said[all] = s.ID
		t.Logf("%s: %s", s.Label, all)
	}
}

// A figure that there is not is told, with the card.
func TestClaimsOfNothing(t *testing.T) {
	for _, c := range []film.Claim{{Of: "sky", Figure: "slope"}, {Of: "sand", Figure: "hue"}, {Of: "scale", Figure: "a"}, {Of: "halo", Figure: "b"}, {Of: "red", Figure: "response"}} {
		if _, err := measure.Claimed(t.Context(), film.Reference(), c); err == nil || !strings.Contains(err.Error(), film.Reference().ID) {
			t.Errorf("%v gives %v", c, err)
		}
	}
}
