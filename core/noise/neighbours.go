package noise

import "math"

// Lags are figures of so many pixels across and down: [lags+y][lags+x] for x, y from −lags to lags.
type Lags [2*lags + 1][2*lags + 1]float64

// mostCompared is how many blocks are compared with themselves, for the neighbours.
const mostCompared = 600

// square are the samples of a block.
type square [block][block]float32

// lagged adds to sums what a block has in common with itself so far across and down, a pixel's worth.
func (q *square) lagged(sums *Lags) {
	for dy := 0; dy <= lags; dy++ {
		for dx := -lags; dx <= lags; dx++ {
			if dy == 0 && dx < 0 {
				continue
			}
			v := float32(0)
			from, to := max(0, -dx), min(block, block-dx)
			for y := 0; y+dy < block; y++ {
				a, b := &q[y], &q[y+dy]
				for x := from; x < to; x++ {
					v += a[x] * b[x+dx]
				}
			}
			r := float64(v) / float64((block-dy)*(to-from))
			sums[lags+dy][lags+dx] += r
			if dy > 0 || dx > 0 {
				sums[lags-dy][lags-dx] += r
			}
		}
	}
}

// neighbours reads how channels and neighbours go together in the blocks that are believed.
func (m *Measured) neighbours(kept [][]sample) {
	type part struct {
		near, apart [3]Lags
		cross       [3]float64
		n           float64
	}
	var list []sample
	var zone []int
	for z, in := range kept {
		for i, s := range in {
			if len(in) > mostCompared/len(kept) && i%(len(in)*len(kept)/mostCompared+1) != 0 {
				continue
			}
			list, zone = append(list, s), append(zone, z)
		}
	}
	const parts = 8
	sums := make([]part, parts)
	each(parts, func(k int) {
		sum := &sums[k]
		var own, mixed [3]square
		for i := k; i < len(list); i += parts {
			s, dev := list[i], m.Zones[zone[i]].Deviation
			if dev[0] == 0 || dev[1] == 0 || dev[2] == 0 {
				continue
			}
			sum.n++
			for c := range own {
				for y := range block {
					for x, v := range s.pair.diff.c[c].row(s.y + y)[s.x : s.x+block] {
						own[c][y][x] = v / float32(dev[c])
					}
				}
			}
			for y := range block {
				for x := range block {
					mixed[0][y][x], mixed[1][y][x], mixed[2][y][x] = apart(own[0][y][x], own[1][y][x], own[2][y][x])
				}
			}
			for c := range own {
				own[c].lagged(&sum.near[c])
				mixed[c].lagged(&sum.apart[c])
			}
			for j, pair := range [3][2]int{{0, 1}, {1, 2}, {0, 2}} {
				v := 0.0
				for y := range block {
					a, b := &own[pair[0]][y], &own[pair[1]][y]
					for x := range a {
						v += float64(a[x]) * float64(b[x])
					}
				}
				sum.cross[j] += v / (block * block)
			}
		}
	})
	var total part
	for _, s := range sums {
		total.n += s.n
		for c := range 3 {
			total.cross[c] += s.cross[c]
			total.near[c].add(&s.near[c])
			total.apart[c].add(&s.apart[c])
		}
	}
	if total.n == 0 {
		return
	}
	for c := range 3 {
		m.Correlation[c] = total.cross[c] / total.n
		m.Neighbours[c], m.Apart[c] = total.near[c].scaled(1/total.near[c][lags][lags]), total.apart[c].scaled(1/total.n)
	}
}

func (l *Lags) add(m *Lags) {
	for y := range l {
		for x := range l[y] {
			l[y][x] += m[y][x]
		}
	}
}

func (l *Lags) scaled(k float64) (out Lags) {
	for y := range l {
		for x := range l[y] {
			out[y][x] = k * l[y][x]
		}
	}
	return out
}

// Spot is the deviation, in pixels, of the round Gaussian that white noise would be seen through to go with its neighbours as this does: 0 for
// white noise.
func (m *Measured) Spot(channel int) float64 {
	n := &m.Neighbours[channel]
	num, den := 0.0, 0.0
	for y := -lags; y <= lags; y++ {
		for x := -lags; x <= lags; x++ {
			r := n[lags+y][lags+x]
			d := float64(x*x + y*y)
			if d == 0 || d > 9 || r < 0.1 {
				continue
			}
			// ρ = exp(−d/4s²)
			num, den = num+r*r*d*d, den-r*r*d*math.Log(r)
		}
	}
	if den <= 0 {
		return 0
	}
	return math.Sqrt(num / den / 4)
}
