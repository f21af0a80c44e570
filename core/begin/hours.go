package begin

import (
	"fmt"
	"math"
	"regexp"
	"strings"

	"photherm/core/units"
)

// photoperiod is hours lit and dark, 18/6, or hours alone.
var photoperiod = regexp.MustCompile(`^\s*([\d.,]+)\s*(?:[/:]\s*[\d.,]+)?\s*$`)

var (
	onHours   = regexp.MustCompile(`(?i)\b([\d.,]+)\s*(?:h|hours?)?\s*on\b.*`)
	clocked   = regexp.MustCompile(`(?i)\b(from\s+)?(\d{1,2})(?::(\d\d))?\s*(am|pm|h)?\s*(?:to|-|–|until|till)\s*(\d{1,2})(?::(\d\d))?\s*(am|pm|h)?`)
	nightLong = regexp.MustCompile(`(?i)\b(?:all|whole|the|every|each)\s+night\b|\bovernight\b|\b(?:dusk|sunset|dark)\s*(?:to|till?|until|-|–)\s*(?:dawn|sunrise|light)\b`)
	aDay      = regexp.MustCompile(`(?i)\s*(?:/\s*|\ba\s+|\bper\s+|\beach\s+)(?:day|night)\b`)
)

// hoursOf writes hours a day as such: 18/6, 14 on 10 off, from 6 to 20, 6 am to 8 pm.
func hoursOf(line string) string {
	if m := photoperiod.FindStringSubmatch(line); m != nil {
		return m[1] + " h"
	}
	if strings.Contains(strings.ToLower(line), "half a day") {
		return "12 h"
	}
	if m := onHours.FindStringSubmatch(line); m != nil {
		return m[1] + " h"
	}
	if m := clocked.FindStringSubmatch(line); m != nil && (m[1] != "" || m[3] != "" || m[4] != "" && m[4] != "h" || m[7] != "" && m[7] != "h") {
		if atof(m[2]) < atof(m[5]) && atof(m[5]) < 12 && m[4] == "" {
			m[4] = m[7] // 6 to 11 pm is in one half of the day
		}
		lit := math.Mod(clock(m[5], m[6], m[7])-clock(m[2], m[3], m[4])+24, 24)
		return fmt.Sprintf("%g h", lit)
	}
	if nightLong.MatchString(line) && !anyFigure.MatchString(line) {
		return "12 h" // a night is half a day, over the year
	}
	return aDay.ReplaceAllString(line, "")
}

// clock is a time of day, h.
func clock(hour, minute, half string) float64 {
	h := atof(hour) + atof(minute)/60
	switch half = strings.ToLower(half); {
	case half == "pm" && h < 12:
		return h + 12
	case half == "am" && h >= 12:
		return h - 12
	}
	return h
}

func (b *builder) hours() {
	s := b.read("hours", hoursOf(b.facts.Hours))
	if h := s.figure("duration"); h != nil && *h <= 24*3600 {
		b.light.Brief.HoursADay = ptr(*h / 3600)
		b.understood("hours", "lit %s a day", units.Duration(*h))
	} else if h != nil {
		b.remark("hours", "A day has 24 hours.")
	}
}
