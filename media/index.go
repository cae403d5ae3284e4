package media

import (
	"slices"
	"sort"
	"strconv"
)

// index tells where a movie's frames lie in time, from its packets: the time of each frame in the order in which they
// are shown, and those of the key frames, in units of the stream. Nil if the packets do not say.
type index struct {
	times, keys []int64
	unit        float64 // seconds
}

// packet is one packet of a stream, as ffprobe lists it.
type packet struct {
	Time  *int64 `json:"pts"`
	Flags string
}

// newIndex makes the index of a stream whose frames are all there, each with a time of its own.
func newIndex(list []packet, unit float64) *index {
	if unit <= 0 || len(list) == 0 {
		return nil
	}
	x := &index{unit: unit}
	for _, p := range list {
		if p.Time == nil {
			return nil
		}
		x.times = append(x.times, *p.Time)
		if len(p.Flags) > 0 && p.Flags[0] == 'K' {
			x.keys = append(x.keys, *p.Time)
		}
	}
	slices.Sort(x.times)
	slices.Sort(x.keys)
	for i := 1; i < len(x.times); i++ {
		if x.times[i] == x.times[i-1] {
			return nil
		}
	}
	return x
}

// before is where to seek, in seconds, so that decoding comes to frame n soon, and the time of that frame. It goes one
// key frame further back than it must, so that a file's own index may be off by one. ok is false where the beginning
// is as near.
func (x *index) before(n int) (seek string, time int64, ok bool) {
	if x == nil || n >= len(x.times) {
		return "", 0, false
	}
	time = x.times[n]
	k := sort.Search(len(x.keys), func(i int) bool { return x.keys[i] > time }) - 2
	if k < 1 {
		return "", 0, false
	}
	return strconv.FormatFloat(float64(x.keys[k])*x.unit, 'f', 6, 64), time, true
}
