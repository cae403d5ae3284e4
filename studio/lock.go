package studio

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"syscall"
)

// Folder is a data folder that this program alone uses, as long as it is not released. It is taken before anything in
// it is touched.
type Folder struct {
	Path string
	lock *os.File
}

// Take makes a data folder if it is missing and locks it. It is refused while another program has it; what is in it
// stays untouched.
func Take(dir string) (*Folder, error) {
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return nil, Bad("%s: the data folder cannot be made (%w); choose another with --data", dir, err)
	}
	name := filepath.Join(dir, "in-use")
	f, err := os.OpenFile(name, os.O_RDWR|os.O_CREATE, 0o644)
	if err != nil {
		return nil, Bad("%s: the data folder cannot be written to (%w); check its permissions, or choose another with --data", dir, err)
	}
	if err := syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		who := ""
		if data, err := os.ReadFile(name); err == nil && len(data) > 0 {
			who = " (" + strings.TrimSpace(string(data)) + ")"
		}
		f.Close()
		if errors.Is(err, syscall.EWOULDBLOCK) {
			return nil, Bad("%s is in use by another Velours%s; open that one's page, end it first, or choose another folder with --data", dir, who)
		}
		return nil, fmt.Errorf("locking %s: %w", dir, err)
	}
	return &Folder{dir, f}, nil
}

// Say writes into the lock who has the folder, for the message of a second program.
func (f *Folder) Say(who string) error {
	if err := f.lock.Truncate(0); err != nil {
		return fmt.Errorf("%s: %w", f.lock.Name(), err)
	}
	_, err := f.lock.WriteAt([]byte(fmt.Sprintf("process %d, %s\n", os.Getpid(), who)), 0)
	return err
}

// Release lets others use the folder.
func (f *Folder) Release() error { return f.lock.Close() }
