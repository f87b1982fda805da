package office

import (
	"fmt"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/store"
)

// PeriodState is where a period stands in its life.
type PeriodState string

// The states of a period: ahead of the work, open, in checking, where leads
// state no more for it, or closed.
const (
	PeriodAhead    PeriodState = "ahead"
	PeriodOpen     PeriodState = "open"
	PeriodChecking PeriodState = "in checking"
	PeriodClosed   PeriodState = "closed"
)

func StateOf(s *book.Snapshot, p calendar.Period) PeriodState {
	switch {
	case s.Closed[p]:
		return PeriodClosed
	case p > max(s.Current(), s.Last):
		return PeriodAhead
	case s.Checking[p]:
		return PeriodChecking
	}
	return PeriodOpen
}

// Being says of a period that is not closed what it is.
func (p PeriodInfo) Being() string {
	if p.State == PeriodAhead {
		return p.Name + " is still to come."
	}
	return fmt.Sprintf("%s is %s.", p.Name, p.State)
}

// Sentence says in words that a period's figures are provisional or final.
func (p PeriodInfo) Sentence() string {
	switch p.State {
	case PeriodClosed:
		return fmt.Sprintf("%s is closed.", p.Name)
	case PeriodChecking:
		return fmt.Sprintf("%s is in checking: leads state no more for it, and its figures may still change.", p.Name)
	}
	return fmt.Sprintf("%s is open: its figures may still change.", p.Name)
}

// PeriodInfo is what a screen shows of a period.
type PeriodInfo struct {
	Code, Name string
	Last       calendar.Date
	State      PeriodState
	Closed     bool
	Number     calendar.Period
}

// Ahead tells whether nothing is stated for the period yet, as it is to come.
func (p PeriodInfo) Ahead() bool { return p.State == PeriodAhead }

// Checking tells whether leads state no more for the period.
func (p PeriodInfo) Checking() bool { return p.State == PeriodChecking }

func (m *Moment) Info(p calendar.Period) PeriodInfo {
	ps := m.snap.Office.Periods
	return PeriodInfo{
		Code:   ps.Code(p),
		Name:   ps.Name(p),
		Last:   ps.Last(p),
		State:  StateOf(m.snap, p),
		Closed: m.snap.Closed[p],
		Number: p,
	}
}

// PeriodRecord sets the state of a period.
func PeriodRecord(s *book.Snapshot, p calendar.Period, state string) store.RecordChange {
	k, next := record.Periods, int64(1)
	rows := s.Records.Of(k.Kind)
	for i := range rows {
		r := &rows[i]
		if k.Period.Of(r) == p {
			after := r.Clone()
			*k.State.In(&after) = portfolio.Field{Said: portfolio.Value, Text: state}
			return store.RecordChange{Table: k.Kind, Before: r, After: after}
		}
		next = max(next, r.ID+1)
	}
	after := portfolio.Row{ID: next, Fields: make([]portfolio.Field, len(k.Columns))}
	*k.Period.In(&after) = portfolio.Field{Said: portfolio.Value, Int: int64(p)}
	*k.State.In(&after) = portfolio.Field{Said: portfolio.Value, Text: state}
	return store.RecordChange{Table: k.Kind, After: after}
}
