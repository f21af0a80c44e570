package api

import (
	"encoding/json"
	"reflect"

	"github.com/danielgtaylor/huma/v2"

	"photherm/core/design"
)

// Document is a light as it travels: described in the API as design.Light, read
// by design.Decode alone, so that the command line, the API and the import of
// files say the same about the same mistake.
type Document json.RawMessage

// Schema describes a Document as the light it holds.
func (Document) Schema(r huma.Registry) *huma.Schema {
	return r.Schema(reflect.TypeFor[design.Light](), true, "Light")
}

// UnmarshalJSON keeps the bytes.
func (d *Document) UnmarshalJSON(b []byte) error {
	*d = append((*d)[:0], b...)
	return nil
}

// MarshalJSON gives the bytes back.
func (d Document) MarshalJSON() ([]byte, error) { return d, nil }

// decode reads a posted light; its error is a problem document that names each
// field by JSON Pointer.
func (d Document) decode() (*design.Light, error) {
	light, err := design.Decode(d)
	if err != nil {
		return nil, unusable("light", "", err)
	}
	return light, nil
}
