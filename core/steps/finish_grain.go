package steps

import (
	"fmt"
	"math"
	"slices"

	"velours/core/cache"
	"velours/core/film"
	"velours/core/grain"
	"velours/core/look"
	"velours/core/render"
)

func init() { look.Declare(finishGrainKind) }

var finishGrainKind = &look.Kind{
	ID: "grain", Place: 890, Station: look.Finish, Label: "Grain on top", HasStrength: true, Masks: true, Spatial: true, Lead: []string{"amount"}, Tool: "grain", NoEffect: noEffectAt("no grain at 0 %", 0, "amount"),
	Purpose: "Puts the grain of a film, as its print shows it, on what came without film: titles, graphics, effects. It goes on last, where the picture is opaque; what is transparent stays untouched.",
	Settings: []look.Setting{
		{ID: "card", Label: "Grain of", Live: topChoices, Help: "A film through its print, or a grain card: the grain of a shot that was measured, just as it deviates there."},
		dial("amount", "Amount", "%", 0, 300, 100, 1, "100 % is the stock's own granularity at this gauge, as its print shows it, or what the card says."),
		{ID: "stock", Label: "Stock", Live: stockChoices, Refers: stockReference, Only: followsFilm, Help: "Whose grain it is."},
		{ID: "medium", Label: "Print", Choices: mediumChoices(), Refers: mediumReference, Only: followsFilm, Help: "The print that shows it: it decides in which tones it is seen."},
		{ID: "gauge", Label: "Gauge", Choices: gaugeChoices(), Default: usualGauge, Only: followsFilm, Help: "How wide the picture is on the film: a smaller one has coarser grain."},
		dial("size", "Cloud size", "%", 40, 300, 100, 5, "The size of the dye clouds against the stock's own, or of the card's spots."),
		dial("seed", "Roll", "no.", 0, 9999, 1, 1, "A roll of film. With the number of the shot beneath, the grain is the very same."),
	},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		amount := v.Number("amount") / 100 * s
		if amount == 0 {
			return
		}
		size, seed := v.Number("size")/100, uint64(v.Number("seed"))
		if card := cardOf(v.Choice("card")); card != nil {
			b.Last(func(r render.Raster, _ film.Screen) render.Pointwise {
				return cardGrain(card, r, amount, size, grain.Motion{}, seed)
			})
			return
		}
		g := gaugeOf(v.Choice("gauge"))
		stock, medium := b.Stock(v.Choice("stock")), b.Medium(v.Choice("medium"))
		if stock == nil || medium == nil {
			return
		}
		b.Last(func(r render.Raster, screen film.Screen) render.Pointwise {
			return newFinishGrain(stock, medium, g, r, screen, amount, size, seed)
		})
	}},
}

// followsFilm is the choice under which the settings of a film matter.
var followsFilm = []string{"film"}

// topChoices are a film, and the cards there are.
func topChoices() []look.Choice {
	return append([]look.Choice{{ID: "film", Label: "A film", Note: "Through its print"}}, cardChoices()...)
}

func newFinishGrain(stock *film.Stock, medium *film.Medium, g gauge, r render.Raster, screen film.Screen, amount, size float64, seed uint64) render.Pointwise {
	cloud := stock.Cloud * size
	set := grain.Setting{Pitch: g.width * 1000 / float64(r.W), Squeeze: g.squeeze, Cloud: [3]float64{cloud, cloud, cloud}, Seed: seed}
	law := codeLaw(stock, medium, screen, cloud)
	for i := range law {
		law[i] *= amount
	}
	return newCodeGrain(set, law)
}

// codeLaws are the last laws that were asked for: each takes some milliseconds.
var codeLaws = cache.Results[grain.Gains]{Size: 24}

// The greys by which codes are found, in decades of exposure from mid grey.
const codesFrom, codesTo, codesSteps = -2.4, 2.4, 96

// codeLaw is σ·√area of codes, µm, over the code of grey, for linked grain of clouds of a size: densities deviate together, by as much as makes codes deviate
// alike (film.Alike), and the print and the display say how far.
func codeLaw(stock *film.Stock, medium *film.Medium, screen film.Screen, cloud float64) grain.Gains {
	law, _ := codeLaws.Get(fmt.Sprint(stock.Key(), medium.Key(), screen.Key(), " ", cloud), func() (grain.Gains, error) {
		n := film.Develop(stock, film.Process{Strength: 1, Crossed: medium.Direct && !stock.Reversal})
		shown := film.NewPositive(n, film.NewPrint(medium, n), [3]float64{}, 1, screen)
		shares := n.Alike(shown.Code, [3]float64{1, 1, 1})
		own := grain.Law(cloud)
		s := grain.Selwyn(max(stock.Granularity*stock.Layers[1].Grain, 1e-3), cloud)
		type point struct{ code, deviation float64 }
		var points []point
		for i := range codesSteps + 1 {
			at := n.Grey(codesFrom + (codesTo-codesFrom)*float64(i)/codesSteps)
			_, _, share := shares.Of(1, at[1])
			by := s * own(at[1])
			const h = 2e-3
			up, down := at, at
			for k := range at {
				up[k], down[k] = at[k]+h*share[k], at[k]-h*share[k]
			}
			a, b, c := shown.Code(up), shown.Code(down), shown.Code(at)
			slope := 0.0
			for k := range a {
				slope += math.Abs(a[k]-b[k]) / (6 * h)
			}
			points = append(points, point{(c[0] + c[1] + c[2]) / 3, by * slope})
		}
		slices.SortFunc(points, func(a, b point) int {
			if a.code < b.code {
				return -1
			}
			return 1
		})
		return grain.NewGains(1, func(code float64) float64 {
			i, _ := slices.BinarySearchFunc(points, code, func(p point, c float64) int {
				if p.code < c {
					return -1
				}
				return 1
			})
			if i == 0 { // darker than the print's black: less and less
				return points[0].deviation * code / max(points[0].code, 1e-6)
			}
			if i == len(points) {
				last := points[len(points)-1]
				return last.deviation * (1 - code) / max(1-last.code, 1e-6)
			}
			a, b := points[i-1], points[i]
			return a.deviation + (b.deviation-a.deviation)*(code-a.code)/max(b.code-a.code, 1e-9)
		}), nil
	})
	return law
}
