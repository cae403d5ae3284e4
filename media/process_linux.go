package media

import (
	"os"
	"os/exec"
	"syscall"

	"golang.org/x/sys/unix"
)

// bind has the kernel end a tool when this program ends, however it does.
func bind(cmd *exec.Cmd) { cmd.SysProcAttr = &syscall.SysProcAttr{Pdeathsig: syscall.SIGKILL} }

// widen makes a pipe hold a megabyte, so that frames pass in fewer turns.
func widen(pipe any) {
	f, ok := pipe.(syscall.Conn)
	if !ok {
		return
	}
	if c, err := f.SyscallConn(); err == nil {
		c.Control(func(fd uintptr) { unix.FcntlInt(fd, unix.F_SETPIPE_SZ, 1<<20) })
	}
}

// beginWriting has the system begin to write what there is of a file.
func beginWriting(f *os.File) { _ = unix.SyncFileRange(int(f.Fd()), 0, 0, unix.SYNC_FILE_RANGE_WRITE) }
