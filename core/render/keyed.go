package render

import (
	"context"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
)

// applyKeyed lets a step contribute that moves over frames: its operations are, at each frame, those that its settings there
// make.
func (b *Builder) applyKeyed(k *look.Kind, p *look.Step, strength float64) {
	mask, source, fed := b.mask, b.source, b.fed
	at := func(frame int) []Operation {
		one := *b
		one.mask, one.source, one.fed = mask, source, fed
		one.at, one.film, one.details = map[look.Station][]Operation{}, map[Slot][]contribution{}, nil
		k.Work.(Work).Apply(&one, b.Look.ValuesAt(k, p, frame), strength)
		return one.at[k.Station]
	}
	var most []Operation // at some frames it may do nothing
	for _, key := range p.Keys {
		if list := at(key.Frame); len(list) > len(most) {
			most = list
		}
	}
	for i, first := range most {
		now := func(frame int) Operation {
			list := at(frame)
			if i >= len(list) {
				return nil
			}
			if f, ok := list[i].(Following); ok { // its matte may move too
				return f.At(frame)
			}
			return list[i]
		}
		if s, ok := first.(Spatial); ok {
			b.Add(k.Station, &keyedArea{s, now})
		} else {
			b.Add(k.Station, &keyedPoint{first.(Pointwise), now})
		}
	}
}

// keyedArea and keyedPoint stand in a plan for what moves.
type keyedArea struct {
	Spatial
	now func(frame int) Operation
}

type keyedPoint struct {
	Pointwise
	now func(frame int) Operation
}

func (o *keyedArea) At(n int) Operation {
	if op := o.now(n); op != nil {
		return op
	}
	return NewArea("nothing", func(_ context.Context, src *frame.Frame) (*frame.Frame, error) { return src, nil })
}

func (o *keyedPoint) At(n int) Operation {
	if op := o.now(n); op != nil {
		return op
	}
	return &matrixOp{colour.Identity}
}

func (o *keyedPoint) Uniform() bool { return isUniform(o.Pointwise) }
