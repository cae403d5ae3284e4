//go:build !linux

package media

import (
	"os"
	"os/exec"
)

// bind does nothing here: a tool ends when its pipes close.
func bind(*exec.Cmd) {}

// widen does nothing here.
func widen(any) {}

// beginWriting does nothing here.
func beginWriting(*os.File) {}
