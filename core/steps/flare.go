package steps

import (
	"math"

	"velours/core/look"
	"velours/core/render"
	"velours/core/scatter"
)

func init() { look.Declare(flareKind) }

var flareKind = &look.Kind{
	ID: "flare", Place: 12, Pictured: []string{"x", "y"}, Station: look.Lens, Label: "Flare", HasStrength: true, Spatial: true, Repeatable: true, Group: "Air", Scatters: true, Range: &look.Range{Low: "from", High: "to", Knee: "knee", Fold: "Source", Besides: "lamp"}, Editor: "place", Keyed: []string{"x", "y", "lamp"}, Wants: "bright", Lead: []string{"veil", "streaks", "ghosts"}, NoEffect: noEffectAt("no light goes astray", 0, "veil", "streaks", "ghosts"),
	Purpose: "Light that goes astray between the surfaces of the lens: a veil, streaks through lamps, ghosts on the other side of the frame. Each lens has its own.",
	Begin:   map[string]any{"streaks": 8.0, "ghosts": 6.0, "from": 3.0},
	Settings: join([]look.Setting{
		travels(1.8, dial("veil", "Veil", "%", 0, 100, 0, 0.5, "Spreads some of the sources' light over the whole frame. At 100 % a tenth of it.")),
		travels(1.8, dial("streaks", "Streaks", "%", 0, 100, 0, 0.5, "Lines through lamps. At 100 % a tenth of their light; under twenty is felt.")),
		travels(1.8, dial("ghosts", "Ghosts", "%", 0, 100, 0, 0.5, "Images of lamps, out of focus, about the middle of the frame. At 100 % a twentieth of their light.")),
		fold("Streaks", travels(1.6, dial("length", "Length", "% width", 2, 100, 25, 0.5, "From a lamp to where little is left."))),
		fold("Streaks", dial("rays", "Lines", "no.", 1, 8, 1, 1, "How many lines cross in a lamp. One is a squeezing lens, three or four the blades of an iris.")),
		fold("Streaks", dial("angle", "Angle", "°", -90, 90, 0, 0.5, "Of the first, clockwise from the horizontal.")),
		fold("Streaks", dial("taper", "Taper", "%", 0, 100, 70, 1, "How much brighter a line is near its lamp. At 0 it is as bright all along.")),
		fold("Streaks", hueFrom("streak-tint", dial("streak-hue", "Hue", "°", 0, 360, 235, 1, "Of the streaks; it can be picked from the picture."))),
		fold("Streaks", travels(1.6, dial("streak-tint", "Tint", "%", 0, 100, 35, 1, "How much of that hue they have; the rest is their lamp's own."))),
		fold("Ghosts", dial("count", "How many", "no.", 1, 12, 5, 1, "Images of each lamp.")),
		fold("Ghosts", travels(1.4, dial("size", "Size", "%", 30, 300, 100, 1, "How far out of focus they are."))),
		fold("Ghosts", travels(1.6, dial("variety", "Colours", "%", 0, 100, 60, 1, "How different their colours are, as of coatings."))),
		fold("Ghosts", dial("seed", "Lens", "no.", 0, 999, 1, 1, "Every number is another lens; the same number is the same lens.")),
		fold("By hand", travels(2, dial("lamp", "Lamp", "stops", 0, 16, 0, 0.1, "A source of your own, so many stops over mid grey; 0 is none. It may lie outside the frame."))),
		fold("By hand", dial("x", "Across", "%", -50, 150, 110, 0.5, "Where it is, from the left; beyond 0 and 100 outside the frame.")),
		fold("By hand", dial("y", "Down", "%", -50, 150, 10, 0.5, "Where it is, from the top.")),
		fold("By hand", travels(1.6, dial("radius", "Radius", "% width", 0.2, 10, 1, 0.1, "How large it is."))),
		fold("By hand", hueFrom("lamp-tint", dial("lamp-hue", "Hue", "°", 0, 360, 75, 1, "Of its light; it can be picked from the picture."))),
		fold("By hand", travels(1.6, dial("lamp-tint", "Tint", "%", 0, 100, 20, 1, "How much of that hue it has."))),
	}, sourceSettings(), holdSettings("Keeps it out of what is itself dark.", "Keeps it off what is itself bright.")),
	Ready: []look.Ready{
		{ID: "squeezed", Label: "Squeezing lens", Note: "One long line through lamps, cool", Values: map[string]any{"streaks": 14.0, "ghosts": 3.0, "from": 3.5, "length": 45.0, "rays": 1.0, "angle": 0.0}},
		{ID: "iris", Label: "Iris blades", Note: "Three short lines, as of lamps at night", Values: map[string]any{"streaks": 12.0, "from": 3.5, "length": 9.0, "rays": 3.0, "angle": 20.0, "taper": 85.0, "streak-tint": 0.0}},
		{ID: "old", Label: "Uncoated", Note: "A veil and pale ghosts", Values: map[string]any{"veil": 25.0, "ghosts": 22.0, "from": 2.5, "count": 7.0, "variety": 20.0, "size": 140.0}},
		{ID: "coated", Label: "Coated", Note: "Small ghosts in many colours", Values: map[string]any{"ghosts": 14.0, "from": 3.0, "count": 8.0, "variety": 100.0, "size": 60.0}},
		{ID: "sun", Label: "Sun outside", Note: "A source beyond the frame: its veil and its ghosts alone", Values: map[string]any{"veil": 6.0, "ghosts": 12.0, "lamp": 13.0, "x": 112.0, "y": -12.0, "radius": 1.5, "from": 6.0}},
		{ID: "cross", Label: "Crossed", Note: "Two thin lines, for lamps on a stage", Values: map[string]any{"streaks": 10.0, "from": 4.0, "length": 14.0, "rays": 2.0, "angle": 45.0, "taper": 80.0, "streak-tint": 10.0}},
	},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		f := &scatter.Flare{
			Seed: uint64(math.Round(v.Number("seed"))),
			Veil: 0.1 * v.Number("veil") / 100 * s, Streak: 0.1 * v.Number("streaks") / 100 * s, Ghost: 0.05 * v.Number("ghosts") / 100 * s,
			Length: v.Number("length") / 100, Angle: v.Number("angle"), Taper: v.Number("taper") / 100, Rays: int(math.Round(v.Number("rays"))),
			StreakColour: tint(v.Number("streak-hue"), v.Number("streak-tint")/100),
			Size:         v.Number("size") / 100, Variety: v.Number("variety") / 100, Ghosts: int(math.Round(v.Number("count"))),
		}
		if f.Veil+f.Streak+f.Ghost == 0 {
			return
		}
		if stops := v.Number("lamp"); stops > 0 {
			y := 0.18 * math.Exp2(stops)
			f.Lamp = &scatter.Lamp{X: v.Number("x") / 100, Y: v.Number("y") / 100, Radius: v.Number("radius") / 100, Light: tint(v.Number("lamp-hue"), v.Number("lamp-tint")/100).Apply([3]float64{y, y, y})}
		}
		g := scatter.NewGlow(f, lumaOfScene)
		g.Source, g.Hold = sourceOf(v), holdOf(v)
		b.Spread(look.Lens, "flare", g, 0)
	}},
}
