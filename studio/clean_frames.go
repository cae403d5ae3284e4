package studio

import (
	"encoding/binary"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"math"
	"os"
	"path/filepath"
	"sync/atomic"

	"velours/core/cache"
	"velours/core/frame"
)

// cleanFrames keeps frames that were cleaned on the disk, up to a budget, so that what comes after cleaning stays quick. What was used
// longest ago goes first. It is safe for concurrent use.
type cleanFrames struct {
	dir  string
	kept *cache.Cache[string, cleanFrame]
	next atomic.Int64
}

// cleanFrame is a frame on the disk: its samples row by row and plane by plane, floats of 32 bits.
type cleanFrame struct {
	file         string
	w, h, planes int
}

// newCleanFrames makes an empty store in a folder; what an earlier run left there is taken away.
func newCleanFrames(dir string, budget int64) (*cleanFrames, error) {
	if err := os.RemoveAll(dir); err != nil {
		return nil, fmt.Errorf("clearing the clean frames of an earlier run: %w", err)
	}
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return nil, fmt.Errorf("the folder for clean frames: %w", err)
	}
	return &cleanFrames{dir: dir, kept: cache.New[string, cleanFrame](budget)}, nil
}

// Get is a frame that was kept, nil if it was not.
func (c *cleanFrames) Get(key string) *frame.Frame {
	k, ok := c.kept.Get(key)
	if !ok {
		return nil
	}
	data, err := os.ReadFile(k.file)
	if err != nil || len(data) != 4*k.w*k.h*k.planes {
		c.kept.Remove(key) // gone meanwhile: it is cleaned again
		return nil
	}
	f := frame.Get(k.w, k.h, k.planes)
	for p := range k.planes {
		for y := range k.h {
			row := f.Row(p, y)
			for x := range row {
				row[x] = math.Float32frombits(binary.LittleEndian.Uint32(data[4*x:]))
			}
			data = data[4*k.w:]
		}
	}
	return f
}

// Put keeps a frame, unless there is no room for it.
func (c *cleanFrames) Put(key string, f *frame.Frame) {
	size := int64(4 * f.W * f.H * f.Planes)
	if size > c.kept.Limit() || c.kept.Has(key) {
		return
	}
	data := make([]byte, 0, size)
	for p := range f.Planes {
		for y := range f.H {
			for _, v := range f.Row(p, y) {
				data = binary.LittleEndian.AppendUint32(data, math.Float32bits(v))
			}
		}
	}
	k := cleanFrame{filepath.Join(c.dir, fmt.Sprintf("%d.float", c.next.Add(1))), f.W, f.H, f.Planes}
	if err := os.WriteFile(k.file, data, 0o644); err != nil {
		slog.Warn("a clean frame could not be kept on the disk", "error", err)
		os.Remove(k.file)
		return
	}
	gone := c.kept.Put(key, k, size)
	for _, e := range gone {
		if err := os.Remove(e.Value.file); err != nil && !errors.Is(err, fs.ErrNotExist) {
			slog.Warn("a clean frame could not be removed", "error", err)
		}
	}
}
