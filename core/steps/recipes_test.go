package steps

import (
	"math"
	"testing"

	"velours/core/film"
	"velours/core/look"
)

// Every recipe is made of settings there are, keeps what made the shot neutral, and shows a grey as a grey, at a
// brightness one can look at, unless its film or its filters are coloured.
func TestRecipes(t *testing.T) {
	list, err := Recipes()
	if err != nil {
		t.Fatal(err)
	}
	if len(list) < 24 {
		t.Errorf("there are %d recipes", len(list))
	}
	seen := map[string]bool{}
	for _, r := range list {
		if seen[r.ID] || seen[r.Label] || r.Note == "" || r.Era == "" || len(r.Tags) == 0 {
			t.Errorf("%s: it is there twice, or lacks a note, an era or tags", r.ID)
		}
		seen[r.ID], seen[r.Label] = true, true
		l := look.NewLook("x")
		for _, set := range []struct {
			at string
			v  any
		}{{"balance.exposure.stops", 0.5}, {"screen.display.range", 80.0}, {"negative.stock.push", 2.0}, {"finish.overall.film", 20.0}} {
			if err := l.Set(set.at, set.v); err != nil {
				t.Fatal(err)
			}
		}
		c, err := r.Onto(l)
		if err != nil {
			t.Errorf("%s: %v", r.ID, err)
			continue
		}
		if c.Step(look.Balance, "exposure") == nil || c.Step(look.Screen, "display").Settings["range"] != 80.0 {
			t.Errorf("%s: it takes balance or screen away", r.ID)
		}
		if p := c.Step(look.Negative, "stock"); p == nil || p.Settings["push"] == 2.0 && r.Set["negative.stock.push"] != 2.0 {
			t.Errorf("%s: it keeps settings of the film that was there", r.ID)
		}
		code := greyOf(t, c, 0)
		m, err := film.FindMedium(r.Set["print.medium.id"].(string))
		if err != nil {
			t.Fatal(err)
		}
		if code[1] < 0.22 || code[1] > 0.62 {
			t.Errorf("%s: mid grey shows at %.2f", r.ID, code)
		}
		coloured := len(m.Base) > 0 || r.Set["negative.stock.filter"] != nil || r.Set["print.medium.whites"] != nil || r.ID == "attic"
		if most := max(math.Abs(code[0]-code[1]), math.Abs(code[2]-code[1])); most > 0.06 && !coloured {
			t.Errorf("%s: mid grey shows as %.3f", r.ID, code)
		}
	}
}
