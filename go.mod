module velours

go 1.26
