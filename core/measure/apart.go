package measure

import (
	"context"
	"embed"
	"encoding/binary"
	"fmt"
	"math"
	"strings"
	"sync"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/frame"
)

// A Scene is light in ACEScg, by which stocks are compared: small, so that many can be.
type Scene struct {
	Name  string
	Light [][3]float64
}

// The three demo shots, 64×36 pixels, balanced: half floats, red, green and blue.
//
//go:embed scenes/*.f16
var sceneFiles embed.FS

// Scenes are the demo shots, the chart's colours, and two pictures that are made: every hue in four strengths and four
// brightnesses, and earth, leaves, skins and skies in sun and shade.
var Scenes = sync.OnceValue(func() []Scene {
	var out []Scene
	for _, name := range []string{"courtyard", "workbench", "footlights"} {
		data, err := sceneFiles.ReadFile("scenes/" + name + ".f16")
		if err != nil {
			panic("measure: " + err.Error()) // it is built in
		}
		s := Scene{Name: name}
		for ; len(data) > 0; data = data[6:] {
			var c [3]float64
			for i := range c {
				c[i] = half(binary.LittleEndian.Uint16(data[2*i:]))
			}
			s.Light = append(s.Light, c)
		}
		out = append(out, s)
	}
	return append(out, chart(), hues(), garden())
})

// half is the value of a half float that is finite.
func half(b uint16) float64 {
	sign, e, m := 1.0, int(b>>10&31), float64(b&1023)/1024
	if b>>15 == 1 {
		sign = -1
	}
	if e == 0 {
		return sign * math.Ldexp(m, -14)
	}
	return sign * math.Ldexp(1+m, e-15)
}

func chart() Scene {
	s := Scene{Name: "slate"}
	for _, g := range Groups {
		s.Light = append(s.Light, g.Patches...)
	}
	for stops := -5.0; stops <= 4; stops += 0.5 {
		v := 0.18 * math.Exp2(stops)
		s.Light = append(s.Light, [3]float64{v, v, v})
	}
	return s
}

func hues() Scene {
	s := Scene{Name: "hues"}
	for i := range 36 {
		for _, strength := range []float64{0.2, 0.4, 0.6, 0.8} {
			for _, stops := range []float64{-2, -1, 0, 1} {
				var c [3]float64
				for j := range c {
					c[j] = 0.18 * math.Exp2(stops) * (1 + strength*math.Cos(2*math.Pi*(float64(i)/36-float64(j)/3)))
				}
				s.Light = append(s.Light, c)
			}
		}
	}
	return s
}

func garden() Scene {
	s := Scene{Name: "garden"}
	things := [][3]float64{
		{0.10, 0.125, 0.06}, {0.06, 0.085, 0.04}, {0.21, 0.31, 0.085}, {0.28, 0.33, 0.12}, // leaves
		{0.46, 0.34, 0.26}, {0.30, 0.20, 0.145}, {0.12, 0.08, 0.06}, // skins
		{0.25, 0.32, 0.50}, {0.44, 0.52, 0.68}, {0.16, 0.21, 0.40}, // skies
		{0.20, 0.14, 0.09}, {0.33, 0.26, 0.18}, {0.40, 0.38, 0.34}, {0.09, 0.08, 0.075}, // earth, stone, bark
		{0.48, 0.12, 0.14}, {0.62, 0.50, 0.10}, {0.34, 0.16, 0.36}, // petals
	}
	for _, c := range things {
		for _, lit := range []struct {
			stops float64
			tint  [3]float64
		}{{1, [3]float64{1.06, 1, 0.9}}, {0, [3]float64{1, 1, 1}}, {-1.5, [3]float64{0.92, 1, 1.14}}, {-3, [3]float64{0.88, 1, 1.2}}} {
			k := math.Exp2(lit.stops)
			s.Light = append(s.Light, [3]float64{k * c[0] * lit.tint[0], k * c[1] * lit.tint[1], k * c[2] * lit.tint[2]})
		}
	}
	return s
}

// Reproduced are the scenes on the reference print by a stock, mid grey matched, without grain or halo, as CIELAB: scene by
// scene, as many colours as it has.
func Reproduced(ctx context.Context, s *film.Stock, scenes []Scene) ([][][3]float64, error) {
	r := reproduction(s)
	out := make([][][3]float64, len(scenes))
	for i, scene := range scenes {
		out[i] = make([][3]float64, len(scene.Light))
		if err := frame.Bands(ctx, len(scene.Light), 64, func(a, b int) {
			for k := a; k < b; k++ {
				out[i][k] = r.lab(scene.Light[k])
			}
		}); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// Apart is the mean ΔE2000 of two reproductions, scene by scene.
func Apart(a, b [][][3]float64) []float64 {
	out := make([]float64, len(a))
	for i := range a {
		for k := range a[i] {
			out[i] += colour.DeltaE2000(a[i][k], b[i][k]) / float64(len(a[i]))
		}
	}
	return out
}

// Versus is one colour on the reference print by two stocks: CIELAB, the display's light, and how far they are apart.
type Versus struct {
	Name  string        `json:"name"`
	Lab   [2][3]float64 `json:"lab"`
	Light [2][3]float64 `json:"light"`
	Apart float64       `json:"apart"`
}

// versusStops are the greys that two stocks are compared by.
var versusStops = []float64{-4, -2.5, -1, 0, 1, 2.5, 4}

// CompareStocks sets two stocks against each other, patch by patch of Groups, then by greys.
func CompareStocks(a, b *film.Stock) []Versus {
	both := [2]reproduced{reproduction(a), reproduction(b)}
	row := func(name string, light [3]float64) Versus {
		v := Versus{Name: name}
		for i, r := range both {
			v.Lab[i] = r.lab(light)
			v.Light[i] = r.Screen.Display.Light(r.Code(r.Negative.Develop(light)))
		}
		v.Apart = colour.DeltaE2000(v.Lab[0], v.Lab[1])
		return v
	}
	var out []Versus
	for _, g := range Groups {
		for i, p := range g.Patches {
			name := g.Name
			if len(g.Patches) > 1 {
				name = fmt.Sprintf("%s %d", name, i+1)
			}
			out = append(out, row(name, p))
		}
	}
	for _, stops := range versusStops {
		v := 0.18 * math.Exp2(stops)
		name := "mid grey"
		if stops != 0 {
			name = strings.Replace(fmt.Sprintf("grey %+g", stops), "-", "−", 1)
		}
		out = append(out, row(name, [3]float64{v, v, v}))
	}
	return out
}
