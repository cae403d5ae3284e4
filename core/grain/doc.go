// Package grain makes the grain of a negative: the random, correlated deviation of its
// density that remains of the dye clouds.
//
// The quick generator here draws one hashed number a pixel, layer and frame, and filters it
// with a short separable kernel derived from the exact statistics of Gaussian dye clouds seen
// through square pixels, so that variance and correlation are right at every raster, in any
// tile, on any frame alone. Lengths are micrometres on the film; density is base 10.
// Selwyn's law: σ·√area is constant for areas large against a cloud.
package grain
