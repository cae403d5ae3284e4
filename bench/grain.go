package main

import (
	"context"
	"fmt"
	"time"

	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
)

// budgetGrain is how many times as long a frame may take with all that shapes grain on, against the grain of looks before process 4.
const budgetGrain = 1.15

// grains times a frame of 3840×2160 with the grain there was before looks of process 4, with today's, and with all of it on, in turn; then how
// many megapixels a second are made of clouds that are placed one by one.
func grains() {
	size := render.Raster{W: 3840, H: 2160}
	src := picture(size.W, size.H)
	all := []string{"negative.grain.shadows=150", "negative.grain.crisp=40", "negative.grain.stretch=1.5", "negative.grain.tint=20", "negative.grain.red=110", "negative.grain.of=percale-400"}
	forms := []struct {
		name    string
		process int
		set     []string
	}{{"before process 4", 3, nil}, {"linked, made of clouds", look.Process, nil}, {"all that shapes it", look.Process, all},
		{"and unlinked by a fifth", look.Process, append(all, "negative.grain.link=80", "negative.grain.saturation=120")}, {"and flowing", look.Process, append(all, "negative.grain.time=flowing")}}
	plans := make([]*render.Plan, len(forms))
	for i, f := range forms {
		l := filmLook("100")
		l.Made = &look.Made{Process: f.process}
		check(l.SetAll(f.set...))
		var err error
		plans[i], err = render.Compile(context.Background(), l, recorded, size, look.Finish)
		check(err)
	}
	r := render.NewRenderer(0)
	took, ratios := make([][]float64, len(forms)), make([][]float64, len(forms))
	for turn := range 12 {
		for i, p := range plans {
			began := time.Now()
			f, err := r.Render(context.Background(), p, src, turn)
			check(err)
			took[i] = append(took[i], ms(time.Since(began)))
			f.Release()
			ratios[i] = append(ratios[i], took[i][turn]/took[0][turn])
		}
	}
	fmt.Printf("\na frame of %d×%d by its grain: milliseconds, and against before; budget %.2f\n\n", size.W, size.H, budgetGrain)
	for i, f := range forms {
		fmt.Printf("%-26s %8.1f %8.2f\n", f.name, median(took[i]), median(ratios[i]))
	}
	small := render.Raster{W: 960, H: 540}
	for _, gauge := range []string{"35mm", "16mm", "super8"} {
		l := filmLook("100")
		check(l.Set("negative.gauge.id", gauge))
		placed, err := render.CompilePlaced(context.Background(), l, recorded, small, look.Finish)
		check(err)
		began := time.Now()
		f, err := r.Render(context.Background(), placed, single{crop(src.f, small)}, 0)
		check(err)
		f.Release()
		fmt.Printf("clouds placed one by one, %-8s %6.3f megapixels a second\n", gauge, float64(small.W*small.H)/1e6/time.Since(began).Seconds())
	}
}

func crop(f *frame.Frame, size render.Raster) *frame.Frame { return f.Crop(0, 0, size.W, size.H) }
