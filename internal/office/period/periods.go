package period

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/record"
	"turret/internal/right"
	"turret/internal/store"
)

// SetChecking puts a moment's period in checking, so that leads state no more
// for it, or opens it to them again.
func (o Room) SetChecking(ctx context.Context, a right.Actor, m *office.Moment, on bool) error {
	if err := right.Check(a, right.Close); err != nil {
		return err
	}
	_, err := o.Write(ctx, a, func(_ context.Context, s *book.Snapshot) (*store.Batch, error) {
		p, state := m.Period.Number, office.PeriodOpen
		if on {
			state = office.PeriodChecking
		}
		switch now := office.StateOf(s, p); now {
		case office.PeriodOpen, office.PeriodChecking:
			if now == state {
				return nil, office.Refusef("%s is %s already.", m.Period.Name, state)
			}
		default:
			return nil, office.Refusef("%s is %s; only an open period goes in checking.", m.Period.Name, now)
		}
		return &store.Batch{
			Origin:  office.Checking,
			Note:    m.Period.Code + " " + string(state),
			Records: []store.RecordChange{office.PeriodRecord(s, p, string(state))},
		}, nil
	})
	return err
}

// PeriodRow is a period as Setup shows it.
type PeriodRow struct {
	calendar.Bound
	Year          int // the fiscal year, where it begins here; else zero
	State         office.PeriodState
	Days, Working int
	Due           []calendar.Date // by kind of statement, as DueKinds; zero where none is set
}

// DueKind is a kind of statement with when it is due: working days after a
// period's last day; "" where none is set.
type DueKind struct{ Statement, Title, Days string }

// ReportingCalendar is what Setup shows of the office's periods.
type ReportingCalendar struct {
	Months      bool
	FiscalStart int // month in which fiscal years of months begin
	Periods     []PeriodRow
	DueKinds    []DueKind
	Named       string        // the last period that anything names, "": all can change
	By          string        // what names it
	Keeps       int           // periods of the list whose days stay
	List        string        // the periods as lines of text, as KeepPeriods takes them
	NextFirst   calendar.Date // where periods can be drawn from
	NextYear    int           // the fiscal year of that day
}

// yearsShown are the fiscal years of months that Setup lists.
const yearsShown = 2

// ReportingCalendar reads the office's periods, with the days by which
// statements are due.
func (o Room) ReportingCalendar(ctx context.Context, a right.Actor) (*ReportingCalendar, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	s, err := o.Book().Snapshot(ctx)
	if err != nil {
		return nil, err
	}
	ps := s.Office.Periods
	out := &ReportingCalendar{Months: !ps.Own(), FiscalStart: ps.FiscalStart(), List: listText(ps.List())}
	last, table, err := s.LastNamed(ctx)
	if err != nil {
		return nil, err
	}
	if last != 0 {
		out.Named, out.By = ps.Name(last), strings.ReplaceAll(table, "_", " ")
	}
	for _, kind := range record.Statements {
		k := DueKind{Statement: kind, Title: dueTitle(kind)}
		if n, set := s.Office.Due[kind]; set {
			k.Days = strconv.Itoa(n)
		}
		out.DueKinds = append(out.DueKinds, k)
	}
	if ps.Own() {
		out.Keeps = int(last)
		out.Periods = periodRows(s, 1, len(ps.List()))
		out.NextFirst, out.NextYear = ps.First(last+1), ps.FiscalYear(last+1)
		if out.NextFirst == 0 {
			out.NextFirst, out.NextYear = ps.Last(last)+1, ps.FiscalYear(last)+1
		}
		return out, nil
	}
	at := s.Current()
	if at == 0 {
		at = ps.Of(calendar.DateIn(o.Clock()))
	}
	first := ps.InYear(ps.FiscalYear(at), 1)
	out.Periods = periodRows(s, first, yearsShown*12)
	out.NextFirst, out.NextYear = ps.First(first), ps.FiscalYear(first)
	for out.NextFirst.Time().Weekday() != time.Monday {
		out.NextFirst-- // weeks begin on Mondays, unless they are drawn otherwise
	}
	return out, nil
}

// PeriodsAs shows periods in lines of text as the office's calendar, before they
// are kept.
func (o Room) PeriodsAs(ctx context.Context, a right.Actor, text string) ([]PeriodRow, error) {
	if err := right.Check(a, right.Draw); err != nil {
		return nil, err
	}
	list, err := readList(text)
	if err != nil {
		return nil, err
	}
	ps, err := calendar.Listed(list)
	if err != nil {
		return nil, notListed(err)
	}
	s, err := o.Book().Snapshot(ctx)
	if err != nil {
		return nil, err
	}
	if bad, err := entry.Moved(ctx, s, ps); err != nil {
		return nil, err
	} else if bad != nil {
		return nil, notListed(bad)
	}
	return periodRows(s.WithPeriods(ps), 1, len(list)), nil
}

func periodRows(s *book.Snapshot, first calendar.Period, n int) (out []PeriodRow) {
	ps, work := s.Office.Periods, s.Office.CalendarOf("")
	for p := first; p < first+calendar.Period(n); p++ {
		row := PeriodRow{
			Bound: calendar.Bound{Code: ps.Code(p), Name: ps.Name(p), First: ps.First(p), Last: ps.Last(p)},
			State: office.StateOf(s, p),
		}
		row.Days, row.Working = int(row.Last-row.First)+1, work.Duration(row.First, row.Last)
		if y := ps.FiscalYear(p); p == first || y != ps.FiscalYear(p-1) {
			row.Year = y
		}
		for _, kind := range record.Statements {
			row.Due = append(row.Due, s.Office.DueOn(kind, p))
		}
		out = append(out, row)
	}
	return out
}

func dueTitle(statement string) string {
	for _, k := range office.OwedKinds {
		if k.Statement == statement {
			return k.Title
		}
	}
	return statement
}

// KeepPeriods makes a list of periods the office's calendar: lines as
// DrawPeriods gives them. Seen is the revision that the page
// showed.
func (o Room) KeepPeriods(ctx context.Context, a right.Actor, seen int64, text string) error {
	if err := right.Check(a, right.Draw); err != nil {
		return err
	}
	list, err := readList(text)
	if err != nil {
		return err
	}
	if _, err := calendar.Listed(list); err != nil {
		return notListed(err)
	}
	var rows []entry.Row
	in := make(map[string]bool)
	for _, b := range list {
		row := entry.Row{"period": b.Code, "first": b.First.String(), "last": b.Last.String(), "name": b.Name}
		if b.Name == "" {
			row["name"] = "-"
		}
		in[b.Code] = true
		rows = append(rows, row)
	}
	note := fmt.Sprintf("%d periods, %s to %s", len(list), list[0].Code, list[len(list)-1].Code)
	_, err = entry.In(o.Office).
		Enter(ctx, a, &entry.Form{Origin: office.Drawn, Note: note, Seen: seen, Rows: func(_ context.Context, s *book.Snapshot) ([]entry.Rows, error) {
			return []entry.Rows{entry.Of("boundaries", append(slices.Clone(rows), dropped(s, in)...)...)}, nil
		}})
	return err
}

// KeepMonths makes calendar months the office's periods, with the month in which
// fiscal years begin.
func (o Room) KeepMonths(ctx context.Context, a right.Actor, seen int64, fiscalStart string) error {
	if err := right.Check(a, right.Draw); err != nil {
		return err
	}
	_, err := entry.In(o.Office).
		Enter(ctx, a, &entry.Form{Origin: office.Drawn, Note: "calendar months", Seen: seen, Rows: func(_ context.Context, s *book.Snapshot) ([]entry.Rows, error) {
			list := []entry.Rows{entry.Of("settings", entry.Row{"setting": "fiscal_start", "value": fiscalStart})}
			if rows := dropped(s, nil); len(rows) > 0 {
				list = append(list, entry.Of("boundaries", rows...))
			}
			return list, nil
		}})
	return err
}

// dropped are the rows that clear the boundaries in force which a list has no
// more.
func dropped(s *book.Snapshot, in map[string]bool) (out []entry.Row) {
	for _, b := range s.Office.Periods.List() {
		if !in[b.Code] {
			out = append(out, entry.Row{"period": b.Code, "first": "-", "last": "-", "name": "-"})
		}
	}
	return out
}

// SetDue sets the working days by which kinds of statement are due, by kind: a
// number, or "" for none.
func (o Room) SetDue(ctx context.Context, a right.Actor, seen int64, days map[string]string) error {
	if err := right.Check(a, right.Draw); err != nil {
		return err
	}
	var rows []entry.Row
	for _, kind := range record.Statements {
		text := strings.TrimSpace(strings.ReplaceAll(days[kind], "−", "-"))
		if text == "" {
			text = "-"
		} else if _, err := strconv.Atoi(text); err != nil {
			return &office.Misfit{Column: dueTitle(kind), Why: fmt.Sprintf("%q is not a whole number of working days", text)}
		}
		rows = append(rows, entry.Row{"statement": kind, "days": text})
	}
	_, err := entry.In(o.Office).
		Enter(ctx, a, &entry.Form{Origin: office.Drawn, Note: "due days", Seen: seen, Rows: entry.These(entry.Of("due_days", rows...))})
	return err
}

// DueStatements are the kinds of statement that can be due by a day.
var DueStatements = record.Statements
