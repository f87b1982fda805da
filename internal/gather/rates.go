package gather

import (
	"fmt"
	"math/big"
	"regexp"
	"slices"
	"strings"

	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// Rates are kept as what one unit of a currency is worth in the reporting currency. People
// state them so, the other way round, or for a hundred units.

const (
	// AsInverse is a column that says how many of a currency one unit of the reporting
	// currency is.
	AsInverse = "1/rate"
	// AsUnits is a column of how many units each rate is for.
	AsUnits = "units of rate"
)

// rateDecimals are those that a rate is kept with.
const rateDecimals = 12

var (
	signsApart = regexp.MustCompile(`[=/:]`)
	perOne     = `(?:per|for|pro|je|par|por|voor|for hver)`
	unitWord   = `(?:units?|einheit|enhet|enhed|unite|unité|unidad|unità|unita|eenheid|foreign currency|currency|fremdwährung|fc|[a-z]{3})`
)

// unitsOfRates are heads of how many units a rate is for.
var unitsOfRates = wordsOf("units unit per perunits perunit nominal einheit einheiten enhet enheter enheder unites unidades unita eenheden quotedfor")

// rateHead tells what the head of a column of rates says of them; "" where it says nothing.
func rateHead(head, reporting string) string {
	if reporting == "" {
		return ""
	}
	text := signsApart.ReplaceAllString(strings.ToLower(signOf.Replace(head)), " $0 ")
	text = strings.Join(strings.Fields(text), " ")
	own := strings.ToLower(reporting)
	if !strings.Contains(text, own) {
		return ""
	}
	is := func(pattern string) bool {
		return regexp.MustCompile(strings.NewReplacer("OWN", own, "PER", perOne, "UNIT", unitWord).Replace(pattern)).MatchString(text)
	}
	switch {
	case is(`(^|\s)PER (1 |one )?OWN$`), is(`^(1|one) OWN( =| is)?( \.\.\.)?( UNIT)?$`):
		return AsInverse
	case is(`(^|\s)OWN PER (10|100|1[.,' ]?000)( UNIT)?$`):
		return "rate"
	case is(`(^|\s)OWN PER (1 |one )?UNIT$`), is(`^(1|one) UNIT (=|in) (\.\.\. )?OWN$`), is(`(^|\s)(rates?|kurs|taux|value|worth|koers|cambio) (in|to|i|en) OWN$`):
		return "rate"
	}
	return ""
}

// callsRates gives what a head of a table of rates names, beside its columns' own words.
func (f *finder) callsRates(at, i int) (column string, weight int) {
	head := f.head(at, i)
	if as := rateHead(head, string(f.o.Reporting)); as != "" {
		return as, 2
	}
	if unitsOfRates[tight(head)] && f.holdsUnits(at, i) {
		return AsUnits, 2
	}
	return "", 0
}

// holdsUnits tells that all that stands below a head is 1, 10, 100 or so.
func (f *finder) holdsUnits(at, i int) bool {
	n := 0
	for _, r := range f.rows[at+1:] {
		if i >= len(r.cells) || isBlank(r.cells[i].Text) {
			continue
		}
		if _, ok := unitsIn(r.cells[i].Text); !ok {
			return false
		}
		n++
	}
	return n > 0
}

// unitsIn reads how many units a rate is for: a power of ten.
func unitsIn(text string) (n *big.Rat, ok bool) {
	digits := strings.Map(func(r rune) rune {
		if isSpace(r) || r == ',' || r == '\'' {
			return -1
		}
		return r
	}, strings.TrimSuffix(strings.TrimFunc(text, isSpace), ".0"))
	if !strings.HasPrefix(digits, "1") || strings.Trim(digits[1:], "0") != "" {
		return nil, false
	}
	return new(big.Rat).SetString(digits)
}

// bothWays leaves out rates that stand the other way round beside those as they are kept.
func (f *finder) bothWays() {
	u := f.u
	inverse := u.column(AsInverse)
	if f.t.Name != record.Rates.Name || inverse < 0 {
		return
	}
	if u.column("rate") < 0 {
		u.note("%s: it says how many of a currency one %s is; each rate is one divided by it, to %d decimals.",
			f.called(inverse), f.o.Reporting, rateDecimals)
		return
	}
	u.Uses[inverse].As, u.Columns[inverse].As = AsNone, AsNone
	u.Columns[inverse].Why = "it is the same the other way round"
	u.note("%s is left out: it is the same the other way round.", f.called(inverse))
}

// currencyPair is two currencies with a sign between them: GBP/EUR is what one GBP is in EUR.
var currencyPair = regexp.MustCompile(`^([A-Z]{3}) ?[/:-] ?([A-Z]{3})$`)

// pair parts a cell of a pair of which one is the reporting currency: the other one, and
// whether the rate is then the other way round.
func (r *reader) pair(text string) (other string, turned bool) {
	m := currencyPair.FindStringSubmatch(strings.ToUpper(strings.TrimFunc(text, isSpace)))
	own := string(r.o.Reporting)
	switch {
	case m == nil || own == "" || m[1] == m[2]:
	case m[2] == own:
		return m[1], false
	case m[1] == own:
		return m[2], true
	}
	return "", false
}

// paired is what the pair of a row says of which way round its rate is.
func (r *reader) paired(line *Line) (turned, says bool) {
	at := r.column("currency")
	if at < 0 {
		return false, false
	}
	other, turned := r.pair(line.At(at).Text)
	return turned, other != ""
}

// perMany is a head that says for how many units its rates are.
var perMany = regexp.MustCompile(`(?i)\b(?:per|for|pro|je|par|por|voor|for hver)\s+(10|100|1[.,' ]?000)\b`)

// perHead gives how many units the rates under a head are for; nil for one.
func perHead(head string) *big.Rat {
	m := perMany.FindStringSubmatch(head)
	if m == nil {
		return nil
	}
	n, ok := unitsIn(strings.ReplaceAll(m[1], ".", ""))
	if !ok {
		return nil
	}
	return n
}

// rated makes of what a cell states the rate of one unit.
func (r *reader) rated(line *Line, use *Use, f *portfolio.Field) (why string) {
	if r.t != record.Rates.Kind || f.Said != portfolio.Value {
		return ""
	}
	units, inverse, per := r.column(AsUnits), use.As == AsInverse, perHead(r.Heads[slices.IndexFunc(r.Uses, func(x Use) bool { return x.As == use.As })])
	if turned, says := r.paired(line); says {
		inverse = turned
	}
	if units < 0 && !inverse && per == nil {
		return ""
	}
	rate, ok := new(big.Rat).SetString(f.Text)
	if !ok || rate.Sign() <= 0 {
		return fmt.Sprintf("%q is not a rate above zero", f.Text)
	}
	if inverse {
		rate.Inv(rate)
	}
	if per != nil {
		rate.Quo(rate, per)
	}
	if units >= 0 && !isBlank(line.At(units).Text) {
		n, ok := unitsIn(line.At(units).Text)
		if !ok {
			return fmt.Sprintf("%q is not how many units a rate can be for: 1, 10, 100 or so", line.At(units).Text)
		}
		if inverse {
			rate.Mul(rate, n)
		} else {
			rate.Quo(rate, n)
		}
	}
	f.Text = r.o.keep(trimmed(rate.FloatString(rateDecimals)))
	return ""
}

// rates gives the place of rates in a table of them, for a column that states them.
func (r *reader) ratesAt(as string) int {
	if as == AsInverse {
		return slices.IndexFunc(r.t.Columns, func(c record.Column) bool { return c.Name == "rate" })
	}
	return -1
}
