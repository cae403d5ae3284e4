package studio

import (
	"io"
	"syscall"
)

// mostUpload is how large a file may be that is sent, and spare what the disk keeps free all the same, in bytes.
const mostUpload, spare = 400 << 30, 512 << 20

// bounded reads what is sent, as long as it is not too large and the disk has room.
type bounded struct {
	from      io.Reader
	left      int64
	untilLook int64 // bytes until the disk is looked at again
	dir, name string
}

func (b *bounded) Read(p []byte) (int, error) {
	if b.left <= 0 {
		return 0, Bad("%s: is larger than %d GB, the most that can be sent; copy it into a folder of --media instead", b.name, mostUpload>>30)
	}
	if b.untilLook <= 0 {
		if room, ok := free(b.dir); ok && room < spare {
			return 0, Bad("%s: the disk is nearly full; make room, then send it again", b.name)
		}
		b.untilLook = 64 << 20
	}
	n, err := b.from.Read(p[:min(int64(len(p)), b.left)])
	b.left -= int64(n)
	b.untilLook -= int64(n)
	return n, err
}

// free is the room on the disk that a folder lies on, in bytes, if it can be told.
func free(dir string) (int64, bool) {
	var s syscall.Statfs_t
	if err := syscall.Statfs(dir, &s); err != nil {
		return 0, false
	}
	return int64(s.Bavail) * int64(s.Bsize), true
}
