// Command generate remakes the frames of the demo reel, bit for bit.
//
//	go run ./demo/generate --to DIR [--shot NAME] [--step N]
//	go run ./demo/generate --to DIR [--shot NAME] --encode demo/media
//
// The first writes scene-linear float32 RGB, 1920×1080, one file a frame (two hours or so on two
// cores); the second turns them into the camera movies and the chart that ship in demo/media.
package main

import (
	"bufio"
	"context"
	"encoding/binary"
	"flag"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"time"

	"velours/demo/stage"
)

func main() {
	to := flag.String("to", "", "folder for the frames")
	shot := flag.String("shot", "", "one shot only")
	step := flag.Int("step", 1, "render every n-th frame only")
	out := flag.String("encode", "", "folder for the camera movies made of the frames")
	flag.Parse()
	if *out != "" {
		if err := encode(context.Background(), *to, *out, *shot); err != nil {
			slog.Error("encoding", "error", err)
			os.Exit(1)
		}
		return
	}
	if *to == "" {
		flag.Usage()
		os.Exit(2)
	}
	for _, s := range stage.Shots {
		if *shot != "" && *shot != s.Name {
			continue
		}
		for n := 0; n < s.Length; n += *step {
			path := filepath.Join(*to, fmt.Sprintf("%s.%02d.raw", s.Name, n))
			if _, err := os.Stat(path); err == nil {
				continue
			}
			began := time.Now()
			p := s.Frame(n)
			if err := write(path, p); err != nil {
				slog.Error("writing a frame", "file", path, "error", err)
				os.Exit(1)
			}
			slog.Info("frame", "shot", s.Name, "frame", n, "took", time.Since(began).Round(time.Second/10))
		}
	}
}

func write(path string, p *stage.Picture) error {
	if err := os.MkdirAll(filepath.Dir(path), 0o755); err != nil {
		return err
	}
	f, err := os.Create(path + ".part")
	if err != nil {
		return err
	}
	w := bufio.NewWriterSize(f, 1<<20)
	if err := binary.Write(w, binary.LittleEndian, p.Pix); err != nil {
		return err
	}
	if err := w.Flush(); err != nil {
		return err
	}
	if err := f.Close(); err != nil {
		return err
	}
	return os.Rename(path+".part", path)
}
