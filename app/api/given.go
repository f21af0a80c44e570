package api

import (
	"reflect"

	"github.com/danielgtaylor/huma/v2"
)

// Given is a query parameter whose zero is something else than leaving it out: the framework puts
// a default in the place of both.
type Given[T any] struct {
	Value T
	Is    bool // whether it was said
}

// Schema is that of what is said.
func (g Given[T]) Schema(r huma.Registry) *huma.Schema {
	return r.Schema(reflect.TypeFor[T](), true, "")
}

// Receiver is where the framework puts what was said.
func (g *Given[T]) Receiver() reflect.Value { return reflect.ValueOf(&g.Value).Elem() }

// OnParamSet notes whether it was said.
func (g *Given[T]) OnParamSet(is bool, _ any) { g.Is = is }

// or is what was said, or what is taken where nothing was.
func (g *Given[T]) or(usual T) T {
	if g.Is {
		return g.Value
	}
	return usual
}

// usualAtS is the instant that figures are of where none is said, s after switch-on (ANSI/PLATO
// FL 1 reads lumens from 30 s on).
const usualAtS = 30
