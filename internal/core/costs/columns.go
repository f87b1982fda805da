package costs

import (
	"fmt"

	"turret/internal/core/calendar"
)

// Per is how a span is cut into columns.
type Per string

// The cuts of a span. ToDate gives what is through the period, what is after it,
// and both.
const (
	PerPeriod  Per = "period"
	PerQuarter Per = "quarter"
	PerYear    Per = "year"
	ToDate     Per = "completion"
)

// Cuts lists all of them.
var Cuts = []Per{PerPeriod, PerQuarter, PerYear, ToDate}

// Columns cuts the periods from one to another, both included, into columns and
// closes them with one of the whole span. at is the period of the table;
// cumulative columns begin with the first period that anything names. A cut to
// date goes over everything from first to last, whatever the span.
func Columns(ps *calendar.Periods, per Per, from, to, at, first, last calendar.Period, cumulative bool) []Column {
	if per == ToDate {
		return []Column{
			{"To date", min(first, at), at},
			{"To go", at + 1, max(last, at+1)},
			{"At completion", min(first, at), max(last, at+1)},
		}
	}
	var out []Column
	for p := from; p <= to; {
		name, end := columnOf(ps, per, p, ps.FiscalYear(from) == ps.FiscalYear(to))
		end = min(end, to)
		out = append(out, Column{name, p, end})
		p = end + 1
	}
	total := Column{SpanName(ps, from, to), from, to}
	if cumulative {
		for i := range out {
			out[i].From = min(first, out[i].From)
		}
		total = Column{"Through " + ps.Name(to), min(first, from), to}
	}
	return append(out, total)
}

// columnOf names the column that begins with a period, and gives its last one.
func columnOf(ps *calendar.Periods, per Per, p calendar.Period, oneYear bool) (name string, end calendar.Period) {
	year := ps.FiscalYear(p)
	fy := fmt.Sprintf("FY%02d", year%100)
	end = p
	switch per {
	case PerQuarter:
		quarter := quarterOf(ps.Number(p))
		for ps.Exists(end+1) && ps.FiscalYear(end+1) == year && quarterOf(ps.Number(end+1)) == quarter {
			end++
		}
		return fmt.Sprintf("Q%d %s", quarter, fy), end
	case PerYear:
		for ps.Exists(end+1) && ps.FiscalYear(end+1) == year {
			end++
		}
		return fy, end
	}
	if oneYear {
		return ps.Short(p), end
	}
	return ps.Name(p), end
}

// quarterOf gives the quarter of the n-th period of a year; the 13th is in the
// fourth.
func quarterOf(n int) int { return min((n-1)/3, 3) + 1 }

// SpanName names a span: a whole fiscal year, or its ends.
func SpanName(ps *calendar.Periods, from, to calendar.Period) string {
	year := ps.FiscalYear(from)
	if ps.Number(from) == 1 && ps.FiscalYear(to) == year && (!ps.Exists(to+1) || ps.FiscalYear(to+1) != year) {
		return fmt.Sprintf("FY%02d", year%100)
	}
	if from == to {
		return ps.Name(from)
	}
	return ps.Name(from) + " to " + ps.Name(to)
}

// Year gives the first and last period of a fiscal year that an office has; zero
// where it has none.
func Year(ps *calendar.Periods, year int) (from, to calendar.Period) {
	for n := 1; n <= 14; n++ {
		if p := ps.InYear(year, n); p != 0 {
			if from == 0 {
				from = p
			}
			to = p
		}
	}
	return from, to
}
