package dither

import (
	_ "embed"
	"encoding/binary"
	"sync"

	"velours/core/vec"
)

const (
	edge = vec.Cell
	all  = vec.Ranks
)

// Two bytes a place, as package spread ranks them.
//
//go:generate go run ./make
//go:embed mask.bin
var packed []byte

// Mask ranks the places of a cell from 0 to 4095, row by row: however many of the first are taken, they lie as evenly as they can, across the
// cell's edges too.
var Mask = sync.OnceValue(func() *[edge][edge]int32 {
	m := &[edge][edge]int32{}
	for i := range all {
		m[i/edge][i%edge] = int32(binary.LittleEndian.Uint16(packed[2*i:]))
	}
	return m
})
