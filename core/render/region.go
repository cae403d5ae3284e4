package render

import (
	"fmt"

	"velours/core/frame"
)

// Region is a part of a picture in pixels of the plan's raster; the zero Region is all of it.
type Region struct{ X, Y, W, H int }

func (r Region) whole() bool { return r.W == 0 || r.H == 0 }

// Within is the region cut to fit a raster.
func (r Region) Within(s Raster) Region {
	if r.whole() {
		return Region{}
	}
	r.X, r.Y = min(max(r.X, 0), s.W-1), min(max(r.Y, 0), s.H-1)
	r.W, r.H = min(r.W, s.W-r.X), min(r.H, s.H-r.Y)
	if r.W == s.W && r.H == s.H {
		return Region{}
	}
	return r
}

func (r Region) Key() string {
	if r.whole() {
		return ""
	}
	return fmt.Sprintf("[%d,%d %dx%d]", r.X, r.Y, r.W, r.H)
}

// In is the plan for a part of its picture. What lies pixel by pixel is computed there alone; scatter,
// which reaches across the whole picture, is computed whole, and kept, so the part is to the bit what
// the whole picture has in that place.
func (p *Plan) In(r Region) *Plan {
	q := *p
	q.region = r.Within(p.raster)
	q.under = nil
	for _, u := range p.under {
		q.under = append(q.under, under{u.In(r), u.share})
	}
	return &q
}

// lastWhole is the index of the last pass that needs the whole picture, −1 if none does.
func (p *Plan) lastWhole() int {
	for i := len(p.passes) - 1; i >= 0; i-- {
		if p.passes[i].whole() {
			return i
		}
	}
	return -1
}

// wanted is the region with what passes after one look at beside it.
func (p *Plan) wanted(after int) Region {
	r := p.region
	if r.whole() {
		return r
	}
	reach := 0
	for _, s := range p.passes[after+1:] {
		reach += s.reach()
	}
	x, y := max(r.X-reach, 0), max(r.Y-reach, 0)
	return Region{x, y, min(r.X+r.W+reach, p.raster.W) - x, min(r.Y+r.H+reach, p.raster.H) - y}
}

// inside is where a region lies in another that it is part of.
func (r Region) inside(of Region) Region { return Region{r.X - of.X, r.Y - of.Y, r.W, r.H} }

// cut copies a region out of a picture.
func cut(f *frame.Frame, r Region) *frame.Frame {
	if r.whole() {
		return f
	}
	return f.Crop(r.X, r.Y, r.W, r.H)
}
