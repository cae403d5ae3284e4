package fit

import (
	"bufio"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"
)

// Wedge is a measured step wedge, by rising log exposure.
type Wedge struct {
	Steps []Step
	// Positive tells that density falls: a reversal stock.
	Positive bool
}

// Step is the exposure of one step, and the densities read of it through red, green and blue.
type Step struct {
	LogE float64
	D    [3]float64
}

// The columns of a wedge, by the names they go under; what is not a letter or a figure does not count.
var columns = map[string][]string{
	"log exposure": {"logexposure", "loge", "logh", "logexp", "exposure"},
	"stops":        {"stops", "stop"},
	"red":          {"red", "r", "dr", "redensity", "reddensity"},
	"green":        {"green", "g", "dg", "greendensity"},
	"blue":         {"blue", "b", "db", "bluedensity"},
	"density":      {"density", "d", "visual", "v"},
}

const (
	fewestSteps = 8
	mostSteps   = 2000
	// noise is how far a density may fall while exposure rises before it is taken for a mistake, and share that of
	// the density itself which may be added.
	noise, share = 0.03, 0.04
)

// ReadWedge reads the densities of a step wedge from a table of text: a line of column names, log exposure (or
// stops) and red, green and blue (or density, for black and white), then a line for each step, in any order. Commas,
// semicolons or tabs part the columns; what follows # does not count. The error names the line and the remedy.
func ReadWedge(r io.Reader) (*Wedge, error) {
	w := &Wedge{}
	var at map[string]int
	lines := bufio.NewScanner(io.LimitReader(r, 1<<20))
	lines.Buffer(make([]byte, 0, 4096), 1<<16)
	for n := 1; lines.Scan(); n++ {
		text, _, _ := strings.Cut(lines.Text(), "#")
		text = strings.TrimSpace(strings.TrimPrefix(text, "\ufeff"))
		if text == "" {
			continue
		}
		fields := split(text)
		if at == nil {
			var err error
			if at, err = header(fields); err != nil {
				return nil, fmt.Errorf("line %d: %w", n, err)
			}
			continue
		}
		var s Step
		for name, i := range at {
			if i >= len(fields) {
				return nil, fmt.Errorf("line %d: there are %d columns, and %s is column %d; fill the line or take it out", n, len(fields), name, i+1)
			}
			v, err := number(fields[i])
			if err != nil {
				return nil, fmt.Errorf("line %d: %s is %q, not a number", n, name, fields[i])
			}
			switch name {
			case "log exposure":
				s.LogE = v
			case "stops":
				s.LogE = v * math.Log10(2)
			case "density":
				s.D = [3]float64{v, v, v}
			default:
				s.D[slices.Index([]string{"red", "green", "blue"}, name)] = v
			}
			if name != "log exposure" && name != "stops" && (v < -0.2 || v > 6) {
				return nil, fmt.Errorf("line %d: %s is %g; densities lie between 0 and 6", n, name, v)
			}
		}
		if w.Steps = append(w.Steps, s); len(w.Steps) > mostSteps {
			return nil, fmt.Errorf("there are more than %d steps", mostSteps)
		}
	}
	if err := lines.Err(); err != nil {
		return nil, fmt.Errorf("it cannot be read as text: %w", err)
	}
	if at == nil {
		return nil, errors.New("it is empty; the first line names the columns: log exposure, red, green, blue")
	}
	return w, w.check()
}

// split parts a line at tabs, semicolons, or commas, whichever it has.
func split(text string) []string {
	sep := ","
	for _, s := range []string{"\t", ";"} {
		if strings.Contains(text, s) {
			sep = s
			break
		}
	}
	fields := strings.Split(text, sep)
	for i := range fields {
		fields[i] = strings.Trim(strings.TrimSpace(fields[i]), `"`)
	}
	return fields
}

// number reads a decimal, with a point or a comma.
func number(s string) (float64, error) {
	v, err := strconv.ParseFloat(strings.ReplaceAll(s, ",", "."), 64)
	if err == nil && (math.IsNaN(v) || math.IsInf(v, 0)) {
		err = strconv.ErrRange
	}
	return v, err
}

func header(fields []string) (map[string]int, error) {
	at := map[string]int{}
	for i, f := range fields {
		plain := strings.Map(func(r rune) rune {
			if r >= 'a' && r <= 'z' || r >= '0' && r <= '9' {
				return r
			}
			return -1
		}, strings.ToLower(f))
		for name, all := range columns {
			if slices.Contains(all, plain) {
				at[name] = i
			}
		}
	}
	has := func(name string) bool { _, ok := at[name]; return ok }
	var missing []string
	if !has("log exposure") && !has("stops") {
		missing = append(missing, "log exposure (or stops)")
	}
	if !has("density") {
		for _, c := range []string{"red", "green", "blue"} {
			if !has(c) {
				missing = append(missing, c)
			}
		}
	}
	if len(missing) > 0 {
		return nil, fmt.Errorf("no column for %s; the first line names the columns: log exposure, red, green, blue", strings.Join(missing, ", "))
	}
	if has("log exposure") && has("stops") {
		delete(at, "stops")
	}
	if has("red") && has("green") && has("blue") {
		delete(at, "density")
	}
	return at, nil
}

// check sorts the steps and refuses what no film does.
func (w *Wedge) check() error {
	slices.SortStableFunc(w.Steps, byExposure)
	n := len(w.Steps)
	if n < fewestSteps {
		return fmt.Errorf("there are %d steps; a curve needs %d at least", n, fewestSteps)
	}
	first, last := w.Steps[0], w.Steps[n-1]
	if last.LogE-first.LogE < 1 {
		return fmt.Errorf("the steps span %.2f of log exposure; a curve needs 1 at least, three and a third stops", last.LogE-first.LogE)
	}
	rise := last.D[1] - first.D[1]
	w.Positive = rise < 0
	if math.Abs(rise) < 0.3 {
		return fmt.Errorf("green goes from %.2f to %.2f over the whole wedge; this is no developed film", first.D[1], last.D[1])
	}
	sign := 1.0
	if w.Positive {
		sign = -1
	}
	for i, name := range []string{"red", "green", "blue"} {
		most := sign * first.D[i]
		for k, s := range w.Steps {
			if k > 0 && s.LogE == w.Steps[k-1].LogE {
				return fmt.Errorf("two steps have log exposure %g; take one out", s.LogE)
			}
			if d := sign * s.D[i]; d < most-noise-share*math.Abs(most) {
				was, verb := most*sign, "falls"
				if w.Positive {
					verb = "rises"
				}
				return fmt.Errorf("at log exposure %.3g %s %s from %.2f to %.2f against the rest; measure the step again or take it out", s.LogE, name, verb, was, s.D[i])
			}
			most = max(most, sign*s.D[i])
		}
	}
	return nil
}

// Mono tells whether all three readings agree on the whole, as those of silver do.
func (w *Wedge) Mono() bool {
	apart := 0.0
	for _, s := range w.Steps {
		apart += (max(s.D[0], s.D[1], s.D[2]) - min(s.D[0], s.D[1], s.D[2])) / float64(len(w.Steps))
	}
	return apart < 0.06
}
