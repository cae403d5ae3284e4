package steps

import (
	"bytes"
	"math"
	"regexp"
	"strings"
	"testing"

	"velours/core/look"
	"velours/core/render"
)

// why is what a part that was put aside is said to lack, which may be told otherwise the second time.
var why = regexp.MustCompile(`"why":"(\\.|[^"\\])*",?`)

// Whatever was stored, what can be read of it is sound, and nothing of it is lost: it reads again as it was written.
func FuzzParseStored(f *testing.F) {
	for _, s := range []string{
		`{"velours":1,"name":"a","stations":{}}`, `{}`, `{"stations":{"lens":{"steps":[{"kind":"bloom"},{"kind":"swirl"},5,null]},"attic":[]},"mattes":{"m":{"parts":[{"kind":"skin"}]},"":null}}`,
		`{"velours":9,"made":{"process":3,"defaults":{"lens.bloom":{"amount":5,"gone":1}}},"stations":{"balance":{"on":false,"strength":7,"steps":[{"kind":"exposure","id":"exposure-2","settings":{"stops":0.5,"x":1},"y":2,"matte":"m"}],"unread":[{"at":0,"part":{"kind":"exposure"}}]}}}`,
		`{"unread":{"station attic":{"why":"x","part":{}},"name":{"part":"b"}},"stations":{"print":{"steps":[{"kind":"medium","strength":-1,"unread":{"/on":true,"id":"rideau"}}]}}}`,
	} {
		f.Add([]byte(s))
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		l, err := look.ParseStored(data)
		if err != nil {
			return
		}
		if err := l.Check(); err != nil {
			t.Fatalf("what was read does not hold: %v", err)
		}
		out, err := l.Stored()
		if err != nil {
			t.Fatal(err)
		}
		again, err := look.ParseStored(out)
		if err != nil {
			t.Fatalf("it does not read again: %v\n%s", err, out)
		}
		twice, err := again.Stored()
		out, twice = why.ReplaceAll(out, nil), why.ReplaceAll(twice, nil)
		if err != nil || !bytes.Equal(out, twice) {
			t.Fatalf("it changes by being stored: %v\n%s\n%s", err, out, twice)
		}
		render.FilmOf(again)
	})
}

// Points are read as they are written, within their range, rising where they must.
func FuzzPoints(f *testing.F) {
	for _, s := range []string{"", "0:0", "-4:-4.5 0:0.4 3:2.8", "1:NaN", "0x1p3:1", "1e400:2", "a:b", "::", "0:0 0:0", "-12:-12 10:10"} {
		f.Add(s, true)
		f.Add(s, false)
	}
	f.Fuzz(func(t *testing.T, text string, curve bool) {
		s := look.Setting{ID: "p", Points: "outline", Min: -1, Max: 2}
		if curve {
			s = look.Setting{ID: "p", Points: "curve", Min: -12, Max: 10}
		}
		v, err := s.Check(text)
		if err != nil {
			return
		}
		p, err := s.ParsePoints(v.(string))
		if err != nil && !strings.Contains(err.Error(), "left of") { // rounding may bring two together
			t.Fatalf("%q is written as %q: %v", text, v, err)
		}
		for i, q := range p {
			for _, x := range q {
				if math.IsNaN(x) || x < s.Min || x > s.Max {
					t.Fatalf("%q gives %g", text, x)
				}
			}
			if curve && i > 0 && (q[0] < p[i-1][0] || q[1] < p[i-1][1]) {
				t.Fatalf("%q falls", text)
			}
		}
	})
}

// Brackets name a setting and values that it can have.
func FuzzBracket(f *testing.F) {
	for _, s := range []string{"balance.exposure.stops=-1,0,1", "negative.stock.id=all", "print.medium.id=rideau,foyer", "a.b.c=1", "balance.exposure-2.stops=1", "balance.curve.all=0:0", "balance.exposure.stops=", "=", "..=,"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, text string) {
		b, err := look.ParseBracket(text)
		if err != nil {
			return
		}
		if len(b.Values) == 0 || len(b.Values) > look.MostVariants {
			return // told when it is crossed
		}
		list, err := look.Variants(look.NewLook("x"), b)
		if err != nil {
			return
		}
		for i, v := range list {
			if b.Label(i) == "" || v.Look.Check() != nil {
				t.Fatalf("%q: %q", text, b.Label(i))
			}
		}
	})
}
