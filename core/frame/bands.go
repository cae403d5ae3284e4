package frame

import (
	"context"
	"runtime"
	"sync"
	"sync/atomic"
)

// Bands calls work for consecutive bands of at most rows rows that cover 0…h, on every core.
// The bands do not depend on the number of cores, so neither does what work computes from
// them. It stops early, with the context's error, when ctx is done.
func Bands(ctx context.Context, h, rows int, work func(y0, y1 int)) error {
	n := (h + rows - 1) / rows
	workers := min(runtime.GOMAXPROCS(0), n)
	if workers <= 1 {
		for i := range n {
			if err := ctx.Err(); err != nil {
				return err
			}
			work(i*rows, min(h, (i+1)*rows))
		}
		return ctx.Err()
	}
	var next atomic.Int64
	var wg sync.WaitGroup
	for range workers {
		wg.Go(func() {
			for ctx.Err() == nil {
				i := int(next.Add(1)) - 1
				if i >= n {
					return
				}
				work(i*rows, min(h, (i+1)*rows))
			}
		})
	}
	wg.Wait()
	return ctx.Err()
}
