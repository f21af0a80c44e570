package design

import (
	"encoding/json"
	"fmt"
	"math"
	"reflect"
	"slices"
	"strconv"
	"strings"
	"sync"
)

// A Figure is one number of a light, with where it stands and what it may be.
//
// Its pointer goes through ids: elements of arrays that have one are named by it, and
// below a feed's loads a node is named at once, however deep it hangs. So inserting a
// node moves nothing: /variants/a/feeds/power/loads/drv/driver/setCurrentA. Elements
// without an id are counted from 0.
type Figure struct {
	Pointer   string
	Unit      string
	Low, High float64
	Value     *float64 // nil: the document does not say
}

// Figures lists the numbers of a light that belong to one of its variants: conditions,
// parts, and the variant, with every switch and fault as a number too (a switch is 1 if
// it is open; the state of a fault is 0 ok, 1 short, 2 open).
func Figures(light *Light, variant int) []Figure {
	f := figureList{}
	v := reflect.ValueOf(light).Elem()
	f.walk(v.FieldByName("Conditions"), "/conditions")
	for i := range light.Parts {
		f.walk(reflect.ValueOf(&light.Parts[i]).Elem(), "/parts/"+escape(light.Parts[i].ID))
	}
	at := "/variants/" + escape(light.Variants[variant].ID)
	f.walk(reflect.ValueOf(&light.Variants[variant]).Elem(), at)
	slices.SortFunc(f.list, func(a, b Figure) int { return strings.Compare(a.Pointer, b.Pointer) })
	return f.list
}

// AtOnce is a path through ids with its node named at once, however deep it hangs: two ways to say
// one figure become one.
func AtOnce(path string) string {
	if first, last := strings.Index(path, "/loads/"), strings.LastIndex(path, "/loads/"); first < last {
		return path[:first] + path[last:]
	}
	return path
}

// unescaped reads a word of a JSON Pointer (RFC 6901).
var unescaped = strings.NewReplacer("~1", "/", "~0", "~")

type figureList struct{ list []Figure }

func (f *figureList) walk(v reflect.Value, at string) {
	t := v.Type()
	for i := range t.NumField() {
		field := t.Field(i)
		name, _, _ := strings.Cut(field.Tag.Get("json"), ",")
		here := at + "/" + name
		x := v.Field(i)
		switch field.Name {
		case "SetUp", "Sessions", "Corrected", "Claims", "Origin":
			continue // what was done, what came of it, what is said, and where it comes from
		}
		elem := field.Type
		if elem.Kind() == reflect.Pointer {
			elem = elem.Elem()
		}
		switch elem.Kind() {
		case reflect.Struct:
			if field.Type.Kind() == reflect.Pointer {
				if x.IsNil() {
					if field.Type != reflect.TypeFor[*Fault]() {
						continue
					}
					x = reflect.New(elem) // every node has one, if only of nothing
				}
				x = x.Elem()
			}
			f.walk(x, here)
		case reflect.Slice:
			f.slice(x, here)
		default:
			if low, high, ok := rangeOf(field); ok {
				f.list = append(f.list, Figure{here, unitOf(name), low, high, number(x)})
			}
		}
	}
}

func (f *figureList) slice(x reflect.Value, here string) {
	for k := range x.Len() {
		e := x.Index(k)
		if e.Kind() != reflect.Struct {
			continue
		}
		at := here + "/" + strconv.Itoa(k)
		if id := idOf(e); id != "" {
			at = here + "/" + escape(id)
			if e.Type() == reflect.TypeFor[Node]() {
				// Nodes are named below their feed, however deep.
				at = here[:strings.Index(here, "/loads")] + "/loads/" + escape(id)
			}
		}
		f.walk(e, at)
	}
}

func idOf(e reflect.Value) string {
	if id := e.FieldByName("ID"); id.IsValid() {
		return id.String()
	}
	return ""
}

// rangeOf is what a field may be as a number; not ok if it is none that is computed
// with as a figure.
func rangeOf(field reflect.StructField) (low, high float64, ok bool) {
	t := field.Type
	if t.Kind() == reflect.Pointer {
		t = t.Elem()
	}
	switch {
	case field.Name == "State" && t.Kind() == reflect.String:
		return 0, float64(len(faultStates) - 1), true
	case field.Name == "Open" && t.Kind() == reflect.Bool:
		return 0, 1, true
	case t.Kind() != reflect.Float64 || field.Name == "Price":
		return 0, 0, false
	}
	low, high = math.Inf(-1), math.Inf(1)
	if x, err := strconv.ParseFloat(field.Tag.Get("minimum"), 64); err == nil {
		low = x
	}
	if x, err := strconv.ParseFloat(field.Tag.Get("maximum"), 64); err == nil {
		high = x
	}
	return low, high, true
}

var faultStates = []string{"ok", "short", "open"}

// number is the value of a field; nil if it is absent.
func number(x reflect.Value) *float64 {
	if x.Kind() == reflect.Pointer {
		if x.IsNil() {
			return nil
		}
		x = x.Elem()
	}
	v := 0.0
	switch x.Kind() {
	case reflect.Float64:
		v = x.Float()
	case reflect.Bool:
		if x.Bool() {
			v = 1
		}
	case reflect.String:
		v = float64(max(slices.Index(faultStates, x.String()), 0))
	}
	return &v
}

// SetFigure writes a number into a light; the pointer may also count elements where it
// could name them. It refuses what is not a figure and what is outside its range, and
// changes nothing then.
func SetFigure(light *Light, pointer string, value float64) error {
	return eachFigure(light, pointer, func(x reflect.Value, field reflect.StructField) error {
		low, high, ok := rangeOf(field)
		if !ok {
			return fmt.Errorf("%s is not a figure", pointer)
		}
		if math.IsNaN(value) || value < low || value > high || math.IsInf(value, 0) {
			return fmt.Errorf("%s cannot be %v: it lies between %v and %v", pointer, value, low, high)
		}
		if x.Kind() == reflect.Pointer {
			x.Set(reflect.New(x.Type().Elem()))
			x = x.Elem()
		}
		switch x.Kind() {
		case reflect.Float64:
			x.SetFloat(value)
		case reflect.Bool:
			x.SetBool(value >= 0.5)
		case reflect.String:
			x.SetString(faultStates[int(value+0.5)])
		}
		return nil
	})
}

// FigureAt reads a number of a light; nil if the document does not say.
func FigureAt(light *Light, pointer string) (value *float64, err error) {
	err = eachFigure(light, pointer, func(x reflect.Value, field reflect.StructField) error {
		if _, _, ok := rangeOf(field); !ok {
			return fmt.Errorf("%s is not a figure", pointer)
		}
		value = number(x)
		return nil
	})
	return value, err
}

// eachFigure finds the field a pointer names.
func eachFigure(light *Light, pointer string, do func(reflect.Value, reflect.StructField) error) error {
	unknown := func() error { return fmt.Errorf("there is no figure at %q", pointer) }
	if !strings.HasPrefix(pointer, "/") {
		return unknown()
	}
	v := reflect.ValueOf(light).Elem()
	segments := strings.Split(pointer[1:], "/")
	for i, raw := range segments {
		segment := unescaped.Replace(raw)
		if v.Kind() == reflect.Pointer {
			if v.IsNil() {
				v.Set(reflect.New(v.Type().Elem()))
			}
			v = v.Elem()
		}
		switch v.Kind() {
		case reflect.Slice:
			if v = element(v, segment); !v.IsValid() {
				return unknown()
			}
		case reflect.Struct:
			field, ok := fieldNamed(v.Type(), segment)
			if !ok {
				return unknown()
			}
			v = v.FieldByIndex(field.Index)
			if i == len(segments)-1 {
				return do(v, field)
			}
		default:
			return unknown()
		}
	}
	return unknown()
}

// fieldsOf keeps the fields of each type by their names in a file: figures are asked for all the time.
var fieldsOf sync.Map

func fieldNamed(t reflect.Type, name string) (reflect.StructField, bool) {
	known, ok := fieldsOf.Load(t)
	if !ok {
		fields := map[string]reflect.StructField{}
		for i := range t.NumField() {
			key, _, _ := strings.Cut(t.Field(i).Tag.Get("json"), ",")
			if _, twice := fields[key]; !twice {
				fields[key] = t.Field(i)
			}
		}
		known, _ = fieldsOf.LoadOrStore(t, fields)
	}
	field, ok := known.(map[string]reflect.StructField)[name]
	return field, ok
}

// element finds one by its id, nodes at any depth; else by its place.
func element(v reflect.Value, segment string) reflect.Value {
	if e := withID(v, segment); e.IsValid() {
		return e
	}
	if k, err := strconv.Atoi(segment); err == nil && k >= 0 && k < v.Len() {
		return v.Index(k)
	}
	return reflect.Value{}
}

func withID(v reflect.Value, id string) reflect.Value {
	for k := range v.Len() {
		e := v.Index(k)
		if e.Kind() != reflect.Struct {
			return reflect.Value{}
		}
		if idOf(e) == id {
			return e
		}
	}
	if v.Type() != reflect.TypeFor[[]Node]() {
		return reflect.Value{}
	}
	for k := range v.Len() {
		if e := withID(v.Index(k).FieldByName("Loads"), id); e.IsValid() {
			return e
		}
	}
	return reflect.Value{}
}

// unitSuffixes end the names of fields, the longest first.
var unitSuffixes = []struct{ suffix, unit string }{
	{"WPerM2", "W/m²"}, {"KgPerM", "kg/m"}, {"M3PerH", "m³/h"}, {"JPerKgK", "J/(kg·K)"}, {"WPerMK", "W/(m·K)"}, {"M2KPerW", "m²·K/W"}, {"LmPerW", "lm/W"}, {"KPerW", "K/W"}, {"JPerK", "J/K"},
	{"VPerK", "V/K"}, {"OhmPerM", "Ω/m"}, {"LmPerM", "lm/m"}, {"WPerM", "W/m"}, {"APerM", "A/m"}, {"PerV", "1/V"},
	{"Ohm", "Ω"}, {"Deg", "°"}, {"Lm", "lm"}, {"Ah", "Ah"}, {"Hz", "Hz"}, {"Kg", "kg"}, {"Nm", "nm"}, {"M2", "m²"},
	{"V", "V"}, {"A", "A"}, {"W", "W"}, {"C", "°C"}, {"S", "s"}, {"M", "m"}, {"K", "K"}, {"H", "h"},
}

// unitOf is the unit a field's name ends with; 1 if it has none.
func unitOf(name string) string {
	for _, u := range unitSuffixes {
		if strings.HasSuffix(name, u.suffix) {
			return u.unit
		}
	}
	return "1"
}

// Clone copies a light, so that changing the copy leaves it alone.
func Clone(light *Light) (*Light, error) {
	data, err := json.Marshal(light)
	if err != nil {
		return nil, fmt.Errorf("copying the light %q: %w", light.Name, err)
	}
	out := new(Light)
	if err := json.Unmarshal(data, out); err != nil {
		return nil, fmt.Errorf("copying the light %q: %w", light.Name, err)
	}
	return out, nil
}
