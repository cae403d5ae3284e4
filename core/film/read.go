package film

import (
	"fmt"
	"velours/core/strict"
)

// ParseStock reads and checks a stock card; the error names the field and its range.
func ParseStock(data []byte) (*Stock, error) {
	s := &Stock{}
	if err := strict.JSON(data, s); err != nil {
		return nil, fmt.Errorf("not a stock card: %w", err)
	}
	if err := s.ready(); err != nil {
		return nil, fmt.Errorf("stock card %s: %w", s.ID, err)
	}
	return s, nil
}

// Ready checks a stock that was made, not read, and prepares it.
func (s *Stock) Ready() error {
	if err := s.ready(); err != nil {
		return fmt.Errorf("stock card %s: %w", s.ID, err)
	}
	return nil
}

func (s *Stock) ready() error {
	if s.Mono { // one layer for all, and a third of the silver in each
		l := s.Layers[0]
		l.Dye = []Lobe{{560, 5000, 1.0 / 3}}
		s.Layers = [3]Layer{l, l, l}
	}
	if err := check(s); err != nil {
		return err
	}
	for i, row := range s.Separation {
		if sum := row[0] + row[1] + row[2]; sum > 1e-6 || sum < -1e-6 {
			return fmt.Errorf("row %d of separation sums to %.3g; every row sums to 0, so that greys stay", i+1, sum)
		}
	}
	for i := range 3 {
		if k := s.OneSided[i][i]; k != 0 {
			return fmt.Errorf("oneSided[%d][%d] is %g; a layer gains nothing from itself, so it is 0", i, i, k)
		}
	}
	if m := s.Taking; m != nil {
		for i := range 3 {
			if sum := m[3*i] + m[3*i+1] + m[3*i+2]; sum > 1+1e-6 || sum < 1-1e-6 {
				return fmt.Errorf("row %d of taking sums to %.3g; every row sums to 1, so that greys stay", i+1, sum)
			}
		}
	}
	for i := range s.Layers {
		l := &s.Layers[i]
		if len(l.Sensitivity) == 0 || len(l.Dye) == 0 {
			return fmt.Errorf("layers[%d] needs a sensitivity and a dye", i)
		}
		var err error
		if s.refine[i], err = l.refined(); err != nil {
			return fmt.Errorf("layers[%d]: %w", i, err)
		}
	}
	s.digest = s.sum()
	return nil
}

func parseMedium(data []byte) (*Medium, error) {
	m := &Medium{}
	if err := strict.JSON(data, m); err != nil {
		return nil, fmt.Errorf("not a medium card: %w", err)
	}
	if m.Mono {
		silver := []Lobe{{560, 5000, 1.0 / 3}}
		m.Sensitivity = [3]Lobe{m.Sensitivity[0], m.Sensitivity[0], m.Sensitivity[0]}
		m.Dyes = [3][]Lobe{silver, silver, silver}
	}
	if err := check(m); err != nil {
		return nil, fmt.Errorf("medium card %s: %w", m.ID, err)
	}
	m.digest = m.sum()
	return m, nil
}
