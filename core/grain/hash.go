package grain

const golden = 0x9E3779B97F4A7C15

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

// byteUnit scales the sum of eight bytes, of variance 8·(256²−1)/12, to variance 1.
const byteUnit = 0.0047841962

// fill writes normal-like numbers of mean 0 and variance 1 for pixels x0, x0+1, … of row y.
func fill(dst []float32, key uint64, x0, y int) {
	row := uint64(int64(y)) << 32
	for i := range dst {
		z := mix64(mix64((row|uint64(uint32(int32(x0+i))))*golden+key) ^ key)
		z = (z & 0x00FF00FF00FF00FF) + (z >> 8 & 0x00FF00FF00FF00FF)
		dst[i] = (float32((z*0x0001000100010001)>>48) - 1020) * byteUnit
	}
}
