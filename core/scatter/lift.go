package scatter

import (
	"velours/core/frame"
	"velours/core/vec"
)

// lift gives rows of a picture that is a smaller one, doubled bilinearly, (3 1)/4, once or several times: they are made as they are asked
// for, in the cache, and never stand in memory as a picture. It is for one goroutine alone; rows that are asked for in order are made once.
type lift struct {
	w, h  int          // of the picture
	small *frame.Frame // the picture itself, where nothing is to be doubled, its rows with their ends repeated
	below *lift        // else that of half the size

	first, n int // columns held, n from first on
	rows     [3][2]liftedRow
	line     []float32 // the row that one is doubled from
	none     []float32 // zeros
}

// liftedRow is row y, from the column before first on.
type liftedRow struct {
	y       int
	samples []float32
}

// sizes are those of a picture w×h halved 0 to level times.
func sizes(w, h, level int) [][2]int {
	out := [][2]int{{w, h}}
	for range level {
		w, h = (w+1)/2, (h+1)/2
		out = append(out, [2]int{w, h})
	}
	return out
}

// newLift prepares for the columns between from and to of a picture of the first of sizes, which small, of the last of them, stands for. They
// may begin and end one beyond the picture, which goes on as it ends.
func newLift(small *frame.Frame, sizes [][2]int, from, to int) *lift {
	l := &lift{w: sizes[0][0], h: sizes[0][1]}
	if len(sizes) == 1 {
		l.small = small
		return l
	}
	l.first = max(from, 0) &^ 1
	l.n = min(to, l.w) - l.first
	l.below = newLift(small, sizes[1:], l.first/2-1, (l.first+l.n-1)/2+2)
	l.line = make([]float32, l.n/2+3+frame.RightPad)
	l.none = make([]float32, l.n+frame.RightPad)
	for p := range 3 {
		for i := range 2 {
			l.rows[p][i] = liftedRow{-1, make([]float32, liftPad+l.n+frame.RightPad)}
		}
	}
	return l
}

// liftPad is where first stands in a row that is held.
const liftPad = 16

// row is row y of plane p from column x on, which may be −1; it holds until that after the next is asked for.
func (l *lift) row(p, y, x int) []float32 {
	if l.small != nil {
		return l.small.Around(p, y)[frame.LeftPad+x:]
	}
	held := &l.rows[p][y&1]
	if held.y != y {
		held.y = y
		l.fill(p, y, held.samples[liftPad:])
		if l.first == 0 {
			held.samples[liftPad-1] = held.samples[liftPad]
		}
		if l.first+l.n == l.w {
			held.samples[liftPad+l.n] = held.samples[liftPad+l.n-1]
		}
	}
	return held.samples[liftPad+x-l.first:]
}

// fill makes what is held of row y of plane p.
func (l *lift) fill(p, y int, dst []float32) {
	l.below.between(l.line, p, y, l.first/2-1, l.n/2+3)
	vec.Double(dst[:l.n], l.none[:l.n], l.line, 0, 1)
}

// between sets dst to n samples, from column x on, of the line that row y of twice the picture is doubled from: the nearer row counts three
// quarters, the one beyond a quarter.
func (l *lift) between(dst []float32, p, y, x, n int) {
	near, far := y/2, min(max(y/2-1+2*(y&1), 0), l.h-1)
	vec.Mix(dst[:n], l.row(p, near, x), l.row(p, far, x), 0.75, 0.25)
}

// double returns the function that gives the line that columns x0 to x0+w of row y of a plane are doubled from, until its next call: a row of
// the picture of the first of sizes, which small, of the last of them, stands for.
func double(small *frame.Frame, sizes [][2]int, x0, w int) func(p, y int) []float32 {
	n := w/2 + 3
	up, line := newLift(small, sizes, x0/2-1, x0/2-1+n), make([]float32, n+frame.RightPad)
	return func(p, y int) []float32 {
		up.between(line, p, y, x0/2-1, n)
		return line
	}
}
