package steps

import (
	"math"

	"velours/core/grade"
	"velours/core/look"
	"velours/core/render"
)

func init() { inStation(look.Balance, crosstalkKind()) }

func crosstalkKind() *look.Kind {
	k := &look.Kind{
		ID: "crosstalk", Place: 220, KeepsGrey: true, KeepsOrder: true, Label: "Crosstalk", HasStrength: true, Editor: "grid", Group: "Colour",
		Purpose: "Lets channels of light run into each other. Every row sums to one, the channel itself giving way, so greys stay.",
		Settings: join(matrixSettings(false, -60, 60), []look.Setting{
			dial("turn", "Hue turn", "°", -20, 20, 0, 0.2, "Turns all hues about grey: puts skin back on its line after the rest."),
			dial("hold", "Hold light", "%", 0, 100, 0, 1, "How far each colour keeps its own brightness."),
		}),
		Work: render.Work{Grade: func(v look.Values) grade.Op {
			return (&grade.Crosstalk{Into: matrixOf(v), Turn: v.Number("turn"), Hold: v.Number("hold") / 100}).Op()
		}},
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
		k.Ready = append(k.Ready, look.Ready{ID: r.id, Label: r.label, Note: r.note, Values: ready})
	}
	for _, s := range k.Settings[:7] {
		k.Lead = append(k.Lead, s.ID)
	}
	return atRest(k, "nothing runs over", "hold")
}

// readyTurn, in degrees, puts skins from fair to dark about the skin line, which they lie a little under.
const readyTurn = 1.1
