package begin

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"
)

// How strip is cut: a length into so many, or the half of one.
var (
	cutInto = regexp.MustCompile(`(?i)^(.*?[\d.,]+\s*(?:mm|cm|m|ft|in|feet|foot|inch|inches|metres?|meters?)\b.*?)[\s,]+(?:(?:is\s+)?(?:cut|divided|split)\s+)?(?:in|into|by)\s+(half|halves|thirds|quarters|\d{1,2}|[a-z]+)(?:\s+(?:equal|even|same))?(?:\s*(?:pieces|parts|lengths|bits|sections))?\s*$`)
	halfOf  = regexp.MustCompile(`(?i)\bhalf\s+(?:of\s+)?(?:an?\s+|the\s+)?(?:roll|reel|strip)\s+(?:of\s+)?([\d.,]+)\s*(mm|cm|m|ft)\b`)
	oneLong = regexp.MustCompile(`(?i)([\d.,]+)\s*(mm|cm|m|ft|in|feet|foot|inch|inches|metres?|meters?)\b`)
)

// around tells strip that runs round a room, by its sides.
var around = regexp.MustCompile(`(?i)^.*\b(?:around|round|perimeter of)\b\D*([\d.,]+)\s*(?:m|cm|ft)?\s*(?:[×x*]|by)\s*([\d.,]+)\s*(m|cm|ft)\b.*$`)

// roundRoom writes the way round a room as one length: around 3 × 4 m is 14 m.
func roundRoom(line string) string {
	m := around.FindStringSubmatch(line)
	if m == nil {
		return line
	}
	return strconv.FormatFloat(2*(atof(m[1])+atof(m[2])), 'g', 6, 64) + " " + m[3]
}

var shares = map[string]int{"half": 2, "halves": 2, "thirds": 3, "quarters": 4}

// cut writes a length that is cut as what comes of it: 5 m in four is 4 × 1.25 m.
func cut(line string) string {
	line = halfOf.ReplaceAllStringFunc(line, func(s string) string {
		m := halfOf.FindStringSubmatch(s)
		return strconv.FormatFloat(atof(m[1])/2, 'g', 6, 64) + " " + m[2]
	})
	m := cutInto.FindStringSubmatch(line)
	if m == nil {
		return line
	}
	n := shares[strings.ToLower(m[2])]
	if n == 0 {
		n = howMany(m[2])
	}
	if n < 2 {
		return line
	}
	if n > mostPieces {
		return m[1] // more than a run may have: it stays whole
	}
	return oneLong.ReplaceAllStringFunc(m[1], func(s string) string {
		one := oneLong.FindStringSubmatch(s)
		return fmt.Sprintf("%d × %s %s", n, strconv.FormatFloat(atof(one[1])/float64(n), 'g', 6, 64), one[2])
	})
}
