package api

import (
	"net/http"
	"strings"
	"testing"

	"photherm/core/begin"
)

// A light comes of facts, is solved as any other, and is refused in plain words where a
// figure is beyond what one can be.
func TestBegin(t *testing.T) {
	var begun begin.Begun
	ask(t, "POST", "/api/begin", `{"way":"parts","source":"4 × 18650","emitters":"3 × 3 V 1 A"}`).read(t, &begun)
	if begun.Light == nil || len(begun.Light.Assumed(0)) < 5 || begun.Understood["emitters"] == "" {
		t.Fatalf("%+v", begun)
	}
	for body, says := range map[string]string{
		`{"way":"magic"}`: "way",
		`{"way":"parts","emitters":"1000000 V 5 A"}`: "too high",
		`{"way":"parts","nonsense":1}`:               "nonsense",
		`{}`:                                         "way",
	} {
		a := ask(t, "POST", "/api/begin", body)
		if a.status != http.StatusUnprocessableEntity && a.status != http.StatusBadRequest || !strings.Contains(string(a.body), says) {
			t.Errorf("%s: %d %s", body, a.status, a.body)
		}
	}
}
