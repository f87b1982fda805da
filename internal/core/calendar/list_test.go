package calendar

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// quarter is a 4-4-5 quarter from 28 December 2026, and a period of the next year.
func quarter(t *testing.T) []Bound {
	first := day(t, "2026-12-28")
	return []Bound{
		{"FY27-P01", "Jan 2027", first, first + 27},
		{"FY27-P02", "", first + 28, first + 55},
		{"FY27-P03", "Summer close", first + 56, first + 90},
		{"FY28-P01", "", first + 91, first + 118},
	}
}

func TestListed(t *testing.T) {
	list := quarter(t)
	first := list[0].First
	list[0], list[2] = list[2], list[0] // in any order
	p, err := Listed(list)
	require.NoError(t, err)
	require.Equal(t, "FY27-P01", p.Code(1))
	require.Equal(t, "FY28-P01", p.Code(4))
	require.Equal(t, "2027-01-24", p.Last(1).String())
	require.Equal(t, "2027-01-25", p.First(2).String())
	require.Equal(t, Period(3), p.Of(first+60))
	require.Zero(t, p.Of(first-1))
	require.Zero(t, p.Of(first+119))
	require.Zero(t, p.Last(9))
	for _, text := range []string{"fy27-p03", "summer CLOSE"} {
		got, err := p.Parse(text)
		require.NoError(t, err)
		require.Equal(t, Period(3), got)
	}
	require.Equal(t, 2027, p.FiscalYear(3))
	require.Equal(t, 2028, p.FiscalYear(4))
	require.Equal(t, []string{"Jan 2027", "FY27-P02", "Summer close"}, []string{p.Name(1), p.Name(2), p.Name(3)})
	require.Equal(t, []string{"Jan", "P02", "P03"}, []string{p.Short(1), p.Short(2), p.Short(3)})
	require.Equal(t, []int{0, 1, 3, 1, 0}, []int{p.Number(0), p.Number(1), p.Number(3), p.Number(4), p.Number(5)})
	require.Equal(t, Period(1), p.Before(4))
	require.Zero(t, p.Before(1))
	for _, text := range []string{"2026-04", "", "FY27-P04"} {
		_, err = p.Parse(text)
		require.Error(t, err, text)
	}
}

func TestListsThatCannotBe(t *testing.T) {
	for _, c := range []struct {
		spoil func([]Bound) []Bound
		says  string
	}{
		{func(b []Bound) []Bound { return nil }, "needs at least one"},
		{func(b []Bound) []Bound { b[0].Last = b[0].First - 1; return b }, "FY27-P01: it ends on 2026-12-27, before it begins on 2026-12-28"},
		{func(b []Bound) []Bound { b[1].First++; return b }, "FY27-P02: it begins on 2027-01-26, and FY27-P01 ends on 2027-01-24; the days between"},
		{func(b []Bound) []Bound { b[1].First--; return b }, "FY27-P02: it begins on 2027-01-24, and FY27-P01 lasts until 2027-01-24"},
		{func(b []Bound) []Bound { b[1].Code = "FY27-P03"; return b }, "FY27-P03: it comes after FY27-P01; that is FY27-P02, or FY28-P01"},
		{func(b []Bound) []Bound { b[3].Code = "FY26-P01"; return b }, "FY26-P01: it comes after FY27-P03"},
		{func(b []Bound) []Bound { b[3].Code = "FY27-4"; return b }, `"FY27-4" is not a period like FY27-P01`},
		{func(b []Bound) []Bound { b[3].Code = "FY33-P01"; return b }, "not in the fiscal year of its code"},
		{func(b []Bound) []Bound { b[3].Last += 400; return b }, "it has 428 days"},
		{func(b []Bound) []Bound { b[3].Name = "jan 2027"; return b }, `FY27-P01 is called "JAN 2027" already`},
		{func(b []Bound) []Bound { b[3].First = 0; return b }, "FY28-P01"},
	} {
		_, err := Listed(c.spoil(quarter(t)))
		require.ErrorContains(t, err, c.says)
		var bad *BoundError
		require.ErrorAs(t, err, &bad)
	}
}

// TestWeeks draws years that end on the Sunday nearest to the end of March, or
// on the last one in it. 52 weeks from Monday 30 March 2026 end on 28 March
// 2027, three days short of the 31st; the next on 26 March 2028, five short.
func TestWeeks(t *testing.T) {
	first := day(t, "2026-03-30")
	for _, c := range []struct {
		leap LeapWeek
		ends []string // of five years
	}{
		{Nearest, []string{"2027-03-28", "2028-04-02", "2029-04-01", "2030-03-31", "2031-03-30"}},
		{Within, []string{"2027-03-28", "2028-03-26", "2029-03-25", "2030-03-31", "2031-03-30"}},
		{Never, []string{"2027-03-28", "2028-03-26", "2029-03-25", "2030-03-24", "2031-03-23"}},
	} {
		for _, pattern := range [][]int{FourFourFive, FourFiveFour, FiveFourFour, ThirteenFour} {
			list := Weeks(pattern, first, 2027, 5, c.leap, false)
			p, err := Listed(list)
			require.NoError(t, err)
			require.Len(t, list, 5*len(pattern))
			for y, end := range c.ends {
				require.Equal(t, end, p.Last(p.InYear(2027+y, len(pattern))).String(), c.leap)
			}
			for i, b := range list {
				require.Equal(t, time53(i, len(pattern), pattern, list), int(b.Last-b.First+1)/7, b.Code)
			}
		}
	}
	list := Weeks(FourFourFive, first, 2027, 3, Nearest, true)
	require.Equal(t, []string{"Apr 2026", "May 2026", "Jun 2026"}, []string{list[0].Name, list[1].Name, list[2].Name})
	require.Equal(t, "Mar 2028", list[23].Name)
	require.Empty(t, Weeks(ThirteenFour, first, 2027, 1, Nearest, true)[0].Name, "two periods share a month")
	require.Empty(t, Weeks(nil, first, 2027, 3, Nearest, true))
}

// time53 is the number of weeks that a period has: its pattern's, and one more
// where its year has 53.
func time53(i, n int, pattern []int, list []Bound) int {
	from, to := i/n*n, i/n*n+n-1
	if weeks := int(list[to].Last-list[from].First+1) / 7; i == to && weeks == 53 {
		return pattern[i%n] + 1
	}
	return pattern[i%n]
}

func TestMonthsOfAList(t *testing.T) {
	first := day(t, "2026-03-30")
	p, err := Listed(Weeks(FourFourFive, first, 2027, 3, Nearest, false))
	require.NoError(t, err)
	for m := range 36 {
		require.Equal(t, Period(m+1), p.InMonth(2026+(m+3)/12, (m+3)%12+1), m)
	}
	require.Zero(t, p.InMonth(2026, 3))
	require.Zero(t, p.InMonth(2029, 4))
	p, err = Listed(Weeks(ThirteenFour, first, 2027, 3, Nearest, false))
	require.NoError(t, err)
	require.Zero(t, p.InMonth(2026, 6), "with thirteen periods a month is none of them")
	months := Months(4)
	require.Equal(t, "2026-06", months.Code(months.InMonth(2026, 6)))
	require.Equal(
		t,
		[]int{12, 1, 9},
		[]int{
			months.Number(months.InMonth(2026, 3)),
			months.Number(months.InMonth(2026, 4)),
			months.Number(months.InMonth(2026, 12)),
		},
	)
	require.Equal(t, "2025-04", months.Code(months.Before(months.InMonth(2026, 4))))
}

// TestNear: a day before the list is near its first period, one after it near its
// last, and no day near none.
func TestNear(t *testing.T) {
	months := Months(1)
	require.Zero(t, months.Near(0))
	list, err := Listed(quarter(t))
	require.NoError(t, err)
	first, last := list.First(1), list.Last(Period(len(quarter(t))))
	require.Zero(t, list.Near(0))
	require.Equal(t, Period(1), list.Near(first-400))
	require.Equal(t, Period(1), list.Near(first))
	require.Equal(t, Period(len(quarter(t))), list.Near(last))
	require.Equal(t, Period(len(quarter(t))), list.Near(last+1))
	month := last.Time().AddDate(2, 0, 0)
	require.Zero(t, list.InMonth(month.Year(), int(month.Month())), "beyond the list")
}

// TestPeriodsOfYears: months exist from 1900 through 2199, the first to the twelfth.
func TestPeriodsOfYears(t *testing.T) {
	p := Months(1)
	for _, c := range []struct {
		year, n int
		code    string
	}{
		{1899, 12, ""},
		{1900, 1, "1900-01"},
		{2026, 1, "2026-01"},
		{2026, 12, "2026-12"},
		{2026, 0, ""},
		{2026, 13, ""},
		{2199, 12, "2199-12"},
		{2200, 1, ""},
	} {
		got := p.InYear(c.year, c.n)
		if c.code == "" {
			require.Zero(t, got, "%d %d", c.year, c.n)
			continue
		}
		require.Equal(t, c.code, p.Code(got))
	}
}
