package media

import (
	"os/exec"
	"syscall"
)

// bind has the kernel end a tool when this program ends, however it does.
func bind(cmd *exec.Cmd) { cmd.SysProcAttr = &syscall.SysProcAttr{Pdeathsig: syscall.SIGKILL} }
