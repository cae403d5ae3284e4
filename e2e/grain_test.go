package e2e

import (
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"

	"velours/core/look"
)

// Grain is shaped over the tones of the frame, by hand and by keyboard; it is stretched, held on twos, and seen alone; all of it goes back in one act.
func TestGrainShaped(t *testing.T) {
	p, _, st, id := footlights(t)
	p.Keyboard.MustType(input.Digit4)
	c := card{p, t, "negative.grain"}
	step := func() *look.Step { return stepAt(t, st, id, look.Negative, "grain") }
	set := func(setting string) float64 { v, _ := step().Settings[setting].(float64); return v }
	before := atRest(t, p)

	t.Log("more of it in the shadows: the line is dragged up")
	c.unfold("By tone")
	handle := c.find("[data-gain=shadows]")
	handle.MustScrollIntoView()
	box := handle.MustShape().Box()
	p.Mouse.MustMoveTo(box.X+box.Width/2, box.Y+box.Height/2).MustDown(proto.InputMouseButtonLeft)
	p.Mouse.MustMoveTo(box.X+box.Width/2, box.Y+box.Height/2-8).MustMoveTo(box.X+box.Width/2, box.Y+box.Height/2-16).MustUp(proto.InputMouseButtonLeft)
	until(t, "shadows have more grain", func() bool { return set("shadows") > 120 })

	t.Log("less in the highlights: by keyboard")
	end := c.find("[data-gain=highlights]")
	end.MustFocus()
	for range 5 {
		p.Keyboard.MustType(input.ArrowDown)
	}
	until(t, "highlights have less", func() bool { return set("highlights") == 95 })

	t.Log("stretched, and held on twos")
	c.unfold("Scan")
	c.enter("Stretch", "1.5")
	until(t, "it is stretched", func() bool { return set("stretch") == 1.5 })
	c.unfold("In time")
	chooser := c.find("[aria-label='Goes on']")
	chooser.MustScrollIntoView()
	choose(t, p, "[data-kind='negative.grain'] [aria-label='Goes on']", "Held")
	until(t, "it is held", func() bool { return step().Settings["time"] == "held" })
	until(t, "the picture is another", func() bool { return atRest(t, p) != before })
	c.view("adds")
	c.view("greys")

	t.Log("every cloud placed, where it is seen 1:1")
	p.MustElementR("button", "See it 1:1").MustClick()
	atRest(t, p)
	p.MustElementR("[data-kind='negative.grain'] [role=group] button", "^placed$").MustFocus().MustType(input.Enter)
	p.MustElementR("main *", "every cloud of grain placed")
	p.Keyboard.MustType(input.Escape)

	t.Log("back in one act, and forth in one undo")
	c.find("[aria-label='Reset Grain']").MustFocus().MustType(input.Enter)
	until(t, "all is as it was", func() bool { return len(step().Settings) == 0 })
	p.MustElementR("header button", "^Undo$").MustClick()
	until(t, "one undo brings it back", func() bool {
		return set("stretch") == 1.5 && step().Settings["time"] == "held" && set("highlights") == 95
	})
}
