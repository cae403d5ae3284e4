package look

import (
	"fmt"
	"strings"
)

// StepPath names a step of a look: its station, and its name there. As text it is station.name; the zero path is none.
type StepPath struct {
	Station Station
	Name    string
}

// ParseStepPath reads station.name, of a step that there is or may be.
func ParseStepPath(text string) (StepPath, error) {
	station, name, _ := strings.Cut(text, ".")
	s, err := ParseStation(station)
	if err == nil {
		_, err = KindOf(s, name)
	}
	if err != nil {
		return StepPath{}, fmt.Errorf("there is no step %q", text)
	}
	return StepPath{s, name}, nil
}

// String is the path as text, empty for none.
func (p StepPath) String() string {
	if p == (StepPath{}) {
		return ""
	}
	return string(p.Station) + "." + p.Name
}

// MarshalText writes the path as text.
func (p StepPath) MarshalText() ([]byte, error) { return []byte(p.String()), nil }

// UnmarshalText reads the path; empty text is none.
func (p *StepPath) UnmarshalText(text []byte) (err error) {
	*p = StepPath{}
	if len(text) > 0 {
		*p, err = ParseStepPath(string(text))
	}
	return err
}
