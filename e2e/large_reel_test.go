package e2e

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"velours/demo"
	"velours/library"
)

// A reel of 500 shots opens much as one of ten does: of its column only what is seen is there, and only that has its frames made.
func TestLargeReel(t *testing.T) {
	b := browser(t)
	dir := t.TempDir()
	srv, st := open(t, filepath.Join(dir, "data"))
	media := filepath.Join(dir, "media")
	if err := demo.Unpack(media); err != nil {
		t.Fatal(err)
	}
	if err := st.Allow(media); err != nil {
		t.Fatal(err)
	}
	ids := map[int]uint{}
	for _, n := range []int{10, 500} {
		var edl strings.Builder
		edl.WriteString("TITLE: MANY\nFCM: NON-DROP FRAME\n\n")
		for i := range n {
			fmt.Fprintf(&edl, "%03d  FOOTLIGH V     C        00:00:00:%02d 00:00:01:00 01:%02d:%02d:00 01:%02d:%02d:%02d\n* FROM CLIP NAME: FOOTLIGHTS.MOV\n", i+1, i%20+1, i/60, i%60, i/60, i%60, 23-i%20)
		}
		file := filepath.Join(media, fmt.Sprintf("many%d.edl", n))
		if err := os.WriteFile(file, []byte(edl.String()), 0o644); err != nil {
			t.Fatal(err)
		}
		reel, err := st.AddReel(fmt.Sprintf("Reel of %d", n))
		if err != nil {
			t.Fatal(err)
		}
		got, err := st.AddProgramme(context.Background(), reel.ID, file, "24", 0, library.Author{})
		if err != nil || len(got.Shots) != n {
			t.Fatalf("%d shots, %v, %v", len(got.Shots), err, got.Problems[:min(3, len(got.Problems))])
		}
		ids[n] = reel.ID
	}
	p := page(t, b, srv.URL)
	exact(t, p)
	for range 2 { // what is made once is kept
		for _, n := range []int{10, 500} {
			p.MustElement("button[aria-label=Reels]").MustClick()
			began := time.Now()
			p.MustElement(fmt.Sprintf("button[aria-label='Open Reel of %d']", n)).MustClick()
			until(t, "it is open", func() bool {
				return p.MustElement("[data-testid=reel-name]").MustText() == fmt.Sprintf("Reel of %d", n) && p.MustHas("[data-testid=picture][data-stage=exact]")
			})
			if os.Getenv("VELOURS_MEASURE") != "" {
				fmt.Printf("a reel of %d opens in %v\n", n, time.Since(began).Round(time.Millisecond))
			}
			undisturbed(t, p)
		}
	}
	frames := func() int { return len(p.MustElements("[data-testid=column] button[aria-label]")) }
	if n := frames(); n < 4 || n > 40 {
		t.Errorf("%d frames are in the column", n)
	}
	p.MustEval(`() => document.querySelector('[data-testid=column]').scrollTo(0, 1e9)`)
	until(t, "the last is seen", func() bool {
		return p.MustEval(`() => { const c = document.querySelector('[data-testid=column]'); return c.scrollHeight - c.scrollTop - c.clientHeight < 4 && c.scrollHeight > 30000 }`).Bool()
	})
	if n := frames(); n < 4 || n > 40 {
		t.Errorf("at the end %d frames are in the column", n)
	}
}
