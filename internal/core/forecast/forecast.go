// Package forecast sets what statements of cost said against what came: the
// forecast error of a project, by how far ahead was said.
package forecast

import (
	"cmp"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/earned"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// Record is every statement of a project up to a period, with what was spent.
type Record struct {
	Statements []Statement // by the period in which they were made
	At         calendar.Period
	Done       calendar.Period // the period in which the project is known to be finished; zero: it is not
	Halted     calendar.Period // the period in which it is known to be on hold or cancelled; zero: it is not
	Why        string          // why nothing is known, or ""

	first calendar.Period
	spent []int64 // actual cost at the end of each period from the first statement's on
}

// Statement is what was said in a period of the cost after it, in minor units.
type Statement struct {
	Period calendar.Period
	toGo   []int64 // through each period after it
}

// Said gives what a statement said for the periods after it through another.
func (s *Statement) Said(through calendar.Period) int64 {
	n := min(int(through-s.Period), len(s.toGo))
	if n <= 0 {
		return 0
	}
	return s.toGo[n-1]
}

// Of reads the record of a project at the period of its view, in a currency.
// Every forecast of it must be loaded. A statement converts at the rates that
// were known when it was made.
func Of(p *earned.Progress, currency money.Currency) *Record {
	r := &Record{At: p.Period}
	m := earned.NewMoney(p, currency)
	if r.Why = m.ActualWhy; r.Why != "" {
		return r
	}
	for i := range p.Project.Forecast {
		v := &p.Project.Forecast[i]
		if v.Number <= 0 || calendar.Period(v.Number) > p.Period {
			continue
		}
		s := Statement{Period: calendar.Period(v.Number)}
		if r.Why = s.read(m, v); r.Why != "" {
			r.Statements = nil
			return r
		}
		r.Statements = append(r.Statements, s)
	}
	slices.SortFunc(r.Statements, func(a, b Statement) int { return cmp.Compare(a.Period, b.Period) })
	if len(r.Statements) == 0 {
		r.Why = "no forecast was stated up to this period"
		return r
	}
	r.first = r.Statements[0].Period
	for q := r.first; q <= p.Period; q++ {
		r.spent = append(r.spent, m.AC(q))
		switch p.StateAt(p.Office.Periods.Last(q)) {
		case portfolio.Finished:
			r.Done = min(cmp.Or(r.Done, q), q)
		case portfolio.OnHold, portfolio.Cancelled:
			r.Halted = min(cmp.Or(r.Halted, q), q)
		}
	}
	return r
}

// read sums the cells of cost after the period of a statement.
func (s *Statement) read(m *earned.Money, v *portfolio.Version) (why string) {
	var by []int64
	for i := range v.Lines {
		l := &v.Lines[i]
		if l.Flow != portfolio.Cost {
			continue
		}
		for j := range l.Cells {
			c := &l.Cells[j]
			if c.Period <= s.Period {
				continue
			}
			conv, err := m.Office.Rates.Between(l.Currency, m.Currency, money.PeriodRates, int(s.Period), int(s.Period))
			if err != nil {
				return err.Error()
			}
			n, err := conv.Convert(c.Amount)
			if err != nil {
				return tooLarge
			}
			k := int(c.Period - s.Period - 1)
			for len(by) <= k {
				by = append(by, 0)
			}
			var ok bool
			if by[k], ok = money.Add(by[k], n); !ok {
				return tooLarge
			}
		}
	}
	for i := 1; i < len(by); i++ {
		var ok bool
		if by[i], ok = money.Add(by[i-1], by[i]); !ok {
			return tooLarge
		}
	}
	s.toGo = by
	return ""
}

const tooLarge = "its sum is beyond 64 bits"

// Error is what one statement said against what came, in minor units.
type Error struct {
	Made, Through calendar.Period // said in Made, for the periods after it through Through
	Said, Came    int64
}

// Ahead is the lead: by how many periods it was said before.
func (e Error) Ahead() int { return int(e.Through - e.Made) }

// Share is (said − came) ÷ came; ok is false where nothing came. Above zero more
// was said than came.
func (e Error) Share() (share float64, ok bool) {
	if e.Came <= 0 {
		return 0, false
	}
	return float64(e.Said-e.Came) / float64(e.Came), true
}

// Since gives the errors of a lead for the periods since: of each statement that
// was made so many periods before one that has come. What a project that was
// halted meanwhile did not spend is no error of its forecast.
func (r *Record) Since(ahead int) (out []Error) {
	for i := range r.Statements {
		s := &r.Statements[i]
		through := s.Period + calendar.Period(ahead)
		if ahead <= 0 || through > r.At || r.Halted != 0 && through >= r.Halted {
			continue
		}
		out = append(out, Error{s.Period, through, s.Said(through), r.at(through) - r.at(s.Period)})
	}
	return out
}

// Final gives, of a finished project, the errors of what each statement before
// said for the final cost, the earliest first.
func (r *Record) Final() (out []Error) {
	for i := range r.Statements {
		s := &r.Statements[i]
		if r.Done == 0 || s.Period >= r.Done {
			continue
		}
		all := s.Period + calendar.Period(len(s.toGo))
		out = append(out, Error{s.Period, r.Done, r.at(s.Period) + s.Said(all), r.at(r.Done)})
	}
	return out
}

func (r *Record) at(p calendar.Period) int64 { return r.spent[p-r.first] }
