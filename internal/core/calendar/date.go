// Package calendar holds days, reporting periods and work weeks. A day is a
// number without a zone; what "today" is comes from outside as a value.
package calendar

import (
	"fmt"
	"time"
)

// Date is a day number: 1 is 1 January of the year 1. The zero value is no
// date.
type Date int32

// The days that Turret accepts. A date outside them is a slip of the pen.
var (
	Earliest = DateOf(1900, 1, 1)
	Latest   = DateOf(2199, 12, 31)
)

const unixDay = 719163 // the day number of 1 January 1970

// DateOf gives the day number of a Gregorian date; months and days beyond
// their range roll over, as in time.Date.
func DateOf(year, month, day int) Date {
	t := time.Date(year, time.Month(month), day, 0, 0, 0, 0, time.UTC)
	return Date(t.Unix()/86400) + unixDay
}

// DateIn gives the day on which a moment falls in its own zone.
func DateIn(t time.Time) Date {
	y, m, d := t.Date()
	return DateOf(y, int(m), d)
}

// Time is midnight UTC of the day, for formatting.
func (d Date) Time() time.Time { return time.Unix(int64(d-unixDay)*86400, 0).UTC() }

// Split gives year, month and day.
func (d Date) Split() (year, month, day int) {
	y, m, dd := d.Time().Date()
	return y, int(m), dd
}

// String is the ISO form, or "" for no date.
func (d Date) String() string {
	if d == 0 {
		return ""
	}
	return d.Time().Format("2006-01-02")
}

// ParseDate reads an ISO date (2026-11-05) that exists and lies between 1900
// and 2199.
func ParseDate(s string) (Date, error) {
	if len(s) != 10 || s[4] != '-' || s[7] != '-' {
		return 0, fmt.Errorf("%q is not a date like 2026-11-05", s)
	}
	n := [3]int{}
	for i, part := range []string{s[:4], s[5:7], s[8:]} {
		for _, c := range []byte(part) {
			if c < '0' || c > '9' {
				return 0, fmt.Errorf("%q is not a date like 2026-11-05", s)
			}
			n[i] = n[i]*10 + int(c-'0')
		}
	}
	d := DateOf(n[0], n[1], n[2])
	if y, m, dd := d.Split(); y != n[0] || m != n[1] || dd != n[2] {
		return 0, fmt.Errorf("%q is a day that does not exist", s)
	}
	if d < Earliest || d > Latest {
		return 0, fmt.Errorf("%q lies outside 1900 to 2199", s)
	}
	return d, nil
}
