// Package fit makes stock cards from measurements: from the densities of a step wedge, or from two pictures of one
// patch chart, as the scene had it and as a scan of the film has it.
//
// Log exposure is base 10; densities are base 10 and, as they are measured, include base and fog. Light is
// scene-linear ACEScg, mid grey at 0.18. A fit starts from a card that is like the film, and keeps of it what the
// measurements say nothing of.
package fit
