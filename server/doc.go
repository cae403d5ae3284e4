// Package server is the studio over HTTP: JSON under /api/v1, pictures and progress over one
// WebSocket a window, and the embedded front end. It translates; it decides nothing.
//
//go:generate go run ./describe
package server
