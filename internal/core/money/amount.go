package money

import (
	"errors"
	"fmt"
	"math"
	"math/big"
	"strconv"
	"strings"
)

// Errors of reading amounts. They are wrapped with the text that was read.
var (
	ErrSyntax    = errors.New("is not a plain decimal number")
	ErrPrecision = errors.New("has more decimals than the currency has")
	ErrRange     = errors.New("is too large: the limit is 92,233,720,368,547,758.07 in a currency with two decimals")
)

// Parse reads a canonical decimal number ("-1234.5") as minor units of a
// currency. Trailing zeros beyond the exponent are accepted. The error is
// ErrSyntax, ErrPrecision or ErrRange, wrapped.
func Parse(s string, c Currency) (int64, error) {
	n, err := ParseScaled(s, c.Exponent())
	if errors.Is(err, ErrPrecision) {
		return 0, fmt.Errorf("%q %w (%s has %d)", s, ErrPrecision, c, c.Exponent())
	}
	return n, err
}

// ParseScaled reads a canonical decimal number as a whole number of 10^-scale.
func ParseScaled(s string, scale int) (int64, error) {
	bad := func(err error) (int64, error) { return 0, fmt.Errorf("%q %w", s, err) }
	t := s
	neg := strings.HasPrefix(t, "-")
	if neg || strings.HasPrefix(t, "+") {
		t = t[1:]
	}
	whole, part, _ := strings.Cut(t, ".")
	if whole == "" && part == "" || !digits(whole) || !digits(part) {
		return bad(ErrSyntax)
	}
	if strings.HasSuffix(t, ".") {
		return bad(ErrSyntax)
	}
	for len(part) > scale {
		if part[len(part)-1] != '0' {
			return bad(ErrPrecision)
		}
		part = part[:len(part)-1]
	}
	all := whole + part + strings.Repeat("0", scale-len(part))
	if neg {
		all = "-" + all
	}
	n, err := strconv.ParseInt(all, 10, 64)
	if err != nil {
		return bad(ErrRange)
	}
	return n, nil
}

func digits(s string) bool {
	for i := 0; i < len(s); i++ {
		if s[i] < '0' || s[i] > '9' {
			return false
		}
	}
	return true
}

// Format writes minor units as a decimal number in major units with all digits
// of the currency: 12345 EUR is "123.45". Parse reads it back.
func Format(n int64, c Currency) string { return FormatScaled(n, c.Exponent()) }

// FormatScaled writes a whole number of 10^-scale as a decimal number.
func FormatScaled(n int64, scale int) string {
	if scale == 0 {
		return strconv.FormatInt(n, 10)
	}
	neg := n < 0
	u := uint64(n)
	if neg {
		u = -u
	}
	s := strconv.FormatUint(u, 10)
	if len(s) <= scale {
		s = strings.Repeat("0", scale-len(s)+1) + s
	}
	s = s[:len(s)-scale] + "." + s[len(s)-scale:]
	if neg {
		s = "-" + s
	}
	return s
}

// FormatShort writes a whole number of 10^-scale as a decimal number without zeros
// at its end: 12500000 of scale 6 is "12.5".
func FormatShort(n int64, scale int) string {
	s := FormatScaled(n, scale)
	if scale == 0 {
		return s
	}
	return strings.TrimSuffix(strings.TrimRight(s, "0"), ".")
}

// Add gives a + b and false where the sum leaves 64 bits.
func Add(a, b int64) (int64, bool) {
	s := a + b
	return s, (s > a) == (b > 0)
}

// Round gives an exact quotient as a whole number, half to even. The error is
// ErrRange where it leaves 64 bits.
func Round(r *big.Rat) (int64, error) {
	if r.IsInt() {
		if !r.Num().IsInt64() {
			return 0, ErrRange
		}
		return r.Num().Int64(), nil
	}
	q, m := new(big.Int).DivMod(r.Num(), r.Denom(), new(big.Int))
	switch m.Lsh(m, 1).Cmp(r.Denom()) {
	case 1:
		q.Add(q, one)
	case 0:
		if q.Bit(0) == 1 {
			q.Add(q, one)
		}
	}
	if !q.IsInt64() {
		return 0, ErrRange
	}
	return q.Int64(), nil
}

var one = big.NewInt(1)

// MulDiv gives a × num ÷ den rounded half to even, exactly; den is above zero.
// It takes a 128-bit product, and math/big only where that would overflow.
func MulDiv(a, num, den int64) (int64, error) {
	neg := (a < 0) != (num < 0)
	q, ok := mulDiv(magnitude(a), magnitude(num), uint64(den))
	if !ok || q > math.MaxInt64 {
		r := new(big.Rat).SetFrac(new(big.Int).Mul(big.NewInt(a), big.NewInt(num)), big.NewInt(den))
		return Round(r)
	}
	if neg {
		return -int64(q), nil
	}
	return int64(q), nil
}

func magnitude(n int64) uint64 {
	if n < 0 {
		return -uint64(n)
	}
	return uint64(n)
}

// RoundText rounds a plain decimal number to some decimals, half to even. A
// text that is no such number comes back as it is.
func RoundText(s string, digits int) string {
	r, ok := new(big.Rat).SetString(s)
	if !ok {
		return s
	}
	scale := new(big.Rat).SetInt(new(big.Int).Exp(big.NewInt(10), big.NewInt(int64(digits)), nil))
	n, err := Round(r.Mul(r, scale))
	if err != nil {
		return s
	}
	return FormatScaled(n, digits)
}
