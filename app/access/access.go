// Package access keeps the door of a server that is reached from beyond its own
// machine: which names it answers to, who has said the passphrase, how often one may
// try. A server on loopback without names of its own has no door.
package access

import (
	"context"
	"crypto/sha256"
	"errors"
	"fmt"
	"net"
	"net/http"
	"strings"
	"sync"
	"time"
	"unicode/utf8"

	"github.com/gorilla/securecookie"
	"golang.org/x/crypto/bcrypt"
	"golang.org/x/time/rate"
)

// Bounds of a passphrase: the shortest after NIST SP 800-63B 5.1.1.2 (eight at least; twelve
// chosen, as nothing but the throttle stands before it), the longest that bcrypt reads.
const (
	shortest = 12
	longest  = 72
)

// cost of the hash, chosen: a quarter of a second on a small machine.
const cost = 12

// Hash makes what a passphrase is checked against. The error says in a sentence what is
// wrong with the passphrase.
func Hash(passphrase string) (string, error) {
	switch {
	case utf8.RuneCountInString(passphrase) < shortest:
		return "", fmt.Errorf("a passphrase has %d characters at least; four words will do", shortest)
	case len(passphrase) > longest:
		return "", fmt.Errorf("a passphrase has %d bytes at most", longest)
	}
	hash, err := bcrypt.GenerateFromPassword([]byte(passphrase), cost)
	if err != nil {
		return "", fmt.Errorf("hashing the passphrase: %w", err)
	}
	return string(hash), nil
}

// A Door says who may come in. It keeps nothing of its own but how often was tried:
// sessions are signed cookies, good for every server on the same database, and end with
// the passphrase they were given for.
type Door struct {
	names []string // lower case, without port
	hash  func(context.Context) (string, error)

	mu   sync.Mutex
	all  *rate.Limiter
	each map[string]*rate.Limiter
}

// New makes a door for the names a server answers to, beside those of its own machine;
// hash reads what a passphrase is checked against.
func New(names []string, hash func(context.Context) (string, error)) *Door {
	d := &Door{hash: hash, all: rate.NewLimiter(rate.Every(time.Second), 20), each: map[string]*rate.Limiter{}}
	for _, n := range names {
		d.names = append(d.names, strings.ToLower(hostOf(n)))
	}
	return d
}

// AnswersTo tells whether a request's Host is one of the server's names.
func (d *Door) AnswersTo(host string) bool {
	host = strings.ToLower(hostOf(host))
	for _, n := range d.names {
		if host == n {
			return true
		}
	}
	return Loopback(host)
}

// Loopback tells whether a host, with or without port, is a name of the own machine.
func Loopback(host string) bool {
	host = hostOf(host)
	ip := net.ParseIP(strings.Trim(host, "[]"))
	return host == "localhost" || (ip != nil && ip.IsLoopback())
}

func hostOf(hostport string) string {
	if h, _, err := net.SplitHostPort(hostport); err == nil {
		return h
	}
	return hostport
}

const (
	cookie      = "photherm-session"
	sessionDays = 30
)

// Why nobody is let in.
var (
	ErrWrong = errors.New("that is not the passphrase")
	ErrNone  = errors.New("no passphrase is set")
)

// TooManyError says how long to wait before the next try.
type TooManyError struct{ Wait time.Duration }

func (e *TooManyError) Error() string {
	return fmt.Sprintf("too many tries: wait %.0f s", max(1, e.Wait.Seconds()))
}

// Inside tells whether a request carries a session. An error is the database's.
func (d *Door) Inside(r *http.Request) (bool, error) {
	kept, err := r.Cookie(cookie)
	if err != nil {
		return false, nil
	}
	hash, err := d.hash(r.Context())
	if err != nil || hash == "" {
		return false, err
	}
	var said string
	return signer(hash).Decode(cookie, kept.Value, &said) == nil && said == "inside", nil
}

// signer signs with what the passphrase is checked against: a new passphrase ends every
// session.
func signer(hash string) *securecookie.SecureCookie {
	key := sha256.Sum256([]byte("photherm session " + hash))
	return securecookie.New(key[:], nil).MaxAge(sessionDays * 24 * 60 * 60)
}

// Enter checks a passphrase and gives out a session, with the response's headers.
func (d *Door) Enter(w http.ResponseWriter, r *http.Request, passphrase string) error {
	if err := d.mayTry(r); err != nil {
		return err
	}
	hash, err := d.hash(r.Context())
	if err != nil {
		return err
	}
	if hash == "" {
		return ErrNone
	}
	if bcrypt.CompareHashAndPassword([]byte(hash), []byte(passphrase)) != nil {
		return ErrWrong
	}
	value, err := signer(hash).Encode(cookie, "inside")
	if err != nil {
		return fmt.Errorf("signing a session: %w", err)
	}
	http.SetCookie(w, &http.Cookie{Name: cookie, Value: value, Path: "/", MaxAge: sessionDays * 24 * 60 * 60, HttpOnly: true, Secure: true, SameSite: http.SameSiteStrictMode})
	return nil
}

// Leave takes the session away.
func Leave(w http.ResponseWriter) {
	http.SetCookie(w, &http.Cookie{Name: cookie, Path: "/", MaxAge: -1, HttpOnly: true, Secure: true, SameSite: http.SameSiteStrictMode})
}

// mayTry counts a try: five at once and then one in ten seconds from one address, twenty
// and one a second from all (chosen: a person is not held up, a list of words is).
func (d *Door) mayTry(r *http.Request) error {
	d.mu.Lock()
	defer d.mu.Unlock()
	from := hostOf(r.RemoteAddr)
	if len(d.each) > 1000 {
		clear(d.each) // the bound for all still holds
	}
	if d.each[from] == nil {
		d.each[from] = rate.NewLimiter(rate.Every(10*time.Second), 5)
	}
	for _, l := range []*rate.Limiter{d.each[from], d.all} {
		if try := l.Reserve(); try.Delay() > 0 {
			wait := try.Delay()
			try.Cancel()
			return &TooManyError{wait}
		}
	}
	return nil
}
