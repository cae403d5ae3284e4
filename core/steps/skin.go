package steps

import (
	"context"
	"fmt"

	"velours/core/frame"
	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
)

func init() { inBalanceAndFinish(func(look.Station) *look.Kind { return skinKind() }) }

func skinKind() *look.Kind {
	k := &look.Kind{
		ID: "skin", Place: 240, Pictured: []string{"low", "high"}, KeepsGrey: true, KeepsOrder: true, Label: "Skin guard", HasStrength: true, Editor: "skin", Group: "Colour", Lead: []string{"hue", "light", "line", "smooth"},
		Purpose: "Finds skin, says how far it has moved, and moves it back; nothing else is touched.",
		Settings: join([]look.Setting{
			dial("hue", "Hue", "°", -30, 30, 0, 0.2, "Turns the hue of skin."),
			dial("chroma", "Chroma", "%", 40, 180, 100, 1, "How strong its colour is."),
			dial("light", "Light", "stops", -1.5, 1.5, 0, 0.02, "Its brightness."),
			dial("line", "To skin line", "%", 0, 100, 0, 1, "Draws every hue of skin towards the skin line. Under 40: skins differ."),
			dial("smooth", "Smooth", "%", 0, 100, 0, 1, "Takes fine texture off skin alone. A little; at 100 it is wax."),
		}, skinRange()),
		Spreads: func(v look.Values) bool { return v.Number("smooth") > 0 },
	}
	k.Work = render.Work{Grade: func(v look.Values) grade.Op {
		return (&grade.Guard{Skin: skinOf(v), Hue: v.Number("hue"), Chroma: v.Number("chroma") / 100, Light: v.Number("light"), Line: v.Number("line") / 100}).Op()
	}, Apply: func(b *render.Builder, v look.Values, s float64) {
		if smooth := v.Number("smooth") / 100; smooth > 0 {
			skin := skinOf(v)
			b.Area(k.Station, fmt.Sprint("smooth", skin, smooth), s, func(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) {
				return skin.Smooth(ctx, src, smoothSize, smooth)
			})
		}
	}}
	return atRest(k, "skin has not been moved", "centre", "width", "low", "high")
}

// smoothSize is how broad the texture is that smoothing takes, as a share of the width.
const smoothSize = 0.004

// SkinOf is where a skin guard looks for skin.
func SkinOf(l *look.Look, s look.Station, step string) (*grade.Skin, error) {
	k, err := look.KindOf(s, step)
	if err != nil {
		return nil, err
	}
	if k.ID != "skin" {
		return nil, fmt.Errorf("%s is no skin guard", k.Path())
	}
	p := l.Step(s, step)
	if p == nil {
		p = &look.Step{Kind: k.ID}
	}
	skin := skinOf(l.Values(k, p))
	return &skin, nil
}

func skinRange() []look.Setting {
	u := grade.UsualSkin
	return []look.Setting{
		{ID: "centre", Label: "Centre", Unit: "°", Min: -30, Max: 30, Default: u.Centre, Step: 0.5, Help: "The middle of the hues, from the skin line. A cast moves it: balance first."},
		{ID: "width", Label: "Width", Unit: "°", Min: 4, Max: 60, Default: u.Width, Step: 0.5, Help: "How far it reaches to either side."},
		{ID: "low", Label: "From", Unit: "stops", Min: -10, Max: 6, Default: u.Low, Step: 0.1, Help: "The darkest skin. " + toneHelp},
		{ID: "high", Label: "To", Unit: "stops", Min: -10, Max: 6, Default: u.High, Step: 0.1, Help: "The brightest skin. " + toneHelp},
	}
}

func skinOf(v look.Values) grade.Skin {
	return grade.Skin{Centre: v.Number("centre"), Width: v.Number("width"), Low: v.Number("low"), High: v.Number("high")}
}
