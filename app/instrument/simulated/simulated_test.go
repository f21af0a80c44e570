package simulated

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"math"
	"net"
	"os"
	"strconv"
	"strings"
	"testing"
	"time"

	"photherm/app/instrument"
	"photherm/core/bench"
	"photherm/core/design"
	"photherm/examples"
)

// on sets a bench up on the handlamp as it really is.
func on(t *testing.T, faults ...string) *Bench {
	t.Helper()
	data, err := examples.Files.ReadFile("shore-search-handlamp.json")
	if err != nil {
		t.Fatal(err)
	}
	light, err := design.Decode(data)
	if err != nil {
		t.Fatal(err)
	}
	ctx, cancel := context.WithCancel(context.Background())
	t.Cleanup(cancel)
	truth, err := bench.NewTruth(ctx, light, 0, 5, faults)
	if err != nil {
		t.Fatal(err)
	}
	b, err := New(ctx, truth, 5)
	if err != nil {
		t.Fatal(err)
	}
	return b
}

func (b *Bench) meter(t *testing.T, id string) *Meter {
	t.Helper()
	for _, m := range b.meters {
		if m.ID == id {
			return m
		}
	}
	t.Fatalf("no %s", id)
	return nil
}

// A plain TCP client finds the common commands, the queries in short and long form, and an error
// queue as SCPI-99 and IEEE 488.2 have them (from memory).
func TestLanguage(t *testing.T) {
	b := on(t)
	conn, err := net.Dial("tcp", b.meter(t, "multimeter-v").Address)
	if err != nil {
		t.Fatal(err)
	}
	defer conn.Close()
	r := bufio.NewReader(conn)
	ask := func(line string) string {
		t.Helper()
		fmt.Fprintf(conn, "%s\n", line)
		answer, err := r.ReadString('\n')
		if err != nil {
			t.Fatal(line, err)
		}
		return strings.TrimSpace(answer)
	}
	if got := ask("*IDN?"); strings.Count(got, ",") != 3 {
		t.Errorf("*IDN? %q", got)
	}
	for _, c := range [][2]string{
		{"SYST:ERR?", `0,"No error"`}, {"*RST;*OPC?", "1"}, {"MEAS:VOLT?", "9.91E37"},
		{"NONSENSE;SYST:ERR?", `-113,"Undefined header"`}, {"system:error:next?", `0,"No error"`},
		{"MEAS:CURR?;:SYST:ERR?", `9.91E37;-221,"Settings conflict"`}, {"*ESR?", "48"}, {"*ESR?", "0"},
		{"MEASU:VOLT?;SYST:ERR?", `-113,"Undefined header"`}, {"BAD;*CLS;SYST:ERR?", `0,"No error"`},
	} {
		if got := ask(c[0]); got != c[1] {
			t.Errorf("%s: %q, want %q", c[0], got, c[1])
		}
	}
	for range 30 {
		fmt.Fprintf(conn, "BAD\n")
	}
	last := ""
	for range 20 {
		last = ask("SYST:ERR?")
	}
	if last != `-350,"Queue overflow"` || ask("SYST:ERR?") != `0,"No error"` {
		t.Errorf("after thirty errors: %q", last)
	}
	for _, c := range [][2]string{{"ROUT:LEAD power", `-109,"Missing parameter"`}, {"ROUT:LEAD power,openV,later", `-224,"Illegal parameter value"`}, {`ROUTE:LEAD "power", "openV", COLD`, `0,"No error"`}} {
		if got := ask(c[0] + ";SYST:ERR?"); got != c[1] {
			t.Errorf("%s: %q, want %q", c[0], got, c[1])
		}
	}
	for _, q := range []string{"MEAS:VOLT?", ":measure:voltage:dc?"} {
		if x, err := strconv.ParseFloat(ask(q), 64); err != nil || math.Abs(x-16.76) > 0.4 || math.Abs(math.Round(x*100)-x*100) > 1e-6 {
			t.Errorf("%s: %g V, to the last digit of its range", q, x)
		}
	}
}

// The client reads what the stand-ins show, over the network; what is no figure, no instrument or
// not allowed is an error of its own.
func TestClient(t *testing.T) {
	ctx := context.Background()
	b := on(t, bench.FaultPot)
	b.Lead("multimeter-a", bench.Probe{Owner: "driver", Figure: "peakA", When: "cold", Charge: 1})
	m := b.meter(t, "multimeter-a")
	x, err := instrument.ReadAt(ctx, nil, m.Address, "current")
	if err != nil || x < 1 || x > 1.35 {
		t.Errorf("with the pot wrong %g A, %v", x, err)
	}
	if _, err := instrument.ReadAt(ctx, nil, m.Address, "voltage"); !errors.Is(err, instrument.ErrGarbled) {
		t.Errorf("volts of an ammeter: %v", err)
	}
	b.Lead("multimeter-a", bench.Probe{Owner: "nobody", Figure: "peakA", When: "cold"})
	if _, err := instrument.ReadAt(ctx, nil, m.Address, "current"); !errors.Is(err, instrument.ErrGarbled) {
		t.Errorf("leads in the air: %v", err)
	}
	if b.Lead("hammer", bench.Probe{}) {
		t.Error("a hammer has leads")
	}
	c, err := instrument.Dial(ctx, nil, m.Address)
	if err != nil {
		t.Fatal(err)
	}
	if err := c.Tell(ctx, "*CLS"); err != nil {
		t.Error(err)
	}
	b.Close()
	_ = c.Close()
	if _, err := instrument.ReadAt(ctx, nil, m.Address, "current"); !errors.Is(err, instrument.ErrSilent) {
		t.Errorf("vanished: %v", err)
	}
	// One that answers with rubbish, or without end.
	for what, answer := range map[string]string{"words": "hello there\n", "nothing": "\n", "nan": "NAN\n", "no end": strings.Repeat("9", 10000)} {
		l, err := net.Listen("tcp", "127.0.0.1:0")
		if err != nil {
			t.Fatal(err)
		}
		go func() {
			conn, err := l.Accept()
			if err == nil {
				_, _ = conn.Write([]byte(answer))
				_, _ = bufio.NewReader(conn).ReadString('\n')
				conn.Close()
			}
		}()
		if _, err := instrument.ReadAt(ctx, nil, l.Addr().String(), "voltage"); !errors.Is(err, instrument.ErrGarbled) {
			t.Errorf("%s: %v", what, err)
		}
		l.Close()
	}
	for address, may := range map[string]bool{"127.0.0.1:5025": true, "[::1]:5025": true, "192.0.2.7:5025": true, "meter.bench:5025": true, "198.51.100.1:5025": false, "127.0.0.1:22": false, "127.0.0.1": false, "localhost.evil:5025": false} {
		if got := instrument.Allowed("192.0.2.7, Meter.bench,").May(address); got != may {
			t.Errorf("%s: %v", address, got)
		}
	}
	if _, err := instrument.Dial(ctx, nil, "198.51.100.1:5025"); !errors.Is(err, instrument.ErrNotAllowed) {
		t.Errorf("%v", err)
	}
}

// Leads that stay where they are see the light warm up, at the pace of its clock; a fault that is
// put in starts it cold; an electronic load draws what it is told and sees the pack sag.
func TestLive(t *testing.T) {
	b := on(t)
	read := func(id, query string) (float64, bool) {
		t.Helper()
		conn, err := net.Dial("tcp", b.meter(t, id).Address)
		if err != nil {
			t.Fatal(err)
		}
		defer conn.Close()
		fmt.Fprintln(conn, query)
		line, err := bufio.NewReader(conn).ReadString('\n')
		if err != nil {
			t.Fatal(err)
		}
		x, err := strconv.ParseFloat(strings.TrimSpace(line), 64)
		if err != nil {
			t.Fatal(line, err)
		}
		return x, x < 1e30
	}
	if _, ok := read("thermocouple", "ROUT:LEAD housing,bodyC,LIVE;:MEAS:TEMP?"); ok {
		t.Error("it is not on yet")
	}
	b.SwitchOn(600)
	cold, ok := read("thermocouple", "MEAS:TEMP?")
	if !ok {
		t.Fatal("nothing is shown")
	}
	warm := cold
	for range 200 { // a second is ten minutes
		if warm, _ = read("thermocouple", "MEAS:TEMP?"); warm > cold+8 {
			break
		}
		time.Sleep(20 * time.Millisecond)
	}
	if warm < cold+8 {
		t.Errorf("from %g to %g °C", cold, warm)
	}
	asked := []string{}
	if err := b.Hide(func() (*bench.Truth, error) {
		asked = append(asked, "remade")
		return b.truth, nil
	}); err != nil || len(asked) != 1 {
		t.Fatal(asked, err)
	}
	if again, _ := read("thermocouple", "MEAS:TEMP?"); again > warm-5 {
		t.Errorf("%g °C, and %g °C after a fault was put in", warm, again)
	}
	if err := b.Hide(func() (*bench.Truth, error) { return nil, errors.New("no such fault") }); err == nil {
		t.Error("a fault it cannot have")
	}
	if _, ok := read(LoadMeter, "MEAS:VOLT?"); ok {
		t.Error("the load is off")
	}
	rest, _ := read("multimeter-v", "ROUT:LEAD power,openV;:MEAS:VOLT?")
	b.SwitchOn(1)
	light, ok := read(LoadMeter, "CURR 0.5;:MEAS:VOLT?")
	heavy, _ := read(LoadMeter, "SOUR:CURR 4;:MEAS:VOLT?")
	amps, _ := read(LoadMeter, "MEAS:CURR?")
	if !ok || light > rest+0.05 || heavy > light-0.1 || math.Abs(amps-4) > 0.1 {
		t.Errorf("%g V at rest, %g V at 0.5 A, %g V at %g A", rest, light, heavy, amps)
	}
	if b.load.amps != 4 {
		t.Errorf("it draws %g A", b.load.amps)
	}
	for _, c := range []string{"CURR 900", "CURR much"} {
		conn, err := net.Dial("tcp", b.meter(t, LoadMeter).Address)
		if err != nil {
			t.Fatal(err)
		}
		fmt.Fprintln(conn, c+";:SYST:ERR?")
		if line, _ := bufio.NewReader(conn).ReadString('\n'); strings.HasPrefix(line, "0,") {
			t.Errorf("%s: %s", c, line)
		}
		conn.Close()
	}
	if _, ok := read(LoadMeter, "INP OFF;:MEAS:VOLT?"); ok {
		t.Error("it is off again")
	}
	// Who holds the line sees the bench go.
	conn, err := net.Dial("tcp", b.meter(t, LoadMeter).Address)
	if err != nil {
		t.Fatal(err)
	}
	defer conn.Close()
	fmt.Fprintln(conn, "*OPC?")
	r := bufio.NewReader(conn)
	if _, err := r.ReadString('\n'); err != nil {
		t.Fatal(err)
	}
	b.Close()
	_ = conn.SetReadDeadline(time.Now().Add(5 * time.Second))
	if _, err := r.ReadString('\n'); err == nil || errors.Is(err, os.ErrDeadlineExceeded) {
		t.Errorf("the line is still open: %v", err)
	}
}
