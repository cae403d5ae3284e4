package steps

import (
	"velours/core/look"
	"velours/core/render"
	"velours/core/scatter"
)

func init() { look.Declare(diffusionKind) }

// diffusionFamilies are the families of filters; they can be told apart by what they do to a lamp before dark cloth.
var diffusionFamilies = []struct {
	id, label, note string
	family          scatter.Family
}{
	{"mist", "Mist", "A tight halo; blacks stay deep", scatter.Mist},
	{"fog", "Fog", "A large, soft veil that lifts the air", scatter.Fog},
	{"net", "Net", "Fine threads: a small halo and a faint cross", scatter.Mesh},
	{"veil", "Veil", "Broad and low in contrast; fine detail a little softer", scatter.Veil},
	{"silk", "Silk", "An even halo between mist and fog", scatter.Silk},
}

// The net is stretched behind a lens of 50 mm on a picture as wide as on 35 mm film, as the design's figures are.
const netFocal, netGate = 50, render.UsualWidth

var diffusionKind = &look.Kind{
	ID: "diffusion", Place: 4, Station: look.Lens, Label: "Diffusion", HasStrength: true, Spatial: true, Repeatable: true, Scatters: true, Lead: []string{"grade"},
	Purpose: "A filter in front of the lens: a cloud of fine particles, or a net, that spreads a share of all light around where it was. Colours and mid tones stay; stacking filters adds their grades.",
	Settings: []look.Setting{
		{ID: "family", Label: "Family", Choices: func() []look.Choice {
			var out []look.Choice
			for _, f := range diffusionFamilies {
				out = append(out, look.Choice{ID: f.id, Label: f.label, Note: f.note})
			}
			return out
		}(), Help: "What it is made of: how far it spreads light, and into what. Choose on the test strip, by a face and by a lamp."},
		{
			ID: "grade", Label: "Grade", Unit: "×", Min: 0.125, Max: 2, Default: 0.25, Step: 0.005, Curve: 2,
			Names: map[string]float64{"1/8": 0.125, "1/4": 0.25, "1/2": 0.5, "1": 1, "2": 2},
			Help:  "How dense it is, as such filters are graded. An eighth and a quarter are sensed; from a half on they are seen.",
		},
		travels(1.6, dial("warmth", "Warmth", "%", 0, 100, 0, 1, "Lets more red than blue spread, so that halos are warm. Even areas stay neutral.")),
		dial("compensate", "Compensate", "%", 0, 100, 100, 1, "Takes back the lift of mid tones, by one factor for the whole shot: it cannot pump. At 0 the picture grows as bright as the filter makes it."),
		fold("Colour", dial("chroma", "Chroma", "%", 0, 150, 100, 1, "Of the light that is spread. 100 keeps the colour of its source; 0 is a white veil.")),
		fold("Shape", travels(1.6, dial("aspect", "Stretch", "×", 1, 4, 1, 0.05, "How many times as long as high the halo is, behind a squeezing lens. A net's cross is not stretched."))),
		fold("Shape", dial("turn", "Turn", "°", -90, 90, 0, 0.5, "The direction of a net's threads, and of a stretched halo, clockwise from the horizontal.")),
		fold("Holds", travels(1.6, dial("blacks", "Hold blacks", "%", 0, 100, 0, 1, "Keeps it away from what is itself two to five stops darker than mid grey."))),
		fold("Holds", travels(1.6, dial("whites", "Hold whites", "%", 0, 100, 0, 1, "Keeps it away from what is itself two and a half stops brighter than mid grey and more: it stays crisp."))),
	},
	Ready: []look.Ready{
		{ID: "eighth", Label: "Mist 1/8", Note: "Sensed, not seen: takes the edge off a sharp lens", Values: map[string]any{"family": "mist", "grade": 0.125}},
		{ID: "portrait", Label: "Faces", Note: "Silk 1/4, warm, blacks held", Values: map[string]any{"family": "silk", "grade": 0.25, "warmth": 50.0, "blacks": 60.0}},
		{ID: "stage", Label: "Stage lamps", Note: "Mist 1/2: bulbs glow, velvet stays black", Values: map[string]any{"family": "mist", "grade": 0.5, "blacks": 40.0}},
		{ID: "net", Label: "Stretched net", Note: "Net 1/2: a cross that one finds when one looks for it", Values: map[string]any{"family": "net", "grade": 0.5, "turn": 20.0}},
		{ID: "morning", Label: "Morning", Note: "Fog 1/4 with blacks held: air between things", Values: map[string]any{"family": "fog", "grade": 0.25, "blacks": 50.0}},
		{ID: "memory", Label: "Remembered", Note: "Veil 1/2, warm: low contrast, as if long ago", Values: map[string]any{"family": "veil", "grade": 0.5, "warmth": 60.0}},
		{ID: "drawn", Label: "Drawn wide", Note: "Mist 1/2 behind a squeezing lens", Values: map[string]any{"family": "mist", "grade": 0.5, "aspect": 2.0}},
	},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		f := diffusionFamilies[0].family
		for _, d := range diffusionFamilies {
			if d.id == v.Choice("family") {
				f = d.family
			}
		}
		l := &scatter.Lens{Aspect: v.Number("aspect"), Turn: v.Number("turn")}
		g := scatter.NewGlow(l, lumaOfScene)
		mix := s
		if n := f.Threads(v.Number("grade"), v.Number("turn"), netFocal, netGate); n != nil { // a net mixes as a whole
			l.Nets, g.Mix, mix = []scatter.Net{*n}, s, 1
		}
		l.Filters = []scatter.Filter{f.Filter(v.Number("grade"), v.Number("warmth")/100, mix)}
		if c := v.Number("chroma") / 100; c != 1 {
			g.Near = scatter.Saturation(c, lumaOfScene)
			g.Far = g.Near
		}
		if x := v.Number("blacks") / 100; x > 0 {
			g.Hold.Darks, g.Hold.Below = x, heldBlacks
		}
		if x := v.Number("whites") / 100; x > 0 {
			g.Hold.Cores, g.Hold.Above = x, heldWhites
		}
		b.Spread(look.Lens, "diffusion", g, v.Number("compensate")/100)
	}},
}

// heldBlacks and heldWhites are where blacks end and whites begin, in stops from mid grey.
const heldBlacks, heldWhites = -2, 2.5
