package editlist

import "testing"

// Time codes and the frames they stand for. Those of drop-frame are by SMPTE 12M: numbers 0 and 1 are left out in every minute but every tenth.
func TestTimecode(t *testing.T) {
	film, video, fast := Rate{24, 1}, Rate{30000, 1001}, Rate{60000, 1001}
	for _, c := range []struct {
		text  string
		rate  Rate
		drop  bool
		frame int
	}{
		{"01:00:00:00", film, false, 86400},
		{"10:00:00:05", Rate{24000, 1001}, false, 864005},
		{"00:00:59:29", video, true, 1799},
		{"00:01:00;02", video, false, 1800},
		{"00:10:00;00", video, false, 17982},
		{"01:00:00;00", video, false, 107892},
		{"01:00:00;00", fast, false, 215784},
		{"01:00:00:00", video, false, 108000},
		{"01:00:00;00", film, false, 86400}, // there is no drop-frame of film's rate
		{"00:00:01:59", Rate{60, 1}, false, 119},
	} {
		if got, err := ParseTimecode(c.text, c.rate, c.drop); err != nil || got != c.frame {
			t.Errorf("%s at %d/%d is frame %d (%v), not %d", c.text, c.rate.Num, c.rate.Den, got, err, c.frame)
		}
	}
	for _, text := range []string{"", "1:2:3", "01:00:00:24", "01:60:00:00", "01:00:61:00", "aa:00:00:00", "-1:00:00:00", "01:00:00:0000", "1:1:1:1:1", "٠١:00:00:00"} {
		if n, err := ParseTimecode(text, film, false); err == nil {
			t.Errorf("%q is taken for frame %d", text, n)
		}
	}
	for n := range 30000 { // there and back
		if got, err := ParseTimecode(Timecode(n, film), film, false); err != nil || got != n {
			t.Fatalf("frame %d comes back as %d: %v", n, got, err)
		}
	}
}

func TestRates(t *testing.T) {
	for text, want := range map[string]Rate{"24": {24, 1}, "25/1": {25, 1}, "24000/1001": {24000, 1001}, "23.976": {24000, 1001}, "29.97": {30000, 1001}, "59.94": {60000, 1001}, "12.5": {12500, 1000}} {
		if got, err := ParseRate(text); err != nil || got != want {
			t.Errorf("%q is %v (%v), not %v", text, got, err, want)
		}
	}
	for _, text := range []string{"", "0", "-24", "24/0", "x", "NaN", "1e9", "24/x"} {
		if r, err := ParseRate(text); err == nil {
			t.Errorf("%q is taken for %v", text, r)
		}
	}
}
