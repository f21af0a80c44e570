package serve

import (
	"net"
	"strings"
	"testing"
)

// Beyond its own machine it refuses in one line that says what is missing.
func TestBeyond(t *testing.T) {
	far, near := &net.TCPAddr{IP: net.IPv4(192, 168, 1, 5), Port: 8640}, &net.TCPAddr{IP: net.IPv4(127, 0, 0, 1), Port: 8640}
	for _, c := range []struct {
		config  Config
		at      net.Addr
		beyond  bool
		lacks   string
		outside string
	}{
		{Config{}, near, false, "", ""},
		{Config{Address: "0.0.0.0:8640"}, far, true, "--host", ""},
		{Config{Address: "0.0.0.0:8640"}, &net.TCPAddr{IP: net.IPv6zero, Port: 1}, true, "--host", ""},
		{Config{Hosts: []string{"bench.local"}}, far, true, "--cert", ""},
		{Config{Hosts: []string{"bench.local"}}, near, true, "--cert", ""},
		{Config{Hosts: []string{"bench.local"}, Cert: "c"}, far, true, "go together", ""},
		{Config{Hosts: []string{"bench.local"}, Cert: "c", Key: "k"}, far, true, "", "https://bench.local:8640"},
		{Config{Hosts: []string{"bench.local:444"}, Cert: "c", Key: "k"}, far, true, "", "https://bench.local:444"},
		{Config{Hosts: []string{"bench.local"}, Proxy: true}, near, true, "", "https://bench.local"},
	} {
		beyond, err := c.config.beyond(c.at)
		switch {
		case beyond != c.beyond:
			t.Errorf("%+v: %v", c.config, beyond)
		case c.lacks == "" && err != nil, c.lacks != "" && (err == nil || !strings.Contains(err.Error(), c.lacks) || strings.Contains(err.Error(), "\n")):
			t.Errorf("%+v: %v", c.config, err)
		case c.outside != "" && c.config.outside(c.at) != c.outside:
			t.Errorf("%+v: %q", c.config, c.config.outside(c.at))
		}
	}
}
