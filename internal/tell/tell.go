// Package tell is how readings are told: figures written, sentences said and
// pictures drawn, the same on every screen and in every brief.
package tell

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"github.com/bojanz/currency"

	"turret/internal/core/calendar"
	"turret/internal/core/exact"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/standing"
)

// locale is how numbers and money are written: 1,234.5.
var locale = currency.NewLocale("en")

// Dash stands for what is not known.
const Dash = "—"

// Cell is a figure as a screen shows it. Title is what hovering tells: the
// exact value, or the reason why there is none.
type Cell struct {
	Text, Title string
	Known       bool
	Sign        int
}

// Format writes a figure. Money is in thousands, or exact.
func Format(v figure.Value, c money.Currency, exact bool) Cell {
	if !v.Known {
		return Cell{Text: Dash, Title: "Not known: " + v.Why}
	}
	x := Cell{Known: true, Sign: v.Rat().Sign()}
	switch v.Unit {
	case figure.Money:
		full := Amount(money.Format(v.N, c), -1)
		x.Text, x.Title = full, full+" "+string(c)
		if !exact {
			x.Text = Amount(figure.Decimals(perThousand(v.N, c), 0), 0)
		}
	case figure.Ratio:
		x.Text, x.Title = minus(figure.Decimals(v.R, 2)), v.Text(c)
		if exact {
			x.Text = minus(figure.Decimals(v.R, 4))
		}
	case figure.Periods:
		x.Text, x.Title = minus(figure.Decimals(v.R, 2)), v.Text(c)+" periods"
	case figure.Size:
		x.Text, x.Title = minus(figure.TrimDecimals(figure.Decimals(v.R, 1))), v.Text(c)
	case figure.Day:
		x.Text = Date(calendar.Date(v.N))
		x.Title = x.Text
	case figure.Workdays:
		x.Text = Signed(int(v.N)) + " d"
		x.Title = fmt.Sprintf("%d working days", v.N)
	default:
		x.Text = v.Text(c)
		x.Title = x.Text
	}
	return x
}

// Figure writes a figure of the catalogue: shares as percentages, with one
// decimal or, exactly, with two; all else as Format does.
func Figure(id figure.ID, v figure.Value, c money.Currency, exact bool) Cell {
	digits := 1
	if exact {
		digits = 2
	}
	switch id {
	case figure.ComputedOver, figure.StatedOver, figure.SVShare, figure.CVShare:
		x := percent(v, digits)
		if x.Sign > 0 && strings.Trim(x.Text, "0.%") != "" {
			x.Text = "+" + x.Text
		}
		return x
	}
	if inPercent[id] {
		return percent(v, digits)
	}
	return Format(v, c, exact)
}

// Unit says what the figures of a money column are in.
func Unit(u figure.Unit, c money.Currency) string {
	if u == figure.Money {
		return symbolOf(c) + " k"
	}
	return ""
}

// MillionUnit is the unit of a drawing in millions.
func MillionUnit(c money.Currency) string { return symbolOf(c) + " M" }

func symbolOf(c money.Currency) string {
	symbol, ok := currency.GetSymbol(string(c), locale)
	if !ok {
		return string(c)
	}
	return symbol
}

// InMillions gives money for drawing; ok is false where it is not known.
func InMillions(v figure.Value, c money.Currency) (float64, bool) {
	if !v.Known {
		return 0, false
	}
	f, _ := perThousand(v.N, c).Quo(exact.Whole(1000)).Rat().Float64()
	return f, true
}

// Float gives a share or count for drawing; NaN where it is not known.
func Float(v figure.Value) float64 {
	if !v.Known {
		return math.NaN()
	}
	f, _ := v.Rat().Float64()
	return f
}

func perThousand(n int64, c money.Currency) exact.Ratio {
	scale := int64(1000)
	for range c.Exponent() {
		scale *= 10
	}
	return exact.Of(n, scale)
}

// Percent writes a share as 12.3%.
func Percent(v figure.Value) Cell { return percent(v, 1) }

func percent(v figure.Value, digits int) Cell {
	if !v.Known {
		return Cell{Text: Dash, Title: "Not known: " + v.Why}
	}
	return Cell{
		Text:  minus(figure.Decimals(v.R.Mul(exact.Whole(100)), digits)) + "%",
		Title: figure.Decimals(v.R, 6),
		Known: true,
		Sign:  v.R.Sign(),
	}
}

// Amount groups the digits of a decimal number; digits below 0 keeps all.
func Amount(s string, digits int) string {
	a, err := currency.NewAmount(s, "EUR") // any code will do: only digits are shown
	if err != nil {
		return s
	}
	f := currency.NewFormatter(locale)
	f.CurrencyDisplay = currency.DisplayNone
	f.MaxDigits = 6
	if digits >= 0 {
		f.MinDigits, f.MaxDigits = uint8(digits), uint8(digits)
	} else if _, part, ok := strings.Cut(s, "."); ok {
		f.MinDigits = uint8(len(part))
	} else {
		f.MinDigits = 0
	}
	return minus(strings.TrimSpace(f.Format(a)))
}

// Value writes a value of an input: of an amount with its currency, such as
// 1234.50 EUR, the digits are grouped; all else stays.
func Value(s string) string {
	number, unit, ok := strings.Cut(s, " ")
	if _, known := money.ParseCurrency(unit); !ok || !known || strings.Trim(number, "-0123456789.") != "" {
		return s
	}
	return Amount(number, -1) + " " + unit
}

// minus writes the sign as printers do; what rounds to nothing has none.
func minus(s string) string {
	if strings.HasPrefix(s, "-") && strings.Trim(s, "-0.,") == "" {
		return s[1:]
	}
	return strings.ReplaceAll(s, "-", "−")
}

// Date writes a day as 14 Mar 2028.
func Date(d calendar.Date) string {
	if d == 0 {
		return Dash
	}
	return d.Time().Format("2 Jan 2006")
}

// Moment writes a moment of UTC milliseconds as 14 Mar 2028 09:30.
func Moment(ms int64) string { return time.UnixMilli(ms).UTC().Format("2 Jan 2006 15:04") }

// Signed writes a whole number with its sign.
func Signed(n int) string {
	switch {
	case n > 0:
		return fmt.Sprintf("+%d", n)
	case n < 0:
		return fmt.Sprintf("−%d", -n)
	}
	return "0"
}

// Number writes small counts in words, as sentences have them.
func Number(n int) string {
	if n >= 0 && n <= 10 {
		return [...]string{"none", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten"}[n]
	}
	return fmt.Sprint(n)
}

// CountsInWords says how many projects stand where.
func CountsInWords(n [4]int) string {
	var out []string
	for _, st := range [...]standing.Standing{standing.Act, standing.Watch, standing.Steady, standing.Unrated} {
		if n[st] > 0 {
			out = append(out, fmt.Sprintf("%d %s", n[st], st))
		}
	}
	if len(out) == 0 {
		return "no project counts"
	}
	return strings.Join(out, ", ")
}

// Plural counts something.
func Plural(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}

// OverUnder says a share above or below plan.
func OverUnder(v figure.Value) string {
	text := strings.TrimPrefix(Percent(v).Text, "−")
	if text == "0.0%" {
		text = "less than 0.1%"
	}
	switch {
	case v.R.Sign() == 0:
		return "as planned"
	case v.R.Sign() > 0:
		return text + " over"
	}
	return text + " under"
}

// Capital begins a sentence.
func Capital(s string) string {
	if s == "" {
		return s
	}
	return strings.ToUpper(s[:1]) + s[1:]
}

// Few keeps a list short enough for a sentence: six, and how many more.
func Few(list []string) []string {
	const most = 6
	if n := len(list) - most; n > 0 {
		return append(slices.Clone(list[:most]), fmt.Sprintf("and %d more", n))
	}
	return list
}

// Lower writes a title within a sentence; one that begins with a short form keeps
// it.
func Lower(s string) string {
	if len(s) > 1 && s[1] >= 'A' && s[1] <= 'Z' {
		return s
	}
	return strings.ToLower(s[:1]) + s[1:]
}
