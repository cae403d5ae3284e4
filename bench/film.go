package main

import (
	"context"
	"fmt"
	"time"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
)

// films times what a change of the film costs at 1280×720: the tables that it makes anew, and the picture after it, for
// a draft and in full, with all that precedes the change kept, as a hand finds it.
func films() {
	size := render.Raster{W: 1280, H: 720}
	src := picture(size.W, size.H)
	fmt.Printf("\nchanges of the film at %d×%d: milliseconds\n\n%-26s %8s %8s %8s %8s %8s\n", size.W, size.H, "", "tables", "draft", "tables", "exact", "× copy")
	stocks, media := film.Stocks(), film.Media()
	for _, c := range []struct {
		name string
		set  func(l *look.Look, k int)
	}{
		{"nothing", func(*look.Look, int) {}},
		{"printer lights", func(l *look.Look, k int) { put(l, "print.lights.red", float64(k+1)) }},
		{"print contrast", func(l *look.Look, k int) { put(l, "print.medium.contrast", float64(101+k)) }},
		{"filtration", func(l *look.Look, k int) { put(l, "print.filtration.lights-yellow", float64(1+k)) }},
		{"rating", func(l *look.Look, k int) { put(l, "negative.stock.rating", 0.1*float64(1+k)) }},
		{"push", func(l *look.Look, k int) { put(l, "negative.stock.push", 0.25*float64(1+k)) }},
		{"another stock", func(l *look.Look, k int) { put(l, "negative.stock.id", stocks[1+k].ID) }},
		{"sharpness", func(l *look.Look, k int) { put(l, "negative.sharpness.adjacency", float64(90+k)) }},
		{"a dupe", func(l *look.Look, k int) {
			put(l, "print.medium.generation", "dupe")
			put(l, "print.medium.contrast", float64(101+k))
		}},
		{"another medium", func(l *look.Look, k int) { put(l, "print.medium.id", media[1+k].ID) }},
	} {
		const rounds = 5
		r := render.NewRenderer(512 << 20)
		base := filmLook("100")
		for _, compile := range compilers {
			plan, err := compile(context.Background(), base, recorded, size, look.Finish)
			check(err)
			f, err := r.Render(context.Background(), plan, src, 0)
			check(err)
			f.Release()
		}
		var took [4][]float64
		var copies []float64
		to := frame.New(size.W, size.H, 3)
		for k := range rounds {
			began := time.Now()
			for p := range 3 {
				for y := range size.H {
					copy(to.Row(p, y), src.f.Row(p, y))
				}
			}
			copies = append(copies, ms(time.Since(began)))
			l := base.Clone()
			c.set(l, k)
			for i, compile := range compilers {
				began = time.Now()
				plan, err := compile(context.Background(), l, recorded, size, look.Finish)
				check(err)
				took[2*i] = append(took[2*i], ms(time.Since(began)))
				began = time.Now()
				f, err := r.Render(context.Background(), plan, src, 0)
				check(err)
				took[2*i+1] = append(took[2*i+1], ms(time.Since(began)))
				f.Release()
			}
		}
		fmt.Printf("%-26s %8.1f %8.1f %8.1f %8.1f %8.0f\n", c.name, median(took[0]), median(took[1]), median(took[2]), median(took[3]), (median(took[2])+median(took[3]))/median(copies))
	}
}

// compilers make a draft, and the picture in full.
var compilers = []func(context.Context, *look.Look, *colour.Encoding, render.Raster, look.Station) (*render.Plan, error){render.CompileDraft, render.Compile}

func put(l *look.Look, name string, v any) { check(l.Set(name, v)) }
