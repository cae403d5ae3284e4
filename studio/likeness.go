package studio

import (
	"context"
	"fmt"
	"math"
	"path/filepath"
	"slices"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/measure"
	"velours/core/register"
	"velours/core/render"
	"velours/core/steps"
	"velours/media"
)

// Likeness is how near films bring a shot to a reference, the nearest stock first.
type Likeness struct {
	// Same tells that the reference shows the very scene of the shot, so that it was compared place by place. Of another one only scale
	// and colours as a whole were.
	Same bool `json:"same"`
	// Near tells that the nearest is what a person would call like; Says is the whole in a sentence.
	Near bool   `json:"near"`
	Says string `json:"says"`
	// Rendered, of the same scene, is how far the picture of the nearest stays from the reference with all that the shot's look does
	// beside: the mean ΔE2000.
	Rendered float64       `json:"rendered,omitempty"`
	Films    []LikenedFilm `json:"films"`
	// Level is that whose look the films' looks take the place of.
	Level look.Level `json:"level,omitempty"`
}

// LikenedFilm is a stock with the medium, the exposure and the lights by which it comes nearest to a reference.
type LikenedFilm struct {
	Stock       string `json:"stock"`
	StockLabel  string `json:"stockLabel"`
	Medium      string `json:"medium"`
	MediumLabel string `json:"mediumLabel"`
	// Exposure is in stops beside the shot's own, Lights in points.
	Exposure float64    `json:"exposure"`
	Lights   [3]float64 `json:"lights"`
	// Apart is how far it stays: mean ΔE2000 of the same scene, the mean difference of features of another.
	Apart float64 `json:"apart"`
	// Says are what remains, in words, the largest first.
	Says []string `json:"says"`
	// Look is the shot's with this film.
	Look *look.Look `json:"look" ts:"Look"`
}

// likenessWidth is how wide the pictures are that are compared.
const likenessWidth = 640

// Likeness compares a shot, as the view shows it, with one of its other sides: a pin, a reference still, or another shot. progress, if
// not nil, hears shares of the work.
func (s *Sessions) Likeness(ctx context.Context, v View, progress func(done float64)) (*Likeness, error) {
	to := v.Side
	if to.Of != APin && to.Of != AnotherShot {
		return nil, Bad("a likeness is to a pin, a reference or another shot, not to %q", to)
	}
	v.W, v.H, v.CropW, v.CropH, v.Draft, v.Show = likenessWidth, likenessWidth, 0, 0, false, Plainly
	theirs, err := s.Show(ctx, v)
	if err != nil {
		return nil, err
	}
	v.Side = Side{}
	c, err := s.prepare(ctx, &v)
	if err != nil {
		return nil, err
	}
	light, _, err := s.at(ctx, c, c.look, look.Lens)
	if err != nil {
		return nil, err
	}
	level := c.levels.Home(look.Negative)
	out, err := likenessOf(ctx, c.look, c.levels.At(level), light, theirs.Frame, theirs.Display, progress, func(l *look.Look) (*frame.Frame, *colour.Display, error) {
		f, plan, err := s.at(ctx, c, c.levels.With(level, l).Whole(), look.Finish)
		if err != nil {
			return nil, nil, err
		}
		return f, plan.Display, nil
	})
	if err == nil {
		out.Level = level
	}
	return out, err
}

// Likeness compares the job's frame with a picture that is made for a display.
func (j Job) Likeness(ctx context.Context, picture string, progress func(done float64)) (*Likeness, error) {
	src, err := media.Open(ctx, j.In)
	if err != nil {
		return nil, wrapInput(err)
	}
	defer src.Close()
	if err := j.settle(src.Info); err != nil {
		return nil, err
	}
	if j.First >= src.Info.Frames {
		return nil, Bad("%s has frames 0 to %d, not %d", j.In, src.Info.Frames-1, j.First)
	}
	other, err := media.Open(ctx, picture)
	if err != nil {
		return nil, wrapInput(err)
	}
	defer other.Close()
	theirs, err := other.Frame(ctx, 0)
	if err != nil {
		return nil, wrapInput(err)
	}
	id, ok := referenceDisplays[SettledEncoding(other.Info)]
	if !ok {
		return nil, Bad("%s is not made for a display; a reference is compared as it stands, so convert it first", filepath.Base(picture))
	}
	d, err := colour.FindDisplay(id)
	if err != nil {
		return nil, err
	}
	w, h := src.Info.Shape()
	w, h = fitSize(w, h, likenessWidth, likenessWidth)
	renderer := render.NewRenderer(sheetBudget)
	at := func(l *look.Look, tap look.Station) (*frame.Frame, *colour.Display, error) {
		plan, err := render.Compile(ctx, l, j.encoding, render.Raster{W: w, H: h}, tap)
		if err != nil {
			return nil, nil, err
		}
		f, err := renderer.Render(ctx, plan, src, j.First)
		return f, plan.Display, wrapInput(err)
	}
	light, _, err := at(j.Look, look.Lens)
	if err != nil {
		return nil, err
	}
	rw, rh := other.Info.Shape()
	rw, rh = fitSize(rw, rh, likenessWidth, likenessWidth)
	if theirs, err = onDisplay(ctx, theirs, render.Raster{W: rw, H: rh}, d, d); err != nil {
		return nil, err
	}
	return likenessOf(ctx, j.Look, j.Look, light, theirs, d, progress, func(l *look.Look) (*frame.Frame, *colour.Display, error) { return at(l, look.Finish) })
}

// likenessOf compares light as it comes to a look's film with codes for a display. The films that it finds are put into
// onto, the part of the look that has the film; shown renders another in its place.
func likenessOf(ctx context.Context, l, onto *look.Look, light, theirs *frame.Frame, d *colour.Display, progress func(float64), shown func(*look.Look) (*frame.Frame, *colour.Display, error)) (*Likeness, error) {
	path := render.FilmOf(l)
	if path == nil { // any film will do to know the screen
		filmed, err := steps.Likened(l, &measure.Likeness{Stock: film.Reference(), Medium: film.Media()[0]})
		if err != nil {
			return nil, err
		}
		path = render.FilmOf(filmed)
	}
	lit, err := frame.Each(ctx, theirs, d.Light)
	if err != nil {
		return nil, err
	}
	h, missing := register.Find(light, lit)
	out := &Likeness{Same: missing == nil}
	blocks := blocksOf(light.W, light.H)
	labs := make([][3]float64, 0, blocks.w*blocks.h)
	place := func(x, y float64) (float64, float64, bool) {
		if missing != nil {
			return x / float64(light.W) * float64(lit.W), y / float64(light.H) * float64(lit.H), true
		}
		half := float64(light.W) / 2
		p := h.At(register.Point{X: (x - half) / half, Y: (y - float64(light.H)/2) / half})
		u, v := p.X*float64(lit.W)/2+float64(lit.W)/2, p.Y*float64(lit.W)/2+float64(lit.H)/2
		return u, v, u >= 0 && v >= 0 && u < float64(lit.W) && v < float64(lit.H)
	}
	labOf := labOn(d)
	for y := range blocks.h {
		for x := range blocks.w {
			labs = append(labs, blocks.mean(lit, x, y, place, labOf))
		}
	}
	if out.Same {
		blocks.keepEven(light, labs)
	}
	small, err := frame.Scale(ctx, light, blocks.w, blocks.h)
	if err != nil {
		return nil, err
	}
	ref := measure.OtherScene(small, labs, path.Positive.Screen)
	if out.Same {
		ref = measure.SameScene(small, labs, path.Positive.Screen, steps.GlowOf(ctx, l, small))
	}
	list, err := measure.Near(ctx, ref, progress)
	if err != nil {
		return nil, err
	}
	for i := range list {
		f, err := likened(onto, &list[i])
		if err != nil {
			return nil, err
		}
		out.Films = append(out.Films, *f)
	}
	out.Near = list[0].Near
	if out.Same {
		f, own, err := shown(out.Films[0].Look)
		if err != nil {
			return nil, err
		}
		if f, err = frame.Each(ctx, f, own.Light); err != nil {
			return nil, err
		}
		same := func(x, y float64) (float64, float64, bool) { return x, y, true }
		n := 0.0
		for i, lab := range labs {
			if !math.IsNaN(lab[0]) { // what is even
				out.Rendered += colour.DeltaE2000(lab, blocks.mean(f, i%blocks.w, i/blocks.w, same, labOn(own)))
				n++
			}
		}
		out.Rendered /= n
	}
	out.Says = out.sentence()
	return out, nil
}

func likened(l *look.Look, k *measure.Likeness) (*LikenedFilm, error) {
	of, err := steps.Likened(l, k)
	if err != nil {
		return nil, err
	}
	f := &LikenedFilm{Stock: k.Stock.ID, StockLabel: k.Stock.Label, Medium: k.Medium.ID, MediumLabel: k.Medium.Label, Exposure: k.Exposure, Lights: k.Lights, Apart: k.Apart, Says: []string{}, Look: of}
	for _, d := range k.Differs {
		f.Says = append(f.Says, d.Words())
	}
	return f, nil
}

// sentence is what to know of the nearest.
func (l *Likeness) sentence() string {
	f := &l.Films[0]
	name := fmt.Sprintf("%s on %s", f.StockLabel, f.MediumLabel)
	rest := ""
	if len(f.Says) > 0 {
		rest = "; its " + f.Says[0]
	}
	switch {
	case l.Same && !l.Near:
		return fmt.Sprintf("Nothing is near. The least far is %s, ΔE %.1f%s.", name, f.Apart, rest)
	case l.Same:
		return fmt.Sprintf("Nearest: %s, ΔE %.1f%s.", name, f.Apart, rest)
	case !l.Near:
		return fmt.Sprintf("Nothing is near. Another scene: only its scale and its colours as a whole can be compared. The least far is %s%s.", name, rest)
	}
	return fmt.Sprintf("Nearest in mood: %s%s. Another scene: only its scale and its colours as a whole can be compared.", name, rest)
}

// labOn is CIELAB of a display's light against its white.
func labOn(d *colour.Display) func(light [3]float64) [3]float64 {
	toXYZ, white := d.Gamut.ToXYZ(), d.Gamut.White.XYZ()
	return func(light [3]float64) [3]float64 {
		k := d.Head()
		return colour.Lab(toXYZ.Apply([3]float64{k * light[0], k * light[1], k * light[2]}), white)
	}
}

// blocks are those into which a picture is cut to be compared.
type blocks struct {
	w, h int
	size float64
}

// blocksAcross is how many there are.
const blocksAcross = 80

func blocksOf(w, h int) blocks {
	size := float64(w) / blocksAcross
	return blocks{blocksAcross, max(1, int(math.Round(float64(h)/size))), size}
}

// mean is the colour of a block where place says that it lies; no number where that is outside.
func (b blocks) mean(f *frame.Frame, x, y int, place func(x, y float64) (float64, float64, bool), lab func([3]float64) [3]float64) [3]float64 {
	var sum [3]float64
	const n = 4
	for j := range n {
		for i := range n {
			u, v, in := place((float64(x)+(float64(i)+0.5)/n)*b.size, (float64(y)+(float64(j)+0.5)/n)*b.size)
			if !in {
				return [3]float64{math.NaN(), math.NaN(), math.NaN()}
			}
			c := f.At(min(int(u), f.W-1), min(int(v), f.H-1))
			for k := range sum {
				sum[k] += c[k] / (n * n)
			}
		}
	}
	return lab(sum)
}

// evenEnough is by how much of its mean light may vary within a block that is compared, and fewestBlocks how many are, however they vary:
// film is not straight, so the mean of what it makes is not what it makes of the mean.
const evenEnough, fewestBlocks = 0.07, 600

// keepEven takes the colours of blocks away, no number in their place, in which light is not even.
func (b blocks) keepEven(light *frame.Frame, labs [][3]float64) {
	vary := make([]float64, len(labs))
	for i := range labs {
		x0, y0 := int(float64(i%b.w)*b.size), int(float64(i/b.w)*b.size)
		var n, sum, squares float64
		for y := y0; y < min(y0+int(b.size), light.H); y++ {
			for x := x0; x < min(x0+int(b.size), light.W); x++ {
				c := light.At(x, y)
				v := c[0] + c[1] + c[2]
				n, sum, squares = n+1, sum+v, squares+v*v
			}
		}
		vary[i] = math.Sqrt(math.Max(squares/n-sum*sum/n/n, 0)) / math.Max(sum/n, 1e-4)
	}
	sorted := slices.Clone(vary)
	slices.Sort(sorted)
	most := math.Max(evenEnough, sorted[min(fewestBlocks, len(sorted)-1)])
	for i, v := range vary {
		if v > most {
			labs[i] = [3]float64{math.NaN(), math.NaN(), math.NaN()}
		}
	}
}
