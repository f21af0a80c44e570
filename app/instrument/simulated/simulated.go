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
	meters []*Meter
	end    context.CancelFunc

	mu     sync.Mutex // guards what follows: a truth solves one thing at a time
	truth  *bench.Truth
	random *rand.Rand
	clock  clock
	load   load
	read   time.Time // when something was read last
}

// A Meter is one stand-in.
type Meter struct {
	ID       string
	Name     string
	Quantity string
	Address  string

	bench *Bench
	tool  *reading.Tool
	loads bool    // it is an electronic load
	gain  float64 // what it is off by for good, of 1
	off   float64 // and beside that, SI

	listener net.Listener
	mu       sync.Mutex
	at       *bench.Probe // where its leads are; nil: nowhere
}

// kinds are the instruments of a stand-in bench, each the tool it is.
var kinds = []struct{ id, tool, name string }{
	{"multimeter-v", "multimeter-v", "Stand-in multimeter, volts"}, {"multimeter-a", "multimeter-a", "Stand-in multimeter, amperes"}, {"wall-meter", "wall-meter", "Stand-in wall meter"},
	{"thermocouple", "thermocouple", "Stand-in thermometer"}, {"thermocouple-2", "thermocouple", "Stand-in thermometer, second"},
	{"luxmeter-twice", "luxmeter-twice", "Stand-in light meter, twice"}, {"luxmeter", "luxmeter", "Stand-in lux meter"}, {"quantum", "quantum", "Stand-in quantum sensor"},
	{LoadMeter, "multimeter-v", "Stand-in electronic load"},
}

// New sets instruments up on a light as it really is; they listen on loopback until the context
// ends.
func New(ctx context.Context, truth *bench.Truth, seed uint64) (*Bench, error) {
	ctx, end := context.WithCancel(ctx)
	b := &Bench{truth: truth, random: rand.New(rand.NewPCG(seed, 0x51a2b3c4)), end: end, read: time.Now()}
	for _, k := range kinds {
		tool := reading.ByID(k.tool)
		// Of what it may be off by half is for good, as a calibration would show.
		m := &Meter{ID: k.id, Name: k.name, Quantity: tool.Quantity, bench: b, tool: tool, gain: 0.25 * tool.Within(1) * b.random.NormFloat64()}
		if m.loads = k.id == LoadMeter; m.loads {
			m.Quantity = LoadQuantity
		}
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
		go m.serve(ctx)
	}
	context.AfterFunc(ctx, b.Close)
	return b, nil
}

// Close takes the instruments away.
func (b *Bench) Close() {
	b.end()
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

// show is what the display reads of a quantity.
func (m *Meter) show(quantity string) string {
	m.mu.Lock()
	at := m.at
	m.mu.Unlock()
	b := m.bench
	b.mu.Lock()
	defer b.mu.Unlock()
	b.read = time.Now()
	var x float64
	ok := false
	switch {
	case m.loads:
		x, ok = b.load.at(&b.clock, quantity)
	case at == nil:
	case at.When == bench.WhenLive:
		if s, on := b.clock.gone(); on {
			x, ok = b.truth.Later(*at, s)
		}
	case m.Quantity == "current":
		x, ok = b.truth.Metered(*at)
	default:
		x, ok = b.truth.At(*at)
	}
	if !ok {
		return overload
	}
	tool := m.tool
	if m.loads && quantity == "current" {
		tool = reading.ByID("multimeter-a")
	}
	x = x*(1+m.gain) + m.off + 0.15*tool.Within(x)*b.random.NormFloat64()
	if step := tool.Step(x); step > 0 {
		x = math.Round(x/step) * step
	}
	return strconv.FormatFloat(x, 'E', 6, 64)
}

// idleWithin is how long an instrument keeps somebody who says nothing.
const idleWithin = 2 * time.Minute

func (m *Meter) serve(ctx context.Context) {
	for {
		conn, err := m.listener.Accept()
		if err != nil {
			return
		}
		go m.talk(ctx, conn)
	}
}

func (m *Meter) talk(ctx context.Context, conn net.Conn) {
	defer conn.Close()
	defer context.AfterFunc(ctx, func() { _ = conn.Close() })() // who holds the line sees it go
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
// number of seconds after switch-on, REST, or LIVE for as time goes by.
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
		case "LIVE":
			at.When = bench.WhenLive
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
	if s.meter.loads && s.setLoad(name, rest) {
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
		if quantities[0] != s.meter.Quantity && !(s.meter.loads && (quantities[0] == "voltage" || quantities[0] == "current")) {
			s.fail(-221, "Settings conflict")
			return overload, true
		}
		return s.meter.show(quantities[0]), true
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
