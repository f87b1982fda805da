package funding

import (
	"context"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/earned"
	"turret/internal/core/figure"
	"turret/internal/core/funding"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/right"
)

// Line is a project or a group for which money is authorised, or that is in one.
type Line struct {
	*office.Reading
	Depth   int
	Funded  bool            // something is authorised for it, or in it
	Gone    bool            // its money has run out by the moment's period
	Short   int64           // the most that is spent beyond what is authorised by then; zero where it lasts
	ShortIn calendar.Period // and when
	Sources []funding.Source
	Unmet   int64  // of its cost no source of its own pays so much in the end
	Why     string // why sources are not told, or ""
}

// Table is all of them at a moment, each project below its programme.
type Table struct {
	Lines     []Line
	Sources   []Given
	Transfers []Transfer
	Unfunded  int // projects that run without money recorded as authorised
}

// Given is what one source gives to all scopes together, in one currency.
type Given struct {
	From               string
	Currency           money.Currency
	Money, Spent, Used int64
	RunsOut            calendar.Period // the first, from the moment's on, in which it runs out for one of its scopes
	Gone               []string        // those for which it ran out before
	For                []string        // its scopes
}

// Transfer is money that was moved, with its parts.
type Transfer struct {
	Code, Reason string
	Period       calendar.Period
	Currency     money.Currency
	Parts        []portfolio.Funding
}

// Table reads the money of what a moment is about.
func (o Room) Table(ctx context.Context, a right.Actor, m *office.Moment) (*Table, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	out := &Table{}
	if m.Empty {
		return out, nil
	}
	for _, r := range m.Readings().Rows {
		if !r.Group && m.InScope(r) && m.Filter.Wants(r) && runs(r) && !r.Value(figure.Funded).Known {
			out.Unfunded++
		}
	}
	for _, n := range m.Programmes() {
		if r, _ := m.Find(n.Code); r != nil && m.InScope(r) && m.Filter.Empty() {
			out.add(Line{Reading: r, Depth: n.Depth})
		}
		for _, r := range m.Readings().Rows {
			if !r.Group && r.Parent == n.Code && m.InScope(r) && m.Filter.Wants(r) && runs(r) {
				out.add(Line{Reading: r, Depth: n.Depth + 1})
			}
		}
	}
	for _, r := range m.Readings().Rows {
		if !r.Group && r.Parent == "" && m.InScope(r) && m.Filter.Wants(r) && runs(r) {
			out.add(Line{Reading: r, Depth: 1})
		}
	}
	if r, _ := m.Find(portfolio.Everywhere); r != nil && m.Scope.Code == "" && m.Filter.Empty() {
		out.add(Line{Reading: r})
	}
	type of struct {
		code  string
		group bool
	}
	at, end := make(map[of]*Line), int64(m.Snapshot().Office.Periods.Last(m.Period.Number))
	for i := range out.Lines {
		l := &out.Lines[i]
		at[of{l.Code, l.Group}] = l
		out := l.Value(figure.RunsOut)
		l.Gone = out.Known && out.N <= end
	}
	err := m.Snapshot().Spending(ctx, m.Period.Number, m.Against, m.In() != "", func(code string, group bool, authorised, spent earned.Series, why string) {
		if l := at[of{code, group}]; l != nil {
			l.settle(m, authorised, spent, why)
		}
	})
	if err != nil {
		return nil, err
	}
	out.bySource(m.Period.Number)
	out.transfers(m)
	return out, nil
}

// runs tells that a project counts in groups.
func runs(r *office.Reading) bool {
	return r.State != portfolio.Proposed && r.State != portfolio.Cancelled
}

// add takes a line for which money is authorised.
func (t *Table) add(l Line) {
	if l.Funded = l.Value(figure.Funded).Known; l.Funded {
		t.Lines = append(t.Lines, l)
	}
}

// settle works out what a line is short, and what its sources pay.
func (l *Line) settle(m *office.Moment, authorised, spent earned.Series, why string) {
	if l.Why = why; why != "" {
		return
	}
	at := m.Period.Number
	l.ShortIn, l.Short = funding.Short(spent, authorised, at)
	list := own(m, l.Reading)
	if len(list) == 0 {
		return
	}
	if l.Group {
		spent = beyond(m, l, spent)
	}
	l.Sources, l.Unmet, l.Why = funding.BySource(m.Snapshot().Office, list, spent, l.Currency, at)
}

// own is the money that is authorised for a scope itself.
func own(m *office.Moment, r *office.Reading) []portfolio.Funding {
	if !r.Group {
		if p := m.Snapshot().Project(r.Code); p != nil {
			return p.Funding
		}
		return nil
	}
	var out []portfolio.Funding
	for _, f := range m.Snapshot().Office.Funding {
		if f.Scope == r.Code {
			out = append(out, f)
		}
	}
	return out
}

// beyond is what a group's own money is needed for: its cost less what is authorised for its
// parts themselves.
func beyond(m *office.Moment, l *Line, spent earned.Series) earned.Series {
	off := m.Snapshot().Office
	var list []portfolio.Funding
	for _, f := range off.FundingOf(l.Code) {
		if f.Scope != l.Code {
			list = append(list, f)
		}
	}
	for _, p := range m.Snapshot().Projects() {
		if l.Code == portfolio.Everywhere || off.Under(p.Programme, l.Code) {
			list = append(list, p.Funding...)
		}
	}
	parts, why := funding.Authorised(off, list, off.Reporting, m.Period.Number)
	if why != "" {
		return spent
	}
	out := earned.Series{First: spent.First, Cum: slices.Clone(spent.Cum)}
	for i := range out.Cum {
		out.Cum[i] = max(0, out.Cum[i]-parts.At(out.First+calendar.Period(i)))
	}
	return out
}

// bySource adds up what each source gives, in the order of how much.
func (t *Table) bySource(at calendar.Period) {
	type of struct {
		from string
		in   money.Currency
	}
	place := make(map[of]int)
	for i := range t.Lines {
		l := &t.Lines[i]
		for _, s := range l.Sources {
			k, ok := place[of{s.From, l.Currency}]
			if !ok {
				k = len(t.Sources)
				place[of{s.From, l.Currency}] = k
				t.Sources = append(t.Sources, Given{From: s.From, Currency: l.Currency})
			}
			g := &t.Sources[k]
			g.Money, g.Spent, g.Used = g.Money+s.Money, g.Spent+s.Spent, g.Used+s.Used
			g.For = append(g.For, l.Code)
			switch {
			case s.RunsOut == 0:
			case s.RunsOut < at:
				g.Gone = append(g.Gone, l.Code)
			case g.RunsOut == 0 || s.RunsOut < g.RunsOut:
				g.RunsOut = s.RunsOut
			}
		}
	}
	slices.SortStableFunc(t.Sources, func(a, b Given) int {
		switch {
		case a.Money > b.Money:
			return -1
		case a.Money < b.Money:
			return 1
		}
		return 0
	})
}

// transfers lists what was moved from or to what the table shows, the latest first.
func (t *Table) transfers(m *office.Moment) {
	shown := make(map[string]bool)
	for _, r := range m.Readings().Rows {
		shown[r.Code] = m.InScope(r)
	}
	by := make(map[string]int)
	all := slices.Clone(m.Snapshot().Office.Funding)
	for _, p := range m.Snapshot().Projects() {
		all = append(all, p.Funding...)
	}
	for _, f := range all {
		if f.Transfer == "" || !shown[f.Scope] {
			continue
		}
		k, ok := by[f.Transfer]
		if !ok {
			k = len(t.Transfers)
			by[f.Transfer] = k
			t.Transfers = append(t.Transfers, Transfer{Code: f.Transfer, Reason: f.Says, Period: f.Period, Currency: f.Currency})
		}
		t.Transfers[k].Parts = append(t.Transfers[k].Parts, f)
	}
	for i := range t.Transfers {
		slices.SortStableFunc(t.Transfers[i].Parts, func(a, b portfolio.Funding) int {
			switch {
			case a.Amount < b.Amount:
				return -1
			case a.Amount > b.Amount:
				return 1
			}
			return 0
		})
	}
	slices.SortStableFunc(t.Transfers, func(a, b Transfer) int { return int(b.Period - a.Period) })
}

// Scopes are those that money can be for, with their names.
func Scopes(m *office.Moment) (out [][2]string) {
	for _, g := range m.Programmes() {
		out = append(out, [2]string{g.Code, g.Name})
	}
	return append(append(out, m.ProjectNames()...), [2]string{portfolio.Everywhere, "the whole portfolio"})
}

// Codes are the cost codes, with their names, in order.
func Codes(m *office.Moment) (out [][2]string) {
	for _, c := range m.Snapshot().Office.Codes {
		out = append(out, [2]string{c.Code, c.Name})
	}
	slices.SortFunc(out, func(a, b [2]string) int { return strings.Compare(a[0], b[0]) })
	return out
}
