package look

import (
	"fmt"
	"maps"
)

// Treatment is the switch and the strength of all that is done to a balanced picture: lens, negative, print and finish. What brings the
// shot in, makes it natural and shows it stays: intake, balance and screen.
type Treatment struct {
	On bool `json:"on"`
	// Strength goes from 0, as if it were off, to 1: the share of it in the finished picture's code values.
	Strength float64 `json:"strength"`
}

// Treats tells whether a station is of the treatment.
func (s Station) Treats() bool { return s == Lens || s == Negative || s == Print || s == Finish }

// TreatedBy is the share, from 0 to 1, by which the treatment as a whole is mixed over the picture without it.
func (l *Look) TreatedBy() float64 {
	switch t := l.Treatment; {
	case t == nil:
		return 1
	case !t.On:
		return 0
	default:
		return t.Strength
	}
}

// Untreated is the look without its treatment.
func (l *Look) Untreated() *Look {
	c := l.Clone()
	c.Treatment = nil
	maps.DeleteFunc(c.Stations, func(s Station, _ *StationInLook) bool { return s.Treats() })
	return c
}

// treat switches or mixes the treatment as a whole.
func treat(e *Edit, l *Look) (string, error) {
	t := Treatment{On: true, Strength: 1}
	if l.Treatment != nil {
		t = *l.Treatment
	}
	label := "Treatment strength"
	switch v := e.Value.(type) {
	case bool:
		t.On = v
		if label = "Treatment on"; !v {
			label = "Treatment off"
		}
	case float64:
		t.Strength = v
	default:
		return "", fmt.Errorf("the treatment is switched by true or false, and mixed by a number from 0 to 1, not by %v", e.Value)
	}
	if l.Treatment = &t; t == (Treatment{true, 1}) {
		l.Treatment = nil
	}
	return label, nil
}

func (t *Treatment) check() error {
	if t != nil && !(t.Strength >= 0 && t.Strength <= 1) {
		return fmt.Errorf("the strength of the treatment is %g; it goes from 0 to 1", t.Strength)
	}
	return nil
}

// joined is what two levels make of the treatment together.
func (t *Treatment) joined(above *Treatment) *Treatment {
	switch {
	case above == nil:
		return t
	case t == nil:
		c := *above
		return &c
	}
	return &Treatment{t.On && above.On, t.Strength * above.Strength}
}
