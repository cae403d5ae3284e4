package e2e

import (
	"fmt"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
)

// TestLook takes a picture of a running application, for somebody who wants to see it:
//
//	VELOURS_URL=http://127.0.0.1:7410 VELOURS_LOOK='out.png|text:button=Courtyard|click:#x|hover:h3|w' go test ./e2e -run TestLook
//
// Each part after the file is a thing to do: press a button by its text, click, hover, drag, scroll to (show), give a
// file (file:#x=>name), pick an option (pick:#x=>word), wait, escape, or keys to type.
func TestLook(t *testing.T) {
	what := os.Getenv("VELOURS_LOOK")
	if what == "" {
		t.Skip("for looking by hand")
	}
	p := page(t, browser(t), os.Getenv("VELOURS_URL"))
	part := strings.Split(what, "|")
	p.MustElement("[data-testid=picture][data-stage=exact]")
	for _, do := range part[1:] {
		verb, rest, named := strings.Cut(do, ":")
		switch {
		case named && verb == "click":
			p.MustElement(rest).MustClick()
		case named && verb == "text":
			i := strings.LastIndex(rest, "=") // a selector may have some of its own
			p.MustElementR(rest[:i], rest[i+1:]).MustClick()
		case named && verb == "hover":
			p.MustElement(rest).MustHover()
		case named && verb == "drag": // from x,y to x,y of the page
			var a, b, c, d float64
			if _, err := fmt.Sscanf(rest, "%f,%f,%f,%f", &a, &b, &c, &d); err != nil {
				t.Fatal(err)
			}
			p.Mouse.MustMoveTo(a, b).MustDown(proto.InputMouseButtonLeft)
			p.Mouse.MustMoveTo((a+c)/2, (b+d)/2).MustMoveTo(c, d).MustUp(proto.InputMouseButtonLeft)
		case named && verb == "file": // element=file
			to, file, _ := strings.Cut(rest, "=>")
			p.MustElement(to).MustSetFiles(file)
		case named && verb == "pick": // select=>option
			from, option, _ := strings.Cut(rest, "=>")
			choose(t, p, from, option)
		case named && verb == "show": // scrolls to an element
			p.MustElement(rest).MustScrollIntoView()
		case do == "wait":
		case do == "escape":
			p.Keyboard.MustType(input.Escape)
		default:
			for _, r := range do {
				p.Keyboard.MustType(input.Key(r))
			}
		}
		time.Sleep(400 * time.Millisecond)
	}
	time.Sleep(1500 * time.Millisecond)
	p.MustScreenshot(part[0])
}
