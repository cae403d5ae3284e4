package steps

import (
	"strings"
	"testing"

	"velours/core/film"
	"velours/core/look"
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
	for _, c := range []film.Claim{{Of: "sky", Figure: "slope"}, {Of: "sand", Figure: "hue"}, {Of: "scale", Figure: "a"}, {Of: "halo", Figure: "b"}, {Of: "red", Figure: "response"}, {Of: "detail", Figure: "hue"}} {
		if _, err := measure.Claimed(t.Context(), film.Reference(), c); err == nil || !strings.Contains(err.Error(), film.Reference().ID) {
			t.Errorf("%v gives %v", c, err)
		}
	}
}

// A look of before goes on with the stock it had, whatever ships now; what is chosen in it afterwards is today's, before it is
// stored and after; a card that it noted and that is not known is the one of its process.
func TestLooksKeepTheirStocks(t *testing.T) {
	was := film.EarlierDigest("corail-200t", "", 2)
	now, err := film.FindStock("corail-200t")
	if err != nil || was == "" || was == now.Digest() || film.EarlierDigest("corail-200t", "", 4) != "" || film.EarlierDigest("aubade-250d", "", 1) != "" {
		t.Fatalf("before %q, now %q, %v", was, now.Digest(), err)
	}
	const key = "stock corail-200t"
	of3 := film.EarlierDigest("corail-200t", "", 3)
	text := func(made string) []byte {
		return []byte(`{"velours": 1, "name": "x", ` + made + `"stations": {"negative": {"on": true, "strength": 1, "steps": [{"kind": "stock", "on": true, "strength": 1, "settings": {"id": "corail-200t"}}]}}}`)
	}
	for _, c := range []struct{ name, made, want string }{
		{"unsigned", "", was},
		{"signed then", `"made": {"process": 2, "cards": {"` + key + `": "` + was + `"}}, `, was},
		{"signed with a card that is not known", `"made": {"process": 1, "cards": {"` + key + `": "0123456789abcdef"}}, `, was},
		{"chosen since", `"made": {"process": 2, "cards": {"stock mine-50": "x"}}, `, ""},
		{"of process 3", `"made": {"process": 3, "cards": {"` + key + `": "` + of3 + `"}}, `, of3},
		{"of today", `"made": {"process": 4}, `, ""},
	} {
		for _, parse := range []func([]byte) (*look.Look, error){look.ParseLook, look.ParseStored} {
			l, err := parse(text(c.made))
			if err != nil {
				t.Fatalf("%s: %v", c.name, err)
			}
			if got := l.DigestFor("stock", "corail-200t"); got != c.want {
				t.Errorf("%s: goes by %q, want %q", c.name, got, c.want)
			}
			l.Sign()
			want := c.want
			if want == "" {
				want = now.Digest()
			}
			if got := l.DigestFor("stock", "corail-200t"); got != want {
				t.Errorf("%s: stored, it goes by %q, want %q", c.name, got, want)
			}
		}
	}
}
