package editlist

import (
	"fmt"
	"path"
	"strings"
)

// File is a recording that there is.
type File struct {
	Path string
	// Start is the time code of its first frame, in frames, and Known whether it has one.
	Start  int
	Known  bool
	Frames int
	Rate   Rate
}

// Found is where an event's pictures are.
type Found struct {
	// File is the index of the file, −1 where there is none; Why then says why.
	File int
	// Seen is what of the file the event shows, and With that with handles, in frames of the file from 0 on.
	Seen, With Span
	// Why tells what was not found, or what was guessed; empty where all is well.
	Why string
}

// Find looks for the events of a list among files: by the name of the file, by that of the clip, by that of the tape, and by time code among those. handles is how many
// frames more are wanted before and after what is seen, as far as there are some.
func (l *List) Find(files []File, handles int) []Found {
	byName := map[string][]int{}
	add := func(key string, i int) {
		if list := byName[key]; key != "" && (len(list) == 0 || list[len(list)-1] != i) {
			byName[key] = append(list, i)
		}
	}
	for i, f := range files {
		add(plain(path.Base(f.Path)), i)
		add(stem(f.Path), i)
	}
	out := make([]Found, len(l.Events))
	for i := range l.Events {
		out[i] = l.find(&l.Events[i], files, byName, handles)
	}
	return out
}

func (l *List) find(e *Event, files []File, byName map[string][]int, handles int) Found {
	names := e.recordings()
	var candidates []int
	for _, name := range names {
		if candidates = byName[plain(name)]; candidates == nil {
			candidates = byName[stem(name)]
		}
		if candidates != nil {
			break
		}
	}
	if len(names) == 0 {
		return Found{File: -1, Why: fmt.Sprintf("event %s names no recording", e.Number)}
	}
	if candidates == nil {
		return Found{File: -1, Why: fmt.Sprintf("event %s: no file is called %s", e.Number, strings.Join(names, " or "))}
	}
	why := ""
	for _, i := range candidates {
		f := &files[i]
		if f.Rate.Num > 0 && l.Rate.Num > 0 && f.Rate.Nominal() != l.Rate.Nominal() {
			why = fmt.Sprintf("event %s: %s has %.5g frames a second, the list %.5g", e.Number, path.Base(f.Path), f.Rate.FPS(), l.Rate.FPS())
			continue
		}
		seen := Span{e.Source.In - f.Start, e.Source.Out - f.Start}
		if seen.Frames() == 0 { // a frame that stands
			seen.Out++
		}
		guessed := ""
		if !f.Known { // no time code: counted from its first frame, if that fits
			seen = Span{e.Source.In, max(e.Source.Out, e.Source.In+1)}
		}
		if seen.In < 0 || seen.Out > f.Frames {
			if !f.Known && seen.Frames() <= f.Frames && e.Source.In >= f.Frames {
				seen, guessed = Span{0, seen.Frames()}, fmt.Sprintf("event %s: %s has no time code; it begins at its first frame", e.Number, path.Base(f.Path))
			} else {
				why = fmt.Sprintf("event %s wants %s to %s, and %s has %s to %s", e.Number, Timecode(e.Source.In, l.Rate), Timecode(e.Source.Out, l.Rate), path.Base(f.Path),
					Timecode(f.Start, l.Rate), Timecode(f.Start+f.Frames, l.Rate))
				continue
			}
		}
		return Found{i, seen, Span{max(seen.In-handles, 0), min(seen.Out+handles, f.Frames)}, guessed}
	}
	return Found{File: -1, Why: why}
}

// Names tells whether a file has a name that some event means.
func (l *List) Names(file string) bool {
	if l.names == nil {
		l.names = map[string]bool{}
		for i := range l.Events {
			for _, name := range l.Events[i].recordings() {
				l.names[stem(name)] = true
			}
		}
	}
	return l.names[stem(file)]
}

// recordings are the names that an event has for its recording, without folders, the surest first.
func (e *Event) recordings() (names []string) {
	for _, name := range []string{e.File, e.Name, e.Tape} {
		if name != "" {
			names = append(names, path.Base(strings.ReplaceAll(name, `\`, "/")))
		}
	}
	return names
}

// plain is a name without what differs between systems.
func plain(name string) string { return strings.ToLower(strings.TrimSpace(name)) }

// stem is the name of a file without its folder and extension.
func stem(name string) string {
	base := path.Base(name)
	return plain(strings.TrimSuffix(base, path.Ext(base)))
}
