package path

import (
	"math"

	"velours/core/grade"
	"velours/core/matte"
)

// matteSettings are those of a whole matte.
var matteSettings = []Setting{
	{ID: "grow", Label: "Grow", Unit: "% width", Min: -5, Max: 5, Step: 0.02, Help: "Moves the edge outwards; below 0 inwards. A little inwards hides a rim that the key has caught."},
	{ID: "refine", Label: "Draw to edges", Unit: "% width", Min: 0, Max: 3, Step: 0.05, Help: "Lets the edge find the outlines of things in the picture nearby. It helps a rough shape fit, and hair keep its own edge."},
	{ID: "blur", Label: "Soften", Unit: "% width", Min: 0, Max: 5, Step: 0.02, Help: "Softens the edge all around. Enough that you do not see where the correction ends."},
}

// MatteSettings are the settings of a whole matte: grow, refine and blur.
func MatteSettings() []Setting { return matteSettings }

const toneHelp = "In stops from mid grey, as light enters the step."

func feather() []Setting {
	return []Setting{
		{ID: "in", Label: "Feather in", Unit: "% width", Min: 0, Max: 40, Default: 4, Step: 0.1, Curve: 2, Help: "How far it fades inwards of its edge."},
		{ID: "out", Label: "Feather out", Unit: "% width", Min: 0, Max: 40, Default: 4, Step: 0.1, Curve: 2, Help: "How far it fades outwards of its edge."},
	}
}

func place() []Setting {
	return []Setting{
		{ID: "x", Label: "Across", Unit: "%", Min: -100, Max: 200, Default: 50, Step: 0.1, Help: "Its centre from the left, in per cent of the picture's width."},
		{ID: "y", Label: "Down", Unit: "%", Min: -100, Max: 200, Default: 50, Step: 0.1, Help: "Its centre from the top, in per cent of the picture's height."},
		{ID: "angle", Label: "Turn", Unit: "°", Min: -180, Max: 180, Step: 0.5, Help: "Turns it, clockwise."},
	}
}

func half(w, h float64) []Setting {
	return []Setting{
		{ID: "a", Label: "Half width", Unit: "% width", Min: 0.2, Max: 150, Default: w, Step: 0.1, Curve: 2, Help: "From the centre to its side."},
		{ID: "b", Label: "Half height", Unit: "% width", Min: 0.2, Max: 150, Default: h, Step: 0.1, Curve: 2, Help: "From the centre to its top, in per cent of the picture's width too, so that equal numbers are round."},
	}
}

func join(lists ...[]Setting) []Setting {
	var out []Setting
	for _, l := range lists {
		out = append(out, l...)
	}
	return out
}

func (v values) placed() matte.Placed {
	return matte.Placed{X: v.number("x") / 100, Y: v.number("y") / 100, Angle: v.number("angle")}
}

func (v values) feather() matte.Feather {
	return matte.Feather{In: v.number("in") / 100, Out: v.number("out") / 100}
}

var matteKinds = []*MatteKind{
	{
		ID: "ellipse", Label: "Ellipse", Purpose: "A round shape, handled on the picture.", Shape: true,
		Settings: join(place(), half(18, 18), feather()),
		part: func(v values) matte.Part {
			return matte.Ellipse{Placed: v.placed(), A: v.number("a") / 100, B: v.number("b") / 100, Feather: v.feather()}
		},
	},
	{
		ID: "rectangle", Label: "Rectangle", Purpose: "A straight-sided shape, handled on the picture.", Shape: true,
		Settings: join(place(), half(20, 14), feather()),
		part: func(v values) matte.Part {
			return matte.Rectangle{Placed: v.placed(), A: v.number("a") / 100, B: v.number("b") / 100, Feather: v.feather()}
		},
	},
	{
		ID: "gradient", Label: "Gradient", Purpose: "One side of the picture, fading across a line: a sky, a floor.", Shape: true,
		Settings: join(place(), []Setting{{ID: "length", Label: "Fade", Unit: "% width", Min: 0.1, Max: 150, Default: 25, Step: 0.5, Curve: 2, Help: "How far it takes from all to nothing. At 0° the top is covered."}}),
		part: func(v values) matte.Part {
			return matte.Gradient{Placed: v.placed(), Length: v.number("length") / 100}
		},
	},
	{
		ID: "polygon", Label: "Drawn", Purpose: "A shape drawn point by point on the picture, with straight sides or curved ones.", Shape: true,
		Settings: join([]Setting{
			{ID: "points", Label: "Points", Points: "outline", Min: -1, Max: 2, Help: "The corners, x:y in shares of width and height."},
			{ID: "sides", Label: "Sides", Choices: []Choice{{ID: "curved", Label: "Curved"}, {ID: "straight", Label: "Straight"}}, Help: "Curved lets the outline swing through its points; straight joins them by lines."},
		}, feather()),
		part: func(v values) matte.Part {
			return matte.Polygon{Points: v.points("points"), Curved: v.choice("sides") == "curved", Feather: v.feather()}
		},
	},
	{
		ID: "tone", Label: "Tones", Purpose: "A range of brightness.", Picks: true,
		Settings: []Setting{
			{ID: "low", Label: "From", Unit: "stops", Min: -12, Max: 10, Default: 1, Step: 0.05, Help: "The darkest tone that is covered. " + toneHelp},
			{ID: "high", Label: "To", Unit: "stops", Min: -12, Max: 10, Default: 10, Step: 0.05, Help: "The brightest tone that is covered. " + toneHelp},
			{ID: "soft", Label: "Soft", Unit: "stops", Min: 0, Max: 6, Default: 1, Step: 0.05, Help: "How far it fades beyond both ends. Wide is safe: a hard key crawls."},
		},
		part: func(v values) matte.Part {
			return matte.Tone{Low: v.number("low"), High: v.number("high"), Soft: v.number("soft")}
		},
	},
	{
		ID: "colour", Label: "Hues", Purpose: "A range of hue, of strength of colour and of brightness.", Picks: true,
		Settings: []Setting{
			{ID: "hue", Label: "Hue", Unit: "°", Min: 0, Max: 360, Default: 260, Step: 1, Help: "The middle of the range: red 25°, yellow 105°, green 145°, blue 260°. Pick it from the picture."},
			{ID: "width", Label: "Width", Unit: "°", Min: 1, Max: 180, Default: 30, Step: 1, Help: "How far it reaches to either side."},
			{ID: "low-chroma", Label: "Chroma from", Unit: "%", Min: 0, Max: 60, Default: 4, Step: 0.5, Help: "Paler colours than this are left alone."},
			{ID: "high-chroma", Label: "Chroma to", Unit: "%", Min: 0, Max: 60, Default: 60, Step: 0.5, Help: "Stronger colours than this are left alone."},
			{ID: "low", Label: "From", Unit: "stops", Min: -12, Max: 10, Default: -12, Step: 0.1, Help: "The darkest tone that is covered. " + toneHelp},
			{ID: "high", Label: "To", Unit: "stops", Min: -12, Max: 10, Default: 10, Step: 0.1, Help: "The brightest tone that is covered. " + toneHelp},
			{ID: "soft", Label: "Soft", Unit: "%", Min: 0, Max: 100, Default: 40, Step: 1, Help: "How gently the ranges end. Wide is safe: a hard key crawls."},
		},
		part: func(v values) matte.Part {
			high := v.number("high-chroma") / 100
			if high >= 0.6 {
				high = math.Inf(1)
			}
			return matte.Colour{Hue: v.number("hue"), Width: v.number("width"), LowChroma: v.number("low-chroma") / 100, HighChroma: high, Low: v.number("low"), High: v.number("high"), Soft: v.number("soft") / 100}
		},
	},
	{
		ID: "picked", Label: "Picked colour", Purpose: "What is like a colour picked from the picture.", Picks: true,
		Settings: []Setting{
			{ID: "red", Label: "Red", Unit: "light", Min: -1, Max: 100, Default: 0.18, Step: 0.001, Help: "The picked light, linear. Pick it from the picture."},
			{ID: "green", Label: "Green", Unit: "light", Min: -1, Max: 100, Default: 0.18, Step: 0.001, Help: "The picked light, linear. Pick it from the picture."},
			{ID: "blue", Label: "Blue", Unit: "light", Min: -1, Max: 100, Default: 0.18, Step: 0.001, Help: "The picked light, linear. Pick it from the picture."},
			{ID: "tolerance", Label: "Tolerance", Unit: "%", Min: 0, Max: 100, Default: 8, Step: 0.5, Curve: 1.6, Help: "How unlike a colour may be and still be covered wholly."},
			{ID: "softness", Label: "Softness", Unit: "%", Min: 0, Max: 100, Default: 12, Step: 0.5, Curve: 1.6, Help: "How much further it fades."},
			{ID: "compare", Label: "Compare", Choices: []Choice{{ID: "colour", Label: "Colour"}, {ID: "hue", Label: "Hue"}, {ID: "chroma", Label: "Chroma"}, {ID: "brightness", Label: "Brightness"}, {ID: "red", Label: "Red"}, {ID: "green", Label: "Green"}, {ID: "blue", Label: "Blue"}}, Help: "What must be alike."},
		},
		part: func(v values) matte.Part {
			return matte.Picked{Light: [3]float64{v.number("red"), v.number("green"), v.number("blue")}, Tolerance: v.number("tolerance") / 100, Softness: v.number("softness") / 100, Compare: v.choice("compare")}
		},
	},
	{
		ID: "skin", Label: "Skin", Purpose: "What has the hue and the strength of skin, dark and light.",
		Settings: skinRange(),
		part:     func(v values) matte.Part { return matte.Skin{Skin: v.skin()} },
	},
	{
		ID: "picture", Label: "Picture", Purpose: "Another picture from the pinboard, by its brightness or its opacity.",
		Settings: []Setting{
			{ID: "id", Label: "Picture", Live: pictureChoices, Help: "A still on the pinboard. White covers, black leaves free."},
			{ID: "by", Label: "By", Choices: []Choice{{ID: "luma", Label: "Brightness"}, {ID: "alpha", Label: "Opacity"}}, Help: "What of it covers."},
			{ID: "fit", Label: "Placed", Choices: []Choice{{ID: "fit", Label: "Fitted"}, {ID: "centre", Label: "At its size, centred"}}, Help: "Fitted into the frame without stretching, or pixel for pixel about the centre."},
		},
		part: func(v values) matte.Part {
			return matte.Picture{Frame: pictureOf(v.choice("id")), Alpha: v.choice("by") == "alpha", Fit: v.choice("fit") == "fit"}
		},
	},
}

func skinRange() []Setting {
	u := grade.UsualSkin
	return []Setting{
		{ID: "centre", Label: "Centre", Unit: "°", Min: -30, Max: 30, Default: u.Centre, Step: 0.5, Help: "The middle of the hues, from the skin line. A cast moves it: balance first."},
		{ID: "width", Label: "Width", Unit: "°", Min: 4, Max: 60, Default: u.Width, Step: 0.5, Help: "How far it reaches to either side."},
		{ID: "low", Label: "From", Unit: "stops", Min: -10, Max: 6, Default: u.Low, Step: 0.1, Help: "The darkest skin. " + toneHelp},
		{ID: "high", Label: "To", Unit: "stops", Min: -10, Max: 6, Default: u.High, Step: 0.1, Help: "The brightest skin. " + toneHelp},
	}
}

func (v values) skin() grade.Skin {
	return grade.Skin{Centre: v.number("centre"), Width: v.number("width"), Low: v.number("low"), High: v.number("high")}
}
