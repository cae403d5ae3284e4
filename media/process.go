package media

import (
	"context"
	"errors"
	"fmt"
	"os/exec"
	"strconv"
)

// ErrNoFFmpeg says that the programs that read and write movies are missing.
var ErrNoFFmpeg = errors.New("ffmpeg is not installed; install Debian's ffmpeg package")

// tool prepares ffmpeg or ffprobe. It dies with ctx, and with this program (process_linux.go); it may open files and
// pipes alone, no address of a network, and no picture larger than the limit.
func tool(ctx context.Context, name string, args ...string) *exec.Cmd {
	cmd := exec.CommandContext(ctx, name, args...)
	bind(cmd)
	return cmd
}

// input are the arguments that open a file as the container or still that it was found to be, and as nothing else: a
// play list or a script that names other files is not looked into, whatever it is called, and a %d or a * in a path is
// no pattern.
func input(path, format string) []string {
	return []string{"-protocol_whitelist", "file,pipe", "-max_pixels", strconv.FormatInt(Limit(), 10), "-f", format, "-i", "file:" + path}
}

// started words why a tool could not be started.
func started(err error, what string) error {
	if errors.Is(err, exec.ErrNotFound) {
		return ErrNoFFmpeg
	}
	return fmt.Errorf("starting the %s: %w", what, err)
}

// Installed tells whether ffmpeg and ffprobe are there, as an error that says what to do.
func Installed() error {
	for _, name := range []string{"ffmpeg", "ffprobe"} {
		if _, err := exec.LookPath(name); err != nil {
			return ErrNoFFmpeg
		}
	}
	return nil
}
