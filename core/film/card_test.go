package film

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"
)

// follows holds a JSON value to a schema as far as cards use it: types, required and unknown keys, lengths, ranges.
func follows(at string, schema map[string]any, v any) error {
	number := func(key string) (float64, bool) {
		switch n := schema[key].(type) {
		case float64:
			return n, true
		case int:
			return float64(n), true
		}
		return 0, false
	}
	switch schema["type"] {
	case "object":
		m, ok := v.(map[string]any)
		if !ok {
			return fmt.Errorf("%s is no object", at)
		}
		properties := schema["properties"].(map[string]any)
		for _, key := range schema["required"].([]any) {
			if _, ok := m[key.(string)]; !ok {
				return fmt.Errorf("%s lacks %s", at, key)
			}
		}
		for key, x := range m {
			p, ok := properties[key]
			if !ok {
				return fmt.Errorf("%s has %s, which the schema does not know", at, key)
			}
			if err := follows(at+"."+key, p.(map[string]any), x); err != nil {
				return err
			}
		}
	case "array":
		list, ok := v.([]any)
		if !ok {
			return fmt.Errorf("%s is no list", at)
		}
		if n, ok := number("minItems"); ok && float64(len(list)) < n {
			return fmt.Errorf("%s has %d items", at, len(list))
		}
		if n, ok := number("maxItems"); ok && float64(len(list)) > n {
			return fmt.Errorf("%s has %d items", at, len(list))
		}
		for i, x := range list {
			if err := follows(fmt.Sprintf("%s[%d]", at, i), schema["items"].(map[string]any), x); err != nil {
				return err
			}
		}
	case "number":
		x, ok := v.(float64)
		if !ok {
			return fmt.Errorf("%s is no number", at)
		}
		if lo, ok := number("minimum"); ok && x < lo {
			return fmt.Errorf("%s is %g, below %g", at, x, lo)
		}
		if hi, ok := number("maximum"); ok && x > hi {
			return fmt.Errorf("%s is %g, above %g", at, x, hi)
		}
	case "string":
		if _, ok := v.(string); !ok {
			return fmt.Errorf("%s is no text", at)
		}
	case "boolean":
		if _, ok := v.(bool); !ok {
			return fmt.Errorf("%s is neither true nor false", at)
		}
	}
	return nil
}

// Every card that ships follows the published schema, and every field of it says what it is.
func TestCardsFollowTheSchema(t *testing.T) {
	described := func(name string, schema map[string]any) {
		for key, p := range schema["properties"].(map[string]any) {
			if p.(map[string]any)["description"] == "" {
				t.Errorf("%s.%s is not described", name, key)
			}
		}
	}
	described("stock", StockSchema())
	described("medium", MediumSchema())
	for dir, schema := range map[string]map[string]any{"stocks": StockSchema(), "media": MediumSchema()} {
		files, err := cards.ReadDir(dir)
		if err != nil {
			t.Fatal(err)
		}
		want := len(Media())
		if dir == "stocks" {
			want = len(shipped)
		}
		if len(files) != want {
			t.Errorf("%d cards in %s, %d are listed", len(files), dir, want)
		}
		for _, f := range files {
			data, err := cards.ReadFile(dir + "/" + f.Name())
			if err != nil {
				t.Fatal(err)
			}
			var v any
			if err := json.Unmarshal(data, &v); err != nil {
				t.Fatal(err)
			}
			if err := follows(strings.TrimSuffix(f.Name(), ".json"), schema, v); err != nil {
				t.Error(err)
			}
		}
	}
}

// What is wrong with a card is told by field and range.
func TestBadCardsSayWhy(t *testing.T) {
	good := string(card("stocks", "aubade-250d"))
	for _, c := range []struct{ from, to, why string }{
		{`"gamma": 0.58`, `"gamma": 9`, "layers[0].gamma is 9; it goes from 0.1 to 4"},
		{`"mask": 0.85`, `"mask": 1.5`, "mask is 1.5"},
		{`"note": "The plain`, `"nota": "The plain`, "nota"},
		{`"label": "Aubade 250D"`, `"label": ""`, "label is empty"},
		{`[0.3, -0.22, -0.08]`, `[0.3, -0.1, -0.08]`, "row 1 of separation sums to 0.12"},
		{`"velours": 1`, `"velours": 2`, "velours is 2"},
		{`"shoulder": 3.6,`, `"shoulder": 3.6, "measured": [[0, 1], [0, 1.2], [1, 1.4]],`, "rise in log exposure"},
		{`"shoulder": 3.6,`, `"shoulder": 3.6, "measured": [[-2, 0.1]],`, "beside the curve"},
		{`"granularity": 5,`, `"granularity": 5, "taking": [1, 0.5, 0, 0, 1, 0, 0, 0, 1],`, "row 1 of taking sums to 1.5"},
		{good[len(good)-3:], good[len(good)-3:] + "{}", "more after its end"},
	} {
		text := strings.Replace(good, c.from, c.to, 1)
		if text == good {
			t.Fatalf("%q is not in the card", c.from)
		}
		if _, err := ParseStock([]byte(text)); err == nil || !strings.Contains(err.Error(), c.why) {
			t.Errorf("%s: %v, want %q", c.to, err, c.why)
		}
	}
	s, err := ParseStock([]byte(good))
	if err != nil {
		t.Fatal(err)
	}
	if err := Know(s); err == nil {
		t.Error("a stock took the id of one that ships")
	}
	s.ID = "own-test.00000000"
	if err := Know(s); err != nil {
		t.Fatal(err)
	}
	defer Forget(s.ID)
	if q, err := FindStock(s.ID); err != nil || q != s || len(Stocks()) != len(shipped)+1 {
		t.Errorf("an own stock: %v", err)
	}
}

// Whatever is read as a card is one that develops: densities are numbers, and rise or fall all the way.
func FuzzParseStock(f *testing.F) {
	for _, id := range []string{"aubade-250d", "brocart-100", "mine-50"} {
		f.Add(card("stocks", id))
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		s, err := ParseStock(data)
		if err != nil {
			return
		}
		n := Develop(s, Process{Strength: 1})
		for i := range 3 {
			last, sign := -1e9, 1.0
			if n.Positive() {
				sign = -1
			}
			for x := -3.0; x <= 3; x += 0.25 {
				d := sign * n.Curve(i, x)
				if d != d || d < last-1e-9 {
					t.Fatalf("layer %d is %g after %g at %g", i, d, last, x)
				}
				last = d
			}
		}
	})
}

// Any bytes are a medium card that holds, or a mistake that is told.
func FuzzParseMedium(f *testing.F) {
	for _, m := range Media() {
		f.Add(ShippedCard("medium", m.ID))
	}
	f.Add([]byte(`{"velours":1,"id":"x"}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		m, err := parseMedium(data)
		if err != nil {
			return
		}
		if m.ID == "" || m.Digest() == "" {
			t.Fatalf("%+v", m)
		}
	})
}
