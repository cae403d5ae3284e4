package main

import (
	"fmt"
	"os"
	"path/filepath"

	"velours/core/cache"
)

// tablesLimit is how much of the disk tables may take that were computed before, in bytes.
const tablesLimit = 64 << 20

// keepTables has slow tables kept in the person's folder for what can be made again, where there is one. They are those of this very program:
// its file's size and time are part of their names.
func keepTables() {
	dir, err := os.UserCacheDir()
	if err != nil {
		return
	}
	program, err := os.Executable()
	if err != nil {
		return
	}
	st, err := os.Stat(program)
	if err != nil {
		return
	}
	cache.Disk = cache.NewFolder(filepath.Join(dir, "velours", "tables"), fmt.Sprint(st.Size(), st.ModTime().UnixNano()), tablesLimit)
}
