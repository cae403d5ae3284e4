// Command describe writes the front end's types from the server's.
package main

import (
	"log"
	"os"

	"velours/server"
)

func main() {
	if err := os.WriteFile("../web/src/api/types.gen.ts", []byte(server.TypeScript()), 0o644); err != nil {
		log.Fatal(err)
	}
}
