package main

import "velours/demo"

func shippedLooks() []listed {
	var out []listed
	for _, s := range demo.Shots {
		out = append(out, listed{ID: s.Look[:len(s.Look)-len(".json")], Label: s.Name, Note: "The film setting of the demo shot"})
	}
	return out
}
