package claim

import (
	"cmp"
	"math/big"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

// unit is what a quantity of a text counts.
type unit uint8

const (
	plain  unit = iota // a number alone
	share              // percents
	amount             // of money: with a currency, or a scale alone
	length             // of time: days, weeks, months
	day                // a day, a month, a quarter
)

// quantity is a number of a text: from one byte to before another. Where a separator may be of
// thousands or of decimals, and where a day may come before its month or after it, it has two
// readings.
type quantity struct {
	from, to int
	unit     unit
	readings []reading
	code     money.Currency // of an amount; "" where none is written
	signs    bool           // a sign is written
	per      byte           // of a length: d, w or m
	spans    []span
}

// reading is a number as it may be meant, a multiple of step. Where it ends with zeros, it may be
// rounded to a multiple of coarse.
type reading struct{ n, step, coarse *big.Rat }

// span is the first and the last day that is meant.
type span struct{ first, last calendar.Date }

// fits tells whether what is known is what the reading says, rounded or cut off as people do.
func (r reading) fits(is *big.Rat) bool {
	beyond := new(big.Rat).Sub(is, r.n)
	if r.n.Sign() < 0 {
		beyond.Neg(beyond)
	}
	twice := new(big.Rat).Add(beyond, beyond)
	off := new(big.Rat).Abs(twice)
	return off.Cmp(r.step) <= 0 || off.Cmp(r.coarse) <= 0 || beyond.Sign() > 0 && beyond.Cmp(r.step) < 0
}

// fits tells whether one of the readings is a number, in the quantity's own sense of signs:
// one that is written without a sign tells only how much.
func (q *quantity) fits(is *big.Rat) bool {
	if !q.signs {
		is = new(big.Rat).Abs(is)
	}
	for _, r := range q.readings {
		if r.fits(is) {
			return true
		}
	}
	return false
}

// most is the largest of the readings.
func (q *quantity) most() *big.Rat {
	out := new(big.Rat)
	for _, r := range q.readings {
		if n := new(big.Rat).Abs(r.n); n.Cmp(out) > 0 {
			out = n
		}
	}
	return out
}

const (
	spaces  = `[ \x{a0}\x{202f}]`
	digits  = `\d{1,3}(?:[ \x{a0}\x{202f}'’]\d{3})+(?:[.,]\d+)?|\d{1,3}(?:,\d{3})+(?:\.\d+)?|\d{1,3}(?:\.\d{3})+(?:,\d+)?|\d+(?:[.,]\d+)?|[.,]\d+`
	symbols = `€|£|\$|¥|[A-Z]{3}|kr`
	scaling = `millions?|thousands?|billions?|Mio\.?|Mrd\.?|mill\.?|mln|mn|bn|[kKmM]`
)

var (
	numbered = regexp.MustCompile(`(?:(` + symbols + `)` + spaces + `?)?([-−–+]?)(` + digits + `)(?:` + spaces + `?(` + scaling + `|[Tt])?` + spaces + `?(` + symbols + `)|` + spaces + `?(` + scaling + `)|` + spaces + `?(%|(?i:percent|per cent|pct)\b))?`)
	lasting  = regexp.MustCompile(`(?i)\b(\d{1,4}|a|one|two|three|four|five|six|seven|eight|nine|ten|eleven|twelve)[ -](?:(?:working|calendar|full|whole) )?(days?|weeks?|wks?|months?|d|w)\b`)
	inWords  = map[string]int64{"a": 1, "one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7, "eight": 8, "nine": 9, "ten": 10, "eleven": 11, "twelve": 12}
	tens     = map[string]int{
		"": 0, "k": 3, "K": 3, "T": 3, "t": 3, "thousand": 3, "thousands": 3, "m": 6, "M": 6, "mn": 6, "mln": 6, "mill": 6, "Mio": 6, "million": 6, "millions": 6,
		"bn": 9, "Mrd": 9, "billion": 9, "billions": 9,
	}
	bySymbol = map[string][]money.Currency{"€": {"EUR"}, "£": {"GBP"}, "$": {"USD", "CAD", "AUD", "NZD"}, "¥": {"JPY", "CNY"}, "kr": {"NOK", "SEK", "DKK", "ISK"}}
)

const month = `(?:Jan(?:uary)?|Feb(?:ruary)?|Mar(?:ch)?|Apr(?:il)?|May|June?|July?|Aug(?:ust)?|Sept?(?:ember)?|Oct(?:ober)?|Nov(?:ember)?|Dec(?:ember)?)\.?`

var days = []struct {
	re     *regexp.Regexp
	layout []string // of the first and only group, its words made plain
}{
	{regexp.MustCompile(`\b(\d{4}-\d{1,2}-\d{1,2})\b`), []string{"2006-1-2"}},
	{regexp.MustCompile(`\b(\d{1,2}(?:st|nd|rd|th|\.)? ?(?:of )?` + month + `,? \d{4})\b`), []string{"2 Jan 2006"}},
	{regexp.MustCompile(`\b(` + month + ` \d{1,2}(?:st|nd|rd|th)?,? \d{4})\b`), []string{"Jan 2 2006"}},
	{regexp.MustCompile(`\b(\d{1,2}\.\d{1,2}\.\d{4})\b`), []string{"2.1.2006"}},
	{regexp.MustCompile(`\b(\d{1,2}/\d{1,2}/\d{4})\b`), []string{"2/1/2006", "1/2/2006"}},
	{regexp.MustCompile(`\b(` + month + `,? \d{4})\b`), []string{"Jan 2006"}},
	{regexp.MustCompile(`\b(Q[1-4][ /]\d{4})\b`), nil},
}

// quantities finds the numbers and days of a text, in its order.
func quantities(text string, own [2]money.Currency) (out []quantity) {
	taken := make([]bool, len(text))
	take := func(q quantity) {
		for i := q.from; i < q.to; i++ {
			if taken[i] {
				return
			}
		}
		for i := q.from; i < q.to; i++ {
			taken[i] = true
		}
		out = append(out, q)
	}
	for _, d := range days {
		for _, m := range d.re.FindAllStringIndex(text, -1) {
			if q := (quantity{from: m[0], to: m[1], unit: day, spans: spansOf(text[m[0]:m[1]], d.layout)}); len(q.spans) > 0 {
				take(q)
			}
		}
	}
	for _, m := range lasting.FindAllStringSubmatchIndex(text, -1) {
		n, spelt := inWords[strings.ToLower(text[m[2]:m[3]])]
		if !spelt {
			n, _ = strconv.ParseInt(text[m[2]:m[3]], 10, 64) // of four digits at most
		}
		one := big.NewRat(1, 1)
		take(quantity{
			from: m[0], to: m[1], unit: length, per: strings.ToLower(text[m[4]:m[5]])[0],
			readings: []reading{{new(big.Rat).SetInt64(n), one, new(big.Rat)}},
		})
	}
	for at := 0; at < len(text); {
		m := numbered.FindStringSubmatchIndex(text[at:])
		if m == nil {
			break
		}
		for i := range m {
			if m[i] >= 0 {
				m[i] += at
			}
		}
		q, ok := numberOf(text, m, own)
		if at = max(m[1], at+1); ok {
			take(q)
		}
	}
	slices.SortFunc(out, func(a, b quantity) int { return cmp.Compare(a.from, b.from) })
	return out
}

// numberOf reads what numbered found; a part of a code, such as QS-07, is no number.
func numberOf(text string, m []int, own [2]money.Currency) (q quantity, ok bool) {
	part := func(i int) string {
		if m[2*i] < 0 {
			return ""
		}
		return text[m[2*i]:m[2*i+1]]
	}
	before, sign, number, scale, behind, alone, percent := part(1), part(2), part(3), part(4), part(5), part(6), part(7)
	q = quantity{from: m[0], to: m[1]}
	if before != "" && !isCurrency(before) {
		before, q.from = "", m[4] // three capitals that are no currency, such as CPI
	}
	if behind != "" && (!isCurrency(behind) || goesOn(text, m[11])) { // a word behind the number, or behind its scale
		behind, q.to = "", m[7]
		if scale != "" && !strings.EqualFold(scale, "t") && !goesOn(text, m[9]) {
			alone, q.to = scale, m[9]
		}
		scale = ""
	} else if alone != "" && goesOn(text, m[13]) {
		alone, q.to = "", m[7] // the beginning of a word
	}
	if r, _ := utf8.DecodeLastRuneInString(text[:q.from]); (unicode.IsLetter(r) || unicode.IsDigit(r) || r == '_') && q.from > 0 {
		return q, false
	}
	if goesOn(text, q.to) {
		return q, false // 3rd, 2x
	}
	if sign != "" {
		if r, _ := utf8.DecodeLastRuneInString(text[:m[4]]); m[4] > 0 && (unicode.IsLetter(r) || unicode.IsDigit(r)) {
			return q, false
		}
	}
	by := tens[strings.TrimSuffix(scale+alone, ".")]
	q.signs = sign == "-" || sign == "−" || sign == "+"
	for _, r := range readingsOf(number) {
		q.readings = append(q.readings, r.scaled(by, sign == "-" || sign == "−"))
	}
	switch {
	case percent != "":
		q.unit = share
	case before != "" || behind != "":
		q.unit = amount
		q.code = currencyOf(before+behind, own)
	case alone != "":
		q.unit = amount
	}
	return q, true
}

// goesOn tells whether a word goes on at a place of a text.
func goesOn(text string, at int) bool {
	r, _ := utf8.DecodeRuneInString(text[at:])
	return unicode.IsLetter(r) || unicode.IsDigit(r)
}

func isCurrency(s string) bool {
	if len(bySymbol[s]) > 0 {
		return true
	}
	_, ok := money.ParseCurrency(s)
	return ok
}

// currencyOf reads a code or a sign, which is one of the subject's own currencies where it may be.
func currencyOf(s string, own [2]money.Currency) money.Currency {
	list := bySymbol[s]
	for _, c := range own {
		if slices.Contains(list, c) {
			return c
		}
	}
	if len(list) > 0 {
		return list[0]
	}
	return money.Currency(s)
}

// readingsOf gives what a number may mean: 1.250 is a thousand and more, or one and a quarter.
func readingsOf(number string) []reading {
	number = strings.NewReplacer(" ", "", "\u00a0", "", "\u202f", "", "'", "", "’", "").Replace(number)
	points, commas := strings.Count(number, "."), strings.Count(number, ",")
	whole := func(s string) string { return strings.NewReplacer(".", "", ",", "").Replace(s) }
	last := strings.LastIndexAny(number, ".,")
	switch {
	case last < 0, points > 1 && commas == 0, commas > 1 && points == 0:
		return []reading{readingOf(whole(number), "")}
	case points+commas == 1 && last > 0 && last <= 3 && len(number)-last == 4 && number[0] != '0':
		return []reading{readingOf(whole(number), ""), readingOf(number[:last], number[last+1:])}
	}
	return []reading{readingOf(whole(number[:last]), number[last+1:])}
}

func readingOf(whole, decimals string) reading {
	n, _ := new(big.Rat).SetString("0" + whole + "." + decimals + "0")
	r := reading{n: n, step: power(-len(decimals)), coarse: new(big.Rat)}
	zeros := len(whole) - len(strings.TrimRight(whole, "0"))
	if zeros = min(zeros, len(whole)-2); decimals == "" && zeros > 0 { // two digits are always meant
		r.coarse = power(zeros)
	}
	return r
}

// scaled multiplies a reading by a power of ten.
func (r reading) scaled(by int, negative bool) reading {
	p := power(by)
	n := new(big.Rat).Mul(r.n, p)
	if negative {
		n.Neg(n)
	}
	return reading{n, new(big.Rat).Mul(r.step, p), new(big.Rat).Mul(r.coarse, p)}
}

func power(of int) *big.Rat {
	p := new(big.Rat).SetInt(new(big.Int).Exp(big.NewInt(10), big.NewInt(int64(max(of, -of))), nil))
	if of < 0 {
		p.Inv(p)
	}
	return p
}

var ordinal = regexp.MustCompile(`(\d)(?:st|nd|rd|th|\.)`)

// spansOf reads a day by its layouts, a month, or a quarter.
func spansOf(text string, layouts []string) (out []span) {
	if layouts == nil {
		quarter, year := int(text[1]-'0'), 0
		year, _ = strconv.Atoi(text[3:])
		return []span{months(year, quarter*3-2, 3)}
	}
	for _, layout := range layouts {
		said := text
		if strings.Contains(layout, "Jan") {
			said = ordinal.ReplaceAllString(said, "$1 ")
			words := strings.Fields(strings.NewReplacer(",", " ", ".", " ", " of ", " ").Replace(said))
			for i, w := range words {
				if w[0] >= 'A' {
					words[i] = w[:3]
				}
			}
			said = strings.Join(words, " ")
		}
		t, err := time.Parse(layout, said)
		if err != nil {
			continue
		}
		if layout == "Jan 2006" {
			out = append(out, months(t.Year(), int(t.Month()), 1))
			continue
		}
		d := calendar.DateOf(t.Year(), int(t.Month()), t.Day())
		out = append(out, span{d, d})
	}
	return out
}

// months spans so many months.
func months(year, first, count int) span {
	next := time.Date(year, time.Month(first+count), 1, 0, 0, 0, 0, time.UTC)
	return span{calendar.DateOf(year, first, 1), calendar.DateOf(next.Year(), int(next.Month()), 1) - 1}
}

// holds tells whether any of some days is meant.
func (q *quantity) holds(list []calendar.Date) bool {
	for _, s := range q.spans {
		for _, d := range list {
			if d >= s.first && d <= s.last {
				return true
			}
		}
	}
	return false
}
