package main

import (
	"bufio"
	"fmt"
	"net"
	"os/exec"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"
)

// Stand-ins alone are read by any program that speaks their protocol: from the warmth of the room on
// a light heats up, at its pace.
func TestInstrumentsAlone(t *testing.T) {
	if _, problems, code := call("instruments", "../../examples/shore-search-handlamp.json", "--pace", "0"); code == 0 || !strings.Contains(problems, "--pace can be 1 to 600") {
		t.Errorf("exit %d, %s", code, problems)
	}
	c := exec.Command(binary, "instruments", "../../examples/shore-search-handlamp.json", "--pace", "600")
	out, err := c.StdoutPipe()
	if err != nil {
		t.Fatal(err)
	}
	if err := c.Start(); err != nil {
		t.Fatal(err)
	}
	defer func() { _ = c.Process.Kill(); _ = c.Wait() }()
	address := ""
	lines := bufio.NewScanner(out)
	for address == "" && lines.Scan() {
		if m := regexp.MustCompile(`^temperature\s+(\S+:\d+)`).FindStringSubmatch(lines.Text()); m != nil {
			address = m[1]
		}
	}
	conn, err := net.DialTimeout("tcp", address, 10*time.Second)
	if err != nil {
		t.Fatal(err)
	}
	defer conn.Close()
	answers := bufio.NewReader(conn)
	fmt.Fprint(conn, "ROUTE:LEAD housing,bodyC,LIVE\n")
	read := func() float64 {
		t.Helper()
		if err := conn.SetDeadline(time.Now().Add(time.Minute)); err != nil {
			t.Fatal(err)
		}
		fmt.Fprint(conn, "MEAS:TEMP?\n")
		line, err := answers.ReadString('\n')
		if err != nil {
			t.Fatal(err)
		}
		x, err := strconv.ParseFloat(strings.TrimSpace(line), 64)
		if err != nil {
			t.Fatal(err)
		}
		return x
	}
	for deadline := time.Now().Add(time.Minute); ; time.Sleep(200 * time.Millisecond) {
		if x := read(); x > 40 && x < 70 {
			break
		} else if x < 5 || x > 70 || time.Now().After(deadline) {
			t.Fatalf("it reads %g °C", x)
		}
	}
}
