package gather

import (
	"cmp"
	"strings"
)

// ShortYear is the order of days that begin with two digits of their year: 26/11/03.
const ShortYear = "year first, two digits"

// shortYears tells whether the days of a column begin with two digits of their year: read
// so they all are within two years of what the sheet, or else the office, is about, and read
// otherwise none is.
func (f *finder) shortYears(i int) bool {
	about := cmp.Or(f.statedAbove(f.at), f.o.Latest)
	if about == 0 || !f.o.Periods.Exists(about) {
		return false
	}
	const near = 2
	year := f.o.Periods.Last(about).Time().Year()
	isNear := func(y int) bool { return y >= year-near && y <= year+near }
	n, fits := 0, true
	f.u.data(f.s, func(l *Line) bool {
		c := l.At(i)
		text := strings.TrimFunc(c.Text, isSpace)
		if text == "" || c.Kind != Words || isDash(text) || saysNothing(text) {
			fits = fits && c.Kind == Words
			return fits
		}
		d := readDay(text)
		fits = d.short != 0 && isNear(d.short.Time().Year()) &&
			(d.day == 0 || !isNear(d.day.Time().Year())) && (d.month == 0 || !isNear(d.month.Time().Year()))
		n++
		return fits && n < sampled
	})
	return fits && n > 0
}
