package look_test

import (
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
