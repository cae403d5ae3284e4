// Command make writes the mask of thresholds, mask.bin.
package main

import (
	"encoding/binary"
	"log"
	"os"

	"velours/core/dither/spread"
)

func main() {
	var data []byte
	for _, row := range spread.Rank() {
		for _, r := range row {
			data = binary.LittleEndian.AppendUint16(data, r)
		}
	}
	if err := os.WriteFile("mask.bin", data, 0o644); err != nil {
		log.Fatal(err)
	}
}
