// Package api is the HTTP interface: typed operations under /api and the front
// end for every other path. It holds no state of its own.
package api

import (
	"context"
	"encoding/json"
	"fmt"
	"io/fs"
	"net/http"
	"path"
	"strings"
	"sync"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"
	"github.com/gin-contrib/gzip"
	"github.com/gin-gonic/gin"

	"photherm/app/access"
	"photherm/app/compute"
	"photherm/app/instrument"
	"photherm/app/recorder"
	"photherm/app/store"
	"photherm/app/summary"
)

const maxBody = 4 << 20

// Config is what the server needs. Store may be nil when only the description of
// the API is wanted.
type Config struct {
	Store    *store.Store
	FrontEnd fs.FS            // built front end with index.html; nil: none
	Door     *access.Door     // nil: it answers on its own machine only, and asks nobody
	Address  string           // where a phone opens it; empty: nowhere
	Hosts    instrument.Hosts // of instruments that may be spoken to, beside this machine
	Until    context.Context  // when it is done computing ends; nil: never, and neither summaries nor logs are written
	Writing  *sync.WaitGroup  // done when what it writes by itself is left; nil: nobody waits
}

type server struct {
	store     *store.Store
	door      *access.Door
	address   string
	gate      *compute.Gate
	summaries *summary.Writer
	hosts     instrument.Hosts
	practice  *practice
	recorder  *recorder.Recorder
	until     context.Context
}

// changed tells that a light has, so that its summary is written anew.
func (s *server) changed() { s.summaries.Wake() }

// New makes the handler.
func New(c Config) http.Handler {
	engine, _ := build(c)
	return headsAsGets(engine)
}

// OpenAPI is the description of the API, as JSON.
func OpenAPI() ([]byte, error) {
	_, a := build(Config{})
	data, err := json.MarshalIndent(a.OpenAPI(), "", "  ")
	if err != nil {
		return nil, fmt.Errorf("describing the API: %w", err)
	}
	return append(data, '\n'), nil
}

func build(c Config) (*gin.Engine, huma.API) {
	gin.SetMode(gin.ReleaseMode)
	engine := gin.New()
	engine.HandleMethodNotAllowed = true
	_ = engine.SetTrustedProxies(nil) // nil cannot fail
	gate := newGate(c.Until)
	s := &server{c.Store, c.Door, c.Address, gate, summary.NewWriter(c.Store, gate), c.Hosts, newPractice(c.Until), recorder.New(c.Store, c.Hosts), c.Until}
	if c.Until == nil {
		s.until = context.Background()
	}
	engine.Use(gin.CustomRecoveryWithWriter(nil, recovered), securityHeaders, s.onlyOwn, s.onlyInside, onlyUsable, noteAsker, patient,
		// The front end alone: answers are small, and their time counts.
		gzip.Gzip(gzip.BestCompression, gzip.WithExcludedPaths([]string{"/api/"}), gzip.WithExcludedExtensions([]string{".woff2", ".png", ".ico"})))
	engine.NoMethod(func(c *gin.Context) {
		problemOf(c, huma.ErrorModel{Status: http.StatusMethodNotAllowed, Title: http.StatusText(http.StatusMethodNotAllowed), Detail: "This address does not take " + c.Request.Method + " requests."})
	})
	engine.NoRoute(frontEnd(c.FrontEnd))

	config := huma.DefaultConfig("Photherm", "1")
	config.OpenAPIPath, config.DocsPath, config.SchemasPath = "/api/openapi", "", ""
	config.CreateHooks = nil
	config.RejectUnknownQueryParameters = true
	config.Formats = map[string]huma.Format{}
	for name, f := range huma.DefaultFormats {
		if f.Unmarshal = readBody; strings.Contains(name, "json") {
			config.Formats[name] = f
		}
	}
	api := humagin.New(engine, config)
	if c.Store != nil && c.Until != nil {
		go s.summaries.Run(c.Until)
		if c.Writing == nil {
			c.Writing = new(sync.WaitGroup)
		}
		c.Writing.Go(func() { s.recorder.Run(c.Until) })
	}
	s.lights(api)
	s.computing(api)
	s.cabinet(api)
	s.lots(api)
	s.logs(api)
	s.live(api)
	s.photos(api)
	s.instruments(api)
	s.archive(api)
	s.reaching(api)
	huma.Register(api, huma.Operation{OperationID: "health", Method: http.MethodGet, Path: "/api/health", Summary: "Whether server and database answer", Errors: []int{503}},
		func(ctx context.Context, _ *struct{}) (*struct{}, error) {
			if err := s.store.Ping(ctx); err != nil {
				return nil, s.failure(ctx, err)
			}
			return nil, nil
		})
	return engine, api
}

func securityHeaders(c *gin.Context) {
	h := c.Writer.Header()
	// Styles are written by the component library at run time; scripts come from
	// files only.
	h.Set("Content-Security-Policy", "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self'; connect-src 'self'; manifest-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'")
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Referrer-Policy", "same-origin") // with none at all a form of our own would come without its origin
	h.Set("Cross-Origin-Opener-Policy", "same-origin")
	h.Set("Cross-Origin-Resource-Policy", "same-origin")
	if strings.HasPrefix(c.Request.URL.Path, "/api/") {
		h.Set("Cache-Control", "no-store")
	}
}

// frontEnd serves the built files, and index.html for every page address.
func frontEnd(files fs.FS) gin.HandlerFunc {
	return func(c *gin.Context) {
		name := strings.TrimPrefix(path.Clean(c.Request.URL.Path), "/")
		switch {
		case strings.HasPrefix(name, "api/") || name == "api":
			problem(c, errNowhere)
			return
		case files == nil || (c.Request.Method != http.MethodGet && c.Request.Method != http.MethodHead):
			problem(c, errNowhere)
			return
		}
		if info, err := fs.Stat(files, name); name != "" && name != "index.html" && err == nil && !info.IsDir() {
			if strings.HasPrefix(name, "assets/") {
				c.Header("Cache-Control", "public, max-age=31536000, immutable")
			}
			c.Status(http.StatusOK) // NoRoute has set 404
			http.FileServerFS(files).ServeHTTP(c.Writer, c.Request)
			return
		}
		index, err := fs.ReadFile(files, "index.html")
		if strings.HasPrefix(name, "assets/") || err != nil {
			problem(c, errNowhere)
			return
		}
		c.Header("Cache-Control", "no-cache")
		c.Data(http.StatusOK, "text/html; charset=utf-8", index)
	}
}
