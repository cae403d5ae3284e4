package grain

// Tones are gains of grain by tone: Mids at the Middle, in stops from mid grey, from which Shadows and Highlights are reached after Reach stops,
// smoothly. A gain of 1 leaves the deviation as it is.
type Tones struct{ Shadows, Mids, Highlights, Middle, Reach float64 }

// At is the gain at a brightness of the scene, in stops from mid grey.
func (t Tones) At(stops float64) float64 {
	u := (stops - t.Middle) / t.Reach
	end := t.Highlights
	if u < 0 {
		u, end = -u, t.Shadows
	}
	u = min(u, 1)
	return t.Mids + (end-t.Mids)*u*u*(3-2*u)
}

// Even tells that all gains are 1.
func (t Tones) Even() bool { return t.Shadows == 1 && t.Mids == 1 && t.Highlights == 1 }
