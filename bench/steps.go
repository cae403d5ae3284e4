package main

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"sort"
	"strings"
	"time"

	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
)

// steps times every correction of Balance and Lens by itself, over a frame that lies ready as the light before it,
// against a copy of the same planes; then each sort of matte, as what it adds to a contrast. Those whose names have the word
// alone, if one is given. What looks at its neighbours is timed at three sizes and with its sizes four times as large, too.
func steps(word string) {
	cases := stepCases()
	size := render.Raster{W: 1280, H: 720}
	src := picture(size.W, size.H)
	fmt.Printf("\ncorrections at %d×%d: milliseconds beyond decoding, and as × copy\n", size.W, size.H)
	type line struct {
		name      string
		ms, ratio float64
	}
	var lines []line
	for _, c := range cases {
		if strings.Contains(c.name, word) {
			ms, copied := c.beyond(src, size)
			lines = append(lines, line{c.name, ms, ms / copied})
			if c.station == look.Balance {
				record(fmt.Sprintf("%s, × copy", c.name), ms/copied)
			}
		}
	}
	sort.SliceStable(lines, func(i, j int) bool { return lines[i].ms > lines[j].ms })
	for _, l := range lines {
		fmt.Printf("%-44s %7.1f %7.1f\n", l.name, l.ms, l.ratio)
	}
	sized := false
	for _, c := range cases {
		if len(c.sizes) == 0 || !strings.Contains(c.name, word) {
			continue
		}
		if !sized {
			sized = true
			fmt.Printf("\nby size, and with sizes four times as large: × copy of as many pixels\n%-44s", "")
			for _, r := range rasters {
				fmt.Printf(" %17s", fmt.Sprintf("%d×%d", r.W, r.H))
			}
			fmt.Println()
		}
		fmt.Printf("%-44s", c.name)
		for _, r := range rasters {
			src := picture(r.W, r.H)
			a, copied := c.beyond(src, r)
			b, copiedThen := c.larger(4).beyond(src, r)
			fmt.Printf(" %8.1f %8.1f", a/copied, b/copiedThen)
		}
		fmt.Println()
	}
}

var rasters = []render.Raster{{W: 1280, H: 720}, {W: 1920, H: 1080}, {W: 3840, H: 2160}}

// stepCase is a look with one thing more than another.
type stepCase struct {
	name       string
	look, base *look.Look
	station    look.Station
	sizes      []string // settings of the thing, or of the matte m, that are sizes
}

// larger is the case with its sizes k times as large.
func (c stepCase) larger(k float64) stepCase {
	c.look = c.look.Clone()
	for _, id := range c.sizes {
		if m := c.look.Mattes["m"]; m != nil {
			m = m.Clone()
			m.Grow, m.Blur, m.Refine = m.Grow*k, m.Blur*k, m.Refine*k
			c.look.SetMatte("m", m)
			break
		}
		for _, p := range c.look.Stations[c.station].Steps {
			if v, ok := p.Settings[id].(float64); ok {
				p.Settings[id] = v * k
			}
		}
	}
	return c
}

// beyond is how many milliseconds the case takes beyond its base, and what a copy takes.
func (c stepCase) beyond(src single, size render.Raster) (took, copied float64) {
	with, copied := timed(src, size, c.look, c.station)
	without, _ := timed(src, size, c.base, c.station)
	return with - without, copied
}

// timed is the median of the milliseconds of a frame under a look, and of a copy of its planes.
func timed(src single, size render.Raster, l *look.Look, tap look.Station) (took, copied float64) {
	plan, err := render.Compile(context.Background(), l, recorded, size, tap)
	check(err)
	r := render.NewRenderer(0)
	var times, copies []float64
	to := frame.New(size.W, size.H, 3)
	for k := range 9 {
		began := time.Now()
		check(frame.Bands(context.Background(), size.H, 32, func(y0, y1 int) {
			for p := range 3 {
				for y := y0; y < y1; y++ {
					copy(to.Row(p, y), src.f.Row(p, y))
				}
			}
		}))
		copies = append(copies, ms(time.Since(began)))
		began = time.Now()
		f, err := r.Render(context.Background(), plan, src, k)
		check(err)
		times = append(times, ms(time.Since(began)))
		f.Release()
	}
	return median(times), median(copies)
}

// stepCases are the corrections, with what they take a fifth of the way to its end, and the mattes.
func stepCases() []stepCase {
	var cases []stepCase
	clean := filmLook("0")
	for _, s := range []look.Station{look.Balance, look.Lens, look.Negative, look.Print, look.Finish} {
		delete(clean.Stations, s)
	}
	// sizes that may be four times as large
	sizes := map[string]map[string]float64{"balance.texture": {"fine-size": 0.25, "coarse-size": 2}, "balance.sharpen": {"size": 30}, "balance.soften": {"size": 30}}
	for _, k := range look.Kinds() {
		if !k.Repeatable || k.Station == look.Finish {
			continue
		}
		l := clean.Clone()
		p, err := l.Ensure(k.Station, k.ID)
		check(err)
		for i := range k.Settings {
			s := &k.Settings[i]
			if len(s.List()) == 0 && s.Points == "" && s.Max > s.Default {
				p.Settings[s.ID] = s.Default + 0.2*(s.Max-s.Default)
			}
		}
		if k.ID == "curve" {
			p.Settings["all"] = "-4:-4.5 0:0.3 3:2.6"
		}
		if k.ID == "patch" {
			name := "m"
			l.SetMatte(name, &look.Matte{Parts: []*look.MattePart{{Kind: "ellipse"}}})
			p.Matte = &name
		}
		for id, v := range sizes[k.Path()] {
			p.Settings[id] = v
		}
		check(l.Check())
		cases = append(cases, stepCase{k.Path(), l, clean, k.Station, slices.Sorted(maps.Keys(sizes[k.Path()]))})
	}
	contrast := clean.Clone()
	check(contrast.Set("balance.contrast.amount", 130.0))
	matte := func(title string, m *look.Matte, sizes ...string) {
		l := contrast.Clone()
		name := "m"
		l.SetMatte(name, m)
		l.Step(look.Balance, "contrast").Matte = &name
		cases = append(cases, stepCase{"matte " + title, l, contrast, look.Balance, sizes})
	}
	for _, k := range look.MatteKinds() {
		part := &look.MattePart{Kind: k.ID}
		if k.ID == "polygon" {
			part.Settings = map[string]any{"points": "0.3:0.3 0.7:0.3 0.6:0.7"}
		}
		matte(k.ID, &look.Matte{Parts: []*look.MattePart{part}})
	}
	edges := map[string]look.Matte{"grown": {Grow: 1}, "softened": {Blur: 1}, "refined": {Refine: 1}}
	for _, title := range slices.Sorted(maps.Keys(edges)) {
		m := edges[title]
		m.Parts = []*look.MattePart{{Kind: "ellipse"}}
		matte(title, &m, title)
	}
	return cases
}
