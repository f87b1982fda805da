package gather

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"turret/internal/core/money"
	"turret/internal/record"
)

// A unit is told where a head, or a short text or bracket, is nothing but one: "EUR",
// "in thousands", "k€", "all amounts in 1000 NOK". In a sentence, beside a number or
// beside a denial it is none.

// scales are words for the places that amounts are moved by.
var scales = map[string]int{
	"k": 3, "thousand": 3, "thousands": 3, "thous": 3, "000": 3, "000s": 3, "1000": 3, "tsd": 3, "tausend": 3, "tusen": 3,
	"tusind": 3, "duizend": 3, "milliers": 3, "mille": 3, "miles": 3, "migliaia": 3, "t": 3,
	"m": 6, "mn": 6, "mln": 6, "mio": 6, "mill": 6, "million": 6, "millions": 6, "millionen": 6, "millioner": 6, "miljoner": 6,
	"tkr": 3, "mkr": 6, "mnkr": 6, "miljoen": 6, "milioni": 6, "millones": 6,
}

// besideUnits are the words that may stand beside a unit.
var besideUnits = wordsOf(
	`in of all amount amounts figures values value are is money currency unit units and net gross excl incl excluding
including vat shown stated given expressed reported full whole each per cost costs forecast actual actuals plan budget
betrage alle werte angaben wahrung in netto brutto ohne mwst belop tall valuta i uten mva montants en de les devise importes
todos los valori importi tutti bedragen alle kr kroner kronor ganze ganzen hele entiers enteros interi`,
)

// wholes say that amounts are in units of their currency.
var wholes = wordsOf("whole full ganze ganzen hele entiers enteros interi")

// denials are words beside which a unit is none.
var denials = wordsOf("not no never without nicht kein keine ikke pas non niet geen sin senza utan")

func wordsOf(list string) map[string]bool {
	out := make(map[string]bool)
	for w := range strings.FieldsSeq(list) {
		out[w] = true
	}
	return out
}

var (
	// aThousand are the ways to write the number that a unit may have.
	aThousand = regexp.MustCompile(`(^|[^0-9.,])(1[ .,'’]?000|['’]000s?|000s|['’]?000['’])($|[^0-9.,])`)
	// joined are a currency and a scale written as one word: TEUR, kNOK, €m.
	joined   = regexp.MustCompile(`(?i)^(k|t|m|mn|mio)?([a-z]{3})(k|t|m|mn|mio)?$`)
	brackets = regexp.MustCompile(`[\[(]([^\])]+)[\])]`)
	clauses  = regexp.MustCompile(`\s[-–—]\s|[,;:|]`)
	tailIn   = regexp.MustCompile(`(?i)\s(?:in|i|en|in alle)\s+(.+)$`)
	signOf   = strings.NewReplacer("€", " eur ", "£", " gbp ", "$", " usd ", "¥", " jpy ")
	likeCode = wordsOf("eur nok gbp usd sek dkk chf pln jpy cad aud czk huf isk")
)

// currencyNames are what currencies are called.
var currencyNames = map[string]money.Currency{
	"euro": "EUR", "euros": "EUR", "sterling": "GBP", "pound sterling": "GBP", "british pound": "GBP", "uk pound": "GBP", "pfund sterling": "GBP",
	"norwegian krone": "NOK", "norwegian kroner": "NOK", "norwegische krone": "NOK", "norske kroner": "NOK", "norsk krone": "NOK",
	"swedish krona": "SEK", "swedish kronor": "SEK", "schwedische krone": "SEK", "svenska kronor": "SEK", "svenske kroner": "SEK",
	"danish krone": "DKK", "danish kroner": "DKK", "danische krone": "DKK", "danske kroner": "DKK",
	"us dollar": "USD", "us dollars": "USD", "swiss franc": "CHF", "swiss francs": "CHF", "schweizer franken": "CHF",
	"polish zloty": "PLN", "zloty": "PLN", "japanese yen": "JPY", "yen": "JPY", "canadian dollar": "CAD", "australian dollar": "AUD",
}

// unit is what a text says of amounts: the places they are moved by, and their
// currency, or "".
type unit struct {
	places   int
	currency money.Currency
	scaled   bool // it tells the places, which may be none
}

func (u unit) any() bool { return u.scaled || u.currency != "" }

// wholeUnit reads a text that is nothing but a unit.
func wholeUnit(text string) (u unit, ok bool) {
	text = strings.TrimRight(strings.TrimFunc(text, isSpace), ".:")
	alone, whole := false, false
	text = aThousand.ReplaceAllString(text, "$1 thousand $3")
	for field := range strings.FieldsFuncSeq(signOf.Replace(text), func(r rune) bool { return isSpace(r) || strings.ContainsRune("()[]/'’\"", r) }) {
		word := Normal(field)
		if word == "" {
			continue
		}
		if denials[word] {
			return unit{}, false
		}
		if n, is := scales[word]; is {
			if u.scaled && u.places != n {
				return unit{}, false
			}
			u.places, u.scaled, alone = n, true, alone || aloneScales[word]
			continue
		}
		if c, ok := money.ParseCurrency(strings.ToUpper(word)); ok && len(word) == 3 && !alsoWords[word] &&
			(likeCode[word] || field == strings.ToUpper(field)) {
			if u.currency != "" && u.currency != c {
				return unit{}, false
			}
			u.currency = c
			continue
		}
		if c := currencyNames[word]; c != "" {
			if u.currency != "" && u.currency != c {
				return unit{}, false
			}
			u.currency = c
			continue
		}
		if places, c, ok := joinedUnit(field); ok {
			if u.scaled || u.currency != "" {
				return unit{}, false
			}
			u = unit{places, c, true}
			continue
		}
		if !besideUnits[word] {
			return unit{}, false
		}
		whole = whole || wholes[word]
	}
	if whole && !u.scaled && u.currency != "" {
		u.scaled, alone = true, true
	}
	if u.scaled && u.currency == "" && !alone {
		return unit{}, false // "m" may be metres, and "Mill" a place
	}
	return u, u.any()
}

// aloneScales are the words that are a scale without a currency beside them.
var aloneScales = wordsOf("tkr mkr mnkr thousand thousands thous 000 000s 1000 tsd tausend tusen tusind duizend milliers million millions mio millionen millioner k")

// alsoWords are codes of currencies that are words as well.
var alsoWords = wordsOf("all top try cup mop pen sos ron lak gel bam")

func joinedUnit(field string) (places int, c money.Currency, ok bool) {
	m := joined.FindStringSubmatch(field)
	if m == nil || (m[1] == "") == (m[3] == "") || !likeCode[strings.ToLower(m[2])] {
		return 0, "", false
	}
	c, ok = money.ParseCurrency(strings.ToUpper(m[2]))
	return scales[strings.ToLower(m[1]+m[3])], c, ok
}

// unless begins what a title says of sheets that have another unit: those say so.
var unless = regexp.MustCompile(`(?i)[,;]?\s+(?:unless|except|if not|sofern|wenn nicht|falls nicht|soweit nicht|sauf|salvo|tenzij|med mindre|hvis ikke|om inte)\s.*$`)

// ofSums tells a remark about sums, whose unit is not that of the rows.
func ofSums(text string) bool {
	const few = 2 // "Total, kEUR" heads a table as well
	words := strings.Fields(Normal(text))
	if len(words) <= few {
		return false
	}
	for _, w := range words {
		if w == "totals" || w == "sums" || w == "subtotals" || w == "summen" || w == "totaux" || w == "totales" {
			return true
		}
	}
	return false
}

// unitIn finds the unit that a title, a note or a head tells, in a bracket, in a
// clause, or after "in"; none where it is a sentence.
func unitIn(text string) (unit, bool) {
	text = unless.ReplaceAllString(strings.TrimFunc(text, isSpace), "")
	if u, ok := wholeUnit(text); ok {
		return u, true
	}
	for _, m := range brackets.FindAllStringSubmatch(text, -1) {
		if u, ok := wholeUnit(m[1]); ok {
			return u, true
		}
	}
	const few = 9 // words of a title
	if len(strings.Fields(text)) > few || strings.Contains(text, ". ") || deniesAny(text) || ofSums(text) {
		return unit{}, false
	}
	for _, clause := range clauses.Split(brackets.ReplaceAllString(text, ""), -1) {
		if u, ok := wholeUnit(clause); ok {
			return u, true
		}
		if m := tailIn.FindStringSubmatch(clause); m != nil {
			if u, ok := wholeUnit(m[1]); ok {
				return u, true
			}
		}
	}
	return unit{}, false
}

func deniesAny(text string) bool {
	for w := range strings.FieldsSeq(Normal(text)) {
		if denials[w] {
			return true
		}
	}
	return false
}

// unitOf parts a head such as "Amount (kEUR)" into its label and its unit, as it is
// written.
func unitOf(head string) (label, unit string) {
	if m := inside.FindStringSubmatch(head); m != nil {
		if u := m[2] + m[3]; m[2] != "" || isUnit(u) {
			return m[1], u
		}
	}
	if words := strings.FieldsFunc(head, isSpace); len(words) > 1 { // Betrag EUR, Betrag EUR k
		for n := min(3, len(words)-1); n > 0; n-- {
			tail := strings.Join(words[len(words)-n:], " ")
			if isUnit(tail) && !besideUnits[Normal(words[len(words)-n])] {
				return strings.Join(words[:len(words)-n], " "), tail
			}
		}
	}
	return head, ""
}

func isUnit(text string) bool {
	_, ok := wholeUnit(text)
	_, sign := signs[strings.ToLower(strings.TrimSuffix(text, "."))]
	return ok || sign
}

// footnotes are the last lines of a sheet that was seen whole, each of one text.
func (f *finder) footnotes() (out []string) {
	if len(f.rows) == sampled {
		return nil
	}
	for _, r := range slices.Backward(f.rows[f.at+1:]) {
		line := &Line{N: r.n, Cells: r.cells}
		if filled(line) != 1 {
			break
		}
		out = append(out, textOf(line))
	}
	return out
}

// fixUnit finds whether amounts are in thousands or millions, and in which
// currency, where heads or rows above the table say so; heads count first.
func (f *finder) fixUnit() {
	u := f.u
	money := ""
	for i := range f.t.Columns {
		if f.t.Columns[i].Type == record.Money {
			money = f.t.Columns[i].Name
		}
	}
	if money == "" {
		return
	}
	where, told := "", false
	take := func(text string, x unit) {
		if x.scaled && !told {
			u.Places, where, told = x.places, text, true
		}
		if x.currency != "" && f.lacks("currency") {
			u.Fixed["currency"] = string(x.currency)
			u.note("Amounts are taken as %s: %q says so.", x.currency, text)
		}
	}
	for i, x := range u.Uses {
		if x.As == AsMonth || f.t.Index(x.As) >= 0 && f.t.Columns[f.t.Index(x.As)].Type == record.Money {
			if i < len(f.units) {
				if x, ok := unitIn(f.units[i].Text); ok {
					take(f.units[i].Text, x)
				}
			}
			for _, text := range append([]string{u.Columns[i].Head}, f.high[i]...) {
				if _, said := unitOf(text); said != "" {
					if x, ok := unitIn(said); ok {
						take(text, x)
					}
				} else if x, ok := unitIn(text); ok {
					take(text, x)
				}
			}
		}
	}
	for _, r := range f.rows[:f.at] {
		for i := range r.cells {
			text := f.shownAt(r, i)
			if x, ok := unitIn(text); ok && r.cells[i].Kind == Words {
				take(text, x)
			}
		}
	}
	names := []string{f.s.title(), fileTitle(f.s.File)}
	for _, text := range slices.Concat(f.s.cover, f.footnotes(), names) {
		if x, ok := unitIn(text); ok {
			take(text, x)
		}
	}
	shown := 0
	for i, x := range u.Uses {
		if x.As == AsMonth || f.t.Index(x.As) >= 0 && f.t.Columns[f.t.Index(x.As)].Type == record.Money {
			shown = max(shown, f.s.scaled[i])
		}
	}
	if own := u.Places; f.m.Places != nil {
		u.Places = *f.m.Places
		if f.past.Places == f.m.Places {
			u.note("Amounts are taken in %s, as was said of such a sheet before.", unitName(u.Places))
		}
		if f.past.Places == f.m.Places && own != 0 && own != u.Places {
			u.ask(-1, "places", fmt.Sprintf(
				"%q says that amounts are in %s, and of such a sheet it was said before that they are in %s; say which",
				strings.TrimSpace(where), unitName(own), unitName(u.Places),
			), unitName(own), unitName(u.Places))
		}
	} else if shown != 0 {
		u.Places = 0
		u.note(
			"The cells hold whole amounts, which the spreadsheet shows in %s: they are taken whole.",
			map[int]string{3: "thousands", 6: "millions"}[shown],
		)
	} else if u.Places != 0 {
		u.note("Amounts are taken as %s: %q says so.", map[int]string{3: "thousands", 6: "millions"}[u.Places], strings.TrimSpace(where))
	}
}

var inside = regexp.MustCompile(`^(.*?)\s*(?:[\[(]([^\])]+)[\])]|,?\s+in\s+(.+))$`)
