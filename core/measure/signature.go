package measure

import (
	"math"
	"sync"

	"velours/core/cache"
	"velours/core/colour"
	"velours/core/film"
)

// A Group is patches of the chart that are judged together: their hue and lightness by how far they move on average, their
// chroma by the mean.
type Group struct {
	Name    string
	Patches [][3]float64 // light in ACEScg
}

// Groups are the colours by which the character of a stock is told: four skins, leaves in the shade and in the sun, three skies,
// and cloths and paints. All but the sunlit leaf and the two brighter skies are patches of the chart.
var Groups = []Group{
	{"skin", [][3]float64{{0.52, 0.39, 0.30}, {0.37, 0.255, 0.18}, {0.23, 0.15, 0.105}, {0.105, 0.070, 0.052}}},
	{"foliage", [][3]float64{{0.105, 0.13, 0.062}, {0.21, 0.31, 0.085}}},
	{"sky", [][3]float64{{0.17, 0.19, 0.32}, {0.25, 0.32, 0.50}, {0.44, 0.52, 0.68}}},
	{"red", [][3]float64{{0.29, 0.060, 0.055}}},
	{"orange", [][3]float64{{0.40, 0.22, 0.065}}},
	{"yellow", [][3]float64{{0.60, 0.53, 0.095}}},
	{"green", [][3]float64{{0.13, 0.245, 0.085}}},
	{"cyan", [][3]float64{{0.105, 0.22, 0.33}}},
	{"blue", [][3]float64{{0.055, 0.058, 0.26}}},
	{"purple", [][3]float64{{0.36, 0.115, 0.27}}},
}

// Turn is how a group of colours differs from the reference's reproduction: Hue in degrees of CIELAB (towards what follows in the
// circle red, yellow, green, blue), Chroma in per cent of the reference's, Lightness in L*.
type Turn struct {
	Hue       float64 `json:"hue"`
	Chroma    float64 `json:"chroma"`
	Lightness float64 `json:"lightness"`
}

// Signature is how a stock differs from the reference, both on the reference print, mid grey matched, without grain or halo, read
// as CIELAB on a BT.1886 display.
type Signature struct {
	// Gamma is the slope of the whole path at mid grey, in per cent more than the reference's.
	Gamma float64 `json:"gamma"`
	// Shadows and Whites are a* and b* of greys two and a half stops under and over mid grey.
	Shadows [2]float64 `json:"shadows"`
	Whites  [2]float64 `json:"whites"`
	// Groups are the turns of Groups. Response, of black and white, is how light a group comes against a grey of the same
	// luminance, in stops.
	Groups   map[string]Turn    `json:"groups,omitempty"`
	Response map[string]float64 `json:"response,omitempty"`
}

var signatures = cache.Results[*Signature]{Size: 96}

// SignatureOf reads the signature of a stock. It is shared: read only.
func SignatureOf(s *film.Stock) *Signature {
	g, _ := signatures.Get(s.Key(), func() (*Signature, error) { return readSignature(s), nil })
	return g
}

// greyStops are how far from mid grey the shadows and the whites of a signature lie.
const greyStops = 2.5

func readSignature(s *film.Stock) *Signature {
	own, ref := reproduction(s), reference()
	g := &Signature{
		Gamma:   100 * (own.slope()/ref.slope() - 1),
		Shadows: own.grey(-greyStops), Whites: own.grey(greyStops),
	}
	if s.Mono {
		g.Response = map[string]float64{}
		for _, group := range Groups {
			g.Response[group.Name] = response(own.Negative, group)
		}
		return g
	}
	g.Groups = map[string]Turn{}
	for _, group := range Groups {
		var t Turn
		was, is := 0.0, 0.0
		n := float64(len(group.Patches))
		for _, p := range group.Patches {
			a, b := ref.lab(p), own.lab(p)
			t.Hue += math.Remainder(hue(b)-hue(a), 360) / n
			t.Lightness += (b[0] - a[0]) / n
			was += math.Hypot(a[1], a[2])
			is += math.Hypot(b[1], b[2])
		}
		t.Chroma = 100 * is / was
		g.Groups[group.Name] = t
	}
	return g
}

// reproduced is a stock on the reference print and display.
type reproduced struct{ *film.Positive }

// ReferencePrint is the medium on which stocks are compared.
const ReferencePrint = "rideau"

func reproduction(s *film.Stock) reproduced {
	m, err := film.FindMedium(ReferencePrint)
	if err != nil {
		panic("measure: " + err.Error()) // it ships
	}
	n := film.Develop(s, film.Process{Strength: 1})
	return reproduced{film.NewPositive(n, film.NewPrint(m, n), [3]float64{}, 1, film.Screen{Display: referenceDisplay(), Range: 0.5, Whites: 1, Tone: colour.DefaultTone})}
}

var reference = sync.OnceValue(func() reproduced { return reproduction(film.Reference()) })

var referenceDisplay = sync.OnceValue(func() *colour.Display {
	d, err := colour.FindDisplay("bt1886")
	if err != nil {
		panic("measure: " + err.Error())
	}
	return d
})

func (r reproduced) xyz(light [3]float64) [3]float64 {
	d := r.Screen.Display
	return d.Gamut.ToXYZ().Apply(d.Light(r.Code(r.Negative.Develop(light))))
}

func (r reproduced) lab(light [3]float64) [3]float64 {
	return colour.Lab(r.xyz(light), r.Screen.Display.Gamut.White.XYZ())
}

func (r reproduced) grey(stops float64) [2]float64 {
	v := 0.18 * math.Exp2(stops)
	l := r.lab([3]float64{v, v, v})
	return [2]float64{l[1], l[2]}
}

// slope is that of the logarithm of the screen's light against that of the scene's at mid grey, over a fifth of a stop.
func (r reproduced) slope() float64 {
	at := func(stops float64) float64 {
		v := 0.18 * math.Exp2(stops)
		return math.Log2(r.xyz([3]float64{v, v, v})[1])
	}
	return (at(0.1) - at(-0.1)) / 0.2
}

func hue(lab [3]float64) float64 { return math.Atan2(lab[2], lab[1]) * 180 / math.Pi }

// response is the exposure of a black and white stock by a group, in stops more than by greys of its luminance.
func response(n *film.Negative, g Group) float64 {
	luma := colour.AP1.ToXYZ()
	sum := 0.0
	for _, p := range g.Patches {
		y := luma[3]*p[0] + luma[4]*p[1] + luma[5]*p[2]
		sum += math.Log2(max(n.Exposed(p)[0], film.MinExposure) / y)
	}
	return sum / float64(len(g.Patches))
}

// Shift is where the reference print has a colour, by the reference stock and by another: CIELAB, and the second as light of the
// display.
type Shift struct {
	Name     string
	From, To [3]float64
	Light    [3]float64
}

// Shifts are those of Groups, patch by patch.
func Shifts(s *film.Stock) []Shift {
	own := reproduction(s)
	d := own.Screen.Display
	var out []Shift
	for _, g := range Groups {
		for _, p := range g.Patches {
			out = append(out, Shift{g.Name, reference().lab(p), own.lab(p), d.Light(own.Code(own.Negative.Develop(p)))})
		}
	}
	return out
}

// Scale is the lightness of greys on the reference print, by stops from mid grey.
func Scale(s *film.Stock, stops []float64) []float64 {
	r := reproduction(s)
	var out []float64
	for _, x := range stops {
		v := 0.18 * math.Exp2(x)
		out = append(out, r.lab([3]float64{v, v, v})[0])
	}
	return out
}
