// Package stage is the small renderer behind the demo reel, and the scenes of
// The Velvet Matinee, a marionette theatre that exists only here.
//
// It traces rays against solids and signed-distance shapes held in a bounding
// volume hierarchy, lights them with spheres, rectangles, a sun and a sky, and
// returns scene-linear pictures in ACEScg (0.18 is mid grey, no upper limit).
// Lengths are metres, radiance is relative. Every random number is a hash of
// (pixel, sample, dimension), so a frame is the same bits on every run.
package stage
