package main

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"velours/core/look"
	"velours/core/render"
)

// lights times what light that spreads costs at 3840×2160: every set of steps against bloom and halation alone, in turn, by what
// the picture takes more than without any.
func lights() {
	size := render.Raster{W: 3840, H: 2160}
	src := picture(size.W, size.H)
	both := "lens.bloom.amount=20 negative.halation.amount=100 negative.halation.backing=100"
	worn := strings.Replace(both, "backing=100", "backing=50", 1)
	sets := []struct{ name, with string }{
		{"none", ""},
		{"bloom, halation", both},
		{"+ mist", both + " lens.diffusion.family=mist"},
		{"+ fog", both + " lens.diffusion.family=fog"},
		{"+ silk, warm", both + " lens.diffusion.family=silk lens.diffusion.warmth=100"},
		{"+ net", both + " lens.diffusion.family=net"},
		{"+ net, turned", both + " lens.diffusion.family=net lens.diffusion.turn=20"},
		{"worn backing", worn},
		{"worn + mist", worn + " lens.diffusion.family=mist"},
		{"bloom from +2.5", both + " lens.bloom.from=2.5"},
		{"bloom, two tints", both + " lens.bloom.near-tint=30 lens.bloom.far-tint=30"},
		{"bloom, stretched", both + " lens.bloom.aspect=4"},
		{"bloom, holds", both + " lens.bloom.darks=50 lens.bloom.cores=50"},
		{"halation, from, holds", both + " negative.halation.from=2 negative.halation.darks=50"},
		{"haze", "lens.haze.amount=8"},
		{"flare", "lens.flare.veil=3 lens.flare.streaks=5 lens.flare.ghosts=2"},
		{"dirt", "lens.dirt.amount=12"},
		{"distortion", "lens.distortion.amount=-3"},
		{"fringe, sideways", "lens.fringe.lateral=0.06"},
		{"fringe, in depth", "lens.fringe.axial=0.06"},
		{"focus, 0.4 %", "lens.focus.radius=0.4"},
		{"focus, 3 %", "lens.focus.radius=3"},
	}
	plans := make([]*render.Plan, len(sets))
	took := make([][]float64, len(sets))
	for i, s := range sets {
		l := look.NewLook("light")
		for _, set := range append([]string{"balance.exposure.stops=0.2", "negative.stock.id=aubade-250d", "print.medium.id=rideau"}, strings.Fields(s.with)...) {
			name, v, _ := strings.Cut(set, "=")
			check(l.Set(name, v))
		}
		var err error
		plans[i], err = render.Compile(context.Background(), l, recorded, size, look.Finish)
		check(err)
	}
	r := render.NewRenderer(0)
	for turn := range 13 {
		for i, p := range plans {
			if turn > 4 && took[i][0] > 3*took[1][0] { // slow ones need no more
				continue
			}
			began := time.Now()
			out, err := r.Render(context.Background(), p, src, 0)
			check(err)
			out.Release()
			if turn > 0 { // pools are filled
				took[i] = append(took[i], ms(time.Since(began)))
			}
		}
	}
	fastest := func(v []float64) float64 { return slices.Min(v) } // another's work only ever adds
	none, one := fastest(took[0]), fastest(took[1])
	fmt.Printf("\nlight that spreads, %d×%d: milliseconds, the fastest of a dozen turns\n\n%-24s %8s %8s %20s\n", size.W, size.H, "", "whole", "more", "× bloom, halation")
	for i, s := range sets {
		m := fastest(took[i])
		fmt.Printf("%-24s %8.0f %8.0f %20.2f\n", s.name, m, m-none, (m-none)/(one-none))
	}
	fmt.Println("Budget: bloom, diffusion and halation at most 1.3 × bloom and halation.")
}
