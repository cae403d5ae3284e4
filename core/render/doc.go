// Package render compiles a look to a plan and runs it: pointwise operations are fused into passes over blocks, spatial
// ones run whole, and what pictures pass through is kept by keys of their contents, within a budget of bytes.
//
// A plan is a pure function of look, frame, frame number and raster: the same bits on any number of cores and at any
// width of vectors. Between Intake and Lens a picture is scene-linear ACEScg, 0.18 for mid grey; at the Negative it is
// the three densities; at the Print CIE XYZ; from Screen on display code values. It knows no kind of step by name: each
// contributes operations to its station, or to a slot of the film (Builder).
package render
