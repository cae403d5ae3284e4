package media

import (
	"bufio"
	"fmt"
	"image"
	"image/jpeg"
	"image/png"
	"os"
	"sync/atomic"

	"golang.org/x/image/tiff"
)

// limit is how many pixels a picture may have: one limit for the process, as its memory is one.
var limit atomic.Int64

func init() { limit.Store(150_000_000) }

// Limit is how many pixels a picture may have to be read.
func Limit() int64 { return limit.Load() }

// SetMemory sets the limit by the bytes of memory that pictures may take: what is read takes up to bytesPerPixel at
// once, as it comes from the file and as samples.
func SetMemory(bytes int64) { limit.Store(max(bytes/bytesPerPixel, 1<<20)) }

const bytesPerPixel = 24

// checkArea refuses a picture that is larger than the limit, or than any picture is.
func checkArea(path string, w, h int) error {
	if w < 1 || h < 1 {
		return &FileError{path, fmt.Sprintf("says it is %d×%d pixels", w, h), "copy it again: it may be damaged"}
	}
	if most := Limit(); int64(w) > most || int64(h) > most || int64(w)*int64(h) > most {
		return &FileError{path, fmt.Sprintf("is %d×%d pixels, %.0f million; %.0f million are the most for the memory that is set", w, h, float64(w)*float64(h)/1e6, float64(most)/1e6), "make it smaller, or start with more --memory"}
	}
	return nil
}

// stillConfig is the size and the kind of samples that a still states in its head, once the size is found to be within the limit.
func stillConfig(path string) (c image.Config, err error) {
	f, err := openStill(path)
	if err != nil {
		return c, err
	}
	defer f.Close()
	switch extension(path) {
	case ".png":
		c, err = png.DecodeConfig(bufio.NewReader(f))
	case ".jpg", ".jpeg":
		c, err = jpeg.DecodeConfig(bufio.NewReader(f))
	default:
		c, err = tiff.DecodeConfig(f)
	}
	if err != nil {
		return c, notReadable(path, err)
	}
	return c, checkArea(path, c.Width, c.Height)
}

func openStill(path string) (*os.File, error) {
	f, err := os.Open(path)
	if err != nil {
		return nil, &FileError{path, "cannot be opened: " + cause(err), ""}
	}
	return f, nil
}
