package media

import (
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"sort"
	"strconv"
)

// sequence is a run of numbered files.
type sequence struct {
	pattern      string // with a %0nd counter
	first, count int
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

func findSequence(pattern string) (sequence, error) {
	s := sequence{pattern: pattern}
	if err := checkPattern(pattern); err != nil {
		return s, err
	}
	base := filepath.Base(pattern)
	at := counter.FindStringIndex(base)
	match := regexp.MustCompile("^" + regexp.QuoteMeta(base[:at[0]]) + `(\d+)` + regexp.QuoteMeta(base[at[1]:]) + "$")
	entries, err := os.ReadDir(filepath.Dir(pattern))
	if err != nil {
		return s, &FileError{pattern, "its folder cannot be read: " + cause(err), "check the name"}
	}
	var numbers []int
	for _, e := range entries {
		if m := match.FindStringSubmatch(e.Name()); m != nil {
			n, _ := strconv.Atoi(m[1])
			if fmt.Sprintf(base, n) == e.Name() {
				numbers = append(numbers, n)
			}
		}
	}
	if len(numbers) == 0 {
		return s, &FileError{pattern, "there is no file of this sequence", "check the name and the number of digits"}
	}
	sort.Ints(numbers)
	s.first, s.count = numbers[0], numbers[len(numbers)-1]-numbers[0]+1
	if s.count != len(numbers) {
		for i, n := range numbers {
			if n != s.first+i {
				return s, &FileError{pattern, fmt.Sprintf("frame %d is missing", s.first+i), "copy the sequence again, or read its parts one by one"}
			}
		}
	}
	return s, nil
}
