package shelf

import (
	"errors"
	"fmt"
	"testing"
)

func TestKeepsTheLastFew(t *testing.T) {
	s := Shelf[int]{Size: 3}
	runs := 0
	get := func(k int) int {
		v, err := s.Get(fmt.Sprint(k), func() (int, error) { runs++; return k * k, nil })
		if err != nil {
			t.Fatal(err)
		}
		return v
	}
	for _, k := range []int{1, 2, 3, 2, 1, 3} {
		if get(k) != k*k {
			t.Fatalf("%d gives %d", k, get(k))
		}
	}
	if runs != 3 {
		t.Errorf("%d computations for three keys", runs)
	}
	get(4)
	if get(1); runs != 5 {
		t.Errorf("the oldest should have gone: %d computations", runs)
	}
	if _, err := s.Get("bad", func() (int, error) { return 0, errors.New("no") }); err == nil {
		t.Error("a failure is hidden")
	}
	if v, err := s.Get("bad", func() (int, error) { return 7, nil }); v != 7 || err != nil {
		t.Error("a failure is kept")
	}
}
