// Package media reads and writes pictures: stills in Go, movies, EXR and DPX through ffmpeg.
//
// A Reader gives the code values of any frame, exactly that frame, as planar float32 where 1 is
// the top of the code range (legal-range video is already spread to it, overshoots kept). A
// Writer takes pictures in order and leaves either a whole file or none.
package media
