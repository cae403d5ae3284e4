package film

import "velours/core/colour"

// Reference is the negative through which the greys of every print are exactly neutral.
func Reference() *Stock { return shipped[0] }

// Straight is a negative that adds nothing of its own: its layers are sensitive to the three channels as they are, over any range,
// and its layers are as steep as those of the reference. It carries a print, halation or grain where no stock is set.
func Straight() *Stock {
	s := *Reference()
	s.ID, s.Label = "straight", "Straight negative"
	s.Separation = [3][3]float64{}
	s.Taking = &colour.Identity
	for i := range s.Layers {
		s.Layers[i] = s.straight(i)
	}
	return &s
}

// straight is a layer without toe and shoulder, as steep as the stock's own. Mid grey is far from both ends.
func (s *Stock) straight(i int) Layer {
	l := s.Layers[i]
	mid := 1.8
	if s.Reversal {
		mid = l.Stated(0) // mid grey keeps its density
	}
	l.DMax, l.Shoulder, l.Toe, l.Measured = mid+2.2, 6, 6, nil
	if s.Reversal {
		l.DMax = 6
		mid = l.DMax - (s.Layers[i].Top() - mid)
	}
	l.Speed = -mid / l.Gamma
	return l
}
