package studio

import (
	"bytes"
	"encoding/xml"
	"strings"
	"testing"

	"velours/core/film"
)

// Every stock is drawn, each otherwise, and what is drawn can be read.
func TestCharactersAreDrawn(t *testing.T) {
	seen := map[string]string{}
	for _, s := range film.Stocks() {
		var b bytes.Buffer
		if err := DrawCharacter(t.Context(), &b, s.ID, true); err != nil {
			t.Fatalf("%s: %v", s.ID, err)
		}
		if err := xml.Unmarshal(b.Bytes(), new(struct{ XMLName xml.Name })); err != nil {
			t.Errorf("%s: %v", s.ID, err)
		}
		if n := strings.Count(b.String(), "<image"); n != 2 {
			t.Errorf("%s has %d pictures", s.ID, n)
		}
		body := strings.ReplaceAll(b.String(), s.Label, "")
		if other := seen[body]; other != "" {
			t.Errorf("%s is drawn as %s", s.ID, other)
		}
		seen[body] = s.ID
	}
	if err := DrawCharacter(t.Context(), new(bytes.Buffer), "nix", true); err == nil || !strings.Contains(err.Error(), "nix") {
		t.Errorf("a stock that is not there gives %v", err)
	}
}
