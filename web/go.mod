// The front end is not Go: this keeps ./... out of node_modules.
module velours/web

go 1.26
