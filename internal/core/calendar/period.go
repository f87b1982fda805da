package calendar

import (
	"fmt"
	"sort"
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
	list        []bound
	byCode      map[string]Period
}

type bound struct {
	code        string
	first, last Date
	year        int
}

// Months gives calendar months with fiscal years beginning in the given month
// (1 to 12; 1 where it lies outside).
func Months(fiscalStart int) *Periods {
	if fiscalStart < 1 || fiscalStart > 12 {
		fiscalStart = 1
	}
	return &Periods{fiscalStart: fiscalStart}
}

// Listed gives the office's own periods. The days are the last ones of each
// period in order, without gaps; first is the first day of the first. Codes
// are FY27-P01 and so on; years holds the fiscal year of each.
func Listed(first Date, lasts []Date, years []int) (*Periods, error) {
	if len(lasts) == 0 || len(lasts) != len(years) {
		return nil, fmt.Errorf("a list of periods needs a last day and a fiscal year for each")
	}
	p := &Periods{fiscalStart: 1, byCode: make(map[string]Period)}
	n := 0
	for i, last := range lasts {
		if last < first {
			return nil, fmt.Errorf("period %d ends on %s, before it begins on %s", i+1, last, first)
		}
		if i > 0 && years[i] < years[i-1] {
			return nil, fmt.Errorf("period %d goes back to fiscal year %d", i+1, years[i])
		}
		if i > 0 && years[i] == years[i-1] {
			n++
		} else {
			n = 1
		}
		code := fmt.Sprintf("FY%02d-P%02d", years[i]%100, n)
		p.list = append(p.list, bound{code, first, last, years[i]})
		p.byCode[code] = Period(i + 1)
		first = last + 1
	}
	return p, nil
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
	i := sort.Search(len(s.list), func(i int) bool { return s.list[i].last >= d })
	if i == len(s.list) || s.list[i].first > d {
		return 0
	}
	return Period(i + 1)
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
	return s.list[p-1].first
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
	return s.list[p-1].last
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
	return s.list[p-1].code
}

// Parse reads the code of a period.
func (s *Periods) Parse(code string) (Period, error) {
	code = strings.TrimSpace(code)
	if s.list != nil {
		if p, ok := s.byCode[strings.ToUpper(code)]; ok {
			return p, nil
		}
		return 0, fmt.Errorf("%q is not a period of the office's list, such as %s", code, s.list[0].code)
	}
	d, err := ParseDate(code + "-01")
	if err != nil || len(code) != 7 {
		return 0, fmt.Errorf("%q is not a period like 2026-11", code)
	}
	return s.Of(d), nil
}

// FiscalYear is the year in which the fiscal year of a period ends.
func (s *Periods) FiscalYear(p Period) int {
	if s.list != nil {
		if p < 1 || int(p) > len(s.list) {
			return 0
		}
		return s.list[p-1].year
	}
	y, m := int(p)/12, int(p)%12+1
	if s.fiscalStart > 1 && m >= s.fiscalStart {
		y++
	}
	return y
}

// Name is what a screen calls a period: Nov 2026, or its code in a list.
func (s *Periods) Name(p Period) string {
	if s.list != nil || p <= 0 {
		return s.Code(p)
	}
	return fmt.Sprintf("%s %d", time.Month(int(p)%12 + 1).String()[:3], int(p)/12)
}

// Short is what a rail calls a period: Nov, or P08 in a list.
func (s *Periods) Short(p Period) string {
	if _, part, ok := strings.Cut(s.Code(p), "-P"); ok {
		return "P" + part
	}
	name, _, _ := strings.Cut(s.Name(p), " ")
	return name
}

// Exists tells whether the office has a period.
func (s *Periods) Exists(p Period) bool { return s.Code(p) != "" }

// InYear gives the n-th period of a fiscal year, counted from 1; zero where
// there is none.
func (s *Periods) InYear(year, n int) Period {
	if s.list != nil {
		return s.byCode[fmt.Sprintf("FY%02d-P%02d", year%100, n)]
	}
	if n < 1 || n > 12 || year < 1900 || year > 2199 {
		return 0
	}
	if s.fiscalStart > 1 {
		year--
	}
	return Period(year*12 + s.fiscalStart - 1 + n - 1)
}
