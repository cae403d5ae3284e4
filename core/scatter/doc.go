// Package scatter spreads light: bloom in the lens, halation in the film.
//
// Both act on light that is linear in exposure, before any curve, and both conserve it: what
// leaves one place arrives at another, and an even field stays as it is. Distances are
// millimetres on the film or fractions of the picture's width, never pixels; edges are
// continued by their last sample. Equations and figures are those of the design's part A
// (a base with a partly reflecting back) and part B (independent scatterers).
package scatter
