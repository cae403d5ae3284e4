package media

import (
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"sort"
	"strconv"
	"strings"
)

// sequence is a run of numbered files.
type sequence struct {
	pattern      string // with a %0nd counter
	first, count int
	gaps         []Gap
}

// Gap is a run of frames that a sequence lacks, counted from its first frame, both ends included.
type Gap struct {
	First int `json:"first"`
	Last  int `json:"last"`
}

// missing tells whether frame n is in a gap.
func (s sequence) missing(n int) bool {
	for _, g := range s.gaps {
		if n >= g.First && n <= g.Last {
			return true
		}
	}
	return false
}

// numbered is the name of a file of a sequence: its last run of digits counts.
var numbered = regexp.MustCompile(`^(.*?)(\d+)(\.[A-Za-z0-9]+)$`)

// Recognise returns the name of the sequence that a file belongs to, with a counter in it, and whether
// there is one: another file beside it whose name differs in the number alone.
func Recognise(path string) (string, bool) {
	name := Pattern(path)
	if name == "" {
		return "", false
	}
	s, err := findSequence(name)
	return name, err == nil && s.count > 1
}

// Pattern is the name that a picture's sequence would have, "" for what has no number: a guess by the
// name alone, without a look at the disk.
func Pattern(path string) string {
	dir, base := filepath.Split(path)
	m := numbered.FindStringSubmatch(base)
	if m == nil || !Picture(base) || strings.Contains(path, "%") {
		return ""
	}
	return dir + fmt.Sprintf("%s%%0%dd%s", m[1], len(m[2]), m[3])
}

// Count is the number of frames from a sequence's first file to its last, and how many of them are missing.
func Count(pattern string) (frames, missing int) {
	s, err := findSequence(pattern)
	if err != nil {
		return 0, 0
	}
	for _, g := range s.gaps {
		missing += g.Last - g.First + 1
	}
	return s.count, missing
}

// Gaps are the frames that a sequence lacks now.
func Gaps(pattern string) []Gap {
	s, err := findSequence(pattern)
	if err != nil {
		return nil
	}
	return s.gaps
}

// Picture tells whether a name is that of a single picture, such as a sequence is made of.
func Picture(name string) bool {
	switch strings.ToLower(filepath.Ext(name)) {
	case ".exr", ".dpx", ".tif", ".tiff", ".png", ".jpg", ".jpeg":
		return true
	}
	return false
}

// Movie tells whether a name is that of a movie.
func Movie(name string) bool {
	switch strings.ToLower(filepath.Ext(name)) {
	case ".mov", ".mp4", ".m4v", ".mkv", ".mxf", ".avi", ".mts", ".m2ts", ".webm":
		return true
	}
	return false
}

var counter = regexp.MustCompile(`%0?(\d*)d`)

func (s sequence) file(n int) string { return fmt.Sprintf(s.pattern, s.first+n) }

// checkPattern makes sure that a name holds one counter and nothing else that Sprintf would take.
func checkPattern(path string) error {
	base := filepath.Base(path)
	if len(counter.FindAllString(base, -1)) != 1 || len(regexp.MustCompile(`%`).FindAllString(path, -1)) != 1 {
		return &FileError{path, "is not a sequence's name", "write one counter, such as name.%06d.exr"}
	}
	return nil
}

// maxFrames bounds a sequence: five days at 24 frames a second.
const maxFrames = 10_000_000

func findSequence(pattern string) (sequence, error) {
	s := sequence{pattern: pattern}
	if err := checkPattern(pattern); err != nil {
		return s, err
	}
	base := filepath.Base(pattern)
	at := counter.FindStringIndex(base)
	before, after := base[:at[0]], base[at[1]:]
	entries, err := os.ReadDir(filepath.Dir(pattern))
	if err != nil {
		return s, &FileError{pattern, "its folder cannot be read: " + cause(err), "check the name"}
	}
	var numbers []int
	for _, e := range entries {
		name := e.Name() // of any bytes: a file system asks for no encoding
		if len(name) <= len(before)+len(after) || !strings.HasPrefix(name, before) || !strings.HasSuffix(name, after) {
			continue
		}
		n, err := strconv.Atoi(name[len(before) : len(name)-len(after)])
		if err == nil && n >= 0 && fmt.Sprintf(base, n) == name {
			numbers = append(numbers, n)
		}
	}
	if len(numbers) == 0 {
		return s, &FileError{pattern, "there is no file of this sequence", "check the name and the number of digits"}
	}
	sort.Ints(numbers)
	s.first, s.count = numbers[0], numbers[len(numbers)-1]-numbers[0]+1
	if s.count > maxFrames {
		return s, &FileError{pattern, fmt.Sprintf("its numbers go from %d to %d", s.first, numbers[len(numbers)-1]), "they seem not to count frames: rename the files, or read them one by one"}
	}
	for i := 1; i < len(numbers); i++ {
		if a, b := numbers[i-1], numbers[i]; b > a+1 {
			s.gaps = append(s.gaps, Gap{a + 1 - s.first, b - 1 - s.first})
		}
	}
	return s, nil
}
