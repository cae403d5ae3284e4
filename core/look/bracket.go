package look

import (
	"fmt"
	"strconv"
	"strings"
)

// Bracket is one setting under several values, as of an exposure that is bracketed.
type Bracket struct {
	Kind    *Kind
	Setting *Setting
	Values  []any
	path    string // station.step.setting
}

// MostVariants bounds what a bracket, or two of them crossed, may come to.
const MostVariants = 144

// ParseBracket reads station.kind.setting=a,b,c; the value all stands for every choice there is.
func ParseBracket(text string) (*Bracket, error) {
	name, list, ok := strings.Cut(text, "=")
	part := strings.Split(name, ".")
	if !ok || len(part) != 3 || list == "" {
		return nil, fmt.Errorf("%q is not station.kind.setting=a,b,c", text)
	}
	s, err := ParseStation(part[0])
	if err != nil {
		return nil, err
	}
	k, err := KindOf(s, part[1])
	if err != nil {
		return nil, err
	}
	set := k.Setting(part[2])
	if set == nil {
		return nil, CheckSettings(k.Path(), k.Settings, map[string]any{part[2]: 0.0})
	}
	b := &Bracket{Kind: k, Setting: set, path: name}
	words := strings.Split(list, ",")
	if choices := set.List(); list == "all" && len(choices) > 0 {
		words = nil
		for _, c := range choices {
			words = append(words, c.ID)
		}
	}
	for _, w := range words {
		v, err := set.Check(strings.TrimSpace(w))
		if err != nil {
			return nil, fmt.Errorf("%s.%w", k.Path(), err)
		}
		b.Values = append(b.Values, v)
	}
	return b, nil
}

// Label words one of the bracket's values.
func (b *Bracket) Label(i int) string {
	switch v := b.Values[i].(type) {
	case float64:
		text := strconv.FormatFloat(v, 'f', -1, 64)
		if b.Setting.Min < 0 && v > 0 {
			text = "+" + text
		}
		return strings.TrimSpace(b.Setting.Label + " " + text + " " + b.Setting.Unit)
	default:
		for _, c := range b.Setting.List() {
			if c.ID == v {
				return c.Label
			}
		}
		if v == "" {
			return b.Setting.Label + ", none"
		}
		return fmt.Sprint(v)
	}
}

// Variant is a look under one value of each bracket.
type Variant struct {
	Label string
	Look  *Look
}

// Variants crosses brackets over a look: the first goes down, the last across.
func Variants(l *Look, list ...*Bracket) ([]Variant, error) {
	out := []Variant{{"", l}}
	for _, b := range list {
		var next []Variant
		for _, v := range out {
			for i, x := range b.Values {
				c := v.Look.Clone()
				if err := c.Set(b.path, x); err != nil {
					return nil, err
				}
				label := b.Label(i)
				if v.Label != "" {
					label = v.Label + ", " + label
				}
				next = append(next, Variant{label, c})
			}
		}
		if out = next; len(out) > MostVariants {
			return nil, fmt.Errorf("%d pictures are more than a sheet holds, %d", len(out), MostVariants)
		}
	}
	return out, nil
}
