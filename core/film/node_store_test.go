package film

import (
	"math"
	"slices"
	"testing"
)

func TestNodeExposuresAreStored(t *testing.T) {
	nodes := make([][3]float64, 27)
	for i := range nodes {
		nodes[i] = [3]float64{math.Sqrt(float64(i)), -1 / float64(i+1), math.Pow(10, float64(i)-20)}
	}
	data := writeNodes(nodes)
	if got, ok := readNodes(3)(data); !ok || !slices.Equal(got, nodes) {
		t.Error("other exposures came back")
	}
	if _, ok := readNodes(3)(data[1:]); ok {
		t.Error("bytes that are cut short were believed")
	}
	if _, ok := readNodes(4)(data); ok {
		t.Error("a table of another size was believed")
	}
}
