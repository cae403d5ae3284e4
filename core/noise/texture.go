package noise

import (
	"context"
	"sync"

	"velours/core/frame"
	"velours/core/vec"
)

// textureReach is the Gaussian, in pixels, about which texture is what differs from its surroundings; textureMost is how much of what was taken out
// comes back, at most, where there is much of it.
const textureReach, textureMost = 2.0, 0.5

// textureRows and textureTile are how many rows and columns are worked on at once: what they need stays in the cache. textureSide is how many
// rows and columns beside them are looked at, of each of two blurs.
const textureRows, textureTile, textureSide = 96, 512, 6

// textures is room for a tile: rows of it softened across, and of what is fine in it.
type textures struct {
	across, detail [textureRows + 4*textureSide][]float32
	list           [2*textureSide + 1][]float32
}

var textureRooms sync.Pool

func newTextures() *textures {
	if t, ok := textureRooms.Get().(*textures); ok {
		return t
	}
	t := &textures{}
	for i := range t.across {
		t.across[i], t.detail[i] = make([]float32, textureTile+2*textureSide+64), make([]float32, textureTile+2*textureSide+64)
	}
	return t
}

// keepTexture leaves a share of what was taken out of the first plane where it has texture, by which noise is hidden: where the picture varies as
// much as its noise did, half of textureMost.
func keepTexture(ctx context.Context, clean, own *frame.Frame, share float64) error {
	soft := vec.NewSymmetric(gaussian(textureReach))
	if err := mirror(ctx, clean); err != nil {
		return err
	}
	w, h := clean.W, clean.H
	least := float32(share * textureMost)
	kept := frame.Get(w, h, 1)
	defer kept.Release()
	if err := frame.Bands(ctx, h, textureRows, func(y0, y1 int) {
		t := newTextures()
		defer textureRooms.Put(t)
		for x := 0; x < w; x += textureTile {
			n := min(textureTile, w-x)
			wide, rows := n+2*textureSide, y1-y0+4*textureSide
			row := func(i int) []float32 { // of the tile, from textureSide columns before it
				return clean.Around(0, mirrored(y0-2*textureSide+i, h))[frame.LeftPad+x-textureSide:]
			}
			for i := range rows {
				vec.Taps(t.across[i][:wide], clean.Around(0, mirrored(y0-2*textureSide+i, h))[frame.LeftPad+x-2*textureSide:], soft)
			}
			for i := textureSide; i < rows-textureSide; i++ {
				d := cleared(t.detail[i], wide)
				vec.Columns(d, about(t.list[:0], t.across[:], i, textureSide), soft, 1)
				vec.Mix(d, row(i), d, 1, -1)
			}
			for i := textureSide; i < rows-textureSide; i++ {
				squares := cleared(t.across[0], wide)
				vec.AddSquares(squares, t.detail[i], wide, 1)
				vec.Taps(t.detail[i][:n], squares, soft)
			}
			for y := y0; y < y1; y++ {
				to := kept.Part(0, y, x, n)
				clear(to)
				vec.Columns(to, about(t.list[:0], t.detail[:], y-y0+2*textureSide, textureSide), soft, 1)
				for i, v := range to {
					to[i] = least * v / (v + 1)
				}
			}
		}
	}); err != nil {
		return err
	}
	return frame.Bands(ctx, h, textureRows, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			a, b, k := clean.Row(0, y), own.Row(0, y), kept.Row(0, y)
			for x, v := range a {
				a[x] = v + k[x]*(b[x]-v)
			}
		}
	})
}
