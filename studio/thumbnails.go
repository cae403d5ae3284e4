package studio

import (
	"bytes"
	"context"
	"crypto/sha256"
	"fmt"
	"image"
	"image/draw"
	"image/png"
	"log/slog"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"velours/core/look"
	"velours/library"
)

// mostThumbnails is how many thumbnails are kept; once there are more, the quarter goes that was made longest ago.
const mostThumbnails = 4000

// Thumbnail is the view of a shot as it is kept, small, for the column and the page of reels: made once for a file, a frame and a look, and
// kept in the data folder. What is in the view beside shot, frame and size counts for nothing.
func (s *Sessions) Thumbnail(ctx context.Context, v View) (*Image, error) {
	v = View{Shot: v.Shot, Frame: v.Frame, W: v.W, H: v.H, Draft: true}
	shot, err := s.lib.Shot(v.Shot)
	if err != nil {
		return nil, err
	}
	file := s.thumbnailFile(shot, v)
	if im := readThumbnail(file); im != nil {
		im.SourceW, im.SourceH = shot.Width, shot.Height
		return im, nil
	}
	im, err := s.Picture(ctx, v)
	if err != nil || file == "" {
		return im, err
	}
	if err := writeThumbnail(file, im); err != nil { // it is made again next time
		slog.Warn("a thumbnail could not be kept", "file", file, "error", err)
	} else if s.thumbnails.Add(1)%256 == 1 {
		pruneThumbnails(filepath.Dir(file))
	}
	return im, nil
}

// thumbnailFile is where the thumbnail of a view lies, by all that its picture depends on; empty where that cannot be told: the file is gone, or
// the look names something of the library, which may change under its name.
func (s *Sessions) thumbnailFile(shot *library.Shot, v View) string {
	key := fileKey(shot)
	if key == "" {
		return ""
	}
	levels, err := s.levelsOf(shot, nil)
	if err != nil {
		return ""
	}
	whole := levels.Whole()
	whole.Trial, whole.Name = 0, ""
	keys, err := s.lib.AssetKeys()
	if err != nil {
		return ""
	}
	names := namesIn(whole)
	if slices.ContainsFunc(keys, func(k string) bool { return names[k] || k == shot.Encoding }) {
		return ""
	}
	doc, err := whole.Stored()
	if err != nil {
		return ""
	}
	h := sha256.New()
	fmt.Fprintln(h, look.Process, key, v.Frame, v.W, v.H, shot.Encoding)
	h.Write(doc)
	return filepath.Join(s.dir, "thumbnails", fmt.Sprintf("%x.png", h.Sum(nil)[:16]))
}

// fileKey tells the file of a shot, of a sequence its first, from what it was before; empty where it is gone.
func fileKey(shot *library.Shot) string {
	first := shot.Path
	if strings.Contains(first, "%") {
		first = fmt.Sprintf(first, shot.First)
	}
	st, err := os.Stat(first)
	if err != nil {
		return ""
	}
	return fmt.Sprint(shot.Path, " ", st.Size(), " ", st.ModTime().UnixNano())
}

// readThumbnail reads a thumbnail, nil where there is none, or none that can be read.
func readThumbnail(file string) *Image {
	data, err := os.ReadFile(file)
	if err != nil {
		return nil
	}
	p, err := png.Decode(bytes.NewReader(data))
	if err != nil {
		return nil
	}
	b := p.Bounds()
	out := image.NewNRGBA(image.Rect(0, 0, b.Dx(), b.Dy()))
	draw.Draw(out, out.Rect, p, b.Min, draw.Src)
	return &Image{W: b.Dx(), H: b.Dy(), RGBA: out.Pix}
}

func writeThumbnail(file string, im *Image) error {
	data, err := im.png()
	if err != nil {
		return err
	}
	if err := os.MkdirAll(filepath.Dir(file), 0o755); err != nil {
		return err
	}
	part, err := os.CreateTemp(filepath.Dir(file), "*"+partEnding)
	if err != nil {
		return err
	}
	_, err = part.Write(data)
	if e := part.Close(); err == nil {
		err = e
	}
	if err == nil {
		err = os.Rename(part.Name(), file)
	}
	if err != nil {
		os.Remove(part.Name())
	}
	return err
}

// pruneThumbnails takes the oldest away where there are too many.
func pruneThumbnails(dir string) {
	list, err := os.ReadDir(dir)
	if err != nil || len(list) <= mostThumbnails {
		return
	}
	at := func(e os.DirEntry) int64 {
		if info, err := e.Info(); err == nil {
			return info.ModTime().UnixNano()
		}
		return 0
	}
	slices.SortFunc(list, func(a, b os.DirEntry) int { return int(min(max(at(a)-at(b), -1), 1)) })
	for _, e := range list[:len(list)-mostThumbnails*3/4] {
		os.Remove(filepath.Join(dir, e.Name()))
	}
}
