package gather

import (
	"strconv"
	"strings"
)

// Months may stand as two short numbers, "12/26" or "26/12", or behind the year, "26 Dec".
// One alone tells nothing: 26 may be a day. Several that follow each other do.

// shortMonths gives the period of each head of a row that is written so, by its column; none
// where the heads do not follow each other, or do in both orders.
func (f *finder) shortMonths(at int) map[int]int32 {
	if out, asked := f.short[at]; asked {
		return out
	}
	if f.short == nil {
		f.short = make(map[int]map[int]int32)
	}
	var out map[int]int32
	for _, yearFirst := range [...]bool{false, true} {
		if found := f.shortMonthsAs(at, yearFirst); found != nil {
			if out != nil {
				out = nil
				break
			}
			out = found
		}
	}
	f.short[at] = out
	return out
}

func (f *finder) shortMonthsAs(at int, yearFirst bool) map[int]int32 {
	const few = 2
	out, last := make(map[int]int32), 0
	for i := range f.rows[at].cells {
		year, month := shortMonth(bareHead(f.head(at, i)), yearFirst)
		if month == 0 {
			continue
		}
		n := year*12 + month
		p := f.o.Periods.InMonth(year, month)
		if p == 0 || len(out) > 0 && n != last+1 {
			return nil
		}
		out[i], last = int32(p), n
	}
	if len(out) < few {
		return nil
	}
	return out
}

// shortMonth reads two numbers of at most two digits, or one and the name of a month.
func shortMonth(text string, yearFirst bool) (year, month int) {
	const two = 2
	words := strings.Fields(Normal(text))
	if len(words) != two || len(text) > len("26 september") {
		return 0, 0
	}
	y, m := words[1], words[0]
	if yearFirst {
		y, m = m, y
	}
	if len(y) != two || !allDigits(y) {
		return 0, 0
	}
	if named := monthNamed(m); named != 0 && yearFirst {
		month = named
	} else if allDigits(m) && len(m) <= two {
		month, _ = strconv.Atoi(m)
	}
	if month < 1 || month > 12 {
		return 0, 0
	}
	year, _ = strconv.Atoi(y)
	return year + century, month
}
