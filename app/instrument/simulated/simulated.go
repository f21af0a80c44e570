// Package simulated has stand-ins for instruments: they speak the same language over loopback as
// real ones, and read a light that is solved with hidden figures, through meters that are off, have
// counts and noise. With them a whole bring-up can be practised.
package simulated

import (
	"bufio"
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"net"
	"strconv"
	"strings"
	"sync"
	"time"

	"photherm/core/bench"
	"photherm/core/reading"
)

// A Bench is a light with instruments on it.
type Bench struct {
	truth  *bench.Truth
	meters []*Meter

	mu     sync.Mutex // guards the truth, which solves one thing at a time, and the noise
	random *rand.Rand
}

// A Meter is one stand-in.
type Meter struct {
	ID       string
	Name     string
	Quantity string
	Address  string

	bench *Bench
	tool  *reading.Tool
	gain  float64 // what it is off by for good, of 1
	off   float64 // and beside that, SI

	listener net.Listener
	mu       sync.Mutex
	at       *bench.Probe // where its leads are; nil: nowhere
}

// kinds are the instruments of a stand-in bench, each the tool it is.
var kinds = []struct{ tool, name string }{
	{"multimeter-v", "Stand-in multimeter, volts"}, {"multimeter-a", "Stand-in multimeter, amperes"}, {"wall-meter", "Stand-in wall meter"}, {"thermocouple", "Stand-in thermometer"}, {"luxmeter-twice", "Stand-in light meter, twice"}, {"luxmeter", "Stand-in lux meter"}, {"quantum", "Stand-in quantum sensor"},
}

// New sets instruments up on a light as it really is; they listen on loopback until the context
// ends.
func New(ctx context.Context, truth *bench.Truth, seed uint64) (*Bench, error) {
	b := &Bench{truth: truth, random: rand.New(rand.NewPCG(seed, 0x51a2b3c4))}
	for _, k := range kinds {
		tool := reading.ByID(k.tool)
		// Of what it may be off by half is for good, as a calibration would show.
		m := &Meter{ID: tool.ID, Name: k.name, Quantity: tool.Quantity, bench: b, tool: tool, gain: 0.25 * tool.Within(1) * b.random.NormFloat64()}
		if tool.Quantity == "temperature" {
			m.gain, m.off = 0, 0.25*tool.Within(30)*b.random.NormFloat64()
		}
		listener, err := net.Listen("tcp", "127.0.0.1:0")
		if err != nil {
			b.Close()
			return nil, fmt.Errorf("setting up %s: %w", k.name, err)
		}
		m.listener, m.Address = listener, listener.Addr().String()
		b.meters = append(b.meters, m)
		go m.serve()
	}
	context.AfterFunc(ctx, b.Close)
	return b, nil
}

// Close takes the instruments away.
func (b *Bench) Close() {
	for _, m := range b.meters {
		_ = m.listener.Close() // who waits there is let go
	}
}

// Meters are the instruments.
func (b *Bench) Meters() []*Meter { return b.meters }

// Lead puts the leads of an instrument somewhere; it tells whether there is one.
func (b *Bench) Lead(id string, at bench.Probe) bool {
	for _, m := range b.meters {
		if m.ID == id {
			m.mu.Lock()
			m.at = &at
			m.mu.Unlock()
			return true
		}
	}
	return false
}

// overload is what SCPI-99 has for a figure that is not there.
const overload = "9.91E37"

// show is what the display reads.
func (m *Meter) show() string {
	m.mu.Lock()
	at := m.at
	m.mu.Unlock()
	if at == nil {
		return overload
	}
	m.bench.mu.Lock()
	defer m.bench.mu.Unlock()
	x, ok := m.bench.truth.At(*at)
	if !ok {
		return overload
	}
	noise := 0.15 * m.tool.Within(x) * m.bench.random.NormFloat64()
	x = x*(1+m.gain) + m.off + noise
	if step := m.tool.Step(x); step > 0 {
		x = math.Round(x/step) * step
	}
	return strconv.FormatFloat(x, 'E', 6, 64)
}

// idleWithin is how long an instrument keeps somebody who says nothing.
const idleWithin = 2 * time.Minute

func (m *Meter) serve() {
	for {
		conn, err := m.listener.Accept()
		if err != nil {
			return
		}
		go m.talk(conn)
	}
}

func (m *Meter) talk(conn net.Conn) {
	defer conn.Close()
	s := &session{meter: m}
	r := bufio.NewReaderSize(conn, 1024)
	for {
		if conn.SetDeadline(time.Now().Add(idleWithin)) != nil {
			return
		}
		line, err := r.ReadSlice('\n')
		if err != nil {
			return
		}
		if answer := s.line(strings.TrimSpace(string(line))); answer != "" {
			if _, err := conn.Write([]byte(answer + "\n")); err != nil {
				return
			}
		}
	}
}

// A session is one conversation: its error queue and its status (IEEE 488.2; SCPI-99, volume 1,
// 21.8, from memory).
type session struct {
	meter  *Meter
	errors []string
	status int
}

// queueRoom is how many errors are kept; the last one then says that there were more.
const queueRoom = 20

func (s *session) fail(code int, text string) {
	if code <= -100 && code > -200 {
		s.status |= 1 << 5 // command error
	} else {
		s.status |= 1 << 4 // execution error
	}
	if len(s.errors) == queueRoom {
		s.errors[queueRoom-1] = `-350,"Queue overflow"`
		return
	}
	s.errors = append(s.errors, fmt.Sprintf("%d,%q", code, text))
}

// line carries out what a line says; commands are parted by semicolons, and so are answers.
func (s *session) line(line string) string {
	var answers []string
	for command := range strings.SplitSeq(line, ";") {
		if command = strings.TrimSpace(command); command == "" {
			continue
		}
		if a, ok := s.one(strings.TrimPrefix(command, ":")); ok {
			answers = append(answers, a)
		}
	}
	return strings.Join(answers, ";")
}

// reads are the queries of each quantity, in their long form.
var reads = map[string][]string{
	"MEASURE:VOLTAGE": {"voltage"}, "MEASURE:CURRENT": {"current"}, "MEASURE:POWER": {"power"}, "MEASURE:TEMPERATURE": {"temperature"}, "MEASURE:ILLUMINANCE:RELATIVE": {"light"}, "MEASURE:ILLUMINANCE": {"illuminance"}, "MEASURE:PPFD": {"ppfd"},
}

// lead puts the leads where a command says: an owner and its figure, and when: nothing or COLD, a
// number of seconds after switch-on, or REST.
func (s *session) lead(where string) {
	words := strings.Split(where, ",")
	for i := range words {
		words[i] = strings.Trim(strings.TrimSpace(words[i]), `"'`)
	}
	if len(words) < 2 || words[0] == "" || words[1] == "" {
		s.fail(-109, "Missing parameter")
		return
	}
	at := bench.Probe{Owner: words[0], Figure: words[1], When: "cold", Charge: 1}
	if len(words) > 2 {
		switch w := strings.ToUpper(words[2]); w {
		case "COLD":
		case "REST":
			at.When = "rest"
		default:
			x, err := strconv.ParseFloat(w, 64)
			if err != nil || !(x >= 0 && x <= 86400) {
				s.fail(-224, "Illegal parameter value")
				return
			}
			at.When, at.S = "after", x
		}
	}
	s.meter.mu.Lock()
	s.meter.at = &at
	s.meter.mu.Unlock()
}

func (s *session) one(command string) (answer string, ok bool) {
	name, rest, _ := strings.Cut(command, " ")
	if isShort(name, "ROUTE:LEAD") {
		s.lead(rest)
		return "", false
	}
	switch strings.ToUpper(name) {
	case "*IDN?":
		return "PHOTHERM,STAND-IN " + strings.ToUpper(s.meter.ID) + ",0,1", true
	case "*RST":
		s.meter.mu.Lock()
		s.meter.at = nil
		s.meter.mu.Unlock()
		return "", false
	case "*CLS":
		s.errors, s.status = nil, 0
		return "", false
	case "*OPC?":
		return "1", true
	case "*ESR?":
		was := s.status
		s.status = 0
		return strconv.Itoa(was), true
	}
	if isShort(name, "SYSTEM:ERROR?") || isShort(name, "SYSTEM:ERROR:NEXT?") {
		if len(s.errors) == 0 {
			return `0,"No error"`, true
		}
		first := s.errors[0]
		s.errors = s.errors[1:]
		return first, true
	}
	for query, quantities := range reads {
		if !isShort(name, query+"?") && !isShort(name, query+":DC?") {
			continue
		}
		if quantities[0] != s.meter.Quantity {
			s.fail(-221, "Settings conflict")
			return overload, true
		}
		return s.meter.show(), true
	}
	s.fail(-113, "Undefined header")
	return "", false
}

// isShort tells that a header is another's in its short or long form: each word as its first four
// letters, three where the fourth is a vowel, or whole.
func isShort(header, long string) bool {
	words, whole := strings.Split(strings.ToUpper(header), ":"), strings.Split(long, ":")
	if len(words) != len(whole) {
		return false
	}
	for i, w := range words {
		full, query := strings.CutSuffix(whole[i], "?")
		if query != strings.HasSuffix(w, "?") {
			return false
		}
		w = strings.TrimSuffix(w, "?")
		short := full
		if len(full) > 4 {
			short = full[:4]
			if strings.ContainsRune("AEIOU", rune(full[3])) {
				short = full[:3]
			}
		}
		if w != full && w != short {
			return false
		}
	}
	return true
}
