// Package instrument reads measuring instruments over the network: SCPI commands over TCP, a line
// each, with the common commands of IEEE 488.2 and the subsystem forms that most instruments
// share. Only hosts that the owner of the machine allowed are spoken to.
package instrument

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"math"
	"net"
	"strconv"
	"strings"
	"time"
)

// Errors of reading an instrument.
var (
	ErrNotAllowed = errors.New("this host is not among the instruments that may be spoken to")
	ErrSilent     = errors.New("the instrument does not answer")
	ErrGarbled    = errors.New("what the instrument answers is no figure")
)

// answerWithin bounds an answer; a multimeter that averages takes a second or two.
const answerWithin = 4 * time.Second

// mostAnswer bounds the length of a line: beyond it, it is no instrument.
const mostAnswer = 4096

// queries are what asks an instrument for a quantity (SCPI-99, volume 2, from memory).
var queries = map[string]string{
	"voltage": "MEAS:VOLT?", "current": "MEAS:CURR?", "power": "MEAS:POW?", "resistance": "MEAS:RES?", "temperature": "MEAS:TEMP?", "illuminance": "MEAS:ILL?", "ppfd": "MEAS:PPFD?", "light": "MEAS:ILL:REL?",
}

// Hosts are those that may be spoken to.
type Hosts []string

// Allowed reads a list parted by commas; loopback always is.
func Allowed(list string) Hosts {
	var out Hosts
	for host := range strings.SplitSeq(list, ",") {
		if host = strings.TrimSpace(host); host != "" {
			out = append(out, host)
		}
	}
	return out
}

// May tells whether an address, host and port, may be spoken to.
func (h Hosts) May(address string) bool {
	host, port, err := net.SplitHostPort(address)
	if err != nil {
		return false
	}
	if n, err := strconv.Atoi(port); err != nil || n < 1024 || n > 65535 { // what lies below serves other things
		return false
	}
	if ip := net.ParseIP(host); ip != nil && ip.IsLoopback() {
		return true
	}
	for _, allowed := range h {
		if strings.EqualFold(allowed, host) {
			return true
		}
	}
	return false
}

// A Conn is an instrument that is spoken to.
type Conn struct {
	conn net.Conn
	r    *bufio.Reader
}

// Dial opens an instrument. The errors are ErrNotAllowed and ErrSilent.
func Dial(ctx context.Context, hosts Hosts, address string) (*Conn, error) {
	if !hosts.May(address) {
		return nil, fmt.Errorf("%w: %s", ErrNotAllowed, address)
	}
	d := net.Dialer{Timeout: answerWithin}
	conn, err := d.DialContext(ctx, "tcp", address)
	if err != nil {
		return nil, fmt.Errorf("%w: %s: %w", ErrSilent, address, err)
	}
	return &Conn{conn, bufio.NewReaderSize(conn, mostAnswer)}, nil
}

// Close lets go of the instrument.
func (c *Conn) Close() error { return c.conn.Close() }

// Ask sends a query and gives the line that is answered.
func (c *Conn) Ask(ctx context.Context, query string) (string, error) {
	deadline := time.Now().Add(answerWithin)
	if d, ok := ctx.Deadline(); ok && d.Before(deadline) {
		deadline = d
	}
	if err := c.conn.SetDeadline(deadline); err != nil {
		return "", fmt.Errorf("%w: %w", ErrSilent, err)
	}
	if _, err := c.conn.Write([]byte(query + "\n")); err != nil {
		return "", fmt.Errorf("%w: %w", ErrSilent, err)
	}
	line, err := c.r.ReadSlice('\n')
	if errors.Is(err, bufio.ErrBufferFull) {
		return "", fmt.Errorf("%w: it sends more than a line has", ErrGarbled)
	}
	if err != nil {
		return "", fmt.Errorf("%w: %w", ErrSilent, err)
	}
	return strings.TrimSpace(string(line)), nil
}

// Tell sends a command that answers nothing, and waits until it is done.
func (c *Conn) Tell(ctx context.Context, command string) error {
	done, err := c.Ask(ctx, command+";*OPC?")
	if err == nil && done != "1" {
		err = fmt.Errorf("%w: %q where 1 was to come", ErrGarbled, done)
	}
	return err
}

// notNumber is what instruments answer for "none" and "overload" (SCPI-99: 9.91E37, 9.9E37).
const notNumber = 9.8e37

// Read asks for a quantity, SI (°C).
func (c *Conn) Read(ctx context.Context, quantity string) (float64, error) {
	query, ok := queries[quantity]
	if !ok {
		return 0, fmt.Errorf("no instrument reads %s", quantity)
	}
	line, err := c.Ask(ctx, query)
	if err != nil {
		return 0, err
	}
	first, _, _ := strings.Cut(line, ",")
	x, err := strconv.ParseFloat(strings.TrimSpace(first), 64)
	if err != nil || math.IsNaN(x) || math.Abs(x) >= notNumber {
		if len(line) > 60 {
			line = line[:60] + "…"
		}
		return 0, fmt.Errorf("%w: %q", ErrGarbled, strings.ToValidUTF8(line, "?"))
	}
	return x, nil
}

// ReadAt opens an instrument, reads a quantity, and lets go; one that vanished just then is tried
// once more.
func ReadAt(ctx context.Context, hosts Hosts, address, quantity string) (x float64, err error) {
	for range 2 {
		var c *Conn
		if c, err = Dial(ctx, hosts, address); err != nil {
			return 0, err
		}
		x, err = c.Read(ctx, quantity)
		_ = c.Close() // nothing is under way
		if !errors.Is(err, ErrSilent) || ctx.Err() != nil {
			return x, err
		}
	}
	return x, err
}
