package registry

import (
	"slices"
	"testing"
)

func TestRegister(t *testing.T) {
	var r Registry[string]
	r.Add("a", "one")
	r.Add("b", "two")
	before := r.All()
	r.Add("a", "three")
	r.Remove("none")
	if got := r.All(); !slices.Equal(got, []string{"two", "three"}) {
		t.Errorf("got %v", got)
	}
	r.Remove("b")
	if got := r.All(); !slices.Equal(got, []string{"three"}) || !slices.Equal(before, []string{"one", "two"}) {
		t.Errorf("got %v, and what was given out became %v", got, before)
	}
}
