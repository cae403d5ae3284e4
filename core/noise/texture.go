package noise

import (
	"context"

	"velours/core/frame"
	"velours/core/vec"
)

// textureReach is the Gaussian, in pixels, about which texture is what differs from its surroundings; textureMost is how much of what was taken out
// comes back, at most, where there is much of it.
const textureReach, textureMost = 2.0, 0.5

// keepTexture leaves a share of what was taken out of the first plane where it has texture, by which noise is hidden: where the picture varies as
// much as its noise did, half of textureMost.
func keepTexture(ctx context.Context, clean, own *frame.Frame, share float64) error {
	soft := vec.NewSymmetric(gaussian(textureReach))
	reach := soft.Reach()
	mirror(clean, 0)
	w, h := clean.W, clean.H
	least := float32(share * textureMost)
	kept := frame.Get(w, h, 1)
	defer kept.Release()
	if err := frame.Bands(ctx, h, 64, func(y0, y1 int) {
		n := y1 - y0 + 4*reach
		plain, across, detail := make([][]float32, n), make([][]float32, n), make([][]float32, n)
		for i := range n {
			across[i], detail[i] = make([]float32, w+64), make([]float32, w+64+2*reach)
			plain[i] = clean.Around(0, mirrored(y0-2*reach+i, h))
			vec.Taps(across[i][:w], plain[i][frame.LeftPad-reach:], soft)
		}
		near := func(i int) [][]float32 {
			list := [][]float32{across[i][:w]}
			for k := 1; k <= reach; k++ {
				list = append(list, across[i-k][:w], across[i+k][:w])
			}
			return list
		}
		for i := reach; i < n-reach; i++ {
			d := detail[i][reach:]
			clear(d[:w+16])
			vec.Columns(d[:w], near(i), soft, 1)
			for x, v := range plain[i][frame.LeftPad:][:w] {
				v -= d[x]
				d[x] = v * v
			}
			for k := range reach {
				detail[i][reach-1-k] = d[mirrored(-1-k, w)]
				d[w+k] = d[mirrored(w+k, w)]
			}
		}
		for i := reach; i < n-reach; i++ {
			vec.Taps(across[i][:w], detail[i], soft)
		}
		for y := y0; y < y1; y++ {
			to := kept.Row(0, y)
			clear(to[:w:w])
			vec.Columns(to, near(y-y0+2*reach), soft, 1)
			for x, v := range to {
				to[x] = least * v / (v + 1)
			}
		}
	}); err != nil {
		return err
	}
	return frame.Bands(ctx, h, 64, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			a, b, k := clean.Row(0, y), own.Row(0, y), kept.Row(0, y)
			for x, v := range a {
				a[x] = v + k[x]*(b[x]-v)
			}
		}
	})
}
