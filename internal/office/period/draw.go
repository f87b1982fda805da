package period

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/office"
	"turret/internal/right"
)

// Drawing asks for periods in weeks, as a form has it.
type Drawing struct{ Pattern, First, Year, Years, Leap, Names string }

// Patterns of fiscal years in weeks, by name.
var Patterns = []struct {
	Name, Title string
	weeks       []int
}{
	{"4-4-5", "4-4-5 weeks", calendar.FourFourFive},
	{"4-5-4", "4-5-4 weeks", calendar.FourFiveFour},
	{"5-4-4", "5-4-4 weeks", calendar.FiveFourFour},
	{"13x4", "13 × 4 weeks", calendar.ThirteenFour},
}

// mostYears bounds the fiscal years that are drawn at once.
const mostYears = 30

// DrawPeriods gives the lines of text of periods in weeks. Those that stay
// because something is stated for them come first, and the first day asked for
// must follow them.
func (o Room) DrawPeriods(ctx context.Context, a right.Actor, d Drawing) (string, error) {
	if err := right.Check(a, right.Draw); err != nil {
		return "", err
	}
	i := slices.IndexFunc(Patterns, func(p struct {
		Name, Title string
		weeks       []int
	},
	) bool {
		return p.Name == d.Pattern
	})
	if i < 0 {
		return "", &office.Misfit{Column: "pattern", Why: fmt.Sprintf("%q is none; choose one of the list", d.Pattern)}
	}
	first, err := calendar.ParseDate(strings.TrimSpace(d.First))
	if err != nil {
		return "", &office.Misfit{Column: "first_day", Why: err.Error()}
	}
	year, err := fiscalYear(d.Year)
	if err != nil {
		return "", err
	}
	years, err := strconv.Atoi(strings.TrimSpace(d.Years))
	if err != nil || years < 1 || years > mostYears {
		return "", &office.Misfit{
			Column: "years",
			Why:    fmt.Sprintf("%q is not a number of years from 1 to %d", d.Years, mostYears),
		}
	}
	leap := calendar.LeapWeek(d.Leap)
	if leap != calendar.Nearest && leap != calendar.Within && leap != calendar.Never {
		return "", &office.Misfit{Column: "53rd_week", Why: fmt.Sprintf("%q is none; choose one of the list", d.Leap)}
	}
	c, err := o.ReportingCalendar(ctx, a)
	if err != nil {
		return "", err
	}
	list := calendar.Weeks(Patterns[i].weeks, first, year, years, leap, d.Names == "months")
	if c.Keeps > 0 {
		keep, err := readList(c.List)
		if err != nil {
			return "", err
		}
		list = append(keep[:min(c.Keeps, len(keep))], list...)
	}
	if _, err := calendar.Listed(list); err != nil {
		return "", notListed(err)
	}
	return listText(list), nil
}

// fiscalYear reads 2027, FY27 or 27.
func fiscalYear(text string) (int, error) {
	y, err := strconv.Atoi(strings.TrimPrefix(strings.ToUpper(strings.TrimSpace(text)), "FY"))
	if err == nil && y >= 0 && y < 100 {
		y += 2000
	}
	if err != nil || y < 1901 || y > 2199 {
		return 0, &office.Misfit{Column: "fiscal_year", Why: fmt.Sprintf("%q is none; write it as FY27 or 2027", text)}
	}
	return y, nil
}

// notListed gives the misfit of periods that do not fit each other.
func notListed(err error) error {
	var bad *calendar.BoundError
	if errors.As(err, &bad) {
		return &office.Misfit{Column: bad.Code, Why: bad.Why}
	}
	return err
}

// listText writes periods as lines of code, first day, last day and name.
func listText(list []calendar.Bound) string {
	var b strings.Builder
	for _, x := range list {
		b.WriteString(strings.TrimRight(fmt.Sprintf("%s  %s  %s  %s", x.Code, x.First, x.Last, x.Name), " ") + "\n")
	}
	return b.String()
}

// readList reads what listText writes, also with tabs, commas or semicolons
// between. A first day that is left out is the one after the period before.
func readList(text string) ([]calendar.Bound, error) {
	var out []calendar.Bound
	for i, line := range strings.Split(text, "\n") {
		words := strings.FieldsFunc(line, func(r rune) bool { return strings.ContainsRune(" \t,;\r", r) })
		if len(words) == 0 {
			continue
		}
		var days []calendar.Date
		for len(days) < 2 && len(words) > 1+len(days) {
			d, err := calendar.ParseDate(words[1+len(days)])
			if err != nil {
				break
			}
			days = append(days, d)
		}
		b := calendar.Bound{Code: strings.ToUpper(words[0]), Name: strings.Join(words[1+len(days):], " ")}
		switch {
		case len(days) == 2:
			b.First, b.Last = days[0], days[1]
		case len(days) == 1 && len(out) > 0:
			b.First, b.Last = out[len(out)-1].Last+1, days[0]
		default:
			return nil, &office.Misfit{
				Column: fmt.Sprintf("line %d", i+1),
				Why: fmt.Sprintf(
					"%q does not say a period; write FY27-P01, its first and its last day, and a name if it has one",
					strings.TrimSpace(line),
				),
			}
		}
		out = append(out, b)
	}
	if len(out) == 0 {
		return nil, &office.Misfit{
			Column: "periods",
			Why:    "there is none in the list; draw some, or choose calendar months",
		}
	}
	return out, nil
}
