package stating

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// ahead is how many periods to come are shown at least, and longest how many at most.
const (
	ahead   = 6
	longest = 36
)

// Columns of amounts that are not periods.
const (
	bookedColumn = "booked"
	cameColumn   = "came"
	saidColumn   = "said"
	restColumn   = "rest"
)

// lineKey tells a line of amounts from the others of its project.
type lineKey struct {
	code                              int64
	flow                              portfolio.Flow
	class, centre, activity, currency string
}

func keyOfLine(l *portfolio.Line) lineKey {
	return lineKey{l.CodeID, l.Flow, l.Class, l.Centre, l.Activity, string(l.Currency)}
}

// layAmounts lays out a line for each cost code that was forecast, planned or booked,
// and a column for each period to come, beside what came up to now.
func layAmounts(ctx context.Context, s *subject) (*Grid, error) {
	v, err := s.snap.View(ctx, s.project.Code, s.at, portfolio.Latest)
	if err != nil {
		return nil, err
	}
	before, err := s.snap.View(ctx, s.project.Code, s.at-1, portfolio.Latest)
	if err != nil {
		return nil, err
	}
	list, was := v.Forecast, before.Forecast
	if s.Kind == portfolio.CommitmentPart {
		list, was = v.Commitment, before.Commitment
	}
	now, last := linesAt(list, s.at), linesAt(was, s.at-1)
	g := &Grid{}
	if s.Kind == portfolio.ForecastPart {
		ps := s.snap.Office.Periods
		g.Columns = []Column{
			{Name: bookedColumn, Title: "Booked so far", Number: true, Locked: true},
			{Name: saidColumn, Title: ps.Name(s.at) + " was to be", Number: true, Locked: true},
			{Name: cameColumn, Title: "and came to", Number: true, Locked: true},
		}
	}
	for p := s.firstAmount(); p <= s.lastAmount(v, now); p++ {
		g.Columns = append(g.Columns, Column{Name: s.snap.Office.Periods.Code(p), Title: s.snap.Office.Periods.Name(p), Number: true})
	}
	for _, l := range s.linesToState(v, now) {
		g.Rows = append(g.Rows, s.amounts(g, v, l, now, last))
	}
	g.ask()
	if s.Kind == portfolio.ForecastPart && len(last) > 0 && !s.stated && !bookedIn(v, s.at) {
		g.Note = fmt.Sprintf("Nothing is booked for %s yet; once it is, what did not come of its forecast can be kept, moved on or dropped here.", s.snap.Office.Periods.Name(s.at))
	}
	return g, nil
}

// firstAmount is the first period whose amounts are stated: orders may be overdue for
// their invoice.
func (s *subject) firstAmount() calendar.Period {
	if s.Kind == portfolio.CommitmentPart {
		return s.at
	}
	return s.at + 1
}

// lastAmount is the last period that amounts are stated for: that of the last amount,
// or of the last date.
func (s *subject) lastAmount(v *portfolio.View, now []portfolio.Line) calendar.Period {
	last := s.at + ahead
	for i := range now {
		for _, c := range now[i].Cells {
			last = max(last, c.Period)
		}
	}
	for i := range v.Activities {
		if f := v.Status(i, s.at).Finish; f != 0 {
			last = max(last, s.snap.Office.Periods.Of(f))
		}
	}
	return min(last, s.at+longest)
}

func linesAt(list []portfolio.Version, at calendar.Period) []portfolio.Line {
	if v := portfolio.VersionAt(list, int(at)); v != nil {
		return v.Lines
	}
	return nil
}

// linesToState are the lines that were stated, and one for each cost code that was
// only planned or booked.
func (s *subject) linesToState(v *portfolio.View, now []portfolio.Line) []portfolio.Line {
	var out []portfolio.Line
	there := make(map[int64]bool)
	add := func(l *portfolio.Line, known bool) {
		if l.Flow != portfolio.Cost || there[l.CodeID] && !known {
			return
		}
		x := *l
		if !known { // of the plan or the ledger: where it lies there says nothing here
			x.Centre, x.Activity, x.ActivityID, x.Class, x.Currency = "", "", 0, "", s.project.Currency
		}
		if !slices.ContainsFunc(out, func(o portfolio.Line) bool { return keyOfLine(&o) == keyOfLine(&x) }) {
			out = append(out, x)
		}
		there[l.CodeID] = true
	}
	for i := range now {
		add(&now[i], true)
	}
	for _, more := range [...][]portfolio.Line{planned(v), v.Ledger, v.Actual} {
		for i := range more {
			add(&more[i], false)
		}
	}
	slices.SortStableFunc(out, func(a, b portfolio.Line) int {
		return cmp.Or(strings.Compare(s.code(&a), s.code(&b)), strings.Compare(a.Class, b.Class), strings.Compare(a.Activity, b.Activity))
	})
	return out
}

func planned(v *portfolio.View) []portfolio.Line {
	if v.Plan == nil {
		return nil
	}
	return v.Plan.Lines
}

func (s *subject) code(l *portfolio.Line) string { return s.snap.Office.Codes[l.CodeID].Code }

// amounts lays out one line.
func (s *subject) amounts(g *Grid, v *portfolio.View, l portfolio.Line, now, last []portfolio.Line) Row {
	code := s.snap.Office.Codes[l.CodeID]
	row := Row{
		Key:  strings.Join([]string{code.Code, l.Class, l.Centre, l.Activity, string(l.Currency)}, "~"),
		Code: code.Code, Title: code.Name,
		keys: map[string]string{
			"cost_code": code.Code, "class": l.Class, "cost_centre": l.Centre, "activity": l.Activity, "currency": string(l.Currency),
		},
	}
	for _, x := range [...]string{l.Class, l.Activity, l.Centre} {
		if x != "" {
			row.Title += " · " + x
		}
	}
	if l.Currency != s.project.Currency {
		row.Title += " · " + string(l.Currency)
	}
	is, was := amountsOf(now, keyOfLine(&l)), amountsOf(last, keyOfLine(&l))
	cells, before := make(map[string]string), make(map[string]string)
	write := func(into map[string]string, from map[calendar.Period]int64) {
		for p, n := range from {
			into[s.snap.Office.Periods.Code(p)] = short(n, l.Currency)
		}
	}
	write(cells, is)
	write(before, was)
	if s.Kind == portfolio.ForecastPart {
		sofar, came := s.booked(v, &l)
		cells[bookedColumn], cells[cameColumn] = short(sofar, l.Currency), short(came, l.Currency)
		if n, said := was[s.at]; said {
			cells[saidColumn] = short(n, l.Currency)
			if n != came && !s.stated && bookedIn(v, s.at) {
				row.rest = short(n-came, l.Currency)
			}
		}
	}
	g.fill(&row, cells, before)
	return row
}

func amountsOf(lines []portfolio.Line, k lineKey) map[calendar.Period]int64 {
	out := make(map[calendar.Period]int64)
	for i := range lines {
		if keyOfLine(&lines[i]) == k {
			for _, c := range lines[i].Cells {
				out[c.Period] += c.Amount
			}
		}
	}
	return out
}

// bookedIn tells whether anything was booked in a period: before, what did not come yet may
// still come.
func bookedIn(v *portfolio.View, at calendar.Period) bool {
	for i := range ledger(v) {
		if slices.ContainsFunc(ledger(v)[i].Cells, func(c portfolio.Cell) bool { return c.Period == at && c.Amount != 0 }) {
			return true
		}
	}
	return false
}

// ledger is what was booked: postings go before totals of months, as everywhere.
func ledger(v *portfolio.View) []portfolio.Line {
	if len(v.Ledger) > 0 {
		return v.Ledger
	}
	return v.Actual
}

// booked is what came on a line's cost code in its currency: up to the period, and in
// it.
func (s *subject) booked(v *portfolio.View, l *portfolio.Line) (sofar, came int64) {
	lines := ledger(v)
	for i := range lines {
		if x := &lines[i]; x.CodeID == l.CodeID && x.Flow == l.Flow && x.Currency == l.Currency {
			for _, c := range x.Cells {
				if c.Period <= s.at {
					sofar += c.Amount
				}
				if c.Period == s.at {
					came += c.Amount
				}
			}
		}
	}
	return sofar, came
}

// short writes an amount without decimals that say nothing.
func short(n int64, c money.Currency) string {
	text := money.Format(n, c)
	if whole, decimals, ok := strings.Cut(text, "."); ok && strings.Trim(decimals, "0") == "" {
		return whole
	}
	return text
}

// amountRows are the amounts to be sent. A statement that is there already is changed
// where something was typed; the first one of a period is the whole of it, since lines
// that it does not name are none.
func amountRows(s *subject, g *Grid) (out []map[string]string) {
	for i := range g.Rows {
		for j := range g.Rows[i].Cells {
			c := &g.Rows[i].Cells[j]
			if !g.Columns[j].amount() || s.stated && !c.Changed() {
				continue
			}
			text := plainAmount(c.Value())
			if text == "" && (!s.stated || !c.Changed()) {
				continue
			}
			row := map[string]string{
				"project": s.project.Code, "kind": s.Name, "flow": "cost", "version": s.snap.Office.Periods.Code(s.at),
				"period": g.Columns[j].Name, "amount": cmp.Or(text, "0"),
			}
			for name, text := range g.Rows[i].keys {
				row[name] = text
			}
			out = append(out, row)
		}
	}
	return out
}

// plainAmount leaves out the blanks and apostrophes that people put between thousands.
func plainAmount(text string) string {
	return strings.NewReplacer(" ", "", "\u00a0", "", "\u202f", "", "'", "", "’", "").Replace(strings.TrimSpace(text))
}
