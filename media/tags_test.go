package media

import "testing"

func TestLater(t *testing.T) {
	for _, c := range []struct {
		from string
		n    int
		rate float64
		want string
	}{
		{"10:00:00:12", 0, 24, "10:00:00:12"}, {"10:00:00:12", 13, 24, "10:00:01:01"}, {"23:59:59:24", 1, 25, "00:00:00:00"},
		{"01:00:00;00", 0, 29.97, "01:00:00;00"}, {"01:00:00;00", 5, 29.97, ""}, {"", 3, 24, ""}, {"00:59:59:23", 1, 23.976, "01:00:00:00"},
	} {
		if got := Later(c.from, c.n, c.rate); got != c.want {
			t.Errorf("%d frames after %q: %q, want %q", c.n, c.from, got, c.want)
		}
	}
}
