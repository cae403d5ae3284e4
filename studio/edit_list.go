package studio

import (
	"context"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"

	"velours/core/editlist"
	"velours/media"
)

// Programme is an edit list with where its recordings are.
type Programme struct {
	Title  string           `json:"title"`
	Rate   string           `json:"rate"`
	Events []ProgrammeEvent `json:"events"`
	// Told is what was left out or guessed.
	Told []string `json:"told,omitempty"`
}

// ProgrammeEvent is a piece of a programme, and the frames of a file that it shows.
type ProgrammeEvent struct {
	Number     string  `json:"number"`
	Name       string  `json:"name,omitempty"`
	Record     string  `json:"record"` // time code in the programme
	Speed      float64 `json:"speed"`
	Transition string  `json:"transition,omitempty"` // how it begins, if not by a cut
	Over       int     `json:"over,omitempty"`       // frames that the transition takes
	// File is the recording, empty where there is none; First to Last are the frames that are seen, From and To the same with handles.
	File  string `json:"file,omitempty"`
	First int    `json:"first"`
	Last  int    `json:"last"`
	From  int    `json:"from"`
	To    int    `json:"to"`
	Why   string `json:"why,omitempty"` // what was not found, or guessed
}

// EditList tells whether a file is an edit list by its name.
func EditList(name string) bool {
	switch strings.ToLower(filepath.Ext(name)) {
	case ".edl", ".otio":
		return true
	}
	return false
}

// mostListBytes is how large an edit list may be.
const mostListBytes = 32 << 20

// ReadProgramme reads an edit list, CMX 3600 (.edl) or OpenTimelineIO (.otio), and looks for its recordings in a folder and those within it, with so many
// frames before and after as handles. rate is the programme's frames a second, which a CMX list does not say.
func ReadProgramme(ctx context.Context, list, rate, folder string, handles int) (*Programme, error) {
	return readProgramme(ctx, list, rate, []string{folder}, handles)
}

// readProgramme is ReadProgramme with several folders.
func readProgramme(ctx context.Context, list, rate string, folders []string, handles int) (*Programme, error) {
	if handles < 0 || handles > 1000 {
		return nil, Bad("%d frames of handles; there can be 0 to 1000", handles)
	}
	st, err := os.Stat(list)
	if err != nil {
		return nil, Bad("%s cannot be read: %w", list, err)
	}
	if st.IsDir() || st.Size() > mostListBytes {
		return nil, Bad("%s is no edit list, or larger than %d megabytes", list, mostListBytes>>20)
	}
	data, err := os.ReadFile(list)
	if err != nil {
		return nil, Bad("%s cannot be read: %w", list, err)
	}
	var l *editlist.List
	switch strings.ToLower(filepath.Ext(list)) {
	case ".edl":
		r, err := editlist.ParseRate(rate)
		if err != nil {
			return nil, Bad("%s does not say its frame rate: %w", list, err)
		}
		if l, err = editlist.ReadCMX(data, r); err != nil {
			return nil, Bad("%s: %w", list, err)
		}
	case ".otio":
		if l, err = editlist.ReadOTIO(data); err != nil {
			return nil, Bad("%s: %w", list, err)
		}
	default:
		return nil, Bad("%s is no edit list that can be read; they end in .edl or .otio", list)
	}
	var files []editlist.File
	for _, folder := range folders {
		there, err := recordings(ctx, l, folder)
		if err != nil {
			return nil, err
		}
		files = append(files, there...)
	}
	p := &Programme{Title: l.Title, Rate: rateText(l.Rate), Told: l.Told}
	for i, f := range l.Find(files, handles) {
		e := &l.Events[i]
		out := ProgrammeEvent{Number: e.Number, Name: e.Name, Record: editlist.Timecode(e.Record.In, l.Rate), Speed: e.Speed, Transition: e.Transition.Kind, Over: e.Transition.Frames, Why: f.Why}
		if out.Name == "" {
			out.Name = e.Tape
		}
		if f.File >= 0 {
			out.File, out.First, out.Last, out.From, out.To = files[f.File].Path, f.Seen.In, f.Seen.Out-1, f.With.In, f.With.Out-1
		}
		p.Events = append(p.Events, out)
	}
	return p, nil
}

func rateText(r editlist.Rate) string {
	if r.Den == 1 {
		return fmt.Sprint(r.Num)
	}
	return fmt.Sprintf("%d/%d", r.Num, r.Den)
}

// recordings are the files in a folder whose names a list has, with what is known of them. What cannot be read is passed over.
func recordings(ctx context.Context, l *editlist.List, folder string) ([]editlist.File, error) {
	var files []editlist.File
	err := filepath.WalkDir(folder, func(path string, d fs.DirEntry, err error) error {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		if err != nil {
			if path == folder {
				return err
			}
			return nil // a folder within that may not be read
		}
		if d.IsDir() || !l.Names(path) {
			return nil
		}
		in, err := media.Probe(ctx, path)
		if err != nil {
			return ctx.Err()
		}
		f := editlist.File{Path: path, Frames: in.Frames}
		if r, err := editlist.ParseRate(in.RateText); err == nil {
			f.Rate = r
			if n, err := editlist.ParseTimecode(in.Timecode, r, false); err == nil {
				f.Start, f.Known = n, true
			}
		}
		files = append(files, f)
		return nil
	})
	if err != nil {
		return nil, Bad("%s cannot be looked through: %w", folder, err)
	}
	return files, nil
}
