package access

import (
	"context"
	"errors"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
)

// A session is good with the passphrase it was given for and no other, its cookie stays
// with this site and out of scripts, and an altered one is none.
func TestSession(t *testing.T) {
	hash, err := Hash("four words will do")
	if err != nil {
		t.Fatal(err)
	}
	d := New([]string{"Bench.local:8443"}, func(context.Context) (string, error) { return hash, nil })
	r := httptest.NewRequest("POST", "/login", nil)
	w := httptest.NewRecorder()
	if err := d.Enter(w, r, "four words will not"); !errors.Is(err, ErrWrong) || len(w.Result().Cookies()) > 0 {
		t.Fatalf("a wrong one: %v", err)
	}
	w = httptest.NewRecorder()
	if err := d.Enter(w, r, "four words will do"); err != nil {
		t.Fatal(err)
	}
	got := w.Result().Cookies()[0]
	if !got.HttpOnly || !got.Secure || got.SameSite != http.SameSiteStrictMode {
		t.Errorf("the cookie: %+v", got)
	}
	inside := func(c *http.Cookie) bool {
		r := httptest.NewRequest("GET", "/", nil)
		if c != nil {
			r.AddCookie(c)
		}
		in, err := d.Inside(r)
		if err != nil {
			t.Fatal(err)
		}
		return in
	}
	altered := *got
	altered.Value = strings.Replace(got.Value, got.Value[10:11], string(got.Value[10]^1), 1)
	if !inside(got) || inside(nil) || inside(&altered) {
		t.Errorf("inside with %v, with nothing %v, with an altered one %v", inside(got), inside(nil), inside(&altered))
	}
	if hash, err = Hash("another passphrase"); err != nil {
		t.Fatal(err)
	}
	if inside(got) {
		t.Error("a new passphrase ends no session")
	}
	hash = ""
	if err := d.Enter(httptest.NewRecorder(), r, ""); !errors.Is(err, ErrNone) || inside(got) {
		t.Errorf("without a passphrase: %v", err)
	}
}

// One address has five tries at once, another is not held up by it, and all together have
// twenty.
func TestTries(t *testing.T) {
	d := New(nil, func(context.Context) (string, error) { return "", nil })
	try := func(from string) error {
		r := httptest.NewRequest("POST", "/login", nil)
		r.RemoteAddr = from
		return d.Enter(httptest.NewRecorder(), r, "x")
	}
	var often *TooManyError
	for i := range 5 {
		if err := try("10.0.0.7:99"); errors.As(err, &often) {
			t.Fatalf("held up at try %d", i+1)
		}
	}
	if err := try("10.0.0.7:98"); !errors.As(err, &often) || often.Wait <= 0 {
		t.Errorf("the sixth: %v", err)
	}
	if err := try("10.0.0.8:1"); errors.As(err, &often) {
		t.Error("another address is held up")
	}
	for i := range 14 {
		_ = try("10.0.1." + string(rune('a'+i)) + ":1")
	}
	if err := try("10.0.2.1:1"); !errors.As(err, &often) {
		t.Error("twenty-one at once from all")
	}
}

func TestNames(t *testing.T) {
	d := New([]string{"Bench.local:8443", "192.168.1.5"}, nil)
	for host, want := range map[string]bool{"bench.local": true, "BENCH.LOCAL:1": true, "192.168.1.5:80": true, "localhost:8640": true, "[::1]:1": true, "127.0.0.1": true, "bench.local.example": false, "192.168.1.50": false, "": false} {
		if d.AnswersTo(host) != want {
			t.Errorf("%q: %v", host, !want)
		}
	}
}

func TestHashRefuses(t *testing.T) {
	for _, bad := range []string{"", "elevenchars", strings.Repeat("x", 73)} {
		if _, err := Hash(bad); err == nil {
			t.Errorf("%q is taken", bad)
		}
	}
	if _, err := Hash("zwölfzeichen"); err != nil {
		t.Error(err)
	}
}
