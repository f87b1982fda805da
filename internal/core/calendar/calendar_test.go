package calendar

import (
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

func day(t testing.TB, s string) Date {
	t.Helper()
	d, err := ParseDate(s)
	require.NoError(t, err)
	return d
}

func TestParseDate(t *testing.T) {
	for _, s := range []string{"2026-11-05", "1900-01-01", "2199-12-31", "2024-02-29"} {
		require.Equal(t, s, day(t, s).String())
	}
	for _, s := range []string{"2026-02-31", "2026-2-3", "05.11.2026", "2026-13-01", "1899-12-31", "2200-01-01", "2025-02-29", "", "2026-11-0x", "0000-00-00"} {
		_, err := ParseDate(s)
		require.Error(t, err, s)
	}
}

func FuzzParseDate(f *testing.F) {
	f.Add("2026-11-05")
	f.Add("2026-02-31")
	f.Fuzz(func(t *testing.T, s string) {
		if d, err := ParseDate(s); err == nil && d.String() != s {
			t.Fatalf("%q reads as %s", s, d)
		}
	})
}

func TestMonths(t *testing.T) {
	p := Months(4)
	nov, err := p.Parse("2026-11")
	require.NoError(t, err)
	require.Equal(t, "2026-11", p.Code(nov))
	require.Equal(t, "Nov 2026", p.Name(nov))
	require.Equal(t, "2026-11-01", p.First(nov).String())
	require.Equal(t, "2026-11-30", p.Last(nov).String())
	require.Equal(t, nov, p.Of(day(t, "2026-11-30")))
	require.Equal(t, 2027, p.FiscalYear(nov), "April 2026 to March 2027 ends in 2027")
	mar, err := p.Parse("2026-03")
	require.NoError(t, err)
	require.Equal(t, 2026, p.FiscalYear(mar))
	require.Equal(t, 2026, Months(1).FiscalYear(nov))
	require.Equal(t, nov+2, p.Of(day(t, "2027-01-15")))
	for _, s := range []string{"2026-13", "2026-1", "FY27-P01", "", "2026-00"} {
		_, err := p.Parse(s)
		require.Error(t, err, s)
	}
	require.Zero(t, p.Last(0))
	require.Empty(t, p.Code(0))
}

// Before its first month a calendar of months has no day.
func TestNoMonth(t *testing.T) {
	var months Periods
	require.Zero(t, months.First(0))
	require.Zero(t, months.First(-1))
}

func TestWorkingDays(t *testing.T) {
	c := New("office", MondayToFriday, []Date{day(t, "2026-12-25")})
	for _, x := range []struct {
		a, b           string
		duration, slip int
	}{
		{"2026-11-02", "2026-11-06", 5, 4},  // Monday to Friday; four days after Monday
		{"2026-11-06", "2026-11-09", 2, 1},  // over a weekend
		{"2026-12-24", "2026-12-28", 2, 1},  // Thursday, holiday, weekend, Monday
		{"2026-11-07", "2026-11-08", 0, 0},  // a weekend
		{"2026-11-09", "2026-11-06", 0, -1}, // backwards
		{"2026-11-02", "2026-11-02", 1, 0},
	} {
		require.Equal(t, x.duration, c.Duration(day(t, x.a), day(t, x.b)), x)
		require.Equal(t, x.slip, c.Slip(day(t, x.a), day(t, x.b)), x)
	}
	require.Zero(t, c.Duration(0, day(t, "2026-11-02")))
}

// TestPrefixSums counts day by day.
func TestPrefixSums(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	week := Week{true, true, true, true, false, false, false}
	off := map[Date]bool{}
	var holidays []Date
	base := DateOf(2026, 1, 1)
	for range 50 {
		h := base + Date(r.IntN(1000))
		off[h] = true
		holidays = append(holidays, h)
	}
	c := New("island", week, holidays)
	for range 500 {
		a, b := base+Date(r.IntN(1000)), base+Date(r.IntN(1000))
		want, sign := 0, 1
		from, to := a, b
		if b < a {
			from, to, sign = b, a, -1
		}
		for d := from + 1; d <= to; d++ {
			if week[d.Time().Weekday()] && !off[d] {
				want++
			}
		}
		require.Equal(t, sign*want, c.Slip(a, b))
	}
}

func TestParseWeekday(t *testing.T) {
	d, ok := ParseWeekday("sat")
	require.True(t, ok)
	require.Equal(t, time.Saturday, d)
	_, ok = ParseWeekday("saturday")
	require.False(t, ok)
}

// TestWorkingDay: November 2026 ends on a Monday, and Friday 4 December is off.
func TestWorkingDay(t *testing.T) {
	c := New("office", MondayToFriday, []Date{day(t, "2026-12-04")})
	for _, x := range []struct {
		from string
		n    int
		want string
	}{
		{"2026-11-30", 0, "2026-11-30"},
		{"2026-11-30", 1, "2026-12-01"},
		{"2026-11-30", 3, "2026-12-03"},
		{"2026-11-30", 4, "2026-12-07"},
		{"2026-11-30", -1, "2026-11-27"},
		{"2026-11-30", -6, "2026-11-20"},
		{"2026-11-29", 0, "2026-11-27"},
		{"2026-11-29", 1, "2026-11-30"},
	} {
		require.Equal(t, x.want, c.WorkingDay(day(t, x.from), x.n).String(), x)
	}
	require.Zero(t, c.WorkingDay(Latest, 1))
	require.Zero(t, c.WorkingDay(Earliest, -9))
	monday := Earliest // 1 January 1900 was one
	require.Equal(t, monday, c.WorkingDay(monday+4, -4), "the first day there is")
	require.Zero(t, c.WorkingDay(monday+4, -5))
	require.Zero(t, New("never", Week{}, nil).WorkingDay(Latest, 1))
}

// TestInstants compares the counting by bits with counting day by day, and goes there and
// back: Day is the first day of its instant.
func TestInstants(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 5))
	for range 8 {
		var week Week
		for d := range week {
			week[d] = r.IntN(3) > 0
		}
		off := map[Date]bool{}
		var holidays []Date
		for range r.IntN(300) {
			h := Earliest + Date(r.IntN(int(Latest-Earliest)+1))
			off[h] = true
			holidays = append(holidays, h)
		}
		c := New("c", week, append(holidays, Latest+9, Earliest-4))
		n, weekday := 0, int(Earliest.Time().Weekday())
		for d := Earliest; d <= Latest; d++ {
			if week[(weekday+int(d-Earliest))%7] && !off[d] {
				if n++; c.Day(n) != d {
					require.Equal(t, d, c.Day(n))
				}
			}
			if n != c.Instant(d) {
				require.Equal(t, n, c.Instant(d), d)
			}
		}
		require.Equal(t, n > 0, c.Worked())
		require.Equal(t, -4, c.Instant(Earliest-5))
		require.Equal(t, n+7, c.Instant(Latest+7))
		for _, k := range []int{-9, 0, n + 1, n + 400} {
			require.Equal(t, k, c.Instant(c.Day(k)))
		}
	}
}
