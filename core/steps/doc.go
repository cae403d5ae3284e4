// Package steps holds every kind of step, and every kind of matte's part, one file a kind: its declaration and what it
// does. A file declares its kind when the program starts; nothing else names it. Helpers that several kinds share are in
// declare.go, channels.go and by.go. The ready films by feeling and era are here too (recipes).
//
// Lengths are micrometres on the film or shares of the picture's width; tones are stops from mid grey; amounts per cent.
package steps
