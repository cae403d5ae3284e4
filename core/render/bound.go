package render

import (
	"velours/core/colour"
	"velours/core/grade"
	"velours/core/vec"
)

// Light stays finite: it is bounded at the intake (grade.SoundRow) and after every operation that could lead out of
// what float32 holds, so that none meets a number that is none, and no table is looked up with one.

// boundRows brings three rows within grade.MostLight.
func boundRows(c [3][]float32) {
	for _, row := range c {
		vec.Bound(row, grade.MostLight)
	}
}

// wide tells that a matrix can carry bounded light far beyond the bound.
func wide(m colour.Matrix) bool {
	const far = 1 << 10
	for i := range 3 {
		sum := 0.0
		for _, v := range m[3*i : 3*i+3] {
			sum += max(v, -v)
		}
		if !(sum < far) {
			return true
		}
	}
	return false
}

// wild tells that an encoding makes more light of whole-number codes than the bound; tables may hold anything.
func wild(e *colour.Encoding) bool {
	if e.Through != nil {
		return true
	}
	for _, code := range []float64{-0.25, 0, 0.5, 1, 1.25} {
		if v := e.Decode(code) * e.Anchor; !(max(v, -v) < grade.MostLight) {
			return true
		}
	}
	return false
}
