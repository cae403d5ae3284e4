// Package library keeps reels, shots, their looks and every change to them, in SQLite through
// GORM. It stores and finds; what a change means is the studio's business.
package library
