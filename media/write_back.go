package media

import (
	"os"
	"sync/atomic"
)

// writeBack sends files to the disk while the next are made, so that there is little left to wait for before they get their names: a sequence of
// a gigabyte waited more than a second for the disk when all of it was made.
type writeBack struct{ busy atomic.Bool }

// begin has the system begin to write what there is of a file, without waiting for it. While it begins another, or where the file is not
// there yet, it does nothing. What goes wrong is told when the file is made sure of (syncFile).
func (b *writeBack) begin(path string) {
	if !b.busy.CompareAndSwap(false, true) {
		return
	}
	go func() {
		defer b.busy.Store(false)
		f, err := os.Open(path)
		if err != nil {
			return
		}
		defer f.Close()
		beginWriting(f)
	}()
}
