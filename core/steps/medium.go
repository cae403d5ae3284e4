package steps

import (
	"context"
	"fmt"

	"velours/core/film"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
)

func init() { look.Declare(mediumKind) }

var mediumKind = &look.Kind{
	ID: "medium", Place: 10, Provides: "print", Station: look.Print, Label: "Medium", HasStrength: true, Film: true,
	Purpose: "Prints the negative and projects it. The lights are timed so that mid grey comes out neutral at the medium's aim.",
	Settings: []look.Setting{{
		ID: "id", Label: "Medium", Choices: mediumChoices(), Refers: mediumReference,
		Help: "What the negative is printed on. It sets contrast, the depth of blacks, and how softly whites run out.",
	},
		onlyOn(dyed, fold("Printing", dial("contrast", "Contrast", "%", 60, 150, 100, 1, "The slope of the print against the medium's own, around mid grey."))),
		onlyOn(coloured, fold("Printing", dial("colour", "Colour", "%", 0, 160, 100, 1, "Colour density: how far the print's dyes differ, against what the negative makes them. Above 100 deepens strong colours, 0 is a print in one tone. Greys stay."))),
		onlyOn(dyed, fold("Printing", dial("whites", "Whites", "warmth", -100, 100, 0, 1, "Warmth of the whites: turns the base of the print towards cream (above 0) or blue (below)."))),
		fold("Printing", dial("flash", "Flash", "% grey", 0, 60, 0, 1, "A faint even exposure of the print: it mutes highlights and leaves shadows and mid grey. 10 is felt.")),
		onlyOn(dyed, fold("Printing", dial("silver", "Silver", "%", 0, 100, 0, 1, "Silver retention: how much the bleach leaves in the print: steeper, deeper, paler, with mid grey held. 30 is felt; 100 is a look of its own. It multiplies with silver in the negative."))),
		onlyOn(ofFilm, fold("Printing", look.Setting{
			ID: "generation", Label: "From", Choices: []look.Choice{{ID: "camera", Label: "Camera negative", Note: "A print of what was in the camera"}, {ID: "dupe", Label: "Dupe negative", Note: "Two copies on: softer, steeper, grainier, colours muddier"}},
			Help: "What the print is made of. Release prints were made of a dupe negative, by way of an interpositive: each copy costs sharpness and adds contrast and grain.",
		})),
	},
	Work: render.Work{Apply: func(b *render.Builder, v look.Values, s float64) {
		b.Film.On = true
		b.Film.Medium = b.Medium(v.Choice("id"))
		b.Film.Mix = s
		if b.Film.Dupe = v.Choice("generation") == "dupe"; b.Film.Dupe {
			b.In(render.CopiedLight, copied)
		}
		b.Film.Printing.Silver, b.Film.Printing.Contrast, b.Film.Printing.Colour = v.Number("silver")/100, v.Number("contrast")/100-1, v.Number("colour")/100-1
		b.Film.Printing.Whites, b.Film.Printing.Flash = v.Number("whites")/100, v.Number("flash")/100
	}},
}

// madeOf are the media of which a property holds.
func madeOf(has func(m *film.Medium) bool) []string {
	var ids []string
	for _, m := range film.Media() {
		if has(m) {
			ids = append(ids, m.ID)
		}
	}
	return ids
}

// dyed media have dyes or silver, coloured ones dyes, those of film a film before them.
var (
	coloured = madeOf(func(m *film.Medium) bool { return !m.Scan && !m.Mono })
	dyed     = madeOf(func(m *film.Medium) bool { return !m.Scan })
	ofFilm   = madeOf(func(m *film.Medium) bool { return !m.Direct })
)

// onlyOn keeps a setting to some media.
func onlyOn(ids []string, s look.Setting) look.Setting {
	s.Only = ids
	return s
}

var mediumReference = &look.Reference{
	Card: "medium",
	Key: func(id, digest string) string {
		m, err := film.MediumAs(id, digest)
		if err != nil {
			return id
		}
		return m.Key()
	},
	Digest: func(id string) string {
		m, err := film.FindMedium(id)
		if err != nil {
			return ""
		}
		return m.Digest()
	},
}

func mediumChoices() []look.Choice {
	var c []look.Choice
	for _, m := range film.Media() {
		c = append(c, look.Choice{ID: m.ID, Label: m.Label, Note: m.Note, Group: m.Family, Tags: m.Tags})
	}
	return c
}

// dupeBlur is how far a dupe's two copies scatter the light, as a standard deviation on the film in µm.
const dupeBlur = 7.0

// copied is the softness of a dupe negative, where a print is made of it.
func copied(e *render.Exposed) render.Operation {
	if e.Tabular || !e.Printed {
		return nil
	}
	sigma := dupeBlur / 1000 * float64(e.Raster.W) / e.Width
	return render.NewArea(fmt.Sprint("dupe ", sigma), func(ctx context.Context, src *frame.Frame) (*frame.Frame, error) {
		return frame.Soften(ctx, src, sigma)
	})
}
