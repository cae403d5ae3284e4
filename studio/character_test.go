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

// Two stocks are set against each other colour by colour; a stock against itself is nowhere apart.
func TestStocksAgainstEachOther(t *testing.T) {
	rows, err := Versus("tulle-400", "vitrail-100")
	if err != nil || len(rows) < 20 {
		t.Fatalf("%d rows, %v", len(rows), err)
	}
	most := 0.0
	for _, r := range rows {
		most = max(most, r.Apart)
		for _, side := range r.Sides {
			if side.Lightness < 0 || side.Lightness > 101 || side.Hue < 0 || side.Hue >= 360 || len(side.Colour) != 7 {
				t.Errorf("%s is %+v", r.Name, side)
			}
		}
		if r.Name == "sky 1" && r.Sides[1].Chroma < 1.3*r.Sides[0].Chroma {
			t.Errorf("the glass stock has a sky of chroma %.0f, the green one %.0f", r.Sides[1].Chroma, r.Sides[0].Chroma)
		}
	}
	if most < 5 {
		t.Errorf("they are %.1f apart at most", most)
	}
	same, err := Versus("tulle-400", "tulle-400")
	if err != nil {
		t.Fatal(err)
	}
	for _, r := range same {
		if r.Apart != 0 {
			t.Errorf("%s is %.2f from itself", r.Name, r.Apart)
		}
	}
	if _, err := Versus("tulle-400", "nix"); err == nil {
		t.Error("a stock that is not there was compared")
	}
}
