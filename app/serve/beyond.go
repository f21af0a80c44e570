package serve

import (
	"errors"
	"fmt"
	"net"
)

// beyond tells whether the server is to be reached from beyond its own machine, and what
// that lacks, in one line that says what to do.
func (c Config) beyond(at net.Addr) (bool, error) {
	tcp, ok := at.(*net.TCPAddr)
	far := !ok || !tcp.IP.IsLoopback()
	if !far && len(c.Hosts) == 0 {
		return false, nil
	}
	switch {
	case len(c.Hosts) == 0:
		return true, fmt.Errorf("address %s is reached from beyond this machine: say by which name or address, --host NAME, or serve on 127.0.0.1", c.Address)
	case c.Cert == "" && c.Key == "" && !c.Proxy:
		return true, errors.New("to be reached from beyond this machine it needs TLS: --cert FILE --key FILE, or --proxy if a proxy in front does it")
	case (c.Cert == "") != (c.Key == ""):
		return true, errors.New("--cert and --key go together")
	}
	return true, nil
}

// outside is the address that is opened on another device: the first name, with the port
// it listens on, unless the name says one or a proxy stands in front.
func (c Config) outside(at net.Addr) string {
	host := c.Hosts[0]
	if _, _, err := net.SplitHostPort(host); err != nil && !c.Proxy {
		if tcp, ok := at.(*net.TCPAddr); ok && tcp.Port != 443 {
			host = net.JoinHostPort(host, fmt.Sprint(tcp.Port))
		}
	}
	return "https://" + host
}
