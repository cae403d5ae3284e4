package steps

import (
	"context"
	"fmt"
	"math"

	"velours/core/cache"
	"velours/core/film"
	"velours/core/frame"
	"velours/core/grain"
	"velours/core/look"
	"velours/core/noise"
	"velours/core/render"
)

func init() { look.Declare(grainKind) }

var grainKind = &look.Kind{
	ID: "grain", Place: 50, Provides: "sizes", Station: look.Negative, Label: "Grain", HasStrength: true, Masks: true, Film: true, Spatial: true, Lead: []string{"amount"}, Wants: "tones", Tool: "grain", NoEffect: noEffectAt("no grain at 0 %", 0, "amount"), Gains: &look.ToneGains{Low: "shadows", Mids: "mids", High: "highlights", Middle: "middle", Reach: "reach", Fold: "By tone"},
	Purpose: "The dye clouds of the negative, in its density: clean blacks, most in the middle tones, quiet highlights, without being told.",
	Settings: []look.Setting{
		{
			ID: "amount", Label: "Amount", Unit: "%", Min: 0, Max: 300, Default: 100, Step: 1, Curve: 1.4,
			Help: "100 % is the stock's own granularity at this gauge. Hardly seen when the frame is fitted, seen at 1:1: that is right.",
		},
		{
			ID: "size", Label: "Cloud size", Unit: "%", Min: 40, Max: 300, Default: 100, Step: 5,
			Help: "The size of the dye clouds against the stock's own. Larger clouds make softer, coarser grain of the same granularity.",
		},
		{
			ID: "link", Label: "Linked", Unit: "%", Min: 0, Max: 100, Default: 100, Step: 1, Formerly: []look.Former{{Process: 4, Default: 80.0}},
			Help: "How far the three layers share one grain. At 100 it is neutral on the screen, after printing; at 0 every layer has its own, as in the emulsion. Coloured grain easily reads as digital noise.",
		},
		{
			ID: "seed", Label: "Roll", Unit: "no.", Min: 0, Max: 9999, Default: 1, Step: 1,
			Help: "Another roll of the same film: the same grain in other places.",
		},
		{
			ID: "of", Label: "Grain of", Live: grainChoices, Refers: stockReference,
			Help: "Whose grain it is: the stock's own, that of another stock under this one's colours, or that of a grain card, as the display shows it; a card needs no other setting than amount, size, roll and time.",
		},
		fold("By tone", dial("shadows", "Shadows", "%", 0, 300, 100, 1, "Grain in the shadows, against what the stock has there.")),
		fold("By tone", dial("mids", "Mids", "%", 0, 300, 100, 1, "Grain about the middle, against what the stock has there.")),
		fold("By tone", dial("highlights", "Highlights", "%", 0, 300, 100, 1, "Grain in the highlights, against what the stock has there.")),
		fold("By tone", dial("middle", "Middle", "stops", -4, 4, 0, 0.1, "Where the middle is, in stops from mid grey.")),
		fold("By tone", dial("reach", "Reach", "stops", 1.5, 6, 3.5, 0.1, "How many stops from the middle shadows and highlights are reached. The way there is smooth.")),
		fold("Scan", dial("crisp", "Crisp", "%", -100, 100, 0, 1, "How the grain was scanned: below 0 softly, so that neighbours flow together; above 0 hard, so that they stand apart. Large areas stay as grainy as they are.")),
		fold("Scan", dial("stretch", "Stretch", "×", 1, 2, 1, 0.05, "How many times longer across than down the grain is, as by a squeezed picture that was opened. Its strength stays.")),
		fold("Colour", dial("saturation", "Saturation", "%", 0, 200, 100, 1, "How strong what the layers do not share is. It needs Linked below 100.")),
		fold("Colour", dial("tint", "Tint", "%", 0, 100, 0, 1, "Lets the shared grain have a colour: one way where it is bright, the other where it is dark.")),
		fold("Colour", dial("hue", "Tint hue", "°", 0, 360, 60, 1, "The colour of bright grain, as a hue of Oklab: 30 is red, 110 yellow, 260 blue.")),
		fold("Layers", dial("red", "Red amount", "%", 0, 300, 100, 1, "Grain of the red layer, against the others.")),
		fold("Layers", dial("green", "Green amount", "%", 0, 300, 100, 1, "Grain of the green layer, against the others. It tells most of brightness.")),
		fold("Layers", dial("blue", "Blue amount", "%", 0, 300, 100, 1, "Grain of the blue layer, against the others.")),
		fold("Layers", dial("red-size", "Red size", "%", 40, 300, 100, 5, "Size of the red layer's clouds, against the others.")),
		fold("Layers", dial("green-size", "Green size", "%", 40, 300, 100, 5, "Size of the green layer's clouds, against the others.")),
		fold("Layers", dial("blue-size", "Blue size", "%", 40, 300, 100, 5, "Size of the blue layer's clouds, against the others.")),
		fold("In time", look.Setting{
			ID: "time", Label: "Goes on", Choices: []look.Choice{
				{ID: "frames", Label: "Every frame", Note: "New grain on every frame, as film has"},
				{ID: "held", Label: "Held", Note: "For as many frames as Frames says: animation on twos and threes"},
				{ID: "flowing", Label: "Flowing", Note: "One grain turns into the next over Frames, always equally strong"},
				{ID: "frozen", Label: "Frozen", Note: "The same on all frames: paper, a still"},
			},
			Help: "How grain goes on from frame to frame. Every frame can be made alone, whatever is chosen.",
		}),
		fold("In time", dial("frames", "Frames", "frames", 2, 48, 2, 1, "How many frames a held grain stays, or a flowing one takes to become another.")),
	},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		if card := cardOf(v.Choice("of")); card != nil {
			followCard(b, card, v, s)
			return
		}
		if g := grainFor(v, s, b.Process() < 4, b.Stock); g.amount > 0 {
			if !g.early {
				g.clouds(b)
			}
			b.In(render.Density, func(e *render.Exposed) render.Operation {
				if e.Placed {
					return &placedGrainOp{set: g.setting(e)}
				}
				return newGrain(g.setting(e))
			})
		}
	}},
}

// grainChoices are whose grain there can be.
func grainChoices() []look.Choice {
	c := []look.Choice{{ID: "own", Label: "Its own", Note: "The stock's own"}}
	for _, s := range stockChoices() {
		c = append(c, look.Choice{ID: s.ID, Label: s.Label, Group: s.Group, Away: s.Away})
	}
	return append(c, cardChoices()...)
}

// followCard adds the grain of a card to what the display shows of the film: amount, size, roll and time hold for it.
func followCard(b *render.Builder, card *noise.Card, v look.Values, s float64) {
	amount := v.Number("amount") / 100 * s
	if amount == 0 {
		return
	}
	motion, seed := motionOf(v), uint64(v.Number("seed"))
	b.In(render.Projected, func(e *render.Exposed) render.Operation {
		if e.Tabular {
			return nil
		}
		return cardGrain(card, e.Raster, amount, v.Number("size")/100, motion, seed)
	})
}

// motionOf is how grain goes on from frame to frame.
func motionOf(v look.Values) (m grain.Motion) {
	switch frames := v.Number("frames"); v.Choice("time") {
	case "held":
		m.Hold = int(frames)
	case "flowing":
		m.Every = frames
	case "frozen":
		m.Frozen = true
	}
	return m
}

// grainOf says how much grain there is, and how it is shaped.
type grainOf struct {
	amount float64       // of the stock's own
	sizes  [3]float64    // of the clouds of each layer, against the stock's
	layers [3]float64    // of each layer, against the others
	tones  grain.Tones   // gains by tone
	of     *film.Stock   // whose it is, nil for the stock's own
	tint   [2]float64    // share and hue, degrees
	early  bool          // as before looks of process 4: what layers share is not made neutral
	set    grain.Setting // what does not depend on the film
}

// grainFor is the grain that settings ask for at a strength; stock finds another stock's.
func grainFor(v look.Values, s float64, early bool, stock func(id string) *film.Stock) grainOf {
	share := func(id string) float64 { return v.Number(id) / 100 }
	g := grainOf{amount: share("amount") * s, tint: [2]float64{share("tint"), v.Number("hue")}, early: early}
	for i, id := range [3]string{"red", "green", "blue"} {
		g.layers[i], g.sizes[i] = share(id), share("size")*share(id+"-size")
	}
	g.tones = grain.Tones{Shadows: share("shadows"), Mids: share("mids"), Highlights: share("highlights"), Middle: v.Number("middle"), Reach: v.Number("reach")}
	if id := v.Choice("of"); id != "own" {
		g.of = stock(id)
	}
	g.set = grain.Setting{Link: share("link"), Dull: 1 - share("saturation"), Crisp: share("crisp"), Stretch: v.Number("stretch"), Seed: uint64(v.Number("seed"))}
	g.set.Motion = motionOf(v)
	return g
}

// dupeGrain is how a dupe adds the grain of its two films, each finer than the camera's, to that of the camera's.
const dupeGrain = 1.3

// setting describes the grain on the film's raster.
func (g grainOf) setting(e *render.Exposed) grain.Setting {
	s := e.Emulsion()
	of := s
	if g.of != nil {
		of = g.of
	}
	set := g.set
	set.Pitch, set.Squeeze = e.Width*1000/float64(e.Raster.W), e.Squeeze
	coarser := math.Pow(1+of.Development.Grain, e.Process.Push)
	if e.Dupe && e.Medium != nil {
		coarser *= dupeGrain
	}
	if s.Mono {
		set.Link = 1 // one layer, and silver
	}
	for i, l := range of.Layers {
		set.Cloud[i] = of.Cloud * g.sizes[i]
		set.S[i] = grain.Selwyn(max(of.Granularity*l.Grain, 1e-3), set.Cloud[i]) * g.amount * coarser
		set.Top = max(set.Top, s.Layers[i].DMax+0.4)
	}
	if !g.early || !g.tones.Even() {
		set.Gain = g.gains(e, set)
	}
	for i := range set.S {
		set.S[i] *= g.layers[i]
	}
	return set
}

// clouds lets the picture be made of the clouds. Where sharpness draws, it has them in what it does.
func (g grainOf) clouds(b *render.Builder) {
	if !b.Masked() {
		b.Film.Clouds = g.cloud(b.Film.Emulsion()) * g.sizes[1] * g.made()
		if b.Film.Drawn {
			return
		}
	}
	b.In(render.Density, g.cloudsOn)
}

// cloudsOn is what passes a picture through the clouds on a raster, nil where they are too small to tell.
func (g grainOf) cloudsOn(e *render.Exposed) render.Operation {
	set := grain.Setting{Pitch: e.Width * 1000 / float64(e.Raster.W), Squeeze: e.Squeeze}
	for i, size := range g.sizes {
		set.Cloud[i] = g.cloud(e.Emulsion()) * size * g.made()
	}
	across, down, seen := set.Clouds()
	if !seen || e.Tabular || e.Placed {
		return nil
	}
	return &render.Filter{ID: "clouds" + set.Key(), Across: across, Down: down}
}

// made is how far the picture is made of the clouds: fully from all of the stock's grain on.
func (g grainOf) made() float64 { return math.Sqrt(min(g.amount, 1)) }

// cloud is the deviation of the clouds of a stock, or of that whose grain it is, µm.
func (g grainOf) cloud(s *film.Stock) float64 {
	if g.of != nil {
		s = g.of
	}
	return s.Cloud
}

// mostShared is how many times its own a layer deviates at most for greys to be neutral: where print and paper hardly follow a layer it would take
// far more, and single clouds of it would stand out coloured. All layers give way together, so that greys stay neutral.
const mostShared = 2.5

// gains are the factors that make of the clouds' own deviations what is asked for: what layers share is neutral on the screen, and tones have
// their gains.
func (g grainOf) gains(e *render.Exposed, set grain.Setting) *[3]grain.Gains {
	alike := e.Alike(g.aim())
	var laws [3]func(float64) float64
	for i := range laws {
		laws[i] = grain.Law(set.Cloud[i])
	}
	linked := set.Link * set.Link
	if g.early {
		linked = 0
	}
	var out [3]grain.Gains
	for i := range out {
		out[i] = grain.NewGains(set.Top, func(d float64) float64 {
			scene, densities, shares := alike.Of(i, d)
			own := set.S[i] * laws[i](d)
			shared := set.S[1] * laws[1](densities[1]) * shares[i]
			if !g.early {
				most := 0.0 // of what layers would deviate by against their own
				for j, d := range densities {
					most = max(most, set.S[1]*laws[1](densities[1])*shares[j]/(set.S[j]*laws[j](d)))
				}
				shared *= min(mostShared/max(most, 1e-9), 1)
			}
			return math.Sqrt((1-linked)*own*own+linked*shared*shared) / own * g.tones.At(scene/math.Log10(2))
		})
	}
	return &out
}

// mostTint is how far codes part at a full tint, as a share of their deviation.
const mostTint = 0.8

// aim is how far codes of red, green and blue deviate together.
func (g grainOf) aim() [3]float64 {
	var aim [3]float64
	for i, at := range [3]float64{29, 142, 264} { // the hues of the primaries of BT.709 in Oklab
		aim[i] = 1 + mostTint*g.tint[0]*math.Cos((g.tint[1]-at)*math.Pi/180)
	}
	return aim
}

// grainOp adds grain to density.
type grainOp struct {
	key string
	gen *grain.Generator
}

// generators take some milliseconds to make and serve many frames.
var generators = cache.Results[*grain.Generator]{Size: 24}

func newGrain(s grain.Setting) *grainOp {
	key := "grain" + s.Key()
	g, _ := generators.Get(key, func() (*grain.Generator, error) { return grain.New(s), nil })
	return &grainOp{key, g}
}

func (o *grainOp) Key() string { return o.key }
func (o *grainOp) Moving()     {}
func (o *grainOp) Columns(number, x0, w, y0 int) func(int, [3][]float32) {
	s := o.gen.Columns(number, x0, w, y0)
	return s.Add
}

// placedGrainOp makes the picture of clouds, one by one.
type placedGrainOp struct {
	set    grain.Setting
	number int
}

func (o *placedGrainOp) Key() string   { return fmt.Sprint("placed grain", o.set.Key(), "#", o.number) }
func (o *placedGrainOp) Name() string  { return "placed grain" }
func (o *placedGrainOp) Uniform() bool { return false }
func (o *placedGrainOp) Numbered(number int) render.Spatial {
	return &placedGrainOp{o.set, number}
}
func (o *placedGrainOp) Reach() int { return grain.NewReference(o.set).Reach() }
func (o *placedGrainOp) Run(ctx context.Context, src *frame.Frame) (*frame.Frame, error) {
	return o.RunAt(ctx, src, 0, 0)
}
func (o *placedGrainOp) RunAt(ctx context.Context, src *frame.Frame, left, top int) (*frame.Frame, error) {
	return grain.NewReference(o.set).Run(ctx, src, o.number, left, top)
}
