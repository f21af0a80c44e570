package api

import (
	"bytes"
	"context"
	_ "embed"
	"errors"
	"html/template"
	"log/slog"
	"net/http"
	"net/url"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"

	"photherm/app/access"
)

//go:embed login.html
var loginText string

var loginPage = template.Must(template.New("login").Parse(loginText))

// onlyOwn refuses requests that name another host, or that a page from elsewhere makes a
// browser send.
func (s *server) onlyOwn(c *gin.Context) {
	if s.door == nil && !access.Loopback(c.Request.Host) {
		problem(c, errElsewhere)
		return
	}
	if s.door != nil && !s.door.AnswersTo(c.Request.Host) {
		problem(c, errOtherName)
		return
	}
	if origin := c.GetHeader("Origin"); origin != "" {
		u, err := url.Parse(origin)
		if err != nil || u.Host != c.Request.Host {
			problem(c, errOtherSite)
			return
		}
	}
}

// onlyInside lets nobody past who has not said the passphrase, if there is a door; the
// login itself is answered here.
func (s *server) onlyInside(c *gin.Context) {
	if s.door == nil {
		return
	}
	at, method := c.Request.URL.Path, c.Request.Method
	switch {
	case at == "/login" && method == http.MethodPost:
		s.login(c)
		return
	case at == "/logout" && method == http.MethodPost:
		access.Leave(c.Writer)
		c.Redirect(http.StatusSeeOther, "/")
		c.Abort()
		return
	}
	inside, err := s.door.Inside(c.Request)
	switch {
	case err != nil:
		slog.Error("checking a session", "error", err)
		problem(c, errDatabase)
	case inside:
	case strings.HasPrefix(at, "/api/") || (method != http.MethodGet && method != http.MethodHead):
		problem(c, errOutside)
	default:
		showLogin(c, http.StatusUnauthorized, "")
	}
}

const maxLogin = 4 << 10

func (s *server) login(c *gin.Context) {
	c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, maxLogin)
	err := s.door.Enter(c.Writer, c.Request, c.PostForm("passphrase"))
	var often *access.TooManyError
	switch {
	case err == nil:
		to := c.PostForm("to")
		if !strings.HasPrefix(to, "/") || strings.HasPrefix(to, "//") || strings.Contains(to, `\`) {
			to = "/"
		}
		c.Redirect(http.StatusSeeOther, to)
		c.Abort()
	case errors.As(err, &often):
		c.Header("Retry-After", "10")
		showLogin(c, http.StatusTooManyRequests, sentence(err.Error()))
	default:
		status, says, ok := telling(err)
		if !ok {
			slog.Error("login", "error", err)
			status, says, _ = telling(errDatabase)
		}
		showLogin(c, status, says)
	}
}

func showLogin(c *gin.Context, status int, why string) {
	// The one page with a form of its own.
	c.Header("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'")
	c.Header("Cache-Control", "no-store")
	to := c.Request.URL.RequestURI()
	if strings.HasPrefix(to, "/login") {
		to = c.PostForm("to")
	}
	var page bytes.Buffer
	if err := loginPage.Execute(&page, map[string]string{"Why": why, "To": to}); err != nil {
		slog.Error("writing the login", "error", err)
	}
	c.Data(status, "text/html; charset=utf-8", page.Bytes())
	c.Abort()
}

// Reach is how a server is reached from another device.
type Reach struct {
	Address string `json:"address" doc:"Where a phone opens it; empty: it answers on its own machine only"`
	Door    bool   `json:"door" doc:"Whether a passphrase is asked for"`
}

func (s *server) reaching(api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "reach", Method: http.MethodGet, Path: "/api/reach", Summary: "How this server is reached from another device"},
		func(context.Context, *struct{}) (*struct{ Body Reach }, error) {
			return &struct{ Body Reach }{Reach{s.address, s.door != nil}}, nil
		})
}
