package steps

import (
	"math"
	"strings"
	"testing"

	"velours/core/look"
)

// The treatment as a whole, lens included, is mixed over the picture without it in code values; off it is that picture to the bit,
// balanced and shown as before; levels join what they say of it, and undo finds it gone when it is whole again.
func TestTheTreatmentAsAWhole(t *testing.T) {
	const w, h = 96, 54
	src := scene{w, h}
	l := filmLook(t, "balance.exposure.stops=0.5", "lens.vignette.stops=1", "finish.contrast.amount=110", "finish.overall.film=70", "screen.display.id=srgb")
	without := lookOf(t, "balance.exposure.stops=0.5", "screen.display.id=srgb")
	off := edited(t, l, look.Edit{Op: look.OpTreat, Value: false})
	plain, whole := rendered(t, without, src, w, h, look.Finish), rendered(t, l, src, w, h, look.Finish)
	if !equal(rendered(t, off, src, w, h, look.Finish), plain) {
		t.Error("off, it is not the balanced picture")
	}
	if !equal(rendered(t, off, src, w, h, look.Lens), rendered(t, without, src, w, h, look.Lens)) {
		t.Error("off, the lens is still there")
	}
	part := edited(t, l, look.Edit{Op: look.OpTreat, Value: 0.4})
	mixed := rendered(t, part, src, w, h, look.Finish)
	for y := range h {
		for x := range w {
			for c := range 3 {
				a, b, got := plain.At(x, y)[c], whole.At(x, y)[c], mixed.At(x, y)[c]
				if want := a + 0.4*(b-a); math.Abs(got-want) > 2e-6 {
					t.Fatalf("at 40 %%: %g of %g and %g, not %g", got, a, b, want)
				}
			}
		}
	}
	back := edited(t, off, look.Edit{Op: look.OpTreat, Value: true})
	if doc(t, back) != doc(t, l) {
		t.Error("on again, the look is not as it was")
	}
	reel := edited(t, look.NewLook(""), look.Edit{Op: look.OpTreat, Value: 0.5})
	if v := (look.Levels{Shot: part, Reel: reel}).Whole(); math.Abs(v.TreatedBy()-0.2) > 1e-12 {
		t.Errorf("two levels make %g", v.TreatedBy())
	}
	if told := part.Tell().String(); !strings.Contains(told, "together, at 40 %") {
		t.Errorf("the summary does not tell of it:\n%s", told)
	}
	e := look.Edit{Op: look.OpTreat, Value: 1.5}
	if _, _, err := e.Apply(l); err == nil {
		t.Error("a treatment of 150 % was taken")
	}
	// what is above is hidden with its treatment, and what is the shot's own with its own
	v := look.Levels{Shot: edited(t, level(t), look.Edit{Op: look.OpTreat, Value: 0.3}), Reel: edited(t, l, look.Edit{Op: look.OpTreat, Value: false})}
	if k := v.Without(look.HideAbove).Whole().TreatedBy(); k != 0.3 {
		t.Errorf("with the look above hidden, the treatment is at %g", k)
	}
	if k := v.Without(look.HideOwn).Whole().TreatedBy(); k != 0 {
		t.Errorf("with the shot's own hidden, the treatment is at %g", k)
	}
	// it goes along with all that it is of, and not with a part of that
	usual := []look.Part{look.PartBalance, look.PartLens, look.PartFilm, look.PartPrint, look.PartFinish}
	all := parsed((&look.Carry{Parts: usual}).To(look.NewLook(""), part, func(look.Station) *look.Look { return nil }))
	film := parsed((&look.Carry{Parts: usual[2:3]}).To(look.NewLook(""), part, func(look.Station) *look.Look { return nil }))
	if all.TreatedBy() != 0.4 || film.TreatedBy() != 1 {
		t.Errorf("carried whole it is at %g, with the film alone at %g", all.TreatedBy(), film.TreatedBy())
	}
}
