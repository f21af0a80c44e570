package api

import (
	"context"
	"io"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"
	"testing/fstest"

	"golang.org/x/crypto/bcrypt"

	"photherm/app/access"
)

// Behind a door nothing is reached without a login but the login: no page, no file, no
// answer of the API, by no method. With it everything is as without a door.
func TestDoor(t *testing.T) {
	// Cheap to check, so that a slow machine does not let the throttle recover in between.
	made, err := bcrypt.GenerateFromPassword([]byte("correct horses only"), bcrypt.MinCost)
	if err != nil {
		t.Fatal(err)
	}
	hash := string(made)
	pages := fstest.MapFS{"index.html": {Data: []byte("<p>page</p>")}, "assets/a.js": {Data: []byte("1")}}
	handler := New(Config{FrontEnd: pages, Address: "https://bench.local", Door: access.New([]string{"bench.local"}, func(context.Context) (string, error) { return hash, nil })})
	text := func(t *testing.T, r *http.Response) string {
		t.Helper()
		data, err := io.ReadAll(r.Body)
		if err != nil {
			t.Fatal(err)
		}
		return string(data)
	}
	ask := func(method, path, host string, form url.Values, with *http.Cookie) *http.Response {
		r := httptest.NewRequest(method, path, strings.NewReader(form.Encode()))
		r.Host = host
		if form != nil {
			r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		}
		if with != nil {
			r.AddCookie(with)
		}
		w := httptest.NewRecorder()
		handler.ServeHTTP(w, r)
		return w.Result()
	}
	for _, path := range []string{"/", "/cabinet", "/assets/a.js", "/index.html", "/api/lights", "/api/health", "/api/openapi.json", "/api/reach", "/login", "/logout", "/nothing", "/api", "//", "/login/", "/api/../assets/a.js"} {
		for _, method := range []string{"GET", "HEAD", "POST", "PUT", "DELETE", "OPTIONS"} {
			if method == "POST" && strings.HasPrefix(path, "/log") && !strings.HasSuffix(path, "/") {
				continue
			}
			r := ask(method, path, "bench.local", nil, nil)
			if body := text(t, r); r.StatusCode != http.StatusUnauthorized || strings.Contains(body, "page</p>") || body == "1" {
				t.Errorf("%s %s: %d %.40q", method, path, r.StatusCode, body)
			}
		}
	}
	// With no referrer at all a browser sends "null" for the origin of the login's own form.
	if p := ask("GET", "/", "bench.local", nil, nil).Header.Get("Referrer-Policy"); p != "same-origin" {
		t.Errorf("referrer policy %q", p)
	}
	if r := ask("GET", "/lights/x?v=1", "bench.local", nil, nil); !strings.Contains(text(t, r), `value="/lights/x?v=1"`) {
		t.Error("the login forgets where to")
	}
	if r := ask("POST", "/login", "bench.local", url.Values{"passphrase": {"correct horses"}}, nil); r.StatusCode != http.StatusUnauthorized || len(r.Cookies()) > 0 {
		t.Errorf("a wrong passphrase: %d", r.StatusCode)
	}
	for to, want := range map[string]string{"/lights/x?v=1": "/lights/x?v=1", "//evil.example": "/", "https://evil.example": "/", `/\evil.example`: "/"} {
		r := ask("POST", "/login", "bench.local", url.Values{"passphrase": {"correct horses only"}, "to": {to}}, nil)
		if r.StatusCode != http.StatusSeeOther || r.Header.Get("Location") != want {
			t.Fatalf("the right one, to %q: %d %q", to, r.StatusCode, r.Header.Get("Location"))
		}
		session := r.Cookies()[0]
		if r := ask("GET", "/", "bench.local", nil, session); r.StatusCode != http.StatusOK || text(t, r) != "<p>page</p>" {
			t.Errorf("inside: %d", r.StatusCode)
		}
		if r := ask("GET", "/api/reach", "localhost", nil, session); !strings.Contains(text(t, r), "https://bench.local") {
			t.Error("the address for the phone is not told")
		}
		if r := ask("GET", "/", "other.example", nil, session); r.StatusCode != http.StatusForbidden {
			t.Errorf("under a foreign name: %d", r.StatusCode)
		}
	}
	if r := ask("POST", "/login", "bench.local", url.Values{"passphrase": {"correct horses only"}}, nil); r.StatusCode != http.StatusTooManyRequests || r.Header.Get("Retry-After") == "" {
		t.Errorf("the sixth try at once: %d", r.StatusCode)
	}
	if r := ask("POST", "/logout", "bench.local", nil, nil); len(r.Cookies()) != 1 || r.Cookies()[0].MaxAge >= 0 {
		t.Errorf("logging out: %v", r.Cookies())
	}
}
