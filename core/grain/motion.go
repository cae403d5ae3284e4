package grain

import "math"

// Motion says how grain goes on from frame to frame. Its zero value is new grain on every frame.
type Motion struct {
	// Hold is how many frames keep one grain; 0 and 1 are for new grain on every frame.
	Hold int
	// Frozen grain is the same on all frames.
	Frozen bool
	// Every, if above 0, lets one grain flow into the next over so many frames, at the same strength throughout.
	Every float64
}

// fields are the two fields of noise of a frame and their weights, whose squares add up to 1. Both follow from the frame's number alone.
func (m Motion) fields(frame int) (a, b int, ka, kb float32) {
	switch {
	case m.Frozen:
		return 0, 0, 1, 0
	case m.Every > 0:
		u := float64(frame) / m.Every
		at := math.Floor(u)
		sin, cos := math.Sincos((u - at) * math.Pi / 2)
		return int(at), int(at) + 1, float32(cos), float32(sin)
	case m.Hold > 1:
		return int(math.Floor(float64(frame) / float64(m.Hold))), 0, 1, 0
	}
	return frame, 0, 1, 0
}
