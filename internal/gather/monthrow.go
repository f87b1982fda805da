package gather

import (
	"slices"
	"strconv"
	"strings"
)

// Heads that are months only by the row they stand in: numbers below a year, months and days
// without one, the serial numbers of spreadsheets.

// monthNumber gives the month of a head that is its number below a year: 12 below 2026.
// The months of the row follow each other, and begin right after the period that titles
// state or go through it: were they periods of fiscal years they would be others.
func (f *finder) monthNumber(at, column int) int32 {
	const most = 2 // digits
	own, last := 0, 0
	if text := f.head(at, column); len(text) > most || !allDigits(text) {
		return 0
	}
	n, stated := 0, f.statedAbove(at)
	if stated == 0 {
		return 0
	}
	day := f.o.Periods.Last(stated).Time()
	through := false
	for i := range f.rows[at].cells {
		text := f.head(at, i)
		m, err := strconv.Atoi(text)
		if err != nil || len(text) > most || m < 1 || m > 12 {
			continue
		}
		year, fiscal := 0, true
		for _, above := range f.aboves(at, i) {
			if year, fiscal = readYear(above); year != 0 {
				break
			}
		}
		if year == 0 || fiscal || last != 0 && year*12+m != last+1 {
			return 0
		}
		last, n = year*12+m, n+1
		d := last - (day.Year()*12 + int(day.Month()))
		through = through || d == 0 || d == 1
		if i == column {
			own = last
		}
	}
	const few = 2
	if own == 0 || n < few || !through {
		return 0
	}
	return int32(f.o.Periods.InMonth((own-1)/12, (own-1)%12+1))
}

// monthAlone is the month that a head is without a year, or whose first or one of its last
// days it is: "Dec", "31 Dec".
func monthAlone(head string) int {
	const late, two = 28, 2
	bare := bareHead(head)
	if m := monthNamed(bare); m != 0 {
		return m
	}
	words := strings.Fields(Normal(bare))
	if len(words) != two {
		return 0
	}
	if allDigits(words[1]) {
		slices.Reverse(words)
	}
	if d, err := strconv.Atoi(words[0]); err != nil || d > 31 || d < late && d != 1 {
		return 0
	}
	return monthNamed(words[1])
}

// monthInRow gives the period of a head that is a month without a year, by the one period
// that titles and names state: the year in which the months of the row go through that
// period, or begin right after it. Zero where no year or several do.
func (f *finder) monthInRow(at, column int) int32 {
	if monthAlone(f.head(at, column)) == 0 {
		return 0
	}
	base := f.statedAbove(at)
	if base == 0 {
		return 0
	}
	own := -1
	var months []int // since year 0, the first in the years about the period stated
	year := f.o.Periods.Last(base).Time().Year()
	stated := year*12 + int(f.o.Periods.Last(base).Time().Month()) - 1
	for i := range f.rows[at].cells {
		m := monthAlone(f.head(at, i))
		if m == 0 {
			continue
		}
		m--
		switch n := len(months); {
		case n == 0:
			months = append(months, m)
		default:
			next := months[n-1] - months[n-1]%12 + m
			if next < months[n-1] {
				next += 12
			}
			months = append(months, next)
		}
		if i == column {
			own = len(months) - 1
		}
	}
	if own < 0 {
		return 0
	}
	found := -1
	for y := year - 1; y <= year+1; y++ {
		first, last := y*12+months[0], y*12+months[len(months)-1]
		if first <= stated+1 && last >= stated {
			if found >= 0 {
				return 0
			}
			found = y*12 + months[own]
		}
	}
	if found < 0 {
		return 0
	}
	return int32(f.o.Periods.InMonth(found/12, found%12+1))
}

// isSerial tells a number that spreadsheets count a day of this century by.
func isSerial(text string) bool {
	return len(text) == 5 && allDigits(text) && text > "36525" && text < "73050"
}

// serials tells whether the numbers of a row of heads are months that lost their form:
// each is the first or each the last day of one, as spreadsheets count days, and they
// follow each other.
func (f *finder) serials(at int) bool {
	if is, asked := f.serial[at]; asked {
		return is
	}
	if f.serial == nil {
		f.serial = make(map[int]bool)
	}
	const few = 2
	n, last, is := 0, 0, true
	for _, c := range f.rows[at].cells {
		text := strings.TrimFunc(c.Text, isSpace)
		if !isPlain(text) {
			continue
		}
		d := serialDay(text, f.s.from1904)
		if !isSerial(text) || d == 0 {
			is = false
			break
		}
		day := d.Time()
		month := day.Year()*12 + int(day.Month())
		ends := day.Day() == 1 || day.AddDate(0, 0, 1).Day() == 1
		if is = is && ends && (n == 0 || month == last+1); !is {
			break
		}
		n, last = n+1, month
	}
	f.serial[at] = is && n >= few
	return f.serial[at]
}
