package render

import (
	"context"
	"fmt"
	"strings"

	"velours/core/frame"
	"velours/core/grade"
	"velours/core/look"
)

// grouping follows the steps of a look as they are gathered, and puts what those of a group contribute together.
type grouping struct {
	*Builder
	station look.Station
	level   look.Level
	item    string      // the name of the group that is being gathered, empty for a step by itself
	group   *look.Group // nil for a step by itself
	from    int         // where its operations begin, −1 before the first step
	above   int         // where those of the one above it begin
}

// enter is told of every step before it contributes.
func (g *grouping) enter(s look.Station, p *look.Step) {
	st := g.Look.Stations[s]
	group := st.GroupOf(p)
	if group != nil && s == g.station && g.item == p.Group {
		return // one more of it
	}
	g.close()
	first := s != g.station || p.Level != g.level
	g.station, g.level, g.group, g.item = s, p.Level, group, ""
	if group != nil {
		g.item = p.Group
	}
	g.above, g.from = g.from, len(g.at[s])
	if first {
		g.above = g.from
	}
}

// close ends the item that is being gathered.
func (g *grouping) close() {
	group := g.group
	g.group = nil
	if group == nil || group.Plain() || !g.station.Lays() {
		return
	}
	from, list := g.from, g.at[g.station]
	if group.Lay != look.InTurn {
		from = g.above
	}
	own := list[g.from:len(list):len(list)]
	if !group.On || group.Strength == 0 || len(own) == 0 && group.Lay == look.InTurn {
		g.at[g.station], g.from = list[:g.from], from
		return
	}
	op := newGroup(list[from:g.from:g.from], own, group.Lay, float32(group.Strength), maskIn(g.Look, group.Matte, group.Outside, g.Raster))
	g.at[g.station] = append(list[:from:from], op)
	g.from = from // one that is laid over this takes its picture from before all of it
}

// newGroup is the operation of a group: own laid over above, which both take the picture as it comes, by a strength and inside a mask.
func newGroup(above, own []Operation, lay look.Lay, strength float32, m *mask) Operation {
	o := groupOp{lay: lay, strength: strength, mask: m}
	o.above, o.own = passesOf(joined(above)), passesOf(joined(own))
	a, okA := pointsOf(o.above)
	b, okB := pointsOf(o.own)
	if okA && okB && (m == nil || m.matte.Pointwise()) {
		return &groupPoint{above: a, own: b, lay: lay, strength: strength, mask: m}
	}
	return &o
}

// passesOf are operations in passes.
func passesOf(list []Operation) []pass {
	var p Plan
	for _, op := range list {
		p.add(op)
	}
	return p.passes
}

// pointsOf are the operations of passes that do nothing but go pixel by pixel, the same in every frame of a picture.
func pointsOf(passes []pass) ([]Pointwise, bool) {
	if len(passes) == 0 {
		return nil, true
	}
	if len(passes) > 1 || passes[0].area != nil || passes[0].near != nil {
		return nil, false
	}
	for _, op := range passes[0].points {
		if _, ok := op.(Moving); ok {
			return nil, false
		}
	}
	return passes[0].points, true
}

// groupKey words what groups of both sorts do.
func groupKey(above, own string, lay look.Lay, strength float32, m *mask) string {
	return fmt.Sprintf("group(%s|%s %s*%g%s)", above, own, lay, strength, m.Key())
}

// groupPoint is a group whose operations go pixel by pixel.
type groupPoint struct {
	above, own []Pointwise
	lay        look.Lay
	strength   float32
	mask       *mask
}

func (o *groupPoint) Key() string {
	return groupKey(keys(o.above), keys(o.own), o.lay, o.strength, o.mask)
}

func (o *groupPoint) At(frame int) Operation {
	q := *o
	var a, b bool
	q.above, a = followed(o.above, frame)
	q.own, b = followed(o.own, frame)
	q.mask = o.mask.at(frame)
	if !a && !b && q.mask == o.mask {
		return o
	}
	return &q
}

func (o *groupPoint) Columns(number, x0, w, y0 int) func(int, [3][]float32) {
	var above []func(int, [3][]float32)
	for _, op := range o.above {
		above = append(above, op.Columns(number, x0, w, y0))
	}
	var own []func(int, [3][]float32)
	for _, op := range o.own {
		own = append(own, op.Columns(number, x0, w, y0))
	}
	var over [3][]float32
	for i := range over {
		over[i] = make([]float32, w, w+frame.RightPad)
	}
	var cover []float32
	var rows func(dst []float32, y, x0 int, r, g, b []float32)
	if o.mask != nil {
		cover, rows = make([]float32, w, w+frame.RightPad), o.mask.matte.Rows(o.mask.size)
	}
	return func(y int, c [3][]float32) {
		for i := range c {
			copy(over[i], c[i])
		}
		if rows != nil {
			rows(cover, y, x0, c[0], c[1], c[2])
		}
		for _, f := range above {
			f(y, c)
		}
		for _, f := range own {
			f(y, over)
		}
		for i := range c {
			layRow(c[i], over[i], cover, o.lay, o.strength)
		}
	}
}

// layRow lays light over another, by a strength and where it is covered; without coverage everywhere.
func layRow(a, over, cover []float32, lay look.Lay, strength float32) {
	over = over[:len(a)]
	for x, was := range a {
		k := strength
		if cover != nil {
			k *= cover[x]
		}
		if k == 0 {
			continue
		}
		v := min(max(laid(was, over[x], lay), -grade.MostLight), grade.MostLight)
		if k == 1 {
			a[x] = v
		} else {
			a[x] = was + k*(v-was)
		}
	}
}

// laid is light b over light a.
func laid(a, b float32, lay look.Lay) float32 {
	switch lay {
	case look.LayLighten:
		return max(a, b)
	case look.LayDarken:
		return min(a, b)
	case look.LayScreen:
		return a + b - min(max(a, 0), 1)*min(max(b, 0), 1)
	case look.LayMultiply:
		return a * min(max(b, 0), 1)
	}
	return b
}

// groupOp is a group with operations among it that look beside a pixel, or that move.
type groupOp struct {
	above, own    []pass
	lay           look.Lay
	strength      float32
	mask          *mask
	frame, number int
}

func (o *groupOp) Key() string {
	word := func(list []pass) string {
		var b strings.Builder
		for _, s := range list {
			b.WriteString(s.key(o.number) + "|")
		}
		return b.String()
	}
	return groupKey(word(o.above), word(o.own), o.lay, o.strength, o.mask)
}

// Name is what a trace calls it.
func (o *groupOp) Name() string { return "group" }

// Uniform is false: what a group does to channels is its steps'.
func (o *groupOp) Uniform() bool { return false }

func (o *groupOp) At(frame int) Operation {
	q := *o
	q.frame, q.mask = frame, o.mask.at(frame)
	return &q
}

func (o *groupOp) Numbered(number int) Spatial {
	q := *o
	q.number = number
	if len(o.above) > 0 {
		q.above = (&Plan{passes: o.above}).at(o.frame, number)
	}
	if len(o.own) > 0 {
		q.own = (&Plan{passes: o.own}).at(o.frame, number)
	}
	return &q
}

func (o *groupOp) Run(ctx context.Context, src *frame.Frame) (*frame.Frame, error) {
	cover, err := o.mask.over(ctx, src, nil)
	if err != nil {
		return nil, err
	}
	if cover != nil {
		defer cover.Release()
	}
	out, err := o.through(ctx, o.above, src)
	if err != nil {
		return nil, err
	}
	over, err := o.through(ctx, o.own, src)
	if err != nil {
		return nil, err
	}
	if out == src {
		out = src.Clone()
	}
	if over != src {
		defer over.Release()
	}
	return out, frame.Bands(ctx, src.H, 32, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			var by []float32
			if cover != nil {
				by = cover.Row(0, y)
			}
			for p := range 3 {
				layRow(out.Row(p, y), over.Row(p, y), by, o.lay, o.strength)
			}
		}
	})
}

// through runs passes over a picture, which stays as it is; without any it is the picture itself.
func (o *groupOp) through(ctx context.Context, passes []pass, src *frame.Frame) (*frame.Frame, error) {
	at := src
	for _, s := range passes {
		next, err := s.Run(ctx, at, o.number, Region{})
		if err != nil {
			return nil, err
		}
		if at != src && next != at {
			at.Release()
		}
		at = next
	}
	return at, nil
}

// Surveys tells that a step of it must see the shot.
func (o *groupOp) Surveys() bool { return surveysAny(o.above) || surveysAny(o.own) }

func surveysAny(passes []pass) bool {
	for _, s := range passes {
		if op, ok := s.area.(Surveyed); ok && op.Surveys() {
			return true
		}
	}
	return false
}

// Survey finds what its steps want to know, in the order in which they act.
func (o *groupOp) Survey(ctx context.Context, pictures []*frame.Frame) ([]float64, error) {
	var all []float64
	for _, passes := range [][]pass{o.above, o.own} {
		at := pictures
		for _, s := range passes {
			if op, ok := s.area.(Surveyed); ok && op.Surveys() {
				found, err := op.Survey(ctx, at)
				if err != nil {
					return nil, err
				}
				all = append(all, float64(len(found)))
				all = append(all, found...)
				s.area = op.Knowing(found).(Spatial)
			}
			next := make([]*frame.Frame, len(at))
			for i, f := range at {
				var err error
				if next[i], err = s.Run(ctx, f, o.number, Region{}); err != nil {
					return nil, err
				}
			}
			at = next
		}
	}
	return all, nil
}

// Knowing gives its steps what was found: for each how many figures, and those.
func (o *groupOp) Knowing(found []float64) Operation {
	q := *o
	know := func(passes []pass) []pass {
		out := make([]pass, len(passes))
		copy(out, passes)
		for i, s := range out {
			if op, ok := s.area.(Surveyed); ok && op.Surveys() && len(found) > 0 {
				n := int(found[0])
				out[i].area = op.Knowing(found[1 : 1+n]).(Spatial)
				found = found[1+n:]
			}
		}
		return out
	}
	q.above, q.own = know(o.above), know(o.own)
	return &q
}
