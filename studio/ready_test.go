package studio

import "testing"

// Settings of a kind are kept ready by a name, replaced under it, and taken away; what does not fit the kind is refused.
func TestReadySettingsOfOnesOwn(t *testing.T) {
	s := chartOf(t)
	keep := func(name string, amount float64) error {
		_, err := s.KeepReady(OwnReady{Kind: "lens.bloom", Name: name, Values: map[string]any{"amount": amount}})
		return err
	}
	for _, amount := range []float64{12, 20} {
		if err := keep(" Soft stage ", amount); err != nil {
			t.Fatal(err)
		}
	}
	list := must(s.AllAssets())
	if len(list) != 1 || list[0].Kind != "ready" {
		t.Fatalf("kept %+v", list)
	}
	if r := must(ParseReady(list[0].Data)); r.Name != "Soft stage" || r.Values["amount"] != 20.0 {
		t.Errorf("it is %+v", r)
	}
	for what, r := range map[string]OwnReady{
		"no name":           {Kind: "lens.bloom", Values: map[string]any{"amount": 5.0}},
		"no such kind":      {Kind: "lens.blooom", Name: "x", Values: map[string]any{"amount": 5.0}},
		"no such setting":   {Kind: "lens.bloom", Name: "x", Values: map[string]any{"amuont": 5.0}},
		"a value too large": {Kind: "lens.bloom", Name: "x", Values: map[string]any{"amount": 5e9}},
		"nothing":           {Kind: "lens.bloom", Name: "x"},
	} {
		if _, err := s.KeepReady(r); err == nil {
			t.Errorf("%s was kept", what)
		}
	}
	if err := s.RemoveAsset(list[0].ID); err != nil {
		t.Fatal(err)
	}
	if n := len(must(s.AllAssets())); n != 0 {
		t.Errorf("%d are left", n)
	}
}
