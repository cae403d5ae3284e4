//go:build !(goexperiment.simd && amd64)

package vec

func available() []*table { return []*table{plain} }
