package look_test

import (
	"encoding/json"
	"reflect"
	"testing"

	"velours/core/look"
)

func TestMerge(t *testing.T) {
	for _, c := range []struct{ what, base, mine, theirs, want string }{
		{"nothing of mine", `{"a":1}`, `{"a":1}`, `{"a":2}`, `{"a":2}`},
		{"nothing of theirs", `{"a":1}`, `{"a":2}`, `{"a":1}`, `{"a":2}`},
		{"apart", `{"a":1,"b":{"c":1,"d":1}}`, `{"a":2,"b":{"c":1,"d":1}}`, `{"a":1,"b":{"c":1,"d":5}}`, `{"a":2,"b":{"c":1,"d":5}}`},
		{"the same place is theirs", `{"a":1}`, `{"a":2}`, `{"a":3}`, `{"a":3}`},
		{"what came and what went", `{"a":1,"b":1}`, `{"b":1,"x":1}`, `{"a":1,"b":1,"y":1}`, `{"b":1,"x":1,"y":1}`},
		{"went here, changed there", `{"a":1,"b":1}`, `{"b":1}`, `{"a":2,"b":1}`, `{"a":2,"b":1}`},
		{"a step came here, a setting changed there",
			`{"steps":[{"kind":"exposure","settings":{"stops":1}}]}`,
			`{"steps":[{"kind":"exposure","settings":{"stops":1}},{"kind":"white"}]}`,
			`{"steps":[{"kind":"exposure","settings":{"stops":2}},{"kind":"exposure","id":"exposure-2"}]}`,
			`{"steps":[{"kind":"exposure","settings":{"stops":2}},{"kind":"white"},{"kind":"exposure","id":"exposure-2"}]}`},
		{"a step went here, another came there",
			`{"steps":[{"kind":"exposure"},{"kind":"white"}]}`, `{"steps":[{"kind":"white"}]}`, `{"steps":[{"kind":"exposure"},{"kind":"white"},{"kind":"curve"}]}`,
			`{"steps":[{"kind":"white"},{"kind":"curve"}]}`},
		{"lists of other things are whole", `[1,2]`, `[1,2,3]`, `[0,1,2]`, `[0,1,2]`},
	} {
		got, err := look.Merge(c.base, c.mine, c.theirs)
		if err != nil {
			t.Errorf("%s: %v", c.what, err)
		}
		var a, b any
		if json.Unmarshal([]byte(got), &a) != nil || json.Unmarshal([]byte(c.want), &b) != nil || !reflect.DeepEqual(a, b) {
			t.Errorf("%s: %s, want %s", c.what, got, c.want)
		}
	}
	if _, err := look.Merge("{", "{}", "{}"); err == nil {
		t.Error("half a document was merged")
	}
}
