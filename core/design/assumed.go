package design

import (
	"fmt"
	"reflect"
	"strconv"
	"strings"
)

// Resolve turns the path of an assumption, which goes through ids, into the JSON Pointer
// of the document as it stands. It is not ok where the path leads to nothing: what was
// assumed has been taken out, or was never there.
func Resolve(light *Light, variant int, at string) (pointer string, ok bool) {
	words := strings.Split(strings.TrimPrefix(at, "/"), "/")
	v, here := reflect.ValueOf(light).Elem(), ""
	if words[0] != "parts" && words[0] != "conditions" {
		v, here = reflect.ValueOf(&light.Variants[variant]).Elem(), "/variants/"+strconv.Itoa(variant)
	}
	for _, word := range words {
		word = unescaped.Replace(word)
		if v.Kind() == reflect.Pointer {
			if v.IsNil() {
				return "", false
			}
			v = v.Elem()
		}
		switch v.Kind() {
		case reflect.Struct:
			f, there := fieldNamed(v.Type(), word)
			if !there {
				return "", false
			}
			v, here = v.FieldByIndex(f.Index), here+"/"+escape(word)
		case reflect.Slice:
			e, step, there := elementNamed(v, word)
			if !there {
				return "", false
			}
			v, here = e, here+step
		default:
			return "", false
		}
	}
	if v.Kind() == reflect.Pointer && v.IsNil() {
		return "", false
	}
	return here, true
}

// elementNamed is the element of a list with an id, or counted; of nodes, also one that
// hangs deeper.
func elementNamed(list reflect.Value, name string) (e reflect.Value, step string, ok bool) {
	for i := range list.Len() {
		e = list.Index(i)
		here := "/" + strconv.Itoa(i)
		if e.Kind() != reflect.Struct {
			return reflect.Value{}, "", false
		}
		if id := idOf(e); id == name || id == "" && here == "/"+name {
			return e, here, true
		}
		if n, isNode := e.Addr().Interface().(*Node); isNode && len(n.Loads) > 0 {
			if deep, further, there := elementNamed(reflect.ValueOf(&n.Loads).Elem(), name); there {
				return deep, fmt.Sprintf("%s/loads%s", here, further), true
			}
		}
	}
	return reflect.Value{}, "", false
}

// Assumed lists what is assumed in a variant and still stands there, each with its
// pointer now. What stands in a part counts only where the variant takes the part.
func (l *Light) Assumed(variant int) []Standing {
	return l.standing(variant, l.Variants[variant].Assumed)
}

// Measured is Assumed of what a reading stands for.
func (l *Light) Measured(variant int) []Standing {
	return l.standing(variant, l.Variants[variant].Measured)
}

func (l *Light) standing(variant int, list []Assumption) []Standing {
	out := []Standing{}
	used := Needs(&l.Variants[variant])
	for _, a := range list {
		if rest, inPart := strings.CutPrefix(a.At, "/parts/"); inPart {
			id, _, _ := strings.Cut(rest, "/")
			if used[id] == 0 {
				continue
			}
		}
		if pointer, ok := Resolve(l, variant, a.At); ok {
			out = append(out, Standing{Assumption: a, Pointer: pointer})
		}
	}
	return out
}

// A Standing assumption is one whose figure is in the document.
type Standing struct {
	Assumption
	Pointer string `json:"pointer" doc:"JSON Pointer to the figure in the document"`
}
