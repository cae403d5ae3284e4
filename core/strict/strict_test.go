package strict

import (
	"strings"
	"testing"
)

func TestJSON(t *testing.T) {
	type card struct {
		Name string  `json:"name"`
		Gain float64 `json:"gain"`
	}
	var c card
	if err := JSON([]byte(` {"name":"x","gain":2} `), &c); err != nil || c != (card{"x", 2}) {
		t.Errorf("%+v, %v", c, err)
	}
	for doc, why := range map[string]string{
		`{"name":"x","grain":2}`: `unknown field "grain"`, `{"name":"x"} {}`: "more after its end", `{"gain":"two"}`: "card.gain", `{"name":`: "unexpected", ``: "EOF",
	} {
		err := JSON([]byte(doc), new(card))
		if err == nil || !strings.Contains(err.Error(), why) || strings.Contains(err.Error(), "Go struct") {
			t.Errorf("%s: %v, want %q in it", doc, err, why)
		}
	}
}
