package gather

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

// TestPlainNumber: each text read with a decimal point and with a decimal
// comma; "" is no number.
func TestPlainNumber(t *testing.T) {
	for _, c := range []struct{ text, point, comma string }{
		{"1234", "1234", "1234"},
		{"1234.5", "1234.5", ""},
		{"1234,5", "", "1234.5"},
		{"1,234.50", "1234.50", ""},
		{"1.234,50", "", "1234.50"},
		{"1 234,50", "", "1234.50"},
		{"1 234.50", "1234.50", ""},
		{"1\u00a0234\u202f567,5", "", "1234567.5"},
		{"1'234'567.5", "1234567.5", ""},
		{"1,234", "1234", "1.234"},
		{"1.234", "1.234", "1234"},
		{"12,34", "", "12.34"},
		{"1,23,456", "", ""},
		{"1,234,567", "1234567", ""},
		{"(1,234.50)", "-1234.50", ""},
		{"(1.234,50)", "", "-1234.50"},
		{"1234.5-", "-1234.5", ""},
		{"1.234,50-", "", "-1234.50"},
		{"−12", "-12", "-12"},
		{"+5", "5", "5"},
		{"€ 1.2M", "1200000", ""},
		{"1,2 Mio. €", "", "1200000"},
		{"€1,234.50", "1234.50", ""},
		{"-€ 5", "-5", "-5"},
		{"1 234,50 EUR", "", "1234.50"},
		{"NOK 1,000", "1000", "1.000"},
		{"1000 kr", "1000", "1000"},
		{"250k", "250000", "250000"},
		{"45%", "45", "45"},
		{"45,5 %", "", "45.5"},
		{"(5)-", "", ""},
		{"-(5)", "", ""},
		{"(5) EUR", "-5", "-5"},
		{"EUR (1.5)", "-1.5", ""},
		{"€(5)", "-5", "-5"},
		{"(€5)", "-5", "-5"},
		{"(1.2 M)", "-1200000", ""},
		{"(5", "", ""},
		{"5)", "", ""},
		{"(5) (6)", "", ""},
		{"--5", "", ""},
		{"1..5", "", ""},
		{"5 EUR EUR", "", ""},
		{"abc", "", ""},
		{"", "", ""},
		{"-", "", ""},
		{".5", "0.5", ""},
		{",5", "", "0.5"},
		{"12:30", "", ""},
		{"1e5", "", ""},
		{"#REF!", "", ""},
	} {
		for mark, want := range map[string]string{Point: c.point, Comma: c.comma} {
			got, ok := plainNumber(c.text, mark)
			require.Equal(t, want != "", ok, "%q with a %s: %q", c.text, mark, got)
			if ok {
				w, err1 := money.ParseScaled(want, 6)
				g, err2 := money.ParseScaled(got, 6)
				require.NoError(t, err1)
				require.NoError(t, err2, "%q gives %q, which is no plain decimal", c.text, got)
				require.Equal(t, w, g, "%q with a %s", c.text, mark)
			}
		}
	}
}

// TestNumbersSurviveHowTheyAreWritten: an amount written in any way reads as
// the amount, with its own mark; and never as another with the other.
func TestNumbersSurviveHowTheyAreWritten(t *testing.T) {
	for range 5000 {
		cents := rand.Int64N(1_000_000_000_00) - 500_000_000_00
		plain := money.FormatScaled(cents, 2)
		mark, dec, group := Point, ".", []string{"", ",", " ", "'"}[rand.IntN(4)]
		if rand.IntN(2) == 0 {
			mark, dec, group = Comma, ",", []string{"", ".", " ", "\u00a0"}[rand.IntN(4)]
		}
		whole, part, _ := strings.Cut(strings.TrimPrefix(plain, "-"), ".")
		var b strings.Builder
		for i, r := range whole {
			if i > 0 && (len(whole)-i)%3 == 0 {
				b.WriteString(group)
			}
			b.WriteRune(r)
		}
		signed := []string{"%s"}
		if cents < 0 {
			signed = []string{"-%s", "%s-", "(%s)", "− %s"}
		}
		around := []string{"%s", "€%s", "%s EUR", " %s "}
		text := fmt.Sprintf(signed[rand.IntN(len(signed))], b.String()+dec+part)
		text = fmt.Sprintf(around[rand.IntN(len(around))], text)
		got, ok := plainNumber(text, mark)
		require.True(t, ok, text)
		n, err := money.ParseScaled(got, 2)
		require.NoError(t, err, text)
		require.Equal(t, cents, n, text)
	}
}

func TestReadDay(t *testing.T) {
	for _, c := range []struct{ text, year, day, month string }{
		{"2026-11-05", "2026-11-05", "2026-11-05", "2026-11-05"},
		{"2026/11/05", "2026-11-05", "2026-11-05", "2026-11-05"},
		{"20261105", "2026-11-05", "2026-11-05", "2026-11-05"},
		{"2026-11-05T10:00:00Z", "2026-11-05", "2026-11-05", "2026-11-05"},
		{"05.11.2026", "", "2026-11-05", ""},
		{"5.11.26", "", "2026-11-05", ""},
		{"05.11.2026 14:30", "", "2026-11-05", ""},
		{"11/5/2026", "", "2026-05-11", "2026-11-05"},
		{"05/11/2026", "", "2026-11-05", "2026-05-11"},
		{"25/11/2026", "", "2026-11-25", ""},
		{"11/25/2026", "", "", "2026-11-25"},
		{"5 Nov 2026", "2026-11-05", "2026-11-05", "2026-11-05"},
		{"Nov 5, 2026", "2026-11-05", "2026-11-05", "2026-11-05"},
		{"Thu 5 November 2026", "2026-11-05", "2026-11-05", "2026-11-05"},
		{"5. März 2026", "2026-03-05", "2026-03-05", "2026-03-05"},
		{"5-Nov-26", "2026-11-05", "2026-11-05", "2026-11-05"},
		{"31.02.2026", "", "", ""},
		{"5 Smarch 2026", "", "", ""},
		{"tbc", "", "", ""},
		{"2026", "", "", ""},
		{"", "", "", ""},
	} {
		d := readDay(c.text)
		require.Equal(
			t,
			[3]string{c.year, c.day, c.month},
			[3]string{d.year.String(), d.day.String(), d.month.String()},
			c.text,
		)
	}
}

func TestReadMonth(t *testing.T) {
	ps := calendar.Months(4)
	for _, c := range []struct{ text, above, want string }{
		{"2026-04", "", "2026-04"},
		{"Apr 26", "", "2026-04"},
		{"Apr-26", "", "2026-04"},
		{"apr26", "", "2026-04"},
		{"April 2026", "", "2026-04"},
		{"Mai 2026", "", "2026-05"},
		{"août 2026", "", "2026-08"},
		{"04/2026", "", "2026-04"},
		{"4.2026", "", "2026-04"},
		{"2026/4", "", "2026-04"},
		{"P01 FY27", "", "2026-04"},
		{"FY27-P08", "", "2026-11"},
		{"FY 27 P 12", "", "2027-03"},
		{"2026-04-01", "", "2026-04"},
		{"01/04/2026", "", "2026-04"},
		{"30.04.2026", "", "2026-04"},
		{"Apr", "FY27", "2026-04"},
		{"Feb", "FY27", "2027-02"},
		{"Feb", "2026", "2026-02"},
		{"Feb", "2026/27", "2027-02"},
		{"P02", "FY27", "2026-05"},
		{"Apr", "", ""},
		{"Total", "FY27", ""},
		{"FY27", "", ""},
		{"Amount", "", ""},
		{"P13 FY27", "", ""},
		{"13/2026", "", ""},
	} {
		p, needs := readMonth(c.text, "", ps)
		if needs {
			p, _ = readMonth(c.text, c.above, ps)
		}
		require.Equal(t, c.want, ps.Code(p), "%q under %q", c.text, c.above)
	}
}

// TestReadMonthOfAList: an office's own periods are headed by their codes, names
// and days, and by months where each stands for one: not with thirteen a year.
func TestReadMonthOfAList(t *testing.T) {
	first := calendar.DateOf(2026, 3, 30)
	quarters, err := calendar.Listed(calendar.Weeks(calendar.FourFourFive, first, 2027, 2, calendar.Nearest, true))
	require.NoError(t, err)
	fours, err := calendar.Listed(calendar.Weeks(calendar.ThirteenFour, first, 2027, 2, calendar.Nearest, false))
	require.NoError(t, err)
	for _, c := range []struct{ text, above, quarter, four string }{
		{"FY27-P03", "", "FY27-P03", "FY27-P03"},
		{"P03 FY27", "", "FY27-P03", "FY27-P03"},
		{"P03", "FY28", "FY28-P03", "FY28-P03"},
		{"P13", "FY27", "", "FY27-P13"},
		{"Apr 26", "", "FY27-P01", ""},
		{"April 2026", "", "FY27-P01", ""},
		{"2027-03", "", "FY27-P12", ""},
		{"Mar", "FY27", "FY27-P12", ""},
		{"2026-04-01", "", "FY27-P01", ""}, // the first of a month
		{"2026-03-30", "", "FY27-P01", "FY27-P01"},
		{"2026-04-26", "", "FY27-P01", "FY27-P01"},
		{"27.04.2026", "", "FY27-P02", "FY27-P02"},
		{"2026-04-20", "", "FY27-P01", ""}, // a day within it
		{"Apr 2019", "", "", ""},
	} {
		for _, x := range []struct {
			ps   *calendar.Periods
			want string
		}{{quarters, c.quarter}, {fours, c.four}} {
			p, needs := readMonth(c.text, "", x.ps)
			if needs {
				p, _ = readMonth(c.text, c.above, x.ps)
			}
			require.Equal(t, x.want, x.ps.Code(p), "%q under %q", c.text, c.above)
		}
	}
}

func FuzzNumber(f *testing.F) {
	for _, s := range []string{"1,234.50", "(1.234,50) €", "1 234-", "€ 1.2M", "--", "5%", "−", "1'2'3"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, text string) {
		for _, mark := range [...]string{Point, Comma} {
			plain, ok := plainNumber(text, mark)
			if !ok {
				continue
			}
			require.True(t, isPlain(plain), "%q gives %q", text, plain)
			again, ok := plainNumber(plain, Point)
			require.True(t, ok)
			require.Equal(t, plain, again, "a plain number reads as itself")
		}
	})
}

func FuzzDay(f *testing.F) {
	for _, s := range []string{"2026-11-05", "05.11.2026", "5 Nov 2026", "11/5/26", "Thu 5. März 2026", "P01 FY27", "Apr 26"} {
		f.Add(s)
	}
	ps := calendar.Months(4)
	f.Fuzz(func(t *testing.T, text string) {
		for _, d := range [...]calendar.Date{readDay(text).year, readDay(text).day, readDay(text).month} {
			if d != 0 {
				require.True(t, d >= calendar.Earliest && d <= calendar.Latest, "%q gives %s", text, d)
			}
		}
		if p, _ := readMonth(text, "FY27", ps); p != 0 {
			require.True(t, ps.Exists(p), "%q gives %d", text, p)
		}
	})
}
