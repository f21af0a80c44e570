package api

import (
	"fmt"
	"reflect"

	"github.com/danielgtaylor/huma/v2"

	"photherm/core/design"
)

// LightSchema is the JSON Schema (2020-12) of the light file, written from the Go
// types.
func LightSchema() map[string]any {
	registry := huma.NewMapRegistry("#/$defs/", huma.DefaultSchemaNamer)
	root := registry.Schema(reflect.TypeFor[design.Light](), true, "Light")
	return map[string]any{
		"$schema": "https://json-schema.org/draft/2020-12/schema",
		"title":   fmt.Sprintf("Photherm light file, version %d", design.Version),
		"$ref":    root.Ref,
		"$defs":   registry.Map(),
	}
}
