// Package colour turns camera code values into scene-linear light and light into display
// code values.
//
// Scene-linear means ACEScg (AP1 primaries, ACES white), 0.18 for mid grey, no upper limit,
// negatives kept. Matrices are float64, row by row. Formulas come from the standards and
// published curve definitions named beside them; whites are adapted by the Bradford
// transform as in SMPTE and ACES practice.
package colour
