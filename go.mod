module velours

go 1.26.0

require (
	golang.org/x/image v0.47.0 // indirect
	gonum.org/v1/gonum v0.17.0 // indirect
)
