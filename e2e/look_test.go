package e2e

import (
	"os"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
)

// TestLook drives a running application for a person who wants to see it:
// VELOURS_LOOK="out.png|keys…" with VELOURS_URL. It is skipped otherwise.
func TestLook(t *testing.T) {
	what := os.Getenv("VELOURS_LOOK")
	if what == "" {
		t.Skip("for looking by hand")
	}
	p := page(t, browser(t), os.Getenv("VELOURS_URL"))
	part := strings.Split(what, "|")
	p.MustElement("[data-testid=picture][data-stage=exact]")
	for _, do := range part[1:] {
		switch {
		case strings.HasPrefix(do, "click:"):
			p.MustElement(do[6:]).MustClick()
		case strings.HasPrefix(do, "text:"):
			a, b, _ := strings.Cut(do[5:], "=")
			p.MustElementR(a, b).MustClick()
		case strings.HasPrefix(do, "hover:"):
			p.MustElement(do[6:]).MustHover()
		case strings.HasPrefix(do, "down:"):
			p.Keyboard.MustType() //nolint
			_ = p.Keyboard.Press(input.Key(do[5]))
		default:
			for _, r := range do {
				_ = p.Keyboard.Type(input.Key(r))
			}
		}
		time.Sleep(400 * time.Millisecond)
	}
	time.Sleep(1500 * time.Millisecond)
	p.MustScreenshot(part[0])
}
