package main

import (
	"context"
	"fmt"
	"sort"
	"time"

	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
)

// steps times every correction of Balance and Lens by itself, over a frame that lies ready as the light before it,
// against a copy of the same planes; then each sort of matte, as what it adds to a contrast.
func steps() {
	size := render.Raster{W: 1280, H: 720}
	src := picture(size.W, size.H)
	fmt.Printf("\ncorrections at %d×%d: milliseconds beyond decoding, and as × copy\n", size.W, size.H)
	run := func(l *look.Look, tap look.Station) (took, copied float64) {
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
	type line struct {
		name      string
		ms, ratio float64
	}
	var lines []line
	note := func(name string, l *look.Look, tap look.Station, base *look.Look) {
		with, copied := run(l, tap)
		without, _ := run(base, tap)
		lines = append(lines, line{name, with - without, (with - without) / copied})
	}
	clean := filmLook("0")
	for _, s := range []look.Station{look.Balance, look.Lens, look.Negative, look.Print, look.Finish} {
		delete(clean.Stations, s)
	}
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
		check(l.Check())
		note(k.Path(), l, k.Station, clean)
	}
	contrast := clean.Clone()
	check(contrast.Set("balance.contrast.amount", 130.0))
	for _, k := range look.MatteKinds() {
		l := contrast.Clone()
		part := &look.MattePart{Kind: k.ID}
		if k.ID == "polygon" {
			part.Settings = map[string]any{"points": "0.3:0.3 0.7:0.3 0.6:0.7"}
		}
		name := "m"
		l.SetMatte(name, &look.Matte{Parts: []*look.MattePart{part}})
		l.Step(look.Balance, "contrast").Matte = &name
		note("matte "+k.ID, l, look.Balance, contrast)
	}
	for _, e := range []look.Matte{{Grow: 1}, {Blur: 1}, {Refine: 1}} {
		l := contrast.Clone()
		m := e
		m.Parts = []*look.MattePart{{Kind: "ellipse"}}
		name := "m"
		l.SetMatte(name, &m)
		l.Step(look.Balance, "contrast").Matte = &name
		note(fmt.Sprintf("matte grown %g, softened %g, refined %g", e.Grow, e.Blur, e.Refine), l, look.Balance, contrast)
	}
	sort.SliceStable(lines, func(i, j int) bool { return lines[i].ms > lines[j].ms })
	for _, l := range lines {
		fmt.Printf("%-44s %7.1f %7.1f\n", l.name, l.ms, l.ratio)
	}
}
