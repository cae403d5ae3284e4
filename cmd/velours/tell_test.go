package main

import (
	"bytes"
	"strings"
	"testing"
)

func TestTell(t *testing.T) {
	var out, problems bytes.Buffer
	if code := run([]string{"tell", "--set", "negative.stock.id=serein-500t", "--set", "print.lights.red=3"}, &out, &problems); code != 0 {
		t.Fatalf("%d: %s", code, problems.String())
	}
	for _, want := range []string{"Negative", "Stock: Serein 500T", "Red: +3 points"} {
		if !strings.Contains(out.String(), want) {
			t.Errorf("it lacks %q:\n%s", want, out.String())
		}
	}
	out.Reset()
	if code := run([]string{"tell", "--json", "--set", "lens.bloom.amount=9"}, &out, &problems); code != 0 || !strings.Contains(out.String(), `"kind":"lens.bloom"`) {
		t.Errorf("%d: %s", code, out.String())
	}
	if code := run([]string{"tell", "--look", "/nowhere.json"}, &out, &problems); code != 2 {
		t.Errorf("a look that is not there: %d", code)
	}
}
