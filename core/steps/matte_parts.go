package steps

import (
	"velours/core/look"
	"velours/core/matte"
)

const toneHelp = "In stops from mid grey, as light enters the step."

func feather() []look.Setting {
	return []look.Setting{
		{ID: "in", Label: "Feather in", Unit: "% width", Min: 0, Max: 40, Default: 4, Step: 0.1, Curve: 2, Help: "How far it fades inwards of its edge."},
		{ID: "out", Label: "Feather out", Unit: "% width", Min: 0, Max: 40, Default: 4, Step: 0.1, Curve: 2, Help: "How far it fades outwards of its edge."},
	}
}

func place() []look.Setting {
	return []look.Setting{
		{ID: "x", Label: "Across", Unit: "%", Min: -100, Max: 200, Default: 50, Step: 0.1, Help: "Its centre from the left, in per cent of the picture's width."},
		{ID: "y", Label: "Down", Unit: "%", Min: -100, Max: 200, Default: 50, Step: 0.1, Help: "Its centre from the top, in per cent of the picture's height."},
		{ID: "angle", Label: "Turn", Unit: "°", Min: -180, Max: 180, Step: 0.5, Help: "Turns it, clockwise."},
	}
}

func half(w, h float64) []look.Setting {
	return []look.Setting{
		{ID: "a", Label: "Half width", Unit: "% width", Min: 0.2, Max: 150, Default: w, Step: 0.1, Curve: 2, Help: "From the centre to its side."},
		{ID: "b", Label: "Half height", Unit: "% width", Min: 0.2, Max: 150, Default: h, Step: 0.1, Curve: 2, Help: "From the centre to its top, in per cent of the picture's width too, so that equal numbers are round."},
	}
}

func placedOf(v look.Values) matte.Placed {
	return matte.Placed{X: v.Number("x") / 100, Y: v.Number("y") / 100, Angle: v.Number("angle")}
}

func featherOf(v look.Values) matte.Feather {
	return matte.Feather{In: v.Number("in") / 100, Out: v.Number("out") / 100}
}
