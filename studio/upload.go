package studio

import (
	"context"
	"errors"
	"io"
	"log/slog"
	"os"
	"path/filepath"
	"strings"
	"time"

	"velours/media"
)

// Upload brings files into a reel that are sent one after the other: next gives the name and the data of each, io.EOF
// after the last. What cannot be read is told and stops nothing else; of what was refused nothing is left behind.
func (s *Sessions) Upload(ctx context.Context, reel uint, next func() (name string, data io.Reader, err error)) (*Added, error) {
	if err := s.lib.HasReel(reel); err != nil {
		return nil, err
	}
	if err := os.MkdirAll(s.uploads(), 0o755); err != nil {
		return nil, Bad("%s: the folder for uploads cannot be made (%w)", s.uploads(), err)
	}
	batch, err := os.MkdirTemp(s.uploads(), time.Now().Format("2006-01-02-150405-"))
	if err != nil {
		return nil, Bad("%s: nothing can be kept there (%w); make room or check its permissions", s.uploads(), err)
	}
	got, err := s.receive(ctx, reel, batch, next)
	if err != nil {
		return nil, errors.Join(err, os.RemoveAll(batch))
	}
	s.tidy(batch, got)
	return got, nil
}

func (s *Sessions) receive(ctx context.Context, reel uint, batch string, next func() (string, io.Reader, error)) (*Added, error) {
	var problems []string
	for {
		name, data, err := next()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return nil, Bad("the sending broke off: %w; send again", err)
		}
		err = s.receiveOne(batch, name, data)
		var bad BadInput
		switch {
		case errors.As(err, &bad):
			problems = append(problems, bad.Error())
		case err != nil:
			return nil, Bad("%s could not be kept: %w; send it again", name, err)
		}
	}
	got, err := s.AddSources(ctx, reel, []string{batch})
	if err != nil {
		return nil, err
	}
	if len(problems) > 0 && len(got.Shots) == 0 {
		got.Problems = nil // an empty folder is no news beside them
	}
	got.Problems = append(problems, got.Problems...)
	return got, nil
}

// receiveOne writes one sent file into a batch's folder, whole or not at all.
func (s *Sessions) receiveOne(batch, name string, r io.Reader) error {
	base := filepath.Base(filepath.Clean("/" + strings.ReplaceAll(name, `\`, "/")))
	if !media.Picture(base) && !media.Movie(base) || strings.ContainsAny(base, "%\x00") || len(base) > 200 {
		return Bad("%q: is not a picture or a movie by its name; send movies, EXR, DPX, TIFF, PNG or JPEG", name)
	}
	to := filepath.Join(batch, base)
	if _, err := os.Lstat(to); err == nil {
		return Bad("%s: was sent twice at once; send the other under another name, or by itself", base)
	}
	return writeWhole(to, func(w io.Writer) error {
		_, err := io.Copy(w, &bounded{from: r, left: mostUpload, dir: batch, name: base})
		return err
	})
}

// tidy removes what came in a batch and became no shot, and the batch's folder if nothing of it is left.
func (s *Sessions) tidy(batch string, got *Added) {
	used := map[string]bool{}
	for _, shot := range got.Shots {
		used[shot.Path] = true
	}
	real, err := filepath.EvalSymlinks(batch)
	if err != nil {
		return
	}
	list, err := os.ReadDir(real)
	if err != nil {
		slog.Warn("looking over what was sent", "folder", batch, "error", err)
		return
	}
	for _, e := range list {
		file := filepath.Join(real, e.Name())
		if used[file] || used[media.Pattern(file)] {
			continue
		}
		if err := os.Remove(file); err != nil {
			slog.Warn("removing what was refused", "file", file, "error", err)
		}
	}
	os.Remove(real) // if it is empty
}

// HasReel tells whether there is a reel, as an error if not.
func (s *Sessions) HasReel(id uint) error { return s.lib.HasReel(id) }
