package exchange

import (
	"bufio"
	"bytes"
	"fmt"
	"io"
	"math"
	"strconv"
	"strings"

	"photherm/core/design"
)

// A Photometric is what a photometric file holds: ANSI/IES LM-63-2002, or 2019 (memory), type C.
type Photometric struct {
	Table   *design.IntensityTable `json:"table"`
	Lumens  *float64               `json:"lumens" doc:"Of all lamps, as the file states it; null: measured absolutely"`
	InputW  float64                `json:"inputW"`
	WidthM  float64                `json:"widthM" doc:"Of the luminous opening; 0: a point"`
	LengthM float64                `json:"lengthM"`
	Words   []string               `json:"keywords" nullable:"false" doc:"Its labels, as [KEY] text"`
}

// A PhotometricError names the line of a photometric file that cannot be read.
type PhotometricError struct {
	Line int
	Why  string
}

func (e *PhotometricError) Error() string { return fmt.Sprintf("line %d: %s", e.Line, e.Why) }

// Limits of what is read (chosen: a table of half a degree both ways is within them).
const (
	mostAngles  = 721
	mostCandela = 1e9
	metresAFoot = 0.3048
	typeC       = 1
)

// figures reads numbers off the lines that are left, parted by blanks or commas.
type figures struct {
	lines []string
	at    int // line, from 0
	words []string
}

func (f *figures) fail(format string, a ...any) error {
	return &PhotometricError{f.at, fmt.Sprintf(format, a...)}
}

func (f *figures) next(what string) (float64, error) {
	for len(f.words) == 0 {
		if f.at >= len(f.lines) {
			return 0, f.fail("the file ends where %s should stand", what)
		}
		f.words = strings.FieldsFunc(f.lines[f.at], func(r rune) bool { return r == ' ' || r == '\t' || r == ',' || r == '\r' })
		f.at++
	}
	word := f.words[0]
	f.words = f.words[1:]
	x, err := strconv.ParseFloat(word, 64)
	if err != nil || math.IsNaN(x) || math.IsInf(x, 0) {
		return 0, f.fail("%q is no number, where %s should stand", word, what)
	}
	return x, nil
}

func (f *figures) whole(what string, most int) (int, error) {
	x, err := f.next(what)
	if err != nil {
		return 0, err
	}
	if x != math.Trunc(x) || x < 1 || x > float64(most) {
		return 0, f.fail("%s is %g: a whole number from 1 to %d", what, x, most)
	}
	return int(x), nil
}

func (f *figures) row(what string, n int) ([]float64, error) {
	out := make([]float64, n)
	for i := range out {
		x, err := f.next(fmt.Sprintf("%s %d of %d", what, i+1, n))
		if err != nil {
			return nil, err
		}
		out[i] = x
	}
	return out, nil
}

// ReadPhotometric reads a photometric file. The error is a *PhotometricError for what stands
// wrong in it.
func ReadPhotometric(text string) (*Photometric, error) {
	f := &figures{lines: strings.Split(strings.TrimPrefix(text, "\ufeff"), "\n")}
	out := &Photometric{Words: []string{}}
	tilt := ""
	for f.at < len(f.lines) && tilt == "" {
		line := strings.TrimSpace(f.lines[f.at])
		f.at++
		switch {
		case f.at == 1 && !strings.HasPrefix(line, "IES"):
			return nil, f.fail("it does not begin with IES…: this is no photometric file after LM-63")
		case strings.HasPrefix(strings.ToUpper(line), "TILT="):
			tilt = strings.ToUpper(strings.TrimSpace(line[len("TILT="):]))
		case strings.HasPrefix(line, "[") && len(out.Words) < 100:
			out.Words = append(out.Words, line[:min(len(line), 256)])
		}
	}
	switch tilt {
	case "":
		return nil, f.fail("there is no TILT= line")
	case "NONE":
	case "INCLUDE":
		if _, err := f.next("how the lamp lies"); err != nil {
			return nil, err
		}
		n, err := f.whole("the number of tilt angles", 400)
		if err != nil {
			return nil, err
		}
		if _, err := f.row("tilt figure", 2*n); err != nil {
			return nil, err
		}
	default:
		return nil, f.fail("TILT=%s names another file, which is not here", tilt)
	}
	f.words = nil // the next figure begins a line
	head, err := f.row("one of the ten figures after TILT", 3)
	if err != nil {
		return nil, err
	}
	nv, err := f.whole("the number of vertical angles", mostAngles)
	if err != nil {
		return nil, err
	}
	nh, err := f.whole("the number of horizontal angles", mostAngles)
	if err != nil {
		return nil, err
	}
	rest, err := f.row("one of the ten figures after TILT", 5)
	if err != nil {
		return nil, err
	}
	if rest[0] != typeC {
		return nil, f.fail("it is of photometric type %g: only type C, 1, is read", rest[0])
	}
	unit := 1.0
	if rest[1] == 1 {
		unit = metresAFoot
	}
	out.WidthM, out.LengthM = math.Abs(rest[2])*unit, math.Abs(rest[3])*unit
	factors, err := f.row("one of ballast factor, its companion and input watts", 3)
	if err != nil {
		return nil, err
	}
	out.InputW = factors[2]
	if head[1] >= 0 {
		out.Lumens = new(head[0] * head[1])
	}
	times := head[2] * factors[0]
	if !(times > 0) || times > mostCandela {
		return nil, f.fail("the multipliers make %g of each candela", times)
	}
	t := &design.IntensityTable{}
	if t.VerticalDeg, err = f.row("vertical angle", nv); err != nil {
		return nil, err
	}
	if t.HorizontalDeg, err = f.row("horizontal angle", nh); err != nil {
		return nil, err
	}
	for range nh {
		row, err := f.row("candela", nv)
		if err != nil {
			return nil, err
		}
		for i := range row {
			if row[i] < 0 || row[i]*times > mostCandela {
				return nil, f.fail("a candela of %g cannot be", row[i])
			}
			row[i] *= times
		}
		t.Candela = append(t.Candela, row)
	}
	upwards(t)
	sideways(t)
	if err := t.Fault(); err != nil {
		return nil, f.fail("%v", err)
	}
	for _, word := range out.Words {
		if name, ok := strings.CutPrefix(word, "[LUMINAIRE]"); ok {
			t.Name = strings.TrimSpace(name)
		}
	}
	out.Table = t
	return out, nil
}

// upwards completes a table that only tells of light above the level: below there is none.
func upwards(t *design.IntensityTable) {
	if len(t.VerticalDeg) == 0 || t.VerticalDeg[0] != 90 {
		return
	}
	t.VerticalDeg = append([]float64{0, 90 - 1e-6}, t.VerticalDeg...)
	for i := range t.Candela {
		t.Candela[i] = append([]float64{0, 0}, t.Candela[i]...)
	}
}

// sideways turns a table of 90 to 270°, which is the same on both sides of the plane through
// those, into one all round.
func sideways(t *design.IntensityTable) {
	n := len(t.HorizontalDeg)
	if n < 2 || t.HorizontalDeg[0] != 90 || t.HorizontalDeg[n-1] != 270 {
		return
	}
	var deg []float64
	var cd [][]float64
	add := func(h float64, row []float64) {
		if k := len(deg); k == 0 || h > deg[k-1] {
			deg, cd = append(deg, h), append(cd, row)
		}
	}
	for i := n - 1; i >= 0; i-- { // 180 … 90 lie mirrored at 0 … 90
		if h := t.HorizontalDeg[i]; h <= 180 {
			add(180-h, t.Candela[i])
		}
	}
	if len(deg) > 0 && deg[0] != 0 {
		return // there is none at 180: the table is broken, and is told so
	}
	for i := range n {
		add(t.HorizontalDeg[i], t.Candela[i])
	}
	for i := n - 1; i >= 0; i-- {
		if h := t.HorizontalDeg[i]; h >= 180 {
			add(540-h, t.Candela[i])
		}
	}
	t.HorizontalDeg, t.Candela = deg, cd
}

// WritePhotometric writes a light as ANSI/IES LM-63-2002, absolute, type C, metres.
func WritePhotometric(w io.Writer, p *Photometric, name string) error {
	var b bytes.Buffer
	line := func(format string, a ...any) { fmt.Fprintf(&b, format+"\r\n", a...) }
	plain := strings.Map(func(r rune) rune {
		if r < 32 || r > 126 {
			return '?'
		}
		return r
	}, name)
	line("IESNA:LM-63-2002")
	line("[TEST] calculated, not measured")
	line("[LUMINAIRE] %s", plain[:min(len(plain), 200)])
	for _, word := range p.Words {
		line("%s", word)
	}
	line("TILT=NONE")
	t := p.Table
	line("1 -1 1 %d %d 1 2 %.4g %.4g 0", len(t.VerticalDeg), len(t.HorizontalDeg), p.WidthM, p.LengthM)
	line("1 1 %.4g", p.InputW)
	row := func(list []float64) {
		out := bufio.NewWriter(&b)
		for i, x := range list {
			switch {
			case i > 0 && i%12 == 0: // lines stay short: 132 characters at most in older readers
				_, _ = out.WriteString("\r\n")
			case i > 0:
				_ = out.WriteByte(' ')
			}
			_, _ = out.WriteString(strconv.FormatFloat(x, 'g', 7, 64))
		}
		_, _ = out.WriteString("\r\n")
		_ = out.Flush()
	}
	row(t.VerticalDeg)
	row(t.HorizontalDeg)
	for _, cd := range t.Candela {
		row(cd)
	}
	if _, err := w.Write(b.Bytes()); err != nil {
		return fmt.Errorf("writing a photometric file: %w", err)
	}
	return nil
}
