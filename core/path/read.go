package path

import (
	"fmt"

	"velours/core/grade"
)

// SkinOf is where a skin guard looks for skin.
func (l *Look) SkinOf(s Station, step string) (*grade.Skin, error) {
	k, err := KindOf(s, step)
	if err != nil {
		return nil, err
	}
	if k.ID != "skin" {
		return nil, fmt.Errorf("%s is no skin guard", k.Path())
	}
	p := l.Step(s, step)
	if p == nil {
		p = &Step{Kind: k.ID}
	}
	skin := l.values(k, p).skin()
	return &skin, nil
}

// ZonesOf are the zones of a step of that kind.
func (l *Look) ZonesOf(s Station, step string) (*grade.Zones, error) {
	k, err := KindOf(s, step)
	if err != nil {
		return nil, err
	}
	if k.ID != "zones" {
		return nil, fmt.Errorf("%s has no zones", k.Path())
	}
	p := l.Step(s, step)
	if p == nil {
		p = &Step{Kind: k.ID}
	}
	return l.values(k, p).zones(), nil
}
