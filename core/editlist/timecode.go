package editlist

import (
	"fmt"
	"math"
	"strconv"
	"strings"
)

// Rate is how many frames a second there are, as a fraction: 24000/1001 is {24000, 1001}.
type Rate struct{ Num, Den int }

// FPS is the rate as a number.
func (r Rate) FPS() float64 { return float64(r.Num) / float64(r.Den) }

// Nominal is how many frames a second time code counts: 24 for 24000/1001.
func (r Rate) Nominal() int { return int(math.Round(r.FPS())) }

// Dropping tells whether there is drop-frame time code of the rate: 30000/1001 and its multiples.
func (r Rate) Dropping() bool { return r.Den == 1001 && r.Nominal()%30 == 0 }

// ParseRate reads "24", "25/1", "24000/1001" or "23.976".
func ParseRate(text string) (Rate, error) {
	num, den, fraction := strings.Cut(text, "/")
	if fraction {
		n, err := strconv.Atoi(num)
		d, err2 := strconv.Atoi(den)
		if err != nil || err2 != nil || n < 1 || d < 1 || n > 1e7 || d > 1e5 {
			return Rate{}, fmt.Errorf("%q is no frame rate", text)
		}
		return Rate{n, d}, nil
	}
	f, err := strconv.ParseFloat(text, 64)
	if err != nil || !(f >= 1 && f <= 1000) {
		return Rate{}, fmt.Errorf("%q is no frame rate", text)
	}
	return RateOf(f), nil
}

// RateOf is the rate that a number of frames a second means: whole, or a whole number of thousands over 1001 if it is within 0.001 of one.
func RateOf(fps float64) Rate {
	whole := math.Round(fps)
	if math.Abs(fps-whole) < 1e-4 {
		return Rate{int(whole), 1}
	}
	if up := math.Ceil(fps); math.Abs(fps-up*1000/1001) < 1e-3*up {
		return Rate{int(up) * 1000, 1001}
	}
	return Rate{int(math.Round(fps * 1000)), 1000}
}

// ParseTimecode is the number of frames from 00:00:00:00 to a time code. A semicolon or a full stop before the frames means drop-frame, as drop does.
func ParseTimecode(text string, r Rate, drop bool) (int, error) {
	wrong := fmt.Errorf("%q is no time code of %d frames a second", text, r.Nominal())
	fields := strings.FieldsFunc(text, func(c rune) bool { return c == ':' || c == ';' || c == '.' })
	if len(fields) != 4 || strings.Trim(text, "0123456789:;.") != "" {
		return 0, wrong
	}
	drop = (drop || strings.ContainsAny(text, ";.")) && r.Dropping()
	var v [4]int
	for i, f := range fields {
		n, err := strconv.Atoi(f)
		if err != nil || len(f) > 3 {
			return 0, wrong
		}
		v[i] = n
	}
	h, m, s, f := v[0], v[1], v[2], v[3]
	if h > 99 || m > 59 || s > 59 || f >= r.Nominal() {
		return 0, wrong
	}
	n := ((h*60+m)*60+s)*r.Nominal() + f
	if drop { // two numbers of 30 are left out every minute, but every tenth
		n -= r.Nominal() / 15 * (h*60 + m - (h*60+m)/10)
	}
	return n, nil
}

// Timecode is the time code of a frame, counted without dropping.
func Timecode(frame int, r Rate) string {
	n := r.Nominal()
	sign := ""
	if frame < 0 {
		sign, frame = "-", -frame
	}
	s := frame / n
	return fmt.Sprintf("%s%02d:%02d:%02d:%02d", sign, s/3600, s/60%60, s%60, frame%n)
}
