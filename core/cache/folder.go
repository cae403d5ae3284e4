package cache

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"log/slog"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"time"
)

// Folder is a Store of files, one for each key. What was used longest ago goes first where they are more than a limit. Files of another build
// of the program are others: a formula may have changed.
type Folder struct {
	dir, build string
	limit      int64
	tidied     sync.Once
}

// NewFolder keeps files in dir, made when the first is saved, up to limit bytes; build names the program that computes.
func NewFolder(dir, build string, limit int64) *Folder {
	return &Folder{dir: dir, build: build, limit: limit}
}

const (
	storedEnding = ".table"
	halfEnding   = ".half"
)

func (f *Folder) file(key string) string {
	sum := sha256.Sum256([]byte(f.build + "|" + key))
	return filepath.Join(f.dir, hex.EncodeToString(sum[:16])+storedEnding)
}

// Load returns what was saved under a key, or nil; a file that was damaged is as none.
func (f *Folder) Load(key string) []byte {
	name := f.file(key)
	data, err := os.ReadFile(name)
	if err != nil || len(data) < sha256.Size {
		return nil
	}
	sum := sha256.Sum256(data[sha256.Size:])
	if !bytes.Equal(sum[:], data[:sha256.Size]) {
		return nil
	}
	now := time.Now()
	_ = os.Chtimes(name, now, now) // of use for tidying alone
	return data[sha256.Size:]
}

// Save keeps data under a key. Where it cannot, that is only told: it will be computed again.
func (f *Folder) Save(key string, data []byte) {
	if err := f.save(key, data); err != nil {
		slog.Debug("a table could not be kept", "error", err)
	}
	f.tidied.Do(f.tidy)
}

func (f *Folder) save(key string, data []byte) error {
	if err := os.MkdirAll(f.dir, 0o755); err != nil {
		return err
	}
	half, err := os.CreateTemp(f.dir, "*"+halfEnding)
	if err != nil {
		return err
	}
	defer os.Remove(half.Name())
	sum := sha256.Sum256(data)
	_, err = half.Write(append(sum[:], data...))
	if end := half.Close(); err == nil {
		err = end
	}
	if err != nil {
		return err
	}
	return os.Rename(half.Name(), f.file(key))
}

// tidy removes what is beyond the limit, and what a killed program has left half-written.
func (f *Folder) tidy() {
	list, err := os.ReadDir(f.dir)
	if err != nil {
		return
	}
	type old struct {
		name string
		size int64
		used time.Time
	}
	var files []old
	total := int64(0)
	for _, e := range list {
		st, err := e.Info()
		name := filepath.Join(f.dir, e.Name())
		switch {
		case err != nil:
		case strings.HasSuffix(e.Name(), halfEnding):
			if time.Since(st.ModTime()) > time.Hour {
				os.Remove(name)
			}
		case strings.HasSuffix(e.Name(), storedEnding):
			files = append(files, old{name, st.Size(), st.ModTime()})
			total += st.Size()
		}
	}
	slices.SortFunc(files, func(a, b old) int { return a.used.Compare(b.used) })
	for _, o := range files {
		if total <= f.limit {
			return
		}
		os.Remove(o.name)
		total -= o.size
	}
}
