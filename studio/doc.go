// Package studio is what a user can do, as plain Go calls: render and bake, open a reel, watch
// a shot, change it with undo, deliver it. Screens and commands both call it; it knows neither.
package studio
