package path

import (
	"context"
	"fmt"
	"math"

	"velours/core/frame"
	"velours/core/grade"
)

func familiesKind() *Kind {
	k := &Kind{
		ID: "families", Label: "Hue families", Mixes: true, Editor: "families", Shelf: "Colour",
		Purpose: "Moves families of hue: their hue, their saturation, and their density as if there were more dye. Greys stay.",
	}
	for _, f := range grade.FamilyList {
		row := []Setting{
			dial(f.ID+"-shift", f.Label+" shift", "°", -20, 20, 0, 0.2, "Turns the hue."),
			dial(f.ID+"-saturation", f.Label+" saturation", "%", 0, 200, 100, 1, "How strong the colour is."),
			dial(f.ID+"-density", f.Label+" density", "stops", -1.5, 1.5, 0, 0.02, "Deepens strong colours and makes them richer, as more dye does; pale ones hardly."),
			dial(f.ID+"-centre", f.Label+" centre", "°", -20, 20, 0, 0.5, "Where the family's middle lies, from its usual place."),
		}
		for i, column := range []string{"Shift", "Saturation", "Density", "Centre"} {
			row[i].Group, row[i].Column = f.Label, column
			if i < 3 {
				k.Lead = append(k.Lead, row[i].ID)
			}
		}
		k.Settings = append(k.Settings, row...)
	}
	k.Settings = append(k.Settings, dial("softness", "Softness", "%", 0, 100, 100, 1, "How gently one family passes into the next."))
	k.grade = func(v values) grade.Op {
		f := &grade.Families{Softness: v.number("softness") / 100}
		for i, fam := range grade.FamilyList {
			f.Shift[i], f.Saturation[i] = v.number(fam.ID+"-shift"), v.number(fam.ID+"-saturation")/100
			f.Density[i], f.Centre[i] = v.number(fam.ID+"-density"), v.number(fam.ID+"-centre")
		}
		return f.Op()
	}
	but := []string{"softness"}
	for _, f := range grade.FamilyList {
		but = append(but, f.ID+"-centre")
	}
	return atRest(k, "no family has been moved", but...)
}

func saturationKind() *Kind {
	help := "100 leaves them. "
	k := &Kind{
		ID: "saturation", Label: "Saturation", Mixes: true, Shelf: "Colour", Lead: []string{"all"},
		Purpose: "How strong colours are: all of them, and beside that by tone and by strength.",
		Settings: []Setting{
			dial("all", "All", "%", 0, 200, 100, 1, help+"Lightness and hue stay."),
			dial("dark", "In shadows", "%", 0, 200, 100, 1, help+"Shadows of film are paler than its middle: 80 is often right."),
			dial("light", "In lights", "%", 0, 200, 100, 1, help+"Lights lose colour on film."),
			dial("muted", "Muted colours", "%", 0, 200, 100, 1, help+"Raise these to wake a grey day without shouting."),
			dial("strong", "Strong colours", "%", 0, 200, 100, 1, help+"Lower these to calm a coat or a neon sign."),
		},
		grade: func(v values) grade.Op {
			return (&grade.Saturation{All: v.number("all") / 100, Dark: v.number("dark") / 100, Light: v.number("light") / 100, Muted: v.number("muted") / 100, Strong: v.number("strong") / 100}).Op()
		},
	}
	return atRest(k, "all at 100 %, colours stay")
}

func keepKind() *Kind {
	return &Kind{
		ID: "keep", Label: "Keep one hue", Mixes: true, Shelf: "Colour", Lead: []string{"amount"}, Still: still("at 0 % all hues are kept", 0, "amount"),
		Purpose: "Keeps one hue and takes the colour out of the others.", Begin: map[string]any{"amount": 100.0},
		Settings: []Setting{
			dial("hue", "Hue", "°", 0, 360, 25, 1, "The hue that stays: red 25°, yellow 105°, green 145°, blue 260°."),
			dial("width", "Width", "°", 0, 120, 25, 1, "How far to either side hues stay."),
			dial("soft", "Soft", "°", 5, 90, 30, 1, "How far beyond they fade."),
			dial("amount", "Amount", "%", 0, 100, 0, 1, "How much colour the others lose."),
		},
		grade: func(v values) grade.Op {
			return (&grade.Keep{Hue: v.number("hue"), Width: v.number("width"), Soft: v.number("soft"), Amount: v.number("amount") / 100}).Op()
		},
	}
}

func splitKind() *Kind {
	return &Kind{
		ID: "split", Label: "Split toning", Mixes: true, Shelf: "Colour", Lead: []string{"dark", "light"}, Still: still("no tone at 0 %", 0, "dark", "light"),
		Purpose: "Tones dark and light parts towards two hues.",
		Settings: []Setting{
			dial("dark-hue", "Shadow hue", "°", 0, 360, 230, 1, "The hue of the shadows: cyan-blue 230°."),
			dial("dark", "Shadows", "%", 0, 100, 0, 1, "How much of it. Under 20 is felt, above it is seen."),
			dial("light-hue", "Light hue", "°", 0, 360, 75, 1, "The hue of the lights: amber 75°."),
			dial("light", "Lights", "%", 0, 100, 0, 1, "How much of it. Under 20 is felt, above it is seen."),
			dial("balance", "Balance", "stops", -5, 4, 0, 0.1, "Where the two meet, in stops from mid grey."),
		},
		grade: func(v values) grade.Op {
			return (&grade.Split{DarkHue: v.number("dark-hue"), DarkAmount: 0.12 * v.number("dark") / 100, LightHue: v.number("light-hue"), LightAmount: 0.12 * v.number("light") / 100, Balance: v.number("balance")}).Op()
		},
	}
}

// matrixSettings are the entries of a matrix, with or without its diagonal.
func matrixSettings(diagonal bool, lo, hi float64) []Setting {
	var out []Setting
	for i, to := range channels {
		for j, from := range channels {
			if i == j && !diagonal {
				continue
			}
			usual := 0.0
			if i == j {
				usual = 100
			}
			s := dial(to.id+"-from-"+from.id, to.label+" from "+from.label, "%", lo, hi, usual, 0.5, "How much of "+from.label+" light runs into "+to.label+".")
			s.Group, s.Column = to.label, from.label
			out = append(out, s)
		}
	}
	return out
}

func (v values) matrix() (m [3][3]float64) {
	for i, to := range channels {
		for j, from := range channels {
			if x, ok := v[to.id+"-from-"+from.id].(float64); ok {
				m[i][j] = x / 100
			}
		}
	}
	return m
}

// readyTurn, in degrees, puts skins from fair to dark about the skin line, which they lie a little under.
const readyTurn = 1.1

func crosstalkKind() *Kind {
	k := &Kind{
		ID: "crosstalk", Label: "Crosstalk", Mixes: true, Editor: "grid", Shelf: "Colour",
		Purpose: "Lets channels of light run into each other. Every row sums to one, the channel itself giving way, so greys stay.",
		Settings: join(matrixSettings(false, -60, 60), []Setting{
			dial("turn", "Hue turn", "°", -20, 20, 0, 0.2, "Turns all hues about grey: puts skin back on its line after the rest."),
			dial("hold", "Hold light", "%", 0, 100, 0, 1, "How far each colour keeps its own brightness."),
		}),
		grade: func(v values) grade.Op {
			return (&grade.Crosstalk{Into: v.matrix(), Turn: v.number("turn"), Hold: v.number("hold") / 100}).Op()
		},
	}
	for _, r := range []struct {
		id, label, note string
		amount, turn    float64 // the turn puts skins of all depths on their line
	}{
		{"breath", "A breath", "Colours lean towards the skin line and its opposite", 0.15, readyTurn},
		{"near", "Two families", "Greens and magentas give way; skin stays", 0.32, readyTurn},
		{"pressed", "Pressed", "Nearly everything lies on the skin line", 0.55, readyTurn},
	} {
		c := grade.Squeeze(r.amount)
		ready := map[string]any{}
		for i, to := range channels {
			for j, from := range channels {
				if i != j {
					ready[to.id+"-from-"+from.id] = math.Round(c.Into[i][j]*1000) / 10
				}
			}
		}
		ready["turn"] = r.turn
		k.Ready = append(k.Ready, Ready{r.id, r.label, r.note, ready})
	}
	for _, s := range k.Settings[:7] {
		k.Lead = append(k.Lead, s.ID)
	}
	return atRest(k, "nothing runs over", "hold")
}

func remapKind() *Kind {
	k := &Kind{
		ID: "remap", Label: "Channel remap", Mixes: true, Editor: "grid", Shelf: "Colour",
		Purpose:  "Mixes channels freely, without the rule that greys stay: for creative aims.",
		Settings: matrixSettings(true, -200, 200),
		grade: func(v values) grade.Op {
			m := v.matrix()
			return grade.Matrix{m[0][0], m[0][1], m[0][2], m[1][0], m[1][1], m[1][2], m[2][0], m[2][1], m[2][2]}
		},
	}
	return atRest(k, "each channel is its own")
}

func skinKind() *Kind {
	k := &Kind{
		ID: "skin", Label: "Skin guard", Mixes: true, Editor: "skin", Shelf: "Colour", Lead: []string{"hue", "light", "line", "smooth"},
		Purpose: "Finds skin, says how far it has moved, and moves it back; nothing else is touched.",
		Settings: join([]Setting{
			dial("hue", "Hue", "°", -30, 30, 0, 0.2, "Turns the hue of skin."),
			dial("chroma", "Chroma", "%", 40, 180, 100, 1, "How strong its colour is."),
			dial("light", "Light", "stops", -1.5, 1.5, 0, 0.02, "Its brightness."),
			dial("line", "To skin line", "%", 0, 100, 0, 1, "Draws every hue of skin towards the skin line. Under 40: skins differ."),
			dial("smooth", "Smooth", "%", 0, 100, 0, 1, "Takes fine texture off skin alone. A little; at 100 it is wax."),
		}, skinRange()),
		grade: func(v values) grade.Op {
			return (&grade.Guard{Skin: v.skin(), Hue: v.number("hue"), Chroma: v.number("chroma") / 100, Light: v.number("light"), Line: v.number("line") / 100}).Op()
		},
		spreads: func(v values) bool { return v.number("smooth") > 0 },
	}
	k.apply = func(b *builder, v values, s float64) {
		if smooth := v.number("smooth") / 100; smooth > 0 {
			skin := v.skin()
			b.area(k.Station, fmt.Sprint("smooth", skin, smooth), s, func(ctx context.Context, src, _ *frame.Frame) (*frame.Frame, error) {
				return skin.Smooth(ctx, src, smoothSize, smooth)
			})
		}
	}
	return atRest(k, "skin has not been moved", "centre", "width", "low", "high")
}

// smoothSize is how broad the texture is that smoothing takes, as a share of the width.
const smoothSize = 0.004

func monoKind() *Kind {
	k := &Kind{
		ID: "mono", Label: "Black and white", Mixes: true, Shelf: "Colour", Lead: []string{"amount"}, Still: still("at 0 % all colour stays", 0, "amount"),
		Purpose: "Black and white as light through a filter makes it: choose which colours become bright, then contrast and tint.",
		Begin:   map[string]any{"amount": 100.0},
		Settings: []Setting{
			dial("amount", "Amount", "%", 0, 100, 0, 1, "How much of the colour goes."),
			dial("red", "Red", "%", -100, 200, 30, 1, "How bright red light comes out, against the other two."),
			dial("green", "Green", "%", -100, 200, 60, 1, "How bright green light comes out, against the other two."),
			dial("blue", "Blue", "%", -100, 200, 10, 1, "How bright blue light comes out, against the other two. Below 0 darkens skies."),
			dial("contrast", "Contrast", "%", 50, 250, 100, 1, "Its own contrast, about mid grey."),
			dial("hue", "Tint hue", "°", 0, 360, 75, 1, "The hue of its tint: sepia 75°, selenium 320°."),
			dial("tint", "Tint", "%", 0, 100, 0, 1, "How much of it."),
		},
		grade: func(v values) grade.Op {
			return (&grade.Mono{Weights: [3]float64{v.number("red"), v.number("green"), v.number("blue")}, Amount: v.number("amount") / 100,
				Contrast: grade.Contrast{Slope: v.number("contrast") / 100, Toe: 0.4, Shoulder: 0.4}, Hue: v.number("hue"), Tint: 0.1 * v.number("tint") / 100}).Op()
		},
	}
	for _, f := range monoFilters {
		k.Ready = append(k.Ready, Ready{f.id, f.label, f.note, map[string]any{"amount": 100.0, "red": f.mix[0], "green": f.mix[1], "blue": f.mix[2]}})
	}
	return k
}

// monoFilters are weights that stand for a panchromatic layer behind filters; of our own making, by eye.
var monoFilters = []struct {
	id, label, note string
	mix             [3]float64
}{
	{"none", "No filter", "As the eye sees brightness", [3]float64{30, 60, 10}},
	{"yellow", "Yellow filter", "Skies a little darker, skin clear", [3]float64{42, 62, -4}},
	{"orange", "Orange filter", "Dark skies, smooth skin", [3]float64{72, 42, -14}},
	{"red", "Red filter", "Nearly black skies, pale lips", [3]float64{118, 2, -20}},
	{"green", "Green filter", "Bright leaves, strong skin", [3]float64{2, 108, -10}},
	{"blue", "Blue-sensitive", "White skies, dark lips, as before panchromatic film", [3]float64{-12, 34, 78}},
}
