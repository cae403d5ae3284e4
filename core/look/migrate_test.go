package look_test

import (
	"maps"
	"strings"
	"testing"

	"velours/core/look"
	_ "velours/core/steps"
)

// A look of version 1 could carry the encoding of the footage it was made on. It is read as before without it, strictly
// and tolerantly, and tells which it was.
func TestLooksOfVersion1(t *testing.T) {
	old := `{"velours":1,"name":"old","made":{"process":1,"defaults":{"intake.encoding":{"id":"logc3"}}},"stations":{"intake":{"on":true,"strength":1,"steps":[
		{"kind":"encoding","on":true,"strength":1,"settings":{"id":"slog3"},"matte":null},
		{"kind":"compress","on":true,"strength":0.5,"settings":{},"matte":null}]},
		"balance":{"on":true,"strength":1,"steps":[{"kind":"exposure","on":true,"strength":1,"settings":{"stops":1.25},"matte":null}]}}}`
	if id := look.FormerEncoding([]byte(old)); id != "slog3" {
		t.Errorf("its encoding is %q", id)
	}
	for name, parse := range map[string]func([]byte) (*look.Look, error){"loaded": look.ParseLook, "stored": look.ParseStored} {
		l, err := parse([]byte(old))
		if err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		if st := l.Stations[look.Intake]; len(st.Steps) != 1 || st.Steps[0].Kind != "compress" || st.Steps[0].Strength != 0.5 || len(st.Unread) > 0 || len(l.Unread) > 0 {
			t.Errorf("%s: intake is %+v", name, st)
		}
		if v := l.Step(look.Balance, "exposure").Settings["stops"]; v != 1.25 {
			t.Errorf("%s: exposure is %v", name, v)
		}
		doc, err := l.Stored()
		if err != nil {
			t.Fatal(err)
		}
		if look.FormerEncoding(doc) != "" || strings.Contains(string(doc), "encoding") || !strings.Contains(string(doc), `"velours":2`) {
			t.Errorf("%s: written again it is %s", name, doc)
		}
	}
	// in a look of today the step is a mistake, and is told
	if _, err := look.ParseLook([]byte(strings.Replace(old, `"velours":1`, `"velours":2`, 1))); err == nil || !strings.Contains(err.Error(), `no step "encoding"`) {
		t.Errorf("got %v", err)
	}
	for _, doc := range []string{"", "null", "[]", `{"velours":1}`, `{"velours":1,"stations":[]}`, `{"velours":1,"stations":{"intake":{"steps":[null,7,{"kind":"encoding"}]}}}`} {
		if id := look.FormerEncoding([]byte(doc)); id != "" {
			t.Errorf("%s carried %q", doc, id)
		}
	}
}

// What a look leaves out stands at the default of when it was made; settled, it says so itself, and acts as before.
func TestSettled(t *testing.T) {
	l, err := look.ParseStored([]byte(`{"velours":2,"name":"x","made":{"process":1,"defaults":{"balance.contrast":{"amount":130,"pivot":0},"screen.display":{"range":40}}},"stations":{
		"balance":{"on":true,"strength":1,"steps":[{"kind":"contrast","on":true,"strength":1,"settings":{},"matte":null}]}}}`))
	if err != nil {
		t.Fatal(err)
	}
	values := func(s look.Station, kind string) look.Values {
		k, err := look.FindKind(s, kind)
		if err != nil {
			t.Fatal(err)
		}
		p := l.Step(s, kind)
		if p == nil {
			p = &look.Step{Kind: kind}
		}
		return l.Values(k, p)
	}
	contrast, display := values(look.Balance, "contrast"), values(look.Screen, "display")
	if contrast.Number("amount") != 130 || display.Number("range") != 40 {
		t.Fatalf("it was made with 130 and 40, and is read with %v, %v", contrast, display)
	}
	l.Settle()
	if p := l.Step(look.Balance, "contrast"); p.Settings["amount"] != 130.0 {
		t.Errorf("contrast says %v", p.Settings)
	}
	if p := l.Step(look.Screen, "display"); p == nil || p.Settings["range"] != 40.0 {
		t.Errorf("the display says %v", p)
	}
	if a, b := values(look.Balance, "contrast"), values(look.Screen, "display"); !maps.Equal(a, contrast) || !maps.Equal(b, display) {
		t.Errorf("settled it acts otherwise: %v, %v", a, b)
	}
}
