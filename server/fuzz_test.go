package server

import (
	"context"
	"errors"
	"path/filepath"
	"testing"
	"time"

	"velours/core/fault"
	"velours/core/frame"
	"velours/media"
	"velours/studio"
)

// Any message of a window is answered or refused; none is a fault of the program.
func FuzzWindowMessage(f *testing.F) {
	dir := f.TempDir()
	file := filepath.Join(dir, "a.png")
	w, err := media.Create(file, 0, media.Options{})
	if err != nil {
		f.Fatal(err)
	}
	still := frame.New(48, 27, 3)
	for p := range 3 {
		for y := range 27 {
			for x := range 48 {
				still.Row(p, y)[x] = float32(x+y+p) / 80
			}
		}
	}
	if err := errors.Join(w.Write(f.Context(), still), w.Close()); err != nil {
		f.Fatal(err)
	}
	st, err := studio.Open(filepath.Join(dir, "data"))
	if err != nil {
		f.Fatal(err)
	}
	f.Cleanup(func() { st.Close() })
	if _, err := st.Add(f.Context(), []string{file}); err != nil {
		f.Fatal(err)
	}
	for _, s := range []string{
		`{"type":"picture","channel":"picture","view":{"shot":1,"width":32,"height":32},"scopes":[{"id":"vector","width":32,"height":32}]}`, `{"type":"ribbon","channel":"ribbon","view":{"shot":1},"bandWidth":16,"bandHeight":9}`,
		`{"type":"probe","channel":"probe","view":{"shot":1,"width":32,"height":32},"probe":{"x":0.5,"y":0.5,"scopes":[{"id":"waveform","width":32,"height":32}]}}`, `{"type":"pick","channel":"pick","view":{"shot":1,"width":32,"height":32,"step":"balance.white"},"probe":{"x":0,"y":1}}`,
		`{"type":"tones","channel":"tones","view":{"shot":1,"step":"balance.levels"}}`, `{"type":"no-effect","channel":"no-effect","view":{"shot":1}}`, `{"type":"fill","channel":"fill","view":{"shot":1,"width":32,"height":32},"stretch":{"from":0,"to":3,"still":true}}`,
		`{"type":"play","channel":"play:1","view":{"shot":1,"width":32,"height":32}}`, `{"type":"picture","channel":"picture","view":{"shot":1,"width":32,"height":32,"show":"adds","step":"lens.bloom","gain":8}}`,
		`{"type":"picture","channel":"picture","view":{"shot":1,"frame":0,"side":"entered","cropWidth":9,"cropHeight":9,"x":40,"y":20}}`, `{"type":"picture","channel":"other","view":{"shot":1,"side":"station:print","width":16,"height":9,"draft":true}}`,
		`{"type":"picture","channel":"picture","view":{"shot":1,"width":32,"height":32,"look":{"velours":1,"stations":{"negative":{"on":true,"strength":1,"steps":[{"kind":"stock","on":true,"strength":1}]}}}}}`,
	} {
		f.Add([]byte(s))
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		_, r, err := read(data)
		if err != nil {
			return
		}
		ctx, cancel := context.WithTimeout(t.Context(), time.Second)
		defer cancel()
		win := &window{s: New(st, Access{}), busy: map[string]*work{}, mute: true}
		err = win.answer(ctx, r, data)
		var e *fault.Error
		if errors.As(err, &e) {
			t.Fatalf("%s: %v\n%s", data, e, e.Stack)
		}
	})
}
