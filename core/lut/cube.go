package lut

import (
	"bufio"
	"fmt"
	"io"
	"math"
	"strconv"
	"strings"

	"velours/core/vec"
)

// How large a table may be.
const (
	Max1 = 65536
	Max3 = 256
)

// ReadCube reads .cube: a 1D table, a 3D table with red running fastest, or the one and then the
// other. Keywords: TITLE, LUT_1D_SIZE, LUT_3D_SIZE, DOMAIN_MIN, DOMAIN_MAX, LUT_1D_INPUT_RANGE,
// LUT_3D_INPUT_RANGE; comments become Notes. Errors name the line.
func ReadCube(r io.Reader) (*List, error) {
	p := cubeReader{list: &List{}, hi: [3]float64{1, 1, 1}, entries: -1}
	in := bufio.NewReaderSize(r, 1<<14)
	for {
		line, err := in.ReadSlice('\n')
		if err == bufio.ErrBufferFull {
			return nil, fmt.Errorf("line %d is too long for a .cube", p.line+1)
		}
		if err != nil && err != io.EOF {
			return nil, err
		}
		p.line++
		if p.line == 1 {
			line = []byte(strings.TrimPrefix(string(line), "\ufeff"))
		}
		if e := p.take(strings.TrimSpace(string(line))); e != nil {
			return nil, fmt.Errorf("line %d: %w", p.line, e)
		}
		if err == io.EOF {
			return p.finish()
		}
	}
}

type cubeReader struct {
	list           *List
	line           int
	n1, n3         int
	lo, hi         [3]float64 // DOMAIN
	range1, range3 *[2]float64
	entries        int       // still to come; −1 while no size was given
	data           []float32 // grows with what is there, not with what is announced
}

func (p *cubeReader) take(line string) error {
	if line == "" {
		return nil
	}
	if c := line[0]; c != '#' && (c < 'A' || c > 'Z') && (c < 'a' || c > 'z') {
		return p.entry(line)
	}
	word, rest, _ := strings.Cut(line, " ")
	if w, r, tab := strings.Cut(line, "\t"); tab && len(w) < len(word) {
		word, rest = w, r
	}
	rest = strings.TrimSpace(rest)
	if line[0] == '#' {
		if n := strings.TrimSpace(strings.TrimLeft(line, "#")); n != "" && len(p.list.Notes) < 100 {
			p.list.Notes = append(p.list.Notes, n)
		}
		return nil
	}
	if p.data != nil {
		return fmt.Errorf("%.40q stands among the numbers", line)
	}
	switch word {
	case "TITLE":
		p.list.Title = strings.Trim(rest, `"`)
		return nil
	case "LUT_1D_SIZE":
		return p.size(rest, "1D", Max1, &p.n1)
	case "LUT_3D_SIZE":
		return p.size(rest, "3D", Max3, &p.n3)
	case "DOMAIN_MIN":
		return floats(rest, p.lo[:])
	case "DOMAIN_MAX":
		return floats(rest, p.hi[:])
	case "LUT_1D_INPUT_RANGE":
		p.range1 = new([2]float64)
		return floats(rest, p.range1[:])
	case "LUT_3D_INPUT_RANGE":
		p.range3 = new([2]float64)
		return floats(rest, p.range3[:])
	}
	return fmt.Errorf("%.40q is not a keyword of .cube that is known here", word)
}

func (p *cubeReader) size(s, what string, top int, n *int) error {
	v, err := strconv.Atoi(s)
	if err != nil || v < 2 || v > top {
		return fmt.Errorf("the %s size is %.20s; it goes from 2 to %d", what, s, top)
	}
	if *n != 0 {
		return fmt.Errorf("a second %s size", what)
	}
	*n = v
	p.entries = p.n1 + p.n3*p.n3*p.n3
	return nil
}

func (p *cubeReader) entry(line string) error {
	switch {
	case p.entries < 0:
		return fmt.Errorf("numbers before LUT_1D_SIZE or LUT_3D_SIZE")
	case p.entries == 0:
		return fmt.Errorf("more numbers than the size asks for")
	}
	var v [3]float64
	if err := floats(line, v[:]); err != nil {
		return err
	}
	p.entries--
	p.data = append(p.data, float32(v[0]), float32(v[1]), float32(v[2]))
	return nil
}

func (p *cubeReader) finish() (*List, error) {
	if p.entries < 0 {
		return nil, fmt.Errorf("no LUT_1D_SIZE or LUT_3D_SIZE; this is not a .cube")
	}
	if p.entries > 0 {
		return nil, fmt.Errorf("ends after line %d with %d of its entries missing; it seems cut off", p.line, p.entries)
	}
	bounds := func(own *[2]float64) (lo, hi [3]float64, err error) {
		lo, hi = p.lo, p.hi
		if own != nil {
			for i := range 3 {
				lo[i], hi[i] = own[0], own[1]
			}
		}
		for i := range 3 {
			if lo[i] >= hi[i] {
				return lo, hi, fmt.Errorf("its domain goes from %g to %g; the first must be the smaller", lo[i], hi[i])
			}
		}
		return lo, hi, nil
	}
	if p.n1 > 0 {
		lo, hi, err := bounds(p.range1)
		if err != nil {
			return nil, err
		}
		t := &Table1{Lo: lo, Hi: hi}
		for c := range 3 {
			t.Curves[c] = make([]float32, p.n1)
			for i := range p.n1 {
				t.Curves[c][i] = p.data[3*i+c]
			}
		}
		p.list.Nodes = append(p.list.Nodes, t)
		p.lo, p.hi = [3]float64{}, [3]float64{1, 1, 1} // the domain is that of what comes in
	}
	if p.n3 > 0 {
		lo, hi, err := bounds(p.range3)
		if err != nil {
			return nil, err
		}
		t := &Table3{Lo: lo, Hi: hi, Cube: vec.NewTable3(p.n3)}
		d := p.data[3*p.n1:]
		for k := range p.n3 {
			for j := range p.n3 {
				for i := range p.n3 {
					t.Cube.Set(i, j, k, d[0], d[1], d[2])
					d = d[3:]
				}
			}
		}
		p.list.Nodes = append(p.list.Nodes, t)
	}
	return p.list, nil
}

// floats reads exactly len(out) finite numbers that a float32 can hold.
func floats(s string, out []float64) error {
	words := strings.Fields(s)
	if len(words) != len(out) {
		return fmt.Errorf("%d numbers where %d belong", len(words), len(out))
	}
	for i, w := range words {
		v, err := strconv.ParseFloat(w, 64)
		if err != nil || math.IsNaN(v) || math.Abs(v) > math.MaxFloat32 {
			return fmt.Errorf("%.20q is not a number that can be used", w)
		}
		out[i] = v
	}
	return nil
}

// WriteCube writes a 1D table, a 3D table, or the one and then the other; other lists have no place
// in .cube. Numbers are written so that reading returns the same bits.
func WriteCube(w io.Writer, l *List) error {
	var t1 *Table1
	var t3 *Table3
	rest := l.Nodes
	if len(rest) > 0 {
		if t, ok := rest[0].(*Table1); ok && !t.HalfDomain {
			t1, rest = t, rest[1:]
		}
	}
	if len(rest) > 0 {
		if t, ok := rest[0].(*Table3); ok {
			t3, rest = t, rest[1:]
		}
	}
	if len(rest) > 0 || t1 == nil && t3 == nil {
		return fmt.Errorf("a .cube holds a 1D table, a 3D table, or both in this order; write it as .clf")
	}
	b := bufio.NewWriter(w)
	for _, n := range l.notes() {
		fmt.Fprintf(b, "# %s\n", oneLine(n))
	}
	title := strings.ReplaceAll(oneLine(l.Title), "\"", "'")
	if t1 == nil || t3 == nil {
		fmt.Fprintf(b, "TITLE \"%s\"\n", title)
	} else {
		fmt.Fprintf(b, "# %s\n", title) // readers of files with both know no TITLE
	}
	if t1 != nil {
		fmt.Fprintf(b, "LUT_1D_SIZE %d\n", len(t1.Curves[0]))
	}
	if t3 != nil {
		fmt.Fprintf(b, "LUT_3D_SIZE %d\n", t3.N())
	}
	switch {
	case t1 != nil && t3 != nil:
		for i := range 3 {
			if t1.Lo[i] != t1.Lo[0] || t1.Hi[i] != t1.Hi[0] || t3.Lo[i] != t3.Lo[0] || t3.Hi[i] != t3.Hi[0] {
				return fmt.Errorf("a .cube with both tables has one range for all channels; write it as .clf")
			}
		}
		fmt.Fprintf(b, "LUT_1D_INPUT_RANGE %g %g\nLUT_3D_INPUT_RANGE %g %g\n", t1.Lo[0], t1.Hi[0], t3.Lo[0], t3.Hi[0])
	case t1 != nil:
		domain(b, t1.Lo, t1.Hi)
	default:
		domain(b, t3.Lo, t3.Hi)
	}
	if t1 != nil {
		for i := range t1.Curves[0] {
			triple(b, t1.Curves[0][i], t1.Curves[1][i], t1.Curves[2][i])
		}
	}
	if t3 != nil {
		n := t3.N()
		for k := range n {
			for j := range n {
				for i := range n {
					x, y, z := t3.node(i, j, k)
					triple(b, x, y, z)
				}
			}
		}
	}
	return b.Flush()
}

func domain(b *bufio.Writer, lo, hi [3]float64) {
	fmt.Fprintf(b, "DOMAIN_MIN %g %g %g\nDOMAIN_MAX %g %g %g\n", lo[0], lo[1], lo[2], hi[0], hi[1], hi[2])
}

func triple(b *bufio.Writer, v ...float32) {
	var buf [64]byte
	s := buf[:0]
	for i, x := range v {
		if i > 0 {
			s = append(s, ' ')
		}
		s = strconv.AppendFloat(s, float64(x), 'g', -1, 32)
	}
	b.Write(append(s, '\n'))
}

// notes are what a file says beside its numbers.
func (l *List) notes() []string {
	n := l.Notes
	if l.Input != "" {
		n = append(n[:len(n):len(n)], "Input: "+l.Input)
	}
	if l.Output != "" {
		n = append(n[:len(n):len(n)], "Output: "+l.Output)
	}
	return n
}

func oneLine(s string) string { return strings.Join(strings.Fields(s), " ") }
