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

// raw is the hash of one pixel of a field.
func raw(key uint64, x, y int) uint64 {
	return mix64(mix64((uint64(int64(y))<<32|uint64(uint32(int32(x))))*golden+key) ^ key)
}

// fill writes normal-like numbers of mean 0 and variance 1 for pixels x0, x0+1, … of row y. The
// counter wraps between −1 and 0, so what lies left of the picture is made apart.
func fill(dst []float32, key uint64, x0, y int) {
	row := uint64(int64(y)) << 32
	for x0 < 0 && len(dst) > 0 {
		n := min(-x0, len(dst))
		var part [64]float32
		n = min(n, len(part)-16)
		vec.Noise(part[:n], (row|uint64(uint32(int32(x0))))*vec.Golden+key, key)
		copy(dst, part[:n])
		dst, x0 = dst[n:], x0+n
	}
	vec.Noise(dst, (row|uint64(uint32(int32(x0))))*vec.Golden+key, key)
}
