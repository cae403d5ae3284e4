package studio

import (
	"bytes"
	"encoding/json"
	"testing"

	"velours/core/look"
	"velours/library"
)

// Any edit of any look is done or refused; what is done can be stored and read.
func FuzzEdit(f *testing.F) {
	for _, s := range []string{
		`{"op":"set","station":"balance","kind":"exposure","setting":"stops","value":1}`, `{"op":"set","station":"balance","kind":"curve","values":{"all":"0:0","by":"channels"}}`,
		`{"op":"add","station":"balance","kind":"zones","value":0}`, `{"op":"remove","station":"lens","names":["bloom"]}`, `{"op":"move","station":"balance","kind":"exposure","value":0}`,
		`{"op":"paste","station":"balance","steps":[{"kind":"exposure","strength":1,"settings":{"stops":1},"matte":"m"}],"mattes":{"m":{"parts":[]}}}`,
		`{"op":"cover","name":"m","matte":{"parts":[{"kind":"ellipse","keys":[{"frame":3,"settings":{"x":2}}]}]}}`, `{"op":"rename","name":"m","value":"n"}`, `{"op":"uncover","name":"m"}`,
		`{"op":"matte","station":"lens","kind":"bloom","name":"m"}`, `{"op":"look","look":{"velours":1,"name":"","stations":{"print":{"on":true,"strength":1,"steps":[{"kind":"medium","on":true,"strength":1}]}}}}`,
		`{"op":"declare","value":"logc3"}`, `{"op":"restart"}`, `{"op":"clear","station":"print"}`, `{"op":"strength","station":"lens","value":0.5}`, `{"op":"title","station":"lens","kind":"bloom","name":"x"}`,
		`{"op":"off","station":"lens","kind":"bloom"}`, `{"op":"reset","station":"lens","kind":"bloom","setting":"amount"}`, `{"op":"outside","station":"lens","kind":"bloom","value":true}`,
		`{"op":"source","station":"lens","kind":"bloom","value":true}`, `{"op":"key","station":"lens","kind":"vignette","value":12,"values":{"x":20}}`, `{"op":"unkey","station":"lens","kind":"vignette","value":12}`,
	} {
		f.Add([]byte(s))
	}
	const start = `{"velours":1,"name":"x","stations":{"balance":{"on":true,"strength":1,"steps":[{"kind":"exposure","on":true,"strength":1,"settings":{"stops":0.5},"matte":"m"},{"kind":"contrast","on":true,"strength":1,"settings":{},"matte":null}]},"lens":{"on":true,"strength":1,"steps":[{"kind":"bloom","on":true,"strength":1,"settings":{},"matte":null}]}},"mattes":{"m":{"parts":[{"kind":"tone","settings":{}}]}}}`
	f.Fuzz(func(t *testing.T, data []byte) {
		var e look.Edit
		if json.Unmarshal(data, &e) != nil {
			return
		}
		l, err := look.ParseStored([]byte(start))
		if err != nil {
			t.Fatal(err)
		}
		shot := &library.Document{Look: start, Encoding: "srgb"}
		before, err := l.Stored()
		if err != nil {
			t.Fatal(err)
		}
		after, _, err := edited(start, shot, l, e)
		if err != nil {
			return
		}
		if now, err := l.Stored(); err != nil || e.Op != look.OpEncode && !bytes.Equal(before, now) {
			t.Fatalf("%s changes the look that it was given", data)
		}
		doc, err := marshal(after)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := look.ParseLook([]byte(doc)); err != nil {
			t.Fatalf("%s makes a look that does not hold: %v\n%s", data, err, doc)
		}
	})
}

// Ranges of frames and sizes are read within bounds.
func FuzzRanges(f *testing.F) {
	for _, s := range []string{"", "3", "2-9", "9-2", "-4", "99999999999999999999-1", "1-", "10x20", "16385x1", "0x0", "1e3x5"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, text string) {
		if a, b, err := ParseFrames(text); err == nil && text != "" && (a < 0 || b < a) {
			t.Fatalf("%q: %d to %d", text, a, b)
		}
		if w, h, err := ParseSize(text); err == nil && text != "" && (w < 1 || h < 1 || w > 16384 || h > 16384) {
			t.Fatalf("%q: %d×%d", text, w, h)
		}
	})
}
