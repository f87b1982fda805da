package calendar

import (
	"fmt"
	"slices"
	"strings"
)

// Bound is a period of an office's own list. Codes are FY27-P01 and so on: the
// fiscal year, and the place in it. The name is what screens call it; "" leaves
// them the code.
type Bound struct {
	Code, Name  string
	First, Last Date
}

// BoundError tells which period of a list cannot be as it is, and why.
type BoundError struct{ Code, Why string }

func (e *BoundError) Error() string { return e.Code + ": " + e.Why }

// longest is the most days that a period has; a longer one is a slip of the pen.
const longest = 366

// Listed gives periods of the office's own, in any order. They follow each other
// without a gap, and are counted from 1 within a fiscal year; the first year may
// begin later. The error is a *BoundError.
func Listed(list []Bound) (*Periods, error) {
	if len(list) == 0 {
		return nil, &BoundError{Why: "a list of periods needs at least one"}
	}
	list = slices.Clone(list)
	slices.SortStableFunc(list, func(a, b Bound) int { return int(a.First - b.First) })
	p := &Periods{fiscalStart: 1, list: list, byCode: make(map[string]Period, len(list))}
	for i := range list {
		b := &list[i]
		if why := b.wrong(); why != "" {
			return nil, &BoundError{b.Code, why}
		}
		if i > 0 {
			if why := b.follows(&list[i-1]); why != "" {
				return nil, &BoundError{b.Code, why}
			}
		}
		for _, s := range [...]string{b.Code, strings.ToUpper(b.Name)} {
			if other, twice := p.byCode[s]; twice && other != Period(i+1) {
				return nil, &BoundError{b.Code, fmt.Sprintf("%s is called %q already", list[other-1].Code, s)}
			}
			if s != "" {
				p.byCode[s] = Period(i + 1)
			}
		}
	}
	return p, nil
}

// wrong says what cannot be about a period by itself, or "".
func (b *Bound) wrong() string {
	year, _, ok := readListCode(b.Code)
	switch last, _, _ := b.Last.Split(); {
	case !ok:
		return fmt.Sprintf("%q is not a period like FY27-P01", b.Code)
	case b.First == 0 || b.Last == 0:
		return "it needs a first and a last day"
	case b.Last < b.First:
		return fmt.Sprintf("it ends on %s, before it begins on %s", b.Last, b.First)
	case b.Last-b.First >= longest:
		return fmt.Sprintf("it has %d days, from %s to %s; correct one of them", b.Last-b.First+1, b.First, b.Last)
	case (year-last)%100 > 1 && (year-last)%100 < 99 || (last-year)%100 > 1 && (last-year)%100 < 99:
		return fmt.Sprintf("it ends on %s, which is not in the fiscal year of its code", b.Last)
	}
	return ""
}

// follows says why a period cannot come right after another, or "".
func (b *Bound) follows(a *Bound) string {
	y, n, _ := readListCode(b.Code)
	was, before, _ := readListCode(a.Code)
	switch {
	case b.First <= a.Last:
		return fmt.Sprintf(
			"it begins on %s, and %s lasts until %s; a day is in one period only",
			b.First,
			a.Code,
			a.Last,
		)
	case b.First > a.Last+1:
		return fmt.Sprintf(
			"it begins on %s, and %s ends on %s; the days between are in no period",
			b.First,
			a.Code,
			a.Last,
		)
	case y == was && n == before+1, y == (was+1)%100 && n == 1:
		return ""
	}
	return fmt.Sprintf(
		"it comes after %s; that is %s, or %s where a fiscal year begins",
		a.Code,
		listCode(was, before+1),
		listCode(was+1, 1),
	)
}

// year is the fiscal year of a period that is not wrong: the one of its code
// that is nearest to its last day.
func (b *Bound) year() int {
	short, _, _ := readListCode(b.Code)
	last, _, _ := b.Last.Split()
	for _, y := range [...]int{last, last + 1, last - 1} {
		if y%100 == short {
			return y
		}
	}
	return last
}

// month is the calendar month that holds the middle of a period, as year × 12 +
// month − 1.
func (b *Bound) month() Date {
	y, m, _ := (b.First + (b.Last-b.First)/2).Split()
	return Date(y*12 + m - 1)
}

// Own tells whether the office has a list of its own, and not calendar months.
func (s *Periods) Own() bool { return s.list != nil }

// List gives the periods of an office's own list in order; nil for months.
func (s *Periods) List() []Bound { return slices.Clone(s.list) }

func listCode(year, n int) string { return fmt.Sprintf("FY%02d-P%02d", year%100, n) }

// readListCode reads FY27-P01: 27 and 1.
func readListCode(code string) (year, n int, ok bool) {
	if _, err := fmt.Sscanf(code, "FY%02d-P%02d", &year, &n); err != nil || n < 1 || listCode(year, n) != code {
		return 0, 0, false
	}
	return year, n, true
}
