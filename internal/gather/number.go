package gather

import (
	"cmp"
	"strings"
	"unicode"
	"unicode/utf8"

	"turret/internal/core/money"
)

// The two ways in which people write decimals. What groups thousands goes with
// them: a comma beside a decimal point, a point beside a decimal comma, and in
// both a space or an apostrophe.
const (
	Point = "point"
	Comma = "comma"
)

// factors are the words that multiply an amount, as places to move the decimal.
var factors = map[string]int{
	"k": 3, "t": 3, "tsd": 3, "m": 6, "mn": 6, "mio": 6, "mln": 6, "million": 6, "b": 9, "bn": 9, "mrd": 9,
}

// signs are what stands for a currency beside its code.
var signs = map[string]money.Currency{
	"€":    "EUR",
	"euro": "EUR",
	"£":    "GBP",
	"$":    "USD",
	"¥":    "JPY",
	"zł":   "PLN",
	"kr":   "",
}

// isSpace tells the spaces that people and spreadsheets group digits with.
func isSpace(r rune) bool {
	switch r {
	case ' ', '\t', '\n', '\u00a0', '\u2009', '\u202f':
		return true
	}
	return false
}

// plainNumber reads a number as people write it, with a decimal point or
// comma, as a plain decimal: "(1.234,50) €" is -1234.50 with a comma. It knows
// signs before, behind and as brackets, currency signs and codes, percent
// signs, and k, M and bn. ok is false where the text is no such number.
func plainNumber(text, mark string) (plain string, ok bool) {
	if mark == Point && isPlain(text) {
		return text, true
	}
	s, places, neg, _, ok := stripWords(strings.TrimRight(text, "*†‡ "))
	if !ok {
		return "", false
	}
	whole, part, ok := digitGroups(s, mark)
	if !ok {
		return "", false
	}
	return assemble(whole, part, places, neg), true
}

func isPlain(s string) bool {
	t := strings.TrimPrefix(s, "-")
	dot := false
	for i := 0; i < len(t); i++ {
		switch {
		case t[i] >= '0' && t[i] <= '9':
		case t[i] == '.' && !dot && i > 0 && i+1 < len(t):
			dot = true
		default:
			return false
		}
	}
	return t != ""
}

// currencyOf is the currency whose sign or code stands beside a number; "" where none does,
// or a sign of several.
func currencyOf(text string) money.Currency {
	if !strings.ContainsFunc(text, func(r rune) bool { return unicode.IsLetter(r) || strings.ContainsRune(currencySigns, r) }) {
		return ""
	}
	_, _, _, word, ok := stripWords(strings.TrimRight(text, "*†‡ "))
	if !ok || word == "" {
		return ""
	}
	if c, is := signs[strings.ToLower(strings.TrimSuffix(word, "."))]; is {
		return cmp.Or(c, krones)
	}
	c, _ := money.ParseCurrency(word)
	return c
}

// krones stands for the sign of several currencies.
const krones = money.Currency("kr")

// currencySigns are those of one letter.
const currencySigns = "€£$¥"

// stripWords takes signs, currencies, percent signs and factors off both ends,
// each at most once, and gives the word or sign of the currency.
func stripWords(s string) (rest string, places int, neg bool, currency string, ok bool) {
	signed, named, percent, factored := false, false, false, false
	for {
		s = strings.TrimFunc(s, isSpace)
		if s == "" {
			return "", 0, false, "", false
		}
		first, size := utf8.DecodeRuneInString(s)
		last, tail := utf8.DecodeLastRuneInString(s)
		switch {
		case !signed && isMinus(first):
			s, signed, neg = s[size:], true, true
			continue
		case !signed && first == '+':
			s, signed = s[size:], true
			continue
		case !signed && first == '(' && last == ')':
			s, signed, neg = s[1:len(s)-1], true, true
			continue
		case !signed && isMinus(last):
			s, signed, neg = s[:len(s)-tail], true, true
			continue
		case !named && strings.ContainsRune(currencySigns, first):
			s, named, currency = s[size:], true, string(first)
			continue
		case !named && strings.ContainsRune(currencySigns, last):
			s, named, currency = s[:len(s)-tail], true, string(last)
			continue
		case !percent && last == '%':
			s, percent = s[:len(s)-1], true
			continue
		}
		if first >= '0' && first <= '9' && last >= '0' && last <= '9' {
			return s, places, neg, currency, true
		}
		begins := first >= '0' && first <= '9' || first == '('
		if word, rest := wordOff(s, begins); word != "" {
			if sign := strings.ToLower(word); begins && !signed && (sign == "cr" || sign == "dr") {
				s, signed, neg = rest, true, sign == "cr" // a credit, and a debit
				continue
			}
			if n, is := factors[strings.ToLower(strings.TrimSuffix(word, "."))]; is && !factored && begins {
				s, places, factored = rest, n, true
				continue
			}
			if isCurrency(word) && !named {
				s, named, currency = rest, true, word
				continue
			}
			return "", 0, false, "", false
		}
		return s, places, neg, currency, true
	}
}

func isMinus(r rune) bool { return r == '-' || r == '\u2212' || r == '\u2013' }

// wordOff takes the letters and signs off one end of a number.
func wordOff(s string, end bool) (word, rest string) {
	number := func(r rune) bool { return r >= '0' && r <= '9' || r == '.' || r == ',' || r == '\'' || r == '’' }
	if end {
		i := strings.LastIndexFunc(s, func(r rune) bool { return r >= '0' && r <= '9' || r == ')' }) + 1
		word = strings.TrimFunc(s[i:], isSpace)
		if inner, size := utf8.DecodeLastRuneInString(word); size > 0 && (isMinus(inner) || inner == '%') { // "5 EUR-"
			return "", s
		}
		if j := strings.LastIndexFunc(word, isSpace); j >= 0 { // the last of several
			_, size := utf8.DecodeRuneInString(word[j:])
			return word[j+size:], s[:i] + " " + word[:j]
		}
		return word, s[:i]
	}
	i := strings.IndexFunc(s, func(r rune) bool { return number(r) || isMinus(r) || r == '+' || r == '(' })
	if i <= 0 {
		return "", s
	}
	return strings.TrimFunc(s[:i], isSpace), s[i:]
}

func isCurrency(word string) bool {
	if _, ok := signs[strings.ToLower(strings.TrimSuffix(word, "."))]; ok {
		return true
	}
	_, ok := money.ParseCurrency(word)
	return ok && len(word) == 3
}

// digitGroups splits what is left into its whole and decimal digits. Groups
// have three digits, the first up to three, and one mark between all of them.
func digitGroups(s, mark string) (whole, part string, ok bool) {
	dec, group := byte('.'), ','
	if mark == Comma {
		dec, group = ',', '.'
	}
	w := s
	if i := strings.IndexByte(s, dec); i >= 0 {
		w, part = s[:i], s[i+1:]
		if !allDigits(part) {
			return "", "", false
		}
	}
	if allDigits(w) {
		return w, part, w != "" || part != ""
	}
	var b strings.Builder
	var between rune
	run, groups := 0, 0
	for _, r := range w {
		switch {
		case r >= '0' && r <= '9':
			b.WriteRune(r)
			run++
		case r == group || r == '\'' || r == '’' || isSpace(r):
			if isSpace(r) {
				r = ' '
			}
			if between != 0 && r != between || run == 0 || run > 3 || groups > 0 && run != 3 {
				return "", "", false
			}
			between, run = r, 0
			groups++
		default:
			return "", "", false
		}
	}
	return b.String(), part, run == 3
}

func allDigits(s string) bool {
	for i := 0; i < len(s); i++ {
		if s[i] < '0' || s[i] > '9' {
			return false
		}
	}
	return true
}

// assemble writes digits as a plain decimal, moved by some places.
func assemble(whole, part string, places int, neg bool) string {
	for len(part) < places {
		part += "0"
	}
	whole, part = whole+part[:places], part[places:]
	whole = strings.TrimLeft(whole, "0")
	if whole == "" {
		whole = "0"
	}
	if part != "" {
		whole += "." + part
	}
	if neg {
		return "-" + whole
	}
	return whole
}

// negated turns the sign of a plain decimal.
func negated(s string) string {
	if rest, neg := strings.CutPrefix(s, "-"); neg {
		return rest
	}
	if strings.Trim(s, "0.") == "" {
		return s
	}
	return "-" + s
}

// isDash tells the marks by which people say that there is no amount.
func isDash(s string) bool {
	switch strings.TrimFunc(s, isSpace) {
	case "-", "–", "—", "−", "--":
		return true
	}
	return false
}
