package tell

import (
	"strconv"
	"strings"

	"turret/internal/core/exact"
	"turret/internal/core/figure"
	"turret/internal/core/money"
)

// Scale is what amounts of a table are written in.
type Scale string

// The scales: units of the currency to its last decimal, thousands, or millions
// with one decimal.
const (
	Units     Scale = "1"
	Thousands Scale = "k"
	InMillion Scale = "m"
)

// Scales lists all of them.
var Scales = []Scale{Units, Thousands, InMillion}

// Name says a scale of a currency: EUR thousand.
func (s Scale) Name(c money.Currency) string {
	switch s {
	case Thousands:
		return string(c) + " thousand"
	case InMillion:
		return string(c) + " million"
	}
	return string(c)
}

// Round gives an amount in the scale's last decimal, rounded half to even.
func (s Scale) Round(n int64, c money.Currency) int64 {
	places := map[Scale]int{Thousands: c.Exponent() + 3, InMillion: c.Exponent() + 5}[s]
	if places == 0 {
		return n
	}
	unit := int64(1)
	for range places {
		unit *= 10
	}
	out, err := money.MulDiv(n, 1, unit)
	if err != nil {
		return n // a quotient by more than one is no larger than its dividend
	}
	return out
}

// Write writes an amount in the scale.
func (s Scale) Write(n int64, c money.Currency) string {
	switch s {
	case Thousands:
		return Amount(money.FormatScaled(s.Round(n, c), 0), 0)
	case InMillion:
		return Amount(money.FormatScaled(s.Round(n, c), 1), 1)
	}
	return Amount(money.Format(n, c), c.Exponent())
}

// Change writes an amount with its sign, such as +388.
func (s Scale) Change(n int64, c money.Currency) string {
	if text := s.Write(n, c); s.Round(n, c) <= 0 {
		return text
	} else {
		return "+" + text
	}
}

// Share writes a part of a whole as 12.3%, with a sign where it is asked for; a
// dash where there is no whole.
func Share(part, whole int64, signed bool) string {
	if whole == 0 {
		return Dash
	}
	text := minus(figure.Decimals(exact.Of(part, whole).Mul(exact.Whole(100)), 1)) + "%"
	if signed && part != 0 && (part > 0) == (whole > 0) {
		return "+" + text
	}
	return text
}

// Ratio writes a share that was computed by statistics as 12.3%, with a sign
// where it is asked for.
func Ratio(share float64, signed bool) string {
	text := strconv.FormatFloat(share*100, 'f', 1, 64)
	if signed && share > 0 && strings.Trim(text, "0.") != "" {
		text = "+" + text
	}
	return minus(text) + "%"
}
