// Package standin makes a whole set of measurements of a film that does not exist and is not among the stocks: what a person would
// have who had shot the short test of docs/measuring.md and had it scanned. Its camera, film, densitometer and scanner are a
// simulation of their own, which shares standard tables (observer, daylight) with the engine and nothing else, so that what is
// measured of it can be held against a truth.
package standin
