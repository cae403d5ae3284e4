package frame

import (
	"context"
	"runtime"
	"sync"
	"sync/atomic"

	"velours/core/fault"
)

// Bands calls work for consecutive bands of at most rows rows that cover 0…h, on every core.
// The bands do not depend on the number of cores, so neither does what work computes from
// them. It stops early, with the context's error, when ctx is done. A panic in work ends the other
// bands and is returned as a *fault.Error.
func Bands(ctx context.Context, h, rows int, work func(y0, y1 int)) error {
	n := (h + rows - 1) / rows
	workers := min(runtime.GOMAXPROCS(0), n)
	if workers <= 1 {
		return fault.Do(func() error {
			for i := range n {
				if err := ctx.Err(); err != nil {
					return err
				}
				work(i*rows, min(h, (i+1)*rows))
			}
			return ctx.Err()
		})
	}
	var next atomic.Int64
	var broken atomic.Pointer[error]
	var wg sync.WaitGroup
	for range workers {
		wg.Go(func() {
			err := fault.Do(func() error {
				for ctx.Err() == nil && broken.Load() == nil {
					i := int(next.Add(1)) - 1
					if i >= n {
						break
					}
					work(i*rows, min(h, (i+1)*rows))
				}
				return nil
			})
			if err != nil {
				broken.CompareAndSwap(nil, &err)
			}
		})
	}
	wg.Wait()
	if err := broken.Load(); err != nil {
		return *err
	}
	return ctx.Err()
}
