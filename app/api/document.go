package api

import (
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"reflect"
	"strconv"
	"strings"

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

// unusable is the problem document for what design refuses: one sentence on the
// first mistake, and the place of each as JSON Pointer below at.
func unusable(what, at string, err error) error {
	var problems design.Problems
	if !errors.As(err, &problems) || len(problems) == 0 {
		return err
	}
	details := make([]error, len(problems))
	for i, p := range problems {
		details[i] = &huma.ErrorDetail{Location: at + p.Pointer, Message: p.Message}
	}
	says := "This " + what + " cannot be used as it stands: " + fieldWord(problems[0].Pointer) + problems[0].Message
	if more := len(problems) - 1; more > 0 {
		says += fmt.Sprintf(" (and %d more)", more)
	}
	return huma.NewError(http.StatusUnprocessableEntity, says+".", details...)
}

// fieldWord names the field a pointer ends in, and which item of it; empty for the
// document as a whole.
func fieldWord(pointer string) string {
	steps := strings.Split(pointer, "/")
	last := steps[len(steps)-1]
	if n, err := strconv.Atoi(last); err == nil && len(steps) > 2 {
		last = fmt.Sprintf("%s, number %d", steps[len(steps)-2], n+1)
	}
	if last == "" {
		return ""
	}
	return last + ": "
}
