//go:build !linux

package media

import "os/exec"

// bind does nothing here: a tool ends when its pipes close.
func bind(*exec.Cmd) {}
