package film

import (
	"fmt"
	"math"
	"strings"

	"velours/core/spectrum"
)

// A Status is the three bands in which a densitometer reads red, green and blue: Gaussians about the peaks that ISO 5-3 gives it.
type Status struct {
	ID, Label, Note string
	Middles         [3]float64 // nm
	Width           float64    // standard deviation, nm

	ears  [3]spectrum.Curve
	heard [3]float64
}

// Statuses are those that measurements may be of, the one of scans last.
var Statuses = []*Status{
	newStatus("m", "Status M", "Negatives and what is to be printed: 640, 540 and 450 nm", [3]float64{640, 540, 450}, 10),
	newStatus("a", "Status A", "Prints and slides, to be looked at: 620, 530 and 440 nm", [3]float64{620, 530, 440}, 10),
	newStatus("scan", "Scanner", "A film scanner's: 690, 550 and 445 nm, where the dyes of negatives stand", Filters, 12),
}

func newStatus(id, label, note string, middles [3]float64, width float64) *Status {
	s := &Status{ID: id, Label: label, Note: note, Middles: middles, Width: width}
	for i, nm := range middles {
		s.ears[i] = lobes([]Lobe{{nm, width, 1}})
		for _, v := range s.ears[i] {
			s.heard[i] += v
		}
	}
	return s
}

// FindStatus returns the bands of an id; the error lists those that there are.
func FindStatus(id string) (*Status, error) {
	var all []string
	for _, s := range Statuses {
		if s.ID == id {
			return s, nil
		}
		all = append(all, s.ID)
	}
	return nil, fmt.Errorf("no status %q; there are %s", id, strings.Join(all, ", "))
}

// ReadIn is what a densitometer of a status reads of layer densities d, base and mask included.
func (n *Negative) ReadIn(s *Status, d [3]float64) [3]float64 {
	e := logExposure(n.Spectrum(d), &s.ears)
	for i := range e {
		e[i] = math.Log10(s.heard[i]) - e[i]
	}
	return e
}
