package film

import (
	"fmt"
	"reflect"

	"velours/core/strict"
)

// Cards describe themselves: each field's tags hold its name, its range and what it means. From these come the
// check of a card that is read and the published schema.

// check holds every number of a card to its field's range, and asks for what must not be empty.
func check(card any) error { return checkValue("", reflect.ValueOf(card).Elem(), "") }

func checkValue(name string, v reflect.Value, limits string) error {
	switch v.Kind() {
	case reflect.Struct:
		t := v.Type()
		for i := range t.NumField() {
			f := t.Field(i)
			if !f.IsExported() {
				continue
			}
			key, optional := strict.Field(f)
			if optional && v.Field(i).IsZero() {
				continue
			}
			if v.Field(i).Kind() == reflect.String && v.Field(i).Len() == 0 {
				return fmt.Errorf("%s is empty", join(name, key))
			}
			if err := checkValue(join(name, key), v.Field(i), f.Tag.Get("range")); err != nil {
				return err
			}
		}
	case reflect.Pointer:
		return checkValue(name, v.Elem(), limits)
	case reflect.Array, reflect.Slice:
		for i := range v.Len() {
			if err := checkValue(fmt.Sprintf("%s[%d]", name, i), v.Index(i), limits); err != nil {
				return err
			}
		}
	case reflect.Float64, reflect.Int:
		if limits == "" {
			return nil
		}
		x := 0.0
		if v.Kind() == reflect.Int {
			x = float64(v.Int())
		} else {
			x = v.Float()
		}
		if lo, hi := strict.Range(limits); !(x >= lo && x <= hi) {
			return fmt.Errorf("%s is %g; it goes from %g to %g", name, x, lo, hi)
		}
	}
	return nil
}

func join(name, key string) string {
	if name == "" {
		return key
	}
	return name + "." + key
}

// StockSchema is the JSON Schema (2020-12) of a stock card.
func StockSchema() map[string]any {
	s := strict.Schema(reflect.TypeFor[Stock](), "A Velours stock card")
	layers := s["properties"].(map[string]any)["layers"].(map[string]any)
	layers["minItems"] = 1 // black and white has one
	return s
}

// MediumSchema is the JSON Schema (2020-12) of a medium card.
func MediumSchema() map[string]any {
	s := strict.Schema(reflect.TypeFor[Medium](), "A Velours medium card")
	heard := s["properties"].(map[string]any)["sensitivity"].(map[string]any)
	heard["minItems"] = 1
	return s
}
