package steps

import (
	"velours/core/grain"
	"velours/core/render"
)

// codeGrainOp adds grain to code values, which stay in their range.
type codeGrainOp struct{ *grainOp }

// newCodeGrain is grain of a setting, one for all channels so that it is neutral, that deviates codes by a law: σ·√area, µm, over codes from 0 to 1.
func newCodeGrain(set grain.Setting, law grain.Gains) render.Pointwise {
	set.Link = 1
	return newLayeredCodeGrain(set, [3]grain.Gains{law, law, law})
}

// newLayeredCodeGrain is grain that deviates the codes of each channel by a law of its own, linked as the setting says.
func newLayeredCodeGrain(set grain.Setting, law [3]grain.Gains) render.Pointwise {
	set.Top, set.Instead = 1, &law
	return codeGrainOp{newGrain(set)}
}

func (o codeGrainOp) Columns(number, x0, w, y0 int) func(int, [3][]float32) {
	s := o.gen.Columns(number, x0, w, y0)
	return func(y int, c [3][]float32) {
		s.Add(y, c)
		for _, row := range c {
			for i, v := range row {
				row[i] = min(max(v, 0), 1)
			}
		}
	}
}
