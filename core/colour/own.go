package colour

import (
	"crypto/sha256"
	"errors"
	"fmt"
	"math"
	"regexp"
	"strings"

	"velours/core/lut"
	"velours/core/registry"
	"velours/core/strict"
)

// Transform is a colour table or a list of steps, for encodings that are known as nothing else.
type Transform interface {
	Apply(rgb [3]float64) [3]float64
	Rows(r, g, b []float32)
}

// Own is an encoding that a person describes: the six numbers of a camera's log curve and its straight
// piece, as in the Common LUT Format, and the primaries with their white.
//
//	code = LogSlope·log_base(LinSlope·light + LinOffset) + LogOffset
//
// Below Break (in light) the curve goes on straight, with LinearSlope or, where that is not given, with
// the slope it has there.
type Own struct {
	Version     int        `json:"veloursEncoding"`
	Name        string     `json:"name"`
	Base        float64    `json:"base"`
	LogSlope    float64    `json:"logSlope"`
	LogOffset   float64    `json:"logOffset"`
	LinSlope    float64    `json:"linSlope"`
	LinOffset   float64    `json:"linOffset"`
	Break       *float64   `json:"break"`
	LinearSlope *float64   `json:"linearSlope"`
	Red         [2]float64 `json:"red"`
	Green       [2]float64 `json:"green"`
	Blue        [2]float64 `json:"blue"`
	White       [2]float64 `json:"white"`
}

// OwnVersion is the version of the file format of own encodings.
const OwnVersion = 1

// ParseOwn reads an own encoding's file and checks it.
func ParseOwn(data []byte) (*Own, error) {
	o := &Own{}
	if err := strict.JSON(data, o); err != nil {
		return nil, fmt.Errorf("not an encoding: %w", err)
	}
	if o.Version != OwnVersion {
		return nil, fmt.Errorf("an encoding of version %d; this program reads version %d", o.Version, OwnVersion)
	}
	_, err := o.Encoding()
	return o, err
}

var notPlain = regexp.MustCompile(`[^a-z0-9]+`)

// OwnID is the id of an own encoding of a name.
func OwnID(name string) string {
	return "own-" + strings.Trim(notPlain.ReplaceAllString(strings.ToLower(name), "-"), "-")
}

func (o *Own) params() lut.LogParams {
	p := lut.LogParams{Base: o.Base, LogSlope: o.LogSlope, LogOffset: o.LogOffset, LinSlope: o.LinSlope, LinOffset: o.LinOffset, Break: math.NaN(), LinearSlope: math.NaN()}
	if o.Break != nil {
		p.Break = *o.Break
	}
	if o.LinearSlope != nil {
		p.LinearSlope = *o.LinearSlope
	}
	return p
}

// Encoding makes the encoding, or says what is wrong with the numbers.
func (o *Own) Encoding() (*Encoding, error) {
	p := o.params()
	if strings.TrimSpace(o.Name) == "" || OwnID(o.Name) == "own-" {
		return nil, errors.New("it has no name")
	}
	if err := p.Check(); err != nil {
		return nil, fmt.Errorf("the curve has %w", err)
	}
	if p.LogSlope*p.LinSlope*(p.Base-1) <= 0 || p.LinearSlope < 0 {
		return nil, errors.New("the curve falls: more light gives lower codes")
	}
	if at := p.LinSlope*0.18 + p.LinOffset; at <= 0 {
		return nil, errors.New("the curve has no code for mid grey")
	}
	g := Gamut{ID: OwnID(o.Name), R: XY{o.Red[0], o.Red[1]}, G: XY{o.Green[0], o.Green[1]}, B: XY{o.Blue[0], o.Blue[1]}, White: XY{o.White[0], o.White[1]}}
	area := (g.G.X-g.R.X)*(g.B.Y-g.R.Y) - (g.B.X-g.R.X)*(g.G.Y-g.R.Y)
	switch {
	case !(math.Abs(area) > 0.01):
		return nil, errors.New("the primaries make no triangle")
	case !(g.White.Y > 0.05) || g.R.Y == 0 || g.G.Y == 0 || g.B.Y == 0 || !inside(g):
		return nil, errors.New("the white does not lie between the primaries")
	}
	e := &Encoding{ID: g.ID, Label: o.Name, Gamut: g, Decode: p.Light, Encode: p.Code, Camera: true, Anchor: 1}
	d := math.Log2(p.Base) / p.LogSlope
	cut, a, b := -10.0, 0.0, 0.0
	if !math.IsNaN(p.Break) {
		cut = p.Code(p.Break)
		slope := (p.Light(cut) - p.Light(cut-0.01)) / 0.01
		a, b = slope, p.Break-slope*cut
	}
	sum := sha256.Sum256(fmt.Append(nil, g, p))
	e.digest = fmt.Sprintf("%x", sum[:8])
	e.row = logForm(cut, a, b, 1/p.LinSlope, d, -p.LogOffset*d, -p.LinOffset/p.LinSlope)
	return e, nil
}

// inside tells whether the white lies in the triangle of the primaries, on the chromaticity plane.
func inside(g Gamut) bool {
	s := Matrix{g.R.X, g.G.X, g.B.X, g.R.Y, g.G.Y, g.B.Y, 1, 1, 1}.Inverse().Apply([3]float64{g.White.X, g.White.Y, 1})
	return s[0] > 0 && s[1] > 0 && s[2] > 0
}

// OwnPlot is what a person needs to see of a curve.
type OwnPlot struct {
	// Curve holds pairs of stops from mid grey and code.
	Curve [][2]float64 `json:"curve"`
	// Grey is the code of mid grey, Black of no light.
	Grey  float64 `json:"grey"`
	Black float64 `json:"black"`
	// Above and Below are how many stops over and under mid grey the codes 0 to 1 reach; below, down to
	// where a stop is less than one code of ten bits.
	Above float64 `json:"above"`
	Below float64 `json:"below"`
	// Problem says what is wrong with the numbers, or nothing.
	Problem string `json:"problem"`
}

// Plot draws the curve.
func (o *Own) Plot() OwnPlot {
	e, err := o.Encoding()
	if err != nil {
		return OwnPlot{Problem: err.Error(), Curve: [][2]float64{}}
	}
	p := OwnPlot{Grey: e.Encode(0.18), Black: e.Encode(0), Above: math.Log2(e.Decode(1) / 0.18), Curve: [][2]float64{}}
	for s := -12.0; s <= 12; s += 0.125 {
		p.Curve = append(p.Curve, [2]float64{s, e.Encode(0.18 * math.Exp2(s))})
	}
	for s := 0.0; s < 24; s += 0.125 {
		if e.Encode(0.18*math.Exp2(-s))-e.Encode(0.18*math.Exp2(-s-1)) < 1.0/1023 || e.Encode(0.18*math.Exp2(-s)) < 0 {
			break
		}
		p.Below = s
	}
	return p
}

// ByTable is an encoding that is known only as a transform of its codes into those of another.
func ByTable(id, label string, t Transform, after *Encoding) *Encoding {
	return &Encoding{ID: id, Label: label, Gamut: after.Gamut, Anchor: after.Anchor, Through: t, After: after}
}

// known are the encodings that persons have added to those that ship.
var known registry.Registry[*Encoding]

// Know adds an encoding, in place of one of its id.
func Know(e *Encoding) { known.Add(e.ID, e) }

// Forget takes an added encoding away.
func Forget(id string) { known.Remove(id) }
