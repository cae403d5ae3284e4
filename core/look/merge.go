package look

import (
	"encoding/json"
	"fmt"
	"reflect"
)

// Merge joins two changes of one JSON document: what mine changed of base goes into theirs, wherever theirs is still as base
// was; elsewhere theirs stays. Steps are told apart by their names, so that a step that came or went in one is so in the
// other.
func Merge(base, mine, theirs string) (string, error) {
	var b, m, t any
	for text, v := range map[*string]*any{&base: &b, &mine: &m, &theirs: &t} {
		if err := json.Unmarshal([]byte(*text), v); err != nil {
			return "", fmt.Errorf("joining changes: %w", err)
		}
	}
	out, err := json.Marshal(merge(b, m, t))
	return string(out), err
}

// none stands for what is not there.
type none struct{}

func merge(base, mine, theirs any) any {
	switch {
	case reflect.DeepEqual(mine, base) || reflect.DeepEqual(mine, theirs):
		return theirs
	case reflect.DeepEqual(theirs, base):
		return mine
	}
	m, t := mapOf(mine), mapOf(theirs)
	if m != nil && t != nil {
		return mergeMaps(mapOf(base), m, t)
	}
	ms, ts := stepsOf(mine), stepsOf(theirs)
	if ms != nil && ts != nil {
		return mergeSteps(stepsOf(base), ms, ts)
	}
	return theirs
}

func mapOf(v any) map[string]any {
	m, _ := v.(map[string]any)
	return m
}

func mergeMaps(base, mine, theirs map[string]any) map[string]any {
	out := map[string]any{}
	at := func(m map[string]any, key string) any {
		if v, ok := m[key]; ok {
			return v
		}
		return none{}
	}
	for _, m := range []map[string]any{mine, theirs} {
		for key := range m {
			if v := merge(at(base, key), at(mine, key), at(theirs, key)); v != (any)(none{}) {
				out[key] = v
			}
		}
	}
	return out
}

// namedStep is a step with the name by which it is found.
type namedStep struct {
	name string
	step any
}

// stepsOf are the elements of a list of steps by their names, nil if it is no such list.
func stepsOf(v any) []namedStep {
	list, ok := v.([]any)
	if !ok {
		return nil
	}
	out := []namedStep{}
	seen := map[string]bool{}
	for _, x := range list {
		m := mapOf(x)
		name, _ := m["id"].(string)
		if name == "" {
			name, _ = m["kind"].(string)
		}
		if _, has := m["join"]; has || name == "" || seen[name] {
			return nil
		}
		seen[name] = true
		out = append(out, namedStep{name, x})
	}
	return out
}

func find(list []namedStep, name string) any {
	for _, s := range list {
		if s.name == name {
			return s.step
		}
	}
	return none{}
}

// mergeSteps keeps the order that theirs has, and puts what is new in mine behind what it follows there.
func mergeSteps(base, mine, theirs []namedStep) []any {
	var out []namedStep
	for _, s := range theirs {
		if v := merge(find(base, s.name), find(mine, s.name), s.step); v != (any)(none{}) {
			out = append(out, namedStep{s.name, v})
		}
	}
	after := ""
	for _, s := range mine {
		if find(theirs, s.name) == (any)(none{}) {
			if v := merge(find(base, s.name), s.step, none{}); v != (any)(none{}) {
				at := 0
				for i, o := range out {
					if o.name == after {
						at = i + 1
					}
				}
				out = append(out[:at], append([]namedStep{{s.name, v}}, out[at:]...)...)
			}
		}
		after = s.name
	}
	list := []any{}
	for _, s := range out {
		list = append(list, s.step)
	}
	return list
}
