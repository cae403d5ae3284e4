module velours

go 1.26

require gonum.org/v1/gonum v0.17.0 // indirect
