package calendar

import (
	"fmt"
	"slices"
	"time"
)

// LeapWeek says which fiscal years of weeks have a 53rd.
type LeapWeek string

// The rules of the 53rd week. Fiscal years end by the end of a month; 52 weeks
// fall behind by a day or two a year.
const (
	Nearest LeapWeek = "nearest" // on the day of the week nearest to the month's end
	Within  LeapWeek = "within"  // on its last day of the week within the month
	Never   LeapWeek = "never"   // 52 weeks always
)

// Patterns of the weeks of a fiscal year's periods.
var (
	FourFourFive = []int{4, 4, 5, 4, 4, 5, 4, 4, 5, 4, 4, 5}
	FourFiveFour = []int{4, 5, 4, 4, 5, 4, 4, 5, 4, 4, 5, 4}
	FiveFourFour = []int{5, 4, 4, 5, 4, 4, 5, 4, 4, 5, 4, 4}
	ThirteenFour = []int{4, 4, 4, 4, 4, 4, 4, 4, 4, 4, 4, 4, 4}
)

// Weeks draws the periods of fiscal years in weeks: the weeks of each period of
// a year, the first day of the first year, that year, and how many. A 53rd week
// lengthens the last period. With months, a period is named after the month that
// holds its middle, where each has one of its own.
func Weeks(pattern []int, first Date, year, years int, leap LeapWeek, months bool) []Bound {
	var out []Bound
	endYear, endMonth := monthEnd(first-1, leap)
	for y := range years {
		start := first
		for i, weeks := range pattern {
			last := first + Date(7*weeks) - 1
			if i == len(pattern)-1 {
				last += 7 * extra(DateOf(endYear+y+1, endMonth+1, 1)-1-last, leap)
			}
			b := Bound{Code: listCode(year+y, i+1), First: first, Last: last}
			if m := int(b.month()); months {
				b.Name = fmt.Sprintf("%s %d", time.Month(m%12 + 1).String()[:3], m/12)
			}
			out = append(out, b)
			first = last + 1
		}
		if first == start {
			break
		}
	}
	names := make(map[string]bool)
	if slices.ContainsFunc(out, func(b Bound) bool { twice := names[b.Name]; names[b.Name] = true; return twice }) {
		for i := range out {
			out[i].Name = ""
		}
	}
	return out
}

// monthEnd gives the month by whose end a fiscal year ends that ends on a day:
// the one it lies in, or the one whose end is nearest.
func monthEnd(d Date, leap LeapWeek) (year, month int) {
	y, m, day := d.Split()
	if leap == Nearest && day < 15 {
		y, m, _ = DateOf(y, m, 0).Split()
	}
	return y, m
}

// extra is 1 where a year that ends so many days before its month does takes a
// 53rd week, else 0.
func extra(short Date, leap LeapWeek) Date {
	if leap == Nearest && short > 3 || leap == Within && short > 6 {
		return 1
	}
	return 0
}
