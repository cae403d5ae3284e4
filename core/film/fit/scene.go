package fit

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"velours/core/frame"
	"velours/core/register"
)

// sceneBlocks is into how many blocks the width of a scene is cut, sceneColours how many even ones are taken, and sceneEven what part of
// its mean a block's light may vary by.
const sceneBlocks, sceneColours, sceneEven = 110, 260, 0.11

// moved is the agreement of edges within a share of half the width under which something moved there.
const moved, movedWithin = 0.55, 0.07

// SampleScene finds where the digital picture of a scene lies in the film's, and reads small even areas of both: their mean light, and
// where they lie in the film's picture, −1…1. Both are linear light: of the scene, and what came through the film. score is how well
// the two agree, 0…1.
func SampleScene(scene, scan *frame.Frame) (light, through [][3]float64, places []Point, score float64, err error) {
	match, err := register.Find(scene, scan)
	if err != nil {
		return nil, nil, nil, 0, err
	}
	score = match.Score
	type area struct {
		light, through [3]float64
		at             Point
	}
	var even []area
	size := float64(scene.W) / sceneBlocks
	half := float64(scene.W) / 2
	for y := 0.5; (y+1)*size < float64(scene.H); y++ {
		for x := 0.5; (x+1)*size < float64(scene.W); x++ {
			a, calm := block(scene, x*size, y*size, size*0.4)
			if !calm {
				continue
			}
			at := Point{X: (x*size - half) / half, Y: (y*size - float64(scene.H)/2) / half}
			if match.Near(at, movedWithin) < moved {
				continue
			}
			p := match.At(at)
			sx, sy := p.X*float64(scan.W)/2+float64(scan.W)/2, p.Y*float64(scan.W)/2+float64(scan.H)/2
			b, calm := block(scan, sx, sy, size*0.4*float64(scan.W)/float64(scene.W))
			if calm {
				even = append(even, area{a, b, Point{X: p.X, Y: p.Y * float64(scan.W) / float64(scan.H)}})
			}
		}
	}
	if len(even) < 60 {
		return nil, nil, nil, score, fmt.Errorf("only %d small areas are even in both pictures; take a scene with larger things in it, and focus on them", len(even))
	}
	// as different colours as there are: by brightness, and which channels lead
	bins := map[[3]int][]area{}
	for _, a := range even {
		y := (a.light[0] + a.light[1] + a.light[2]) / 3
		bin := [3]int{int(math.Floor(math.Log2(max(y, 1e-4)) * 1.5)), int(math.Floor(8 * math.Log2(max(a.light[0], 1e-4)/max(a.light[1], 1e-4)) / 3)), int(math.Floor(8 * math.Log2(max(a.light[2], 1e-4)/max(a.light[1], 1e-4)) / 3))}
		bins[bin] = append(bins[bin], a)
	}
	keys := make([][3]int, 0, len(bins))
	for k := range bins {
		keys = append(keys, k)
	}
	slices.SortFunc(keys, func(a, b [3]int) int {
		return cmp.Or(cmp.Compare(a[0], b[0]), cmp.Compare(a[1], b[1]), cmp.Compare(a[2], b[2]))
	})
	each := max(1, sceneColours/len(keys))
	for _, k := range keys {
		list := bins[k]
		n := min(len(list), each)
		for j := range n {
			a := list[(2*j+1)*len(list)/(2*n)]
			light, through, places = append(light, a.light), append(through, a.through), append(places, a.at)
		}
	}
	return light, through, places, score, nil
}

// block is the mean of a picture in a square about a place, and whether it is even there.
func block(f *frame.Frame, cx, cy, reach float64) (mean [3]float64, even bool) {
	x0, x1, y0, y1 := int(cx-reach), int(math.Ceil(cx+reach)), int(cy-reach), int(math.Ceil(cy+reach))
	if x0 < 2 || y0 < 2 || x1 > f.W-2 || y1 > f.H-2 {
		return mean, false
	}
	n := float64((x1 - x0) * (y1 - y0))
	even = true
	for p := range 3 {
		var left, top float64
		for y := y0; y < y1; y++ {
			for x, v := range f.Row(p, y)[x0:x1] {
				mean[p] += float64(v) / n
				if x < (x1-x0)/2 {
					left += float64(v)
				}
				if y < (y0+y1)/2 {
					top += float64(v)
				}
			}
		}
		// halves against the whole: noise does not count, an edge does
		l, t := left/float64((x1-x0)/2*(y1-y0)), top/float64((x1-x0)*((y0+y1)/2-y0))
		even = even && mean[p] > 1e-5 && math.Abs(l/mean[p]-1) < sceneEven && math.Abs(t/mean[p]-1) < sceneEven
	}
	return mean, even
}
