package server

import (
	"velours/studio"
)

// told is any message of the socket, with what tests look at.
type told struct {
	Type, Channel, Window, Problem string
	Seq                            int
	Stage                          string
	W                              int `json:"width"`
	H                              int `json:"height"`
	SourceW                        int `json:"sourceWidth"`
	MS                             float64
	Scope                          *studio.ScopeView
	Reading                        *studio.Reading
	Reasons                        *map[string]string
	Kept                           *[][2]int
	Shot                           *Shot
	Levels                         *Levels
	Done                           float64
	Measured                       *MeasuredGrain
}
