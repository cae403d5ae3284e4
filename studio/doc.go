// Package studio is what a user can do, as plain Go calls: open a reel, look at a shot, change it with undo, deliver it.
// Screens and commands both call it; it knows neither.
//
// A Studio is an open data folder in three parts. Sessions are shots that are worked on: footage (sources.go, upload.go,
// declare.go), edits (edit.go, looks.go), pictures and what is read of them (view.go and the files that take a View), and
// finished frames for playing (frame_cache.go). Assets are what persons have added: encodings, tables, stocks, pins. Jobs
// are deliveries under way. They share the library and tell who watches of every change (events.go).
//
// What works on files alone needs no data folder: Job renders, measures and makes contact sheets, Bake makes tables,
// Conversion changes encodings, FitWedge and FitPair make stock cards.
package studio
