package studio

import "velours/media"

// Budget says how much may be kept, in bytes, so that work need not be done twice.
type Budget struct {
	// Pictures is the memory for pictures on their way through the light path.
	Pictures int64
	// Frames is the memory for finished frames, and Disk what of them may lie on the disk beyond it.
	Frames, Disk int64
	// Clean is what clean frames may take of the disk, and Proxies what decoded frames may.
	Clean, Proxies int64
	// Readers is how many shots keep a warm decoder, each with up to media.CacheBytes of frames and decoderBytes of its own.
	Readers int
	// working is for what is on its way.
	working int64
}

// UsualMemory is what the program may use where nothing else is said, and LeastMemory what it needs, in
// megabytes.
const UsualMemory, LeastMemory = 3500, 1200

// decoderBytes is what the decoder of a usual movie takes, beside the program itself.
const decoderBytes = 120 << 20

// Within parts an amount of memory, in megabytes: a fifth for what is being worked on, a third of the rest
// for decoders, and the rest for pictures and, a quarter of it, finished frames.
func Within(megabytes int) Budget {
	total := int64(max(megabytes, LeastMemory)) << 20
	b := Budget{Disk: 2 << 30, Clean: 2 << 30, Proxies: 2 << 30, working: max(total/5, 400<<20)}
	left := total - b.working
	b.Readers = int(min(max(left/3/(media.CacheBytes+decoderBytes), 2), 8))
	left -= int64(b.Readers) * (media.CacheBytes + decoderBytes)
	b.Frames = left / 4
	b.Pictures = left - b.Frames
	return b
}

// Total is all the memory that the budget speaks of.
func (b Budget) Total() int64 {
	return b.Here() + int64(b.Readers)*decoderBytes
}

// Here is what of it is the program's own, without what decoders take.
func (b Budget) Here() int64 {
	return b.Pictures + b.Frames + int64(b.Readers)*media.CacheBytes + b.working
}
