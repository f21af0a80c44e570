// Package begin makes a light out of the few facts a person has at hand: what feeds it,
// what a label says, a row of readings. What is not said it assumes, a typical part or
// figure of its kind, and lists every such assumption in the variant with its reason.
// Typical figures are common practice, from memory, unless another source is named.
package begin

import (
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"photherm/core/units"
)

// A span is a quantity as said: one figure, or from one to another.
type span struct{ low, high float64 }

func (s span) mid() float64 { return (s.low + s.high) / 2 }

// said is what a line of words comes to.
type said struct {
	figures  map[string][]span // by quantity, in its base unit, in the order they were said
	count    int               // "4 ×", "four cells"; 0: not said
	series   int               // "4S2P", "in series"; -1: all of them
	parallel int               // -1: all of them
	size     string            // 18650, AA
	words    []string          // what is left, in small letters
	unread   []string          // figures of no unit known
	counted  bool              // "4 ×": the number tells itself that it counts
	others   bool              // more than one number does
	heard    map[string]bool   // words that something asked for
	taken    map[string]int    // by quantity, how many of its figures something asked for
}

// has tells whether one of some words was said, each in full or, of four letters and more, as a
// beginning. Those that were are heard.
func (s *said) has(words ...string) (found bool) {
	for _, w := range words {
		if strings.Contains(w, " ") {
			if strings.Contains(strings.Join(s.words, " "), w) {
				found = true
				for _, one := range strings.Fields(w) {
					s.heard[one] = true
				}
			}
			continue
		}
		for _, x := range s.words {
			if x == w || len(w) > 3 && strings.HasPrefix(x, w) {
				found = true
				s.heard[x] = true
			}
		}
	}
	return found
}

// all are the figures of a quantity, in the order they were said.
func (s *said) all(quantity string) []span {
	s.taken[quantity] = len(s.figures[quantity])
	return s.figures[quantity]
}

// first is the first figure of a quantity.
func (s *said) first(quantity string) (span, bool) {
	if list := s.figures[quantity]; len(list) > 0 {
		s.taken[quantity] = max(s.taken[quantity], 1)
		return list[0], true
	}
	return span{}, false
}

// figure is the middle of the first figure of a quantity; nil if none was said.
func (s *said) figure(quantity string) *float64 {
	if x, ok := s.first(quantity); ok {
		m := x.mid()
		return &m
	}
	return nil
}

// bare tells whether at most a number and a wiring was said: what is meant is picked.
func (s *said) bare() bool { return len(s.figures) == 0 && s.size == "" && len(s.words) == 0 }

// empty tells whether nothing was said.
func (s *said) empty() bool {
	return len(s.figures) == 0 && s.count == 0 && s.size == "" && len(s.words) == 0 && s.series == 0 && s.parallel == 0
}

// read are the quantities a line may hold; of one spelling the first quantity wins.
var read = []string{"voltage", "current", "power", "charge", "luminousFlux", "efficacy", "powerPerLength", "fluxPerLength", "length", "area", "mass", "thermalResistance", "resistance", "duration", "fraction"}

var spelt = map[string]string{"volts": "V", "volt": "V", "amps": "A", "amp": "A", "ampere": "A", "amperes": "A", "watts": "W", "watt": "W", "lumens": "lm", "lumen": "lm",
	"metres": "m", "metre": "m", "meters": "m", "meter": "m", "inch": "in", "inches": "in", "foot": "ft", "feet": "ft", "pound": "lb", "pounds": "lb", "hours": "h", "hour": "h", "percent": "%", "milliamps": "mA", "ohms": "Ω", "grams": "g", "gram": "g", "kilo": "kg", "kilos": "kg", "kilogram": "kg", "kilograms": "kg"}

// unitOf finds the quantity of a unit, spelt exactly, else in any letters.
func unitOf(symbol string) (quantity string, unit units.Unit, ok bool) {
	if full, known := spelt[strings.ToLower(symbol)]; known {
		symbol = full
	}
	// Spelt exactly in any quantity goes before spelt nearly in another.
	for _, exactly := range []bool{true, false} {
		for _, name := range read {
			if u, found := units.Find(name, symbol); found && u.Symbol != "" && u.Symbol != "C" && (u.Symbol == symbol || !exactly) {
				return name, u, true
			}
		}
	}
	return "", units.Unit{}, false
}

var numbers = map[string]int{"one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7, "eight": 8, "nine": 9, "ten": 10, "eleven": 11, "twelve": 12,
	"thirteen": 13, "fourteen": 14, "fifteen": 15, "sixteen": 16, "eighteen": 18, "twenty": 20, "single": 1, "double": 2, "dual": 2, "twin": 2, "triple": 3, "quad": 4, "once": 1, "twice": 2, "thrice": 3}

// heaps are numbers that another may stand before: two dozen, three pairs.
var heaps = map[string]int{"pair": 2, "pairs": 2, "couple": 2, "dozen": 12, "dozens": 12}

var sizes = []string{"10440", "14500", "16340", "18350", "18500", "18650", "20700", "21700", "26650", "32700", "AAA", "AA", "C", "D"}

// designated are cells whose size is letters and digits, however they are written: those that
// cameras use, and round ones like coins and buttons (IEC 60086).
var designated = []struct {
	as   *regexp.Regexp
	size string
}{
	{regexp.MustCompile(`(?i)\bcr-?123a?\b`), "CR123A"}, {regexp.MustCompile(`(?i)\bcr-?2\b`), "CR2"},
	{regexp.MustCompile(`(?i)\b(?:cr|br)-?2016\b`), "CR2016"}, {regexp.MustCompile(`(?i)\b(?:cr|br)-?2025\b`), "CR2025"},
	{regexp.MustCompile(`(?i)\b(?:cr|br)-?2032\b|\b(?:coin|button)[ -]cells?\b`), "CR2032"}, {regexp.MustCompile(`(?i)\b(?:cr|br)-?2450\b`), "CR2450"},
	{regexp.MustCompile(`(?i)\b(?:lr-?44|sr-?44|ag-?13)\b`), "LR44"},
}

// packages are emitters whose name is their size in tenths of a millimetre, and the current that
// they are mostly made for, A (common practice; of small ones there are stronger sorts).
var packages = map[string]float64{"1616": 0.35, "2016": 0.15, "2835": 0.06, "3014": 0.03, "3020": 0.03, "3030": 0.15, "3528": 0.02, "3535": 0.35, "4014": 0.06, "5050": 0.06, "5060": 0.06, "5630": 0.15, "5730": 0.15, "7020": 0.15, "7030": 0.15, "7070": 0.7}

// mostCount is above what a bare number is no count but a name, of a package or a part.
const mostCount = 500

// leastName is from what a number among words counts only what is named behind it (chosen): people
// count hundreds of LEDs, and call parts by three digits.
const leastName = 100

const factor = `([\d.,]+)\s*[×xX*]\s*`

var (
	product2 = regexp.MustCompile(factor + `([\d.,]+)\s*(mm|cm|m|ft|in|inch|inches|feet|foot)\b`)
	product3 = regexp.MustCompile(factor + factor + `([\d.,]+)\s*(mm|cm|m|ft|in|inch|inches|feet|foot)\b`)
	by       = regexp.MustCompile(`(?i)([\d.,]\s*(?:mm|cm|m|ft|in|inch|inches|feet|foot)?)\s+by\s+([\d.,])`)
)

// measures reads lengths that are said as a product with one unit: 1.2 × 0.6 m, 60 by 30 cm.
func measures(line string) string {
	line = by.ReplaceAllString(line, "$1 × $2")
	line = product3.ReplaceAllString(line, "$1 $4 $2 $4 $3 $4")
	return product2.ReplaceAllString(line, "$1 $3 $2 $3")
}

var (
	perMetre = regexp.MustCompile(`(W|lm|mA|A)\s+(?:per|a)\s+(?:metre|meter|m)\b`)
	perFoot  = regexp.MustCompile(`(W|lm)\s+(?:per|a)\s+(?:foot|ft)\b`)
	inWords  = regexp.MustCompile(`(?i)\b(half|an?|one|two|three|four|five|six|seven|eight|nine|ten|twelve)\s+(?:an?\s+)?(metres?|meters?|hours?|volts?|amps?|amperes?|watts?|inch|inches|feet|foot|pounds?|kilos?|kilograms?|grams?)\b`)
)

var (
	// noCount are figures that count nothing: wavelengths, temperatures, angles, modes of a driver, how
	// true colours are, rows and sides of a strip, and the sides of a panel in millimetres.
	noCount    = regexp.MustCompile(`(?i)\b[1-9]\d{3}\s*K\b|\b\d+\s*(?:nm\b|[°º](?:\s*[CF]\b)?|deg(?:rees?)?\b|-?\s*modes?\b|\+?\s*CRI\b|\+?\s*Ra\b)|\b(?:single|double|dual|twin|triple|quad)[\s-]+(?:row|sided?|density|colou?r|channel|core|chip|junction|layer|pole|voltage|output|tone|end(?:ed)?|wall(?:ed)?)s?\b|\b(?:CRI|Ra)\s*[>≥:]?\s*\d+\+?|\b1?\d{3}[x×]1?\d{3}\b`)
	branches   = regexp.MustCompile(`(?i)\b(\d{1,2}|one|two|three|four|five|six|seven|eight|nine|ten|twelve)\s+(?:parallel\s+)?(?:strings?|chains?|branches)\s+of\s+(\d{1,2}|one|two|three|four|five|six|seven|eight|nine|ten|twelve)\b`)
	wiredAs    = regexp.MustCompile(`(?i)\b(\d{1,2})\s+(?:LEDs?\s+|cells?\s+|of them\s+)?(?:in\s+)?(series|parallel)\b`)
	rows       = regexp.MustCompile(`(?i)\b(?:matrix|grid|array)\s+(?:of\s+)?(\d{1,2})\s*[×x*]\s*(\d{1,2})\b|\b(\d{1,2})\s*[×x*]\s*(\d{1,2})\s+(?:LED\s+)?(?:matrix|grid|array)\b`)
	eachString = regexp.MustCompile(`(?i)\b(\d{1,2})\s+(?:LEDs?\s+)?in\s+series[\s,;&]+(?:and\s+|in\s+)?(\d{1,2})\s+(?:parallel\s+|such\s+)?(?:strings?|chains?|branches)\b`)
	forwardOf  = regexp.MustCompile(`(?i)\bvf\s*[:=]?\s*([\d.,]*\d)(\s*m?V)?\b`)  // "Vf 3.1" is volts
	capNumber  = regexp.MustCompile(`(?i)\b(par|mr|gu|e)(?:\s+can)?\s+(\d{2})\b`) // "PAR 64" is no number of anything
	fraction   = regexp.MustCompile(`(?i)\b(?:(\d{1,3})[\s-]+)?(\d{1,2})/(\d{1,2})\s*(in\b|inch\b|inches\b|["″]|ft\b|feet\b|W\b|watts?\b|A\b)`)
	glued      = regexp.MustCompile(`([A-Za-zΩµ])\s*/\s*(\d)`) // 6 V/0.5 A
	inchMark   = regexp.MustCompile(`(\d)\s*["″]`)
	nakedPoint = regexp.MustCompile(`(^|[^\d.,])\.(\d)`)
	squared    = regexp.MustCompile(`(?i)\b(?:sq\.?|square)\s*(in|inch|inches|ft|foot|feet|cm|mm|m|metres?|meters?)\b`)
	oneString  = regexp.MustCompile(`(?i)\b(?:in\s+)?(?:one|a|1|a\s+single)\s+(?:string|chain|row)\b`)
	notInches  = regexp.MustCompile(`(?i)(\d)\s+in\s+(\d{1,2}\s+(?:boards?|strings?|rows?|groups?|lamps?|lines?|bars?|panels?|modules?)\b|(?:an?|the|my|each|total|old|one|two|three|four|five|six)\b)`) // 100 in 4 boards
	eachHolds  = regexp.MustCompile(`(?i)\b(\d{1,2}|one|two|three|four|five|six|seven|eight|nine|ten|twelve)\s+(?:bars?|boards?|panels?|rows?|lines?|sticks?)\s+(?:of|with)\s+(\d{1,3})\s*([×x*]|LEDs?\b|diodes\b|emitters\b|chips\b)`)
	countedAs  = regexp.MustCompile(`(?i)^(?:LEDs?|diodes?|emitters|pieces|pcs|chips?|bulbs?|lamps?|lights?|cells?|batteries|of\b|of them|white|warm|cool|red|blue|green|amber|small|\d+\s*mm|series|parallel|strings?|pucks?|boards?|modules?|packages?|SMD|COB|high|stars?|packs?|;)`)
	candelas   = regexp.MustCompile(`(?i)(\d)\s+(m?cd)\b`) // no unit that is read here: they are no number of LEDs
	halfDozen  = regexp.MustCompile(`(?i)\bhalf\s+(?:a\s+)?dozen\b`)
)

// inFigures writes what is said in words and marks as figures: two metres, 5 W a metre, .5 A, 20 sq in, 12".
func inFigures(line string) string {
	line = fractions(line)
	line = inchMark.ReplaceAllString(glued.ReplaceAllString(line, "$1 $2"), "$1 in ")
	line = nakedPoint.ReplaceAllString(perFoot.ReplaceAllString(perMetre.ReplaceAllString(line, "$1/m"), "$1/ft"), "${1}0.$2")
	line = squared.ReplaceAllStringFunc(halfDozen.ReplaceAllString(line, "6"), func(s string) string {
		unit := strings.ToLower(squared.FindStringSubmatch(s)[1])
		if full, ok := spelt[unit]; ok {
			unit = full
		}
		return unit + "2"
	})
	return inWords.ReplaceAllStringFunc(line, func(s string) string {
		parts := inWords.FindStringSubmatch(s)
		switch n := strings.ToLower(parts[1]); n {
		case "half":
			return "0.5 " + parts[2]
		case "a", "an":
			return "1 " + parts[2]
		}
		return strconv.Itoa(howMany(parts[1])) + " " + parts[2]
	})
}

// fractions writes fractions of a unit as figures: 1 1/4 in.
func fractions(line string) string {
	return fraction.ReplaceAllStringFunc(line, func(f string) string {
		m := fraction.FindStringSubmatch(f)
		if atof(m[3]) == 0 {
			return f
		}
		return strconv.FormatFloat(atof(m[1])+atof(m[2])/atof(m[3]), 'g', 6, 64) + " " + m[4]
	})
}

var unitless = regexp.MustCompile(`^\s*[\d.,]+(\s*[×xX*]\s*[\d.,]+)?\s*$`)

// millimetres gives a room that was said without a unit the one that housings are measured in.
func millimetres(line string) string {
	if unitless.MatchString(line) {
		return line + " mm"
	}
	return line
}

// parse reads a line of words and figures. It never fails: what it cannot read it keeps.
func parse(line string) *said {
	s := &said{figures: map[string][]span{}, heard: map[string]bool{}, taken: map[string]int{}}
	line = candelas.ReplaceAllString(line, "$1$2")
	line = oneString.ReplaceAllString(notInches.ReplaceAllString(line, "$1 ; $2"), " in series")
	line = eachHolds.ReplaceAllStringFunc(line, func(v string) string {
		m := eachHolds.FindStringSubmatch(v)
		return strconv.Itoa(howMany(m[1])*howMany(m[2])) + " " + m[3]
	})
	line = forwardOf.ReplaceAllStringFunc(eachString.ReplaceAllString(line, "${1}S${2}P"), func(v string) string {
		if m := forwardOf.FindStringSubmatch(v); m[2] == "" {
			return m[1] + " V"
		}
		return v
	})
	line = branches.ReplaceAllStringFunc(noCount.ReplaceAllString(capNumber.ReplaceAllString(line, "$1$2"), " "), func(w string) string {
		m := branches.FindStringSubmatch(w)
		return strconv.Itoa(howMany(m[2])) + "S" + strconv.Itoa(howMany(m[1])) + "P"
	})
	line = wiredAs.ReplaceAllStringFunc(line, func(w string) string {
		m := wiredAs.FindStringSubmatch(w)
		return m[1] + strings.ToUpper(m[2][:1])
	})
	line = rows.ReplaceAllStringFunc(line, func(grid string) string {
		m := rows.FindStringSubmatch(grid)
		return strconv.Itoa(int(atof(m[1]+m[3])*atof(m[2]+m[4]))) + " pieces"
	})
	line = strings.NewReplacer(" in series", " series", " in parallel", " parallel").Replace(line) // "3 in" would be inches
	line = strings.NewReplacer("\u00a0", " ", "\u202f", " ", "−", "-", "–", "-", "—", "-", "…", "-", "μ", "µ", "Ω", "Ω", "=", " ", "(", " ", ")", " ", "\"", " ", "“", " ", "”", " ", "\n", " · ", "\r", " ", "\t", " ", "@", " ").Replace(inFigures(line))
	for _, d := range designated {
		if named := d.as.FindString(line); named != "" {
			if line = d.as.ReplaceAllString(line, " "); strings.HasSuffix(strings.ToLower(named), "cell") {
				s.words = append(s.words, "cell")
			}
			s.size = d.size // the last is the surest: "button cells LR44"
		}
	}
	r := []rune(line)
	from := "" // the first figure of a range, waiting for its second
	for i := 0; i < len(r); {
		if !isDigit(r[i]) {
			j := i
			for j < len(r) && !isDigit(r[j]) && !strings.ContainsRune(" ,;·|/", r[j]) {
				j++
			}
			if j == i {
				j++
			}
			if end := designation(r, i, j); end > j {
				s.words = append(s.words, strings.ToLower(string(r[i:end])))
				i = end
				continue
			}
			if w := strings.Trim(string(r[i:j]), " ,;·|/.:-"); w != "" {
				s.word(w)
			}
			i = j
			continue
		}
		number, j := figure(r, i)
		word, k := symbol(r, j)
		if end := wordEnd(r, j); word == "" && end > j && !isTimes(string(r[j])) && !slices.Contains(sizes, string(r[j:end])) {
			s.words = append(s.words, strings.ToLower(string(r[i:end]))) // 395nm: of no unit that is read here
			i, from = end, ""
			continue
		}
		i = k
		next := strings.TrimLeft(string(r[k:]), " ")
		switch {
		case slices.Contains(sizes, number) && (word == "" || isTimes(word) || word == "in"):
			s.size, from = number, ""
		case s.wiring(number, word):
			from = ""
		case isTimes(word) && atof(number) <= mostCount:
			// Of several kinds the first is taken.
			if from = ""; s.counted {
				s.others = true
			} else {
				s.count, s.counted = int(atof(number)), true
			}
		case isTimes(word): // the name of a package; how many comes next
			s.words, from = append(s.words, number), ""
		default:
			ranges := strings.HasPrefix(next, "-") && beginsWithDigit(next[1:]) || strings.HasPrefix(next, "to ") && beginsWithDigit(next[3:])
			if ranges && from == "" && (word == "" || known(word)) {
				from = number + "\x00" + word
				i = k + indexDigit(r[k:])
				continue
			}
			if word == "" && from == "" && atof(number) >= leastName && next != "" && len(s.words) > 0 && !countedAs.MatchString(next) {
				s.words = append(s.words, number) // a name: "class 314 4000 K"
				continue
			}
			s.put(from, number, word)
			from = ""
		}
	}
	return s
}

// howMany is a small number in figures or in words.
func howMany(s string) int {
	if n, ok := numbers[strings.ToLower(s)]; ok {
		return n
	}
	return int(atof(s))
}

// wordEnd is where a word ends that begins with a letter at a place; there if none does.
func wordEnd(r []rune, i int) int {
	if i >= len(r) || !unicode.IsLetter(r[i]) {
		return i
	}
	for i < len(r) && !strings.ContainsRune(" ,;·|/", r[i]) {
		i++
	}
	return i
}

// designation is where a name of letters and digits ends that has no unit behind it, T8 or E10;
// the end of its letters if it is none: LED3W is three watts, x4 a count.
func designation(r []rune, from, letters int) int {
	if letters >= len(r) || !isDigit(r[letters]) || isTimes(string(r[from:letters])) {
		return letters
	}
	for _, x := range r[from:letters] {
		if !unicode.IsLetter(x) {
			return letters
		}
	}
	number, j := figure(r, letters)
	end := wordEnd(r, j)
	if slices.Contains(sizes, number) || end > j && known(strings.TrimRight(string(r[j:end]), ".:")) {
		return letters
	}
	return end
}

func beginsWithDigit(s string) bool {
	s = strings.TrimLeft(s, " ")
	return s != "" && isDigit(rune(s[0]))
}

func indexDigit(r []rune) int {
	for i := range r {
		if isDigit(r[i]) {
			return i
		}
	}
	return len(r)
}

func known(word string) bool { _, _, ok := unitOf(word); return ok }

func isDigit(r rune) bool { return r >= '0' && r <= '9' }

func isTimes(word string) bool { return word == "×" || word == "x" || word == "X" || word == "*" }

func atof(s string) float64 {
	x, _ := strconv.ParseFloat(strings.ReplaceAll(s, ",", "."), 64)
	return x
}

// exact is a figure without the last digits of a product: 700 mA is 0.7 A.
func exact(x float64) float64 {
	y, _ := strconv.ParseFloat(strconv.FormatFloat(x, 'g', 14, 64), 64)
	return y
}

// figure reads digits with one mark of decimals.
func figure(r []rune, i int) (number string, end int) {
	j, marked := i, false
	for j < len(r) && (isDigit(r[j]) || !marked && (r[j] == '.' || r[j] == ',') && j+1 < len(r) && isDigit(r[j+1])) {
		marked = marked || !isDigit(r[j])
		j++
	}
	return string(r[i:j]), j
}

// symbol reads what follows a figure, if it may be a unit.
func symbol(r []rune, i int) (word string, end int) {
	j := i
	for j < len(r) && r[j] == ' ' {
		j++
	}
	k := j
	for k < len(r) && !strings.ContainsRune(" ,;·|-", r[k]) && !(isDigit(r[k]) && k > j && r[k-1] != 'm' && r[k-1] != 'n' && r[k-1] != 't' && !isWiring(string(r[j:k]))) {
		k++
	}
	word = strings.TrimRight(string(r[j:k]), ".:")
	if word == "" || slices.Contains(sizes, word) || !known(word) && !isTimes(word) && !wired(word) {
		// A word that is no unit is read by itself; a figure glued to it stands alone.
		return "", j
	}
	return word, k
}

// isWiring tells what "4S16P" may begin with behind its first figure.
func isWiring(word string) bool {
	return strings.EqualFold(strings.TrimRight(word, "0123456789"), "s")
}

// wired tells "S2P", "s", "p" and the like.
func wired(word string) bool {
	w := strings.ToLower(word)
	if w == "s" || w == "p" {
		return true
	}
	return strings.HasPrefix(w, "s") && strings.HasSuffix(w, "p") && len(w) > 2 && strings.Trim(w[1:len(w)-1], "0123456789") == ""
}

func (s *said) wiring(number, word string) bool {
	w := strings.ToLower(word)
	n := int(atof(number))
	switch {
	case w == "s" && word == "S", w == "s" && n <= 30 && !strings.Contains(number, "."):
		s.series = n
	case w == "p":
		s.parallel = n
	case wired(word) && len(w) > 2:
		s.series = n
		s.parallel, _ = strconv.Atoi(w[1 : len(w)-1])
	default:
		return false
	}
	return true
}

func (s *said) word(w string) {
	if size := strings.TrimLeft(w, "xX×*"); slices.Contains(sizes, size) {
		w = size // 4xAA
	}
	low := strings.ToLower(w)
	if low == "batteries" {
		low = "battery"
	}
	switch {
	case numbers[low] > 0 && s.count == 0:
		s.count = numbers[low]
		return
	case heaps[low] > 0:
		s.count = max(s.count, 1) * heaps[low]
		return
	case isTimes(w) || low == "of" || low == "and" || low == "with" || low == "at" || low == "to" || low == "a" || low == "the" || low == "in" || low == "on":
		return
	case slices.Contains(sizes, w):
		s.size = w
		return
	case low == "series":
		s.series = -1
		return
	case low == "parallel":
		s.parallel = -1
		return
	}
	s.words = append(s.words, low)
}

func (s *said) put(from, number, word string) {
	if word == "" {
		if from == "" && packages[number] > 0 {
			s.words = append(s.words, number)
			return
		}
		if from == "" && s.count == 0 && !strings.ContainsAny(number, ".,") {
			if n := atof(number); n <= mostCount {
				s.count = int(n) // "5 cells", "4 18650", "AA x 4"
			} else {
				s.words = append(s.words, number) // the name of a package
			}
			return
		}
		s.unread = append(s.unread, number)
		return
	}
	quantity, u, _ := unitOf(word)
	low, high := atof(number), atof(number)
	first := u
	if from != "" {
		n, w, _ := strings.Cut(from, "\x00")
		low = atof(n)
		if _, other, ok := unitOf(w); ok && w != "" {
			first = other
		}
	}
	x := span{exact(low*first.Factor + first.Offset), exact(high*u.Factor + u.Offset)}
	if math.IsInf(x.low, 0) || math.IsInf(x.high, 0) {
		s.unread = append(s.unread, number)
		return
	}
	if x.low > x.high {
		x.low, x.high = x.high, x.low
	}
	s.figures[quantity] = append(s.figures[quantity], x)
}
