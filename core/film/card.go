package film

import (
	"bytes"
	"embed"
	"encoding/json"
	"fmt"
	"path"
	"strings"

	"velours/core/spectrum"
)

// Lobe is a Gaussian over wavelength: peak and standard deviation in nanometres.
type Lobe struct{ Peak, Width, Height float64 }

func lobes(l []Lobe) spectrum.Curve {
	return spectrum.Of(func(nm float64) float64 {
		s := 0.0
		for _, k := range l {
			s += k.Height * spectrum.Bell(nm, k.Peak, k.Width)
		}
		return s
	})
}

// Layer is one colour record of a negative.
type Layer struct {
	Sensitivity []Lobe
	Dye         []Lobe  // spectral density of the dye at unit density
	Gamma       float64 // slope of the straight part
	Speed       float64 // log exposure at the foot of the straight part, mid grey at 0
	Toe         float64 // softness of the foot; larger is harder, a decade of exposure
	DMax        float64
	Shoulder    float64 // softness of the top; larger is harder, a unit of density
	Push        float64 // rise of gamma for one stop of push
	Grain       float64 // granularity against the stock's
	Held        float64 // halation: share of this layer's light that enters the base
	Back        float64 // halation: how well returned light exposes this layer
}

// Stock is a camera negative.
type Stock struct {
	ID, Label, Family, Note string
	Speed                   float64  // exposure index
	Era                     string   // when such stocks were used
	Tags                    []string // by mood
	Kelvin                  float64  // light it is balanced for
	Daylight                bool
	Bare                    bool // it came without a backing against halation
	Layers                  [3]Layer
	Separation              [3][3]float64 // interlayer effect, rows sum to 0
	Base                    []Lobe        // density of base and fog
	Mask                    float64       // share of unwanted dye absorption the coloured couplers make up for
	Granularity             float64       // 1000·σ of density through a 48 µm disc at density 1
	Cloud                   float64       // standard deviation of a dye cloud, µm
	Thickness               float64       // base, mm
	Index                   float64       // refractive index of the base
}

// Medium is what the negative is printed on.
type Medium struct {
	ID, Label, Family, Note string
	Sensitivity             [3]Lobe
	Dyes                    [3][]Lobe
	Gamma                   float64 // central slope of the neutral scale
	DMin, DMax              float64 // visual density
	Aim                     float64 // visual density of mid grey
	Toe, Shoulder           float64 // softness, as in Layer
	Printer, Projector      float64 // lamps, kelvin
	Flare                   float64 // stray light as a share of open gate
}

//go:embed cards/*.json
var cards embed.FS

var (
	stocks []*Stock
	media  []*Medium
)

func init() {
	for _, name := range []string{
		"aubade-250d", "lagune-50d", "serein-500t", "corail-200t", "pampille-500t",
		"satin-160", "vitrail-100", "percale-400", "tulle-400", "damas-800",
	} {
		stocks = append(stocks, read[Stock](name))
	}
	for _, name := range []string{"rideau", "coulisse", "loge", "papier", "papier-mat"} {
		media = append(media, read[Medium](name))
	}
}

func read[T any](name string) *T {
	data, err := cards.ReadFile(path.Join("cards", name+".json"))
	if err != nil {
		panic(err)
	}
	card := new(T)
	d := json.NewDecoder(bytes.NewReader(data))
	d.DisallowUnknownFields()
	if err := d.Decode(card); err != nil {
		panic(fmt.Sprintf("film: card %s: %v", name, err))
	}
	return card
}

// Stocks lists the negatives that ship.
func Stocks() []*Stock { return stocks }

// Media lists the print media that ship.
func Media() []*Medium { return media }

// FindStock returns the stock with an id, or an error that lists the ids there are.
func FindStock(id string) (*Stock, error) {
	var ids []string
	for _, s := range stocks {
		if s.ID == id {
			return s, nil
		}
		ids = append(ids, s.ID)
	}
	return nil, fmt.Errorf("unknown stock %q; there are %s", id, strings.Join(ids, ", "))
}

// FindMedium returns the medium with an id, or an error that lists the ids there are.
func FindMedium(id string) (*Medium, error) {
	var ids []string
	for _, m := range media {
		if m.ID == id {
			return m, nil
		}
		ids = append(ids, m.ID)
	}
	return nil, fmt.Errorf("unknown print medium %q; there are %s", id, strings.Join(ids, ", "))
}

// Straight is a negative that adds nothing of its own: it hears the three channels as they are,
// over any range, and develops them alike. It carries a print, halation or grain where no stock is set.
func Straight() *Stock {
	s := *stocks[0]
	s.ID, s.Label = "straight", "Straight negative"
	s.Separation = [3][3]float64{}
	for i := range s.Layers {
		l := &s.Layers[i]
		l.Gamma, l.Speed, l.Toe, l.DMax, l.Shoulder = 0.6, -3.0, 6, 4.0, 6
	}
	return &s
}
