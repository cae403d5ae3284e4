package steps

import (
	"context"
	"math"

	"velours/core/frame"
	"velours/core/grain"
	"velours/core/look"
	"velours/core/noise"
	"velours/core/render"
)

// cardChoices are the grain cards that can be followed; a card of another display's codes is followed on this one's.
func cardChoices() (c []look.Choice) {
	for _, card := range noise.Cards() {
		c = append(c, look.Choice{ID: card.ID, Label: card.Label, Note: card.From, Group: "Grain cards", Away: look.IsAway(card.ID)})
	}
	return c
}

// cardGrain is the grain of a card, which deviates codes of a picture by as much as the card says: so many times, its spots so many times
// as large.
func cardGrain(card *noise.Card, r render.Raster, times, size float64, motion grain.Motion, seed uint64) render.Pointwise {
	across, down := cardCloud(card.Across), cardCloud(card.Down)
	cloud := math.Sqrt(across*down) * size
	set := grain.Setting{
		Pitch: float64(card.Width) / float64(r.W), Cloud: [3]float64{cloud, cloud, cloud}, Stretch: min(max(across/down, 1), 2),
		Link: min(max((card.Correlation[0]+card.Correlation[1])/2, 0), 1), Motion: motion, Seed: seed,
	}
	if card.Hold > 1 && motion == (grain.Motion{}) {
		set.Motion.Hold = card.Hold
	}
	own := grain.Deviation(1, 1, cloud/size, 1) // what a pixel of the card deviates by for a unit
	var law [3]grain.Gains
	for i := range law {
		law[i] = grain.NewGains(1, func(code float64) float64 { return times * card.Of(i, code) / own })
	}
	return newLayeredCodeGrain(set, law)
}

// cardClouds are the sizes of clouds that are tried, in pixels.
const cardCloudLeast, cardCloudMost, cardCloudStep = 0.05, 4.0, 1.02

// cardCloud is the deviation of clouds, in pixels of a card, whose grain goes with its neighbours as a card says, channel by channel.
func cardCloud(neighbours [3][]float64) float64 {
	best, least := cardCloudLeast, math.Inf(1)
	for cloud := cardCloudLeast; cloud < cardCloudMost; cloud *= cardCloudStep {
		own, off := grain.Autocovariance(1, cloud, 0), 0.0
		for _, list := range neighbours {
			for k := 1; k < min(len(list), 4); k++ {
				d := grain.Autocovariance(1, cloud, k)/own - list[k]
				off += d * d
			}
		}
		if off < least {
			best, least = cloud, off
		}
	}
	return best
}

// cardOf is the card that a choice names, nil if it is none.
func cardOf(id string) *noise.Card {
	c, err := noise.Find(id)
	if err != nil {
		return nil
	}
	return c
}

// OnCodes adds the grain of a card to a picture of code values that is as fine as the card's, pixel for pixel; the picture stays as it is.
func OnCodes(ctx context.Context, card *noise.Card, f *frame.Frame) (*frame.Frame, error) {
	op := cardGrain(card, render.Raster{W: card.Width, H: f.H}, 1, 1, grain.Motion{}, 1)
	out := f.Clone()
	err := frame.Bands(ctx, f.H, f.H, func(y0, y1 int) {
		columns := op.Columns(0, 0, f.W, y0)
		for y := y0; y < y1; y++ {
			columns(y, [3][]float32{out.Row(0, y), out.Row(1, y), out.Row(2, y)})
		}
	})
	return out, err
}
