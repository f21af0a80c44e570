package api

import (
	"net/http"
	"strings"
	"testing"
)

// What cannot be used is refused in words a person understands, with the place; never
// with half an answer, the program's own trouble, or the name of a type.
func TestRefusals(t *testing.T) {
	light := handlamp(t)
	const part = `{"id":"part","name":"Cell of a test","cell":{"chemistry":"nimh","capacityAh":1,"resistanceOhm":0.02}}`
	for _, c := range []struct {
		method, path, body string
		headers            []string
		status             int
		says, where        string
	}{
		{"POST", "/api/solve?atS=NaN", light, nil, 422, "NaN is not a number", "query.atS"},
		{"POST", "/api/solve?atS=-inf", light, nil, 422, "-inf is not a number", "query.atS"},
		{"POST", "/api/solve?variant=1.5", light, nil, 422, "invalid integer", "query.variant"},
		{"POST", "/api/solve?depth=1", light, nil, 422, "unknown query parameter", "query.depth"},
		{"POST", "/api/lights", light, []string{"X-Photherm-Change", "\xff\xfe"}, 422, "not percent-encoded text", "header.X-Photherm-Change"},
		{"POST", "/api/lights", light, []string{"X-Photherm-Change", "a%zz"}, 422, "not percent-encoded text", "header.X-Photherm-Change"},
		{"POST", "/api/lights", light, []string{"X-Photherm-Tab", "%ff"}, 422, "not percent-encoded text", "header.X-Photherm-Tab"},
		{"POST", "/api/cabinet", `{"stock":1.5,"part":` + part + `}`, nil, 422, "stock: a whole number is wanted, not number 1.5", "/stock"},
		{"POST", "/api/cabinet", `{"stock":"two","part":` + part + `}`, nil, 422, "stock: a whole number is wanted, not string", "/stock"},
		{"POST", "/api/cabinet", `{"stock":1,"stock":2,"part":` + part + `}`, nil, 422, "stock: comes twice", "/stock"},
		{"POST", "/api/cabinet", `{"stock":1,"price":3,"part":` + part + `}`, nil, 422, "price: there is no such field", "/price"},
		{"POST", "/api/cabinet", `{"stock":1,`, nil, 422, "ends too early", "body"},
		{"POST", "/api/cabinet", `{"stock":1]`, nil, 422, "not understood at byte", "body"},
		{"POST", "/api/cabinet", `{"stock":1,"part":` + part + `} {}`, nil, 422, "more after the end", "body"},
		{"POST", "/api/cabinet", `[]`, nil, 422, "an object is wanted, not array", ""},
		{"POST", "/api/lights", `{"format":`, nil, 422, "ends too early", ""},
		{"POST", "/api/lights", `nothing`, nil, 422, "This light cannot be used", ""},
	} {
		r := ask(t, c.method, c.path, c.body, c.headers...)
		body := string(r.body)
		if r.status != c.status || !strings.Contains(body, c.says) || c.where != "" && !strings.Contains(body, `"location":"`+c.where) {
			t.Errorf("%s %s %.40q %v: %d %s", c.method, c.path, c.body, c.headers, r.status, body)
		}
		for _, word := range []string{"Go ", "struct", "json:", "validation failed", "cabinetInput"} {
			if strings.Contains(body, word) {
				t.Errorf("%s %.40q: %q in %s", c.path, c.body, word, body)
			}
		}
	}
	// A byte order mark is no part of what is said.
	if r := ask(t, http.MethodPost, "/api/lights", "\ufeff"+light); r.status != http.StatusCreated {
		t.Errorf("with a byte order mark: %d %s", r.status, r.body)
	}
	if r := ask(t, http.MethodPost, "/api/cabinet", "\ufeff"+`{"stock":1,"part":`+part+`}`); r.status != http.StatusCreated {
		t.Errorf("with a byte order mark: %d %s", r.status, r.body)
	}
	for path, status := range map[string]int{"/api/health": 204, "/api/lights": 200, "/": 200, "/api/lights/aaaaaaaaaaaaaaac": 404} {
		if r := ask(t, http.MethodHead, path, ""); r.status != status || len(r.body) > 0 {
			t.Errorf("HEAD %s: %d %s", path, r.status, r.body)
		}
	}
}
