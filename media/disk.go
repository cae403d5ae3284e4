package media

import (
	"errors"
	"os"
	"path/filepath"
	"strings"
	"syscall"
)

// diskProblem words why a file could not be written: its true cause and what to do about it.
func diskProblem(path string, err error) *FileError {
	text := err.Error()
	switch {
	case errors.Is(err, syscall.ENOSPC), strings.Contains(text, "No space left on device"):
		return &FileError{path, "cannot be written: the disk is full", "make room on it, then try again"}
	case errors.Is(err, syscall.EDQUOT):
		return &FileError{path, "cannot be written: your share of the disk is used up", "make room, then try again"}
	case errors.Is(err, syscall.EROFS), strings.Contains(text, "Read-only file system"):
		return &FileError{path, "cannot be written: the disk is read-only", "choose a folder on another"}
	case errors.Is(err, os.ErrPermission), strings.Contains(text, "Permission denied"):
		return &FileError{path, "cannot be written: you may not write there", "choose another folder, or change its permissions"}
	case errors.Is(err, syscall.EFBIG):
		return &FileError{path, "cannot be written: it is larger than the disk's format allows", "choose a folder on another disk"}
	}
	return &FileError{path, "cannot be written: " + cause(err), "check the folder and the disk"}
}

// syncFile has a file, or the names in a folder, on the disk when it returns.
func syncFile(path string) error {
	f, err := os.Open(path)
	if err != nil {
		return err
	}
	return errors.Join(f.Sync(), f.Close())
}

// partEnding ends the names of files that are not whole yet.
const partEnding = ".velours-part"

// ClearParts removes what a killed program has left half-written in a folder, and returns how many that were. It does
// not look into folders below, but for half-written ones.
func ClearParts(dir string) (n int, err error) {
	list, err := os.ReadDir(dir)
	if err != nil {
		return 0, err
	}
	for _, e := range list {
		if !strings.HasSuffix(e.Name(), partEnding) {
			continue
		}
		if err := os.RemoveAll(filepath.Join(dir, e.Name())); err != nil {
			return n, err
		}
		n++
	}
	return n, nil
}
