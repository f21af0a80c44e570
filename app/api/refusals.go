package api

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"unicode/utf8"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"
)

// What the framework refuses is told in this product's words, and where by JSON Pointer.
func init() {
	plain := huma.NewError
	huma.NewError = func(status int, msg string, errs ...error) huma.StatusError {
		e := plain(status, msg, errs...)
		m, ok := e.(*huma.ErrorModel)
		if !ok {
			return e
		}
		for _, d := range m.Errors {
			if d.Location != "body" {
				continue
			}
			d.Value = nil // what was sent, the sender has
			if pointer, says, found := strings.Cut(d.Message, ": "); found && strings.HasPrefix(pointer, "/") {
				d.Location, d.Message = pointer, says
			}
		}
		if status == http.StatusRequestEntityTooLarge {
			m.Title, m.Detail = "Too large", tooLarge(msg)
		}
		if msg == "validation failed" && len(m.Errors) > 0 {
			d := m.Errors[0]
			m.Detail = "This request cannot be used: " + strings.TrimPrefix(fieldWord(d.Location), "body: ") + d.Message + "."
		}
		return e
	}
}

// tooLarge says how much is taken at most, from what the framework says of its limit.
func tooLarge(says string) string {
	_, limit, _ := strings.Cut(says, "limit=")
	limit, _, _ = strings.Cut(limit, " ")
	if n, err := strconv.ParseInt(limit, 10, 64); err == nil && n >= 1<<20 {
		return fmt.Sprintf("This is larger than the %d MB that are taken at once.", n>>20)
	}
	return "This is larger than what is taken at once."
}

var byteOrderMark = []byte("\xef\xbb\xbf")

// readBody reads a body: a light or a part is left to its own decoder; of anything else
// every field is known and given once.
func readBody(data []byte, v any) error {
	data = bytes.TrimPrefix(data, byteOrderMark)
	if own, ok := v.(json.Unmarshaler); ok {
		return own.UnmarshalJSON(data)
	}
	if err := onceEach(data); err != nil {
		return err
	}
	d := json.NewDecoder(bytes.NewReader(data))
	d.DisallowUnknownFields()
	if err := d.Decode(v); err != nil {
		return inWords(err)
	}
	if _, err := d.Token(); !errors.Is(err, io.EOF) {
		return errors.New("there is more after the end of the JSON")
	}
	return nil
}

// onceEach tells of a field of the outermost object that comes twice.
func onceEach(data []byte) error {
	d := json.NewDecoder(bytes.NewReader(data))
	if t, err := d.Token(); err != nil || t != json.Delim('{') {
		return nil // what else it may be, the decoder tells
	}
	seen := map[any]bool{}
	for d.More() {
		name, err := d.Token()
		var value json.RawMessage
		if err != nil || d.Decode(&value) != nil {
			return nil
		}
		if seen[name] {
			return fmt.Errorf("/%v: comes twice", name)
		}
		seen[name] = true
	}
	return nil
}

// kinds are what a field may have to be, in words, by the beginning of its type's name.
var kinds = []struct{ of, words string }{
	{"int", "a whole number"}, {"uint", "a whole number of nothing or more"}, {"float", "a number"}, {"string", "a text"}, {"bool", "true or false"}, {"[]", "a list"},
}

func inWords(err error) error {
	var kind *json.UnmarshalTypeError
	var syntax *json.SyntaxError
	switch {
	case errors.As(err, &kind):
		wanted := "an object"
		for _, k := range kinds {
			if strings.HasPrefix(kind.Type.String(), k.of) {
				wanted = k.words
			}
		}
		return fmt.Errorf("/%s: %s is wanted, not %s", strings.ReplaceAll(kind.Field, ".", "/"), wanted, kind.Value)
	case errors.As(err, &syntax):
		return fmt.Errorf("the JSON is not understood at byte %d", syntax.Offset)
	case errors.Is(err, io.ErrUnexpectedEOF), errors.Is(err, io.EOF):
		return errors.New("the JSON ends too early")
	}
	if name, found := strings.CutPrefix(err.Error(), "json: unknown field "); found {
		if field, e := strconv.Unquote(name); e == nil {
			return fmt.Errorf("/%s: there is no such field", field)
		}
	}
	return errors.New("the JSON is not understood")
}

// onlyUsable refuses what no operation can use: a number that is none, and headers of
// this program that are not text.
func onlyUsable(c *gin.Context) {
	for name, values := range c.Request.URL.Query() {
		for _, v := range values {
			if x, err := strconv.ParseFloat(v, 64); err == nil && (math.IsNaN(x) || math.IsInf(x, 0)) {
				refuse(c, "query."+name, v+" is not a number to calculate with")
				return
			}
		}
	}
	for _, name := range []string{"X-Photherm-Tab", "X-Photherm-Change"} {
		v := c.GetHeader(name)
		text, err := url.PathUnescape(v)
		if err != nil || !utf8.ValidString(v) || !utf8.ValidString(text) {
			refuse(c, "header."+name, "this is not percent-encoded text")
			return
		}
	}
}

func refuse(c *gin.Context, where, why string) {
	model, ok := huma.NewError(http.StatusUnprocessableEntity, "validation failed", &huma.ErrorDetail{Location: where, Message: why}).(*huma.ErrorModel)
	if !ok {
		model = &huma.ErrorModel{Status: http.StatusUnprocessableEntity, Detail: why}
	}
	problemOf(c, *model)
}

// headsAsGets answers HEAD as GET; the server leaves the body out.
func headsAsGets(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method == http.MethodHead && strings.HasPrefix(r.URL.Path, "/api/") {
			get := *r
			get.Method = http.MethodGet
			r = &get
		}
		next.ServeHTTP(w, r)
	})
}
