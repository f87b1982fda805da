package calendar

import (
	"fmt"
	"math/big"
	"sort"
	"strconv"
	"strings"
	"time"
)

// Period is the ordinal of a reporting period in the office's list; periods
// next to each other differ by one. The zero value is no period.
type Period int32

// Periods is the office's reporting calendar: calendar months, or a list of
// its own. Ordinals of months are year × 12 + month − 1, those of a list count
// from 1.
type Periods struct {
	fiscalStart int
	list        []Bound
	byCode      map[string]Period // and by name, in upper case
}

// Months gives calendar months with fiscal years beginning in the given month
// (1 to 12; 1 where it lies outside).
func Months(fiscalStart int) *Periods {
	if fiscalStart < 1 || fiscalStart > 12 {
		fiscalStart = 1
	}
	return &Periods{fiscalStart: fiscalStart}
}

// FiscalStart is the month in which fiscal years begin.
func (s *Periods) FiscalStart() int { return s.fiscalStart }

// Of gives the period that holds a day; zero where the office's list has none.
func (s *Periods) Of(d Date) Period {
	if d == 0 {
		return 0
	}
	if s.list == nil {
		y, m, _ := d.Split()
		return Period(y*12 + m - 1)
	}
	i := sort.Search(len(s.list), func(i int) bool { return s.list[i].Last >= d })
	if i == len(s.list) || s.list[i].First > d {
		return 0
	}
	return Period(i + 1)
}

// Hold tells whether a day lies in one of the periods; in months every day does.
func (s *Periods) Hold(d Date) bool { return s.list == nil && d != 0 || s.Of(d) != 0 }

// Near gives the period that holds a day, and in a list the first one for earlier
// days and the last one for later ones; zero for no day.
func (s *Periods) Near(d Date) Period {
	p := s.Of(d)
	switch {
	case p != 0 || d == 0:
		return p
	case d < s.First(1):
		return 1
	}
	return Period(len(s.list))
}

// First is the first day of a period; zero where there is no such period.
func (s *Periods) First(p Period) Date {
	if s.list == nil {
		if p <= 0 {
			return 0
		}
		return DateOf(int(p)/12, int(p)%12+1, 1)
	}
	if p < 1 || int(p) > len(s.list) {
		return 0
	}
	return s.list[p-1].First
}

// Last is the last day of a period; zero where there is no such period.
func (s *Periods) Last(p Period) Date {
	if s.list == nil {
		if p <= 0 {
			return 0
		}
		return s.First(p+1) - 1
	}
	if p < 1 || int(p) > len(s.list) {
		return 0
	}
	return s.list[p-1].Last
}

// After gives the day that lies a number of periods after the end of one: n + r = that
// number with n whole and r below 1, the r-th part, days rounded up, of the period after the
// n-th; the last day of the n-th where r is 0. Zero where that lies beyond the office's
// calendar, or too far to tell.
func (s *Periods) After(p Period, t *big.Rat) Date {
	n, rest := new(big.Int).QuoRem(t.Num(), t.Denom(), new(big.Int))
	if t.Sign() < 0 || !n.IsInt64() || n.Int64() > 12*400 {
		return 0
	}
	p += Period(n.Int64())
	if rest.Sign() == 0 {
		return within(s.Last(p))
	}
	start, end := s.First(p+1), s.Last(p+1)
	if start == 0 {
		return 0
	}
	days := new(big.Int).Mul(rest, big.NewInt(int64(end-start)+1))
	up, over := days.QuoRem(days, t.Denom(), new(big.Int))
	if over.Sign() > 0 {
		up.Add(up, big.NewInt(1))
	}
	return within(start + Date(up.Int64()) - 1)
}

func within(d Date) Date {
	if d > Latest {
		return 0
	}
	return d
}

// Code is what files and addresses call a period: 2026-11, or FY27-P08 in a
// list; "" where there is no such period.
func (s *Periods) Code(p Period) string {
	if s.list == nil {
		if p <= 0 {
			return ""
		}
		return fmt.Sprintf("%04d-%02d", int(p)/12, int(p)%12+1)
	}
	if p < 1 || int(p) > len(s.list) {
		return ""
	}
	return s.list[p-1].Code
}

// Parse reads the code of a period, or its name in a list.
func (s *Periods) Parse(code string) (Period, error) {
	code = strings.TrimSpace(code)
	if s.list != nil {
		if p, ok := s.byCode[strings.ToUpper(code)]; ok && code != "" {
			return p, nil
		}
		return 0, fmt.Errorf("%q is not a period of the office's list, such as %s", code, s.list[0].Code)
	}
	d, err := ParseDate(code + "-01")
	if err != nil || len(code) != 7 {
		return 0, fmt.Errorf("%q is not a period like 2026-11", code)
	}
	return s.Of(d), nil
}

// ParseYear gives the first period of a fiscal year that is written as FY27 or FY2027; zero
// where a text is none, or the office has none of it.
func (s *Periods) ParseYear(text string) Period {
	digits, ok := strings.CutPrefix(strings.ToUpper(strings.TrimSpace(text)), "FY")
	n, err := strconv.Atoi(digits)
	switch {
	case !ok || err != nil || n < 0:
		return 0
	case len(digits) == 2:
		n += 2000
	case len(digits) != 4:
		return 0
	}
	return s.InYear(n, 1)
}

// FiscalYear is the year in which the fiscal year of a period ends.
func (s *Periods) FiscalYear(p Period) int {
	if s.list != nil {
		if p < 1 || int(p) > len(s.list) {
			return 0
		}
		return s.list[p-1].year()
	}
	y, m := int(p)/12, int(p)%12+1
	if s.fiscalStart > 1 && m >= s.fiscalStart {
		y++
	}
	return y
}

// Name is what a screen calls a period: Nov 2026, or in a list its name, else
// its code.
func (s *Periods) Name(p Period) string {
	if s.list != nil && s.Exists(p) && s.list[p-1].Name != "" {
		return s.list[p-1].Name
	}
	if s.list != nil || p <= 0 {
		return s.Code(p)
	}
	return fmt.Sprintf("%s %d", time.Month(int(p)%12 + 1).String()[:3], int(p)/12)
}

// Short is what a rail calls a period: the first word of its name, or P08 in a
// list where that is no short one.
func (s *Periods) Short(p Period) string {
	name, _, _ := strings.Cut(s.Name(p), " ")
	if _, part, ok := strings.Cut(s.Code(p), "-P"); ok && (name == s.Code(p) || len(name) > shortest) {
		return "P" + part
	}
	return name
}

const shortest = 4 // bytes of a name that a rail has room for

// Exists tells whether the office has a period.
func (s *Periods) Exists(p Period) bool { return s.Code(p) != "" }

// InYear gives the n-th period of a fiscal year, counted from 1; zero where
// there is none.
func (s *Periods) InYear(year, n int) Period {
	if s.list != nil {
		return s.byCode[listCode(year, n)]
	}
	if n < 1 || n > 12 || year < 1900 || year > 2199 {
		return 0
	}
	if s.fiscalStart > 1 {
		year--
	}
	return Period(year*12 + s.fiscalStart - 1 + n - 1)
}

// Number is the place of a period in its fiscal year, counted from 1; zero
// where there is no such period.
func (s *Periods) Number(p Period) int {
	switch {
	case !s.Exists(p):
		return 0
	case s.list != nil:
		_, n, _ := readListCode(s.list[p-1].Code)
		return n
	}
	return (int(p)-s.fiscalStart+1+12)%12 + 1
}

// Before is the same period of the fiscal year before; zero where there is
// none.
func (s *Periods) Before(p Period) Period { return s.InYear(s.FiscalYear(p)-1, s.Number(p)) }

// InMonth gives the period that stands for a calendar month, as heads of
// columns name it: the one whose middle lies in it. Zero where a fiscal year has
// more periods than months, as then none does.
func (s *Periods) InMonth(year, month int) Period {
	if s.list == nil {
		return s.Of(DateOf(year, month, 1))
	}
	p := s.Of(DateOf(year, month, 15))
	if p == 0 || s.InYear(s.FiscalYear(p), 13) != 0 {
		return 0
	}
	for q := p - 1; q <= p+1; q++ {
		if s.Exists(q) && s.list[q-1].month() == Date(year*12+month-1) {
			return q
		}
	}
	return 0
}
