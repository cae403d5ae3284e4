// Package scope measures pictures and draws the measurements: waveform and parade, vectorscope,
// histogram, chromaticities, false colour, clipping marks, and what one picture has that another lacks.
//
// It reads the same float32 planes that the screen shows, at any tap of the light path; an Axis says what
// their numbers mean. Counts are whole numbers and depend on nothing but the picture: a pixel gives
// weight Unit, shared between the two (or four) nearest cells, so that traces are smooth without being
// blurred. Angles, targets and weights come from the standards named beside them.
package scope
