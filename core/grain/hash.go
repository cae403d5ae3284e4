package grain

import "velours/core/vec"

const golden = vec.Golden

func mix64(z uint64) uint64 {
	z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9
	z = (z ^ (z >> 27)) * 0x94D049BB133111EB
	return z ^ (z >> 31)
}

// Key is the key of one field of noise.
func Key(seed uint64, layer, frame int) uint64 {
	k := mix64(seed + golden)
	k = mix64(k ^ mix64(uint64(layer)*0xD1342543DE82EF95+1))
	return mix64(k ^ mix64(uint64(frame)*0xA0761D6478BD642F+2))
}

// raw is the hash of one pixel of a field. The layers of a frame share the inner hash, that of the
// first of them: its avalanche is complete, so another key after it makes another field.
func raw(first, key uint64, x, y int) uint64 {
	return mix64(mix64((uint64(int64(y))<<32|uint64(uint32(int32(x))))*golden+first) ^ key)
}

// counter is where the noise of a row from column x on starts: a field of its own for each key, counted from that of the first.
func counter(first uint64, x, y int) uint64 {
	return (uint64(int64(y))<<32|uint64(uint32(int32(x))))*golden + first
}

// The counter wraps between −1 and 0, so what lies left of the picture is made apart: leftOf is how many of n columns from x0 on are, up to
// most of them.
func leftOf(x0, n, most int) int { return min(-x0, n, most) }

// fill writes normal-like numbers of mean 0 and variance 1 for pixels x0, x0+1, … of row y, a field
// for each key.
func fill(dst [3][]float32, keys *[3]uint64, x0, y int) {
	for x0 < 0 && len(dst[0]) > 0 {
		var part [3][64]float32
		n := leftOf(x0, len(dst[0]), len(part[0])-16)
		vec.Noise([3][]float32{part[0][:n], part[1][:n], part[2][:n]}, counter(keys[0], x0, y), keys)
		for l := range dst {
			copy(dst[l], part[l][:n])
			dst[l] = dst[l][n:]
		}
		x0 += n
	}
	vec.Noise(dst, counter(keys[0], x0, y), keys)
}

// fillRow is fill for one layer, whose key is key and whose picture's first is first.
func fillRow(dst []float32, first, key uint64, x0, y int) {
	for x0 < 0 && len(dst) > 0 {
		var part [64]float32
		n := leftOf(x0, len(dst), len(part)-16)
		vec.NoiseRow(part[:n], counter(first, x0, y), key)
		copy(dst, part[:n])
		dst, x0 = dst[n:], x0+n
	}
	vec.NoiseRow(dst, counter(first, x0, y), key)
}
