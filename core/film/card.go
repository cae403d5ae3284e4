package film

import (
	"velours/core/colour"
	"velours/core/curve"
	"velours/core/spectrum"
)

// CardVersion is the version of the card format that this program writes.
const CardVersion = 1

// Lobe is a Gaussian over wavelength.
type Lobe struct {
	Peak   float64 `json:"peak" range:"-400,1600" doc:"wavelength of the peak, nm"`
	Width  float64 `json:"width" range:"1,5000" doc:"standard deviation, nm"`
	Height float64 `json:"height" range:"-4,4" doc:"at the peak"`
}

func lobes(l []Lobe) spectrum.Curve {
	return spectrum.Of(func(nm float64) float64 {
		s := 0.0
		for _, k := range l {
			s += k.Height * spectrum.Bell(nm, k.Peak, k.Width)
		}
		return s
	})
}

// Layer is one record of a stock. Its curve is stated as that of a negative; a reversal stock has it upside down:
// what the first developer took is what the dyes lack.
type Layer struct {
	Sensitivity []Lobe  `json:"sensitivity" doc:"the spectral sensitivity of the layer"`
	Dye         []Lobe  `json:"dye,omitempty" doc:"spectral density of its dye at unit density, what is wanted first; black and white has silver instead"`
	Gamma       float64 `json:"gamma" range:"0.1,4" doc:"slope of the straight part"`
	Speed       float64 `json:"speed" range:"-5,1" doc:"log exposure at the foot of the straight part, mid grey at 0"`
	Toe         float64 `json:"toe" range:"0.5,20" doc:"softness of the foot; larger is harder, a decade of exposure"`
	DMax        float64 `json:"dmax" range:"0.5,6" doc:"the most density above base"`
	Shoulder    float64 `json:"shoulder" range:"0.5,20" doc:"softness of the top; larger is harder, a unit of density"`
	// Measured refines the curve: it goes through these points.
	Measured [][2]float64 `json:"measured,omitempty" doc:"points of a measured curve, log exposure and density above base, both rising; they refine what the figures say"`
	Grain    float64      `json:"grain" range:"0,4" doc:"granularity against the stock's"`
	Held     float64      `json:"held" range:"0,1" doc:"halation: share of this layer's light that enters the base"`
	Back     float64      `json:"back" range:"0,1" doc:"halation: how well returned light exposes this layer"`
	Scatter  float64      `json:"scatter,omitempty" range:"0,4" doc:"how far light scatters in this layer, against the stock's; left out, as far"`
}

// Balance is the light for which a stock shows neutrals as neutral.
type Balance struct {
	Kelvin   float64 `json:"kelvin" range:"2000,12000" doc:"colour temperature"`
	Daylight bool    `json:"daylight" doc:"a phase of daylight; a black body otherwise"`
}

// Light is the spectrum.
func (b Balance) Light() spectrum.Curve {
	if b.Daylight {
		return spectrum.Daylight(b.Kelvin)
	}
	return spectrum.Planck(b.Kelvin)
}

// Development is how a stock answers to its baths: what one stop of push does, and the baths of the other kind.
type Development struct {
	Gamma   [3]float64 `json:"gamma" range:"0,0.3" doc:"rise of the slope for a stop of push, red, green and blue layer, as a share"`
	Speed   float64    `json:"speed" range:"0,1" doc:"stops of speed that a stop of push gains"`
	Fog     float64    `json:"fog" range:"0,0.2" doc:"density that a stop of push adds everywhere; a reversal stock loses as much of its black"`
	Grain   float64    `json:"grain" range:"0,1" doc:"rise of the deviation of grain for a stop of push, as a share"`
	Crossed Crossed    `json:"crossed" doc:"developed in the baths of the other kind: a reversal stock to a negative, a negative to a positive"`
}

// Crossed is what the baths of the other kind do.
type Crossed struct {
	Gamma      [3]float64 `json:"gamma" range:"0.1,4" doc:"slope against the stock's own, layer by layer"`
	Separation float64    `json:"separation" range:"0,3" doc:"interlayer effect against the stock's own"`
}

// Sharpness is how a stock draws: two Gaussians of scattered light, and the adjacency that sharpens density.
type Sharpness struct {
	Fine      float64 `json:"fine" range:"0,50" doc:"deviation of the narrow scatter, µm"`
	Wide      float64 `json:"wide" range:"0,100" doc:"deviation of the wide scatter, µm"`
	Share     float64 `json:"share" range:"0,1" doc:"share of the narrow one"`
	Adjacency float64 `json:"adjacency" range:"0,1" doc:"how much density is sharpened"`
	Reach     float64 `json:"reach" range:"0,200" doc:"deviation of what it is sharpened against, µm"`
}

// Stock is a camera film.
type Stock struct {
	Velours int      `json:"velours" range:"1,1" doc:"version of the format"`
	ID      string   `json:"id" doc:"letters, figures and hyphens"`
	Label   string   `json:"label" doc:"its name"`
	Family  string   `json:"family" doc:"with which others it stands in lists"`
	Note    string   `json:"note" doc:"a sentence on its character"`
	Era     string   `json:"era" doc:"when such stocks were used"`
	Tags    []string `json:"tags" doc:"by mood"`
	Speed   float64  `json:"speed" range:"1,6400" doc:"exposure index"`
	// Reversal stocks are developed to a positive, Mono ones hold silver in place of dyes.
	Reversal bool     `json:"reversal,omitempty" doc:"it is developed to a positive"`
	Mono     bool     `json:"mono,omitempty" doc:"black and white: one layer is given, and silver stands for dyes"`
	Balance  Balance  `json:"balance" doc:"the light it is made for"`
	Layers   [3]Layer `json:"layers" doc:"red, green and blue; one alone for black and white"`
	// Taking, where it is given, is what takes ACEScg to the exposure of the layers, in place of what the
	// sensitivities say; its rows sum to 1.
	Taking      *colour.Matrix `json:"taking,omitempty" range:"-4,4" doc:"ACEScg to the exposure of the layers, row by row, each of which sums to 1; without it the sensitivities say"`
	Separation  [3][3]float64  `json:"separation,omitzero" range:"-2,2" doc:"interlayer effect: what each layer gains or loses by the log exposure of the others; rows sum to 0"`
	Natural     float64        `json:"natural,omitempty" range:"0,1" doc:"share by which its layers hear leaves, skins, skies, petals and paints as their spectra are, beside what three channels say of them"`
	OneSided    [3][3]float64  `json:"oneSided,omitzero" range:"-2,2" doc:"one-sided interlayer effect: what each layer gains, of the difference in log exposure, where another develops more than it; 0 on the diagonal"`
	Base        []Lobe         `json:"base" doc:"density of base and fog"`
	Mask        float64        `json:"mask,omitempty" range:"0,1" doc:"share of unwanted dye absorption that coloured couplers make up for"`
	Fade        [3]float64     `json:"fade,omitzero" range:"0,1" doc:"share that each dye has lost since, cyan, magenta and yellow"`
	Greys       string         `json:"greys,omitempty" doc:"id of the reversal stock for which the greys of its prints are neutral, so that its own crossovers show; without it they are for itself"`
	Cast        []Cast         `json:"cast,omitempty" doc:"how far greys are from neutral where the film itself is projected, if that is meant"`
	Printed     []Cast         `json:"printed,omitempty" doc:"how far greys are from neutral on the reference print, if that is meant"`
	Claims      []Claim        `json:"claims,omitempty" doc:"what makes it itself, in figures that are checked: against the reference stock on the reference print"`
	Development Development    `json:"development" doc:"how it answers to its baths"`
	Granularity float64        `json:"granularity" range:"0,60" doc:"1000 σ of density through a disc of 48 µm at density 1 above base"`
	Cloud       float64        `json:"cloud" range:"0.3,6" doc:"standard deviation of a dye cloud, µm"`
	MTF         Sharpness      `json:"mtf" doc:"how it draws detail"`
	Thickness   float64        `json:"thickness" range:"0.02,1" doc:"of the base, mm"`
	Index       float64        `json:"index" range:"1.2,2" doc:"refractive index of the base"`
	Bare        bool           `json:"bare,omitempty" doc:"it came without a backing against halation"`
	Undercoat   float64        `json:"undercoat,omitempty" range:"0,2" doc:"density of a dyed layer between layers and base, which it has in place of a backing against halation"`
	Leak        float64        `json:"leak,omitempty" range:"0,1" doc:"share of what a backing should swallow that this one let through from the start"`

	refine [3]*curve.Monotone // stated density → measured density
	digest string
}

// Cast is how far a grey is meant to be from neutral.
type Cast struct {
	Stops float64 `json:"stops" range:"-8,8" doc:"brightness of the grey in the scene, from mid grey"`
	A     float64 `json:"a" range:"-60,60" doc:"CIE a*, green to red"`
	B     float64 `json:"b" range:"-60,60" doc:"CIE b*, blue to yellow"`
}

// Claim is a figure of a stock that is held to (measure.Check).
type Claim struct {
	Of     string  `json:"of" doc:"skin, foliage, sky, red, orange, yellow, green, cyan, blue or purple; shadows or whites, greys 2.5 stops under and over mid grey; scale, grain, detail or halo"`
	Figure string  `json:"figure" doc:"of colours hue (degrees), chroma (% of the reference's more), lightness (L*) or response (stops, of black and white); of greys a or b (CIE); slope of the scale (% more); granularity of grain and transfer of detail (% more), red of detail (% finer than green), share and hue of a halo (stops more, degrees)"`
	Value  float64 `json:"value" range:"-400,400" doc:"the figure"`
	Within float64 `json:"within" range:"0,100" doc:"how far off it may be"`
}

// Medium is what the camera film is printed on, or shown by.
type Medium struct {
	Velours int      `json:"velours" range:"1,1" doc:"version of the format"`
	ID      string   `json:"id" doc:"letters, figures and hyphens"`
	Label   string   `json:"label" doc:"its name"`
	Family  string   `json:"family" doc:"with which others it stands in lists"`
	Note    string   `json:"note" doc:"a sentence on its character"`
	Tags    []string `json:"tags" doc:"by mood"`
	// Direct projects the camera film itself, Scan shows its printing density, Mono prints in black and white.
	Direct bool `json:"direct,omitempty" doc:"no print: the camera film itself is projected, developed to a positive"`
	Scan   bool `json:"scan,omitempty" doc:"no print: printing density as it is scanned"`
	Mono   bool `json:"mono,omitempty" doc:"black and white: one sensitivity is given, and silver stands for dyes"`
	// Generations lie between the camera film and it.
	Generations int `json:"generations,omitempty" range:"0,2" doc:"copies on film between the camera film and what is printed or scanned; an internegative is the second, by way of an interpositive"`
	// The other fields say nothing of a scan, and of a direct one only lamp, flare and base.
	Sensitivity [3]Lobe    `json:"sensitivity,omitzero" doc:"the spectral sensitivity of its layers to the printer's light"`
	Dyes        [3][]Lobe  `json:"dyes,omitzero" doc:"spectral density of cyan, magenta and yellow at unit amount"`
	Gamma       float64    `json:"gamma,omitempty" range:"0,6" doc:"central slope of the neutral scale"`
	DMin        float64    `json:"dmin,omitempty" range:"0,1" doc:"visual density of its white"`
	DMax        float64    `json:"dmax,omitempty" range:"0,6" doc:"visual density of its black"`
	Aim         float64    `json:"aim,omitempty" range:"0,2" doc:"visual density of mid grey"`
	Toe         float64    `json:"toe,omitempty" range:"0,20" doc:"softness of the whites; larger is harder, a decade of exposure"`
	Shoulder    float64    `json:"shoulder,omitempty" range:"0,20" doc:"softness of the blacks; larger is harder, a unit of density"`
	Base        []Lobe     `json:"base,omitempty" doc:"colour of its base, beside D-min: a tint, or yellowed paper"`
	Darks       [2]float64 `json:"darks,omitzero" range:"-40,40" doc:"cast of its dark tones, CIE a* and b*"`
	Lights      [2]float64 `json:"lights,omitzero" range:"-40,40" doc:"cast of its light tones, CIE a* and b*"`
	Printer     float64    `json:"printer,omitempty" range:"0,10000" doc:"lamp of the printer, K"`
	Projector   float64    `json:"projector" range:"2000,10000" doc:"lamp it is seen by, K"`
	Flare       float64    `json:"flare,omitempty" range:"0,0.05" doc:"stray light as a share of open gate"`

	digest string
}
