package weigh

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"turret/internal/book"
	"turret/internal/core/exception"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/right"
	"turret/internal/tell"
)

// ExceptionAsk is what an address asks of the exceptions, as text.
type ExceptionAsk struct {
	Kind   string            // of one kind; "": all
	Share  bool              // overruns and underruns go by percent, not by money
	Limits map[string]string // by name; those that are not asked for are the usual ones
}

// Exceptions are the projects that deserve a meeting.
type Exceptions struct {
	Limits   exception.Limits
	Kinds    []ExceptionKind
	Projects []ExceptionProject // those with most kinds first; of one kind, the gravest first
	Kind     exception.Kind     // that is asked for, or ""
	Looked   int                // projects that were looked at
	Short    int                // periods before that are known, where they are fewer than the limits look at; else −1
	Asked    []string           // what was asked for and is not there
}

// ExceptionKind is a kind with the number of projects it finds.
type ExceptionKind struct {
	exception.Rule
	Looks string // with the limits that count
	Count int
}

// ExceptionProject is a project with why it is found.
type ExceptionProject struct {
	*office.Reading
	Cases []ExceptionCase
}

// ExceptionCase is one reason.
type ExceptionCase struct {
	exception.Case
	of       *exception.Subject
	currency money.Currency
}

// Words says why.
func (c *ExceptionCase) Words() []tell.Phrase { return tell.Exception(c.Case, c.of, c.currency) }

// Exceptions finds the projects of a moment's scope and filter that deserve a
// meeting: judged in the own currency of each, with amounts in the reporting one. What an address asks for and does not
// exist is replaced by the default, with a note.
func (o Room) Exceptions(ctx context.Context, a right.Actor, m *office.Moment, ask ExceptionAsk) (*Exceptions, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	e := &Exceptions{Short: -1}
	e.Limits, e.Asked = exception.NewLimits(ask.Limits)
	if _, ok := exception.Of(exception.Kind(ask.Kind)); ok {
		e.Kind = exception.Kind(ask.Kind)
	} else if ask.Kind != "" {
		e.Asked = append(e.Asked, "There is no exception called "+ask.Kind+"; these are all kinds.")
	}
	for _, r := range exception.Rules {
		e.Kinds = append(e.Kinds, ExceptionKind{Rule: r, Looks: tell.Looks(r, e.Limits)})
	}
	if m.Empty {
		return e, nil
	}
	series, err := o.series(ctx, m, e.Limits.Back(), true)
	if err != nil {
		return nil, err
	}
	own, err := o.series(ctx, m, e.Limits.Back(), false)
	if err != nil {
		return nil, err
	}
	if n := len(series) - 1; n < e.Limits.Back() {
		e.Short = n
	}
	for _, r := range series[0].Rows {
		if r.Group || r.State == portfolio.Cancelled || r.State == portfolio.Proposed || !m.InScope(r) ||
			!m.Filter.Wants(r) {
			continue
		}
		e.Looked++
		e.look(r, own, series, m.Reporting)
	}
	e.arrange(ask.Share)
	return e, nil
}

// series gives the readings of a moment's period, and of as many before it as are
// known, the latest first.
func (o Room) series(ctx context.Context, m *office.Moment, back int, reporting bool) (out []*book.Readings, err error) {
	for p := m.Period.Number; len(out) <= back && p >= m.Snapshot().First(); p-- {
		rs, err := o.Book().Readings(ctx, m.Snapshot(), p, m.Against, reporting)
		if err != nil {
			return nil, err
		}
		out = append(out, rs)
	}
	return out, nil
}

// look finds the cases of a project, read in its own currency and as it is shown.
func (e *Exceptions) look(r *office.Reading, own, shown []*book.Readings, currency money.Currency) {
	s := &exception.Subject{Decimal: currency.Exponent()}
	for i := range own {
		is, as := own[i].Project(r.Code), shown[i].Project(r.Code)
		if is == nil || as == nil {
			break
		}
		if i == 0 {
			s.Now = pointOf(is, as)
		} else {
			s.Before = append(s.Before, pointOf(is, as))
		}
	}
	found := ExceptionProject{Reading: r}
	for _, c := range exception.Find(s, e.Limits) {
		i := slices.IndexFunc(e.Kinds, func(k ExceptionKind) bool { return k.Kind == c.Kind })
		e.Kinds[i].Count++
		if e.Kind == "" || e.Kind == c.Kind {
			found.Cases = append(found.Cases, ExceptionCase{c, s, currency})
		}
	}
	if len(found.Cases) > 0 {
		e.Projects = append(e.Projects, found)
	}
}

func pointOf(r, shown *office.Reading) exception.Point {
	return exception.Point{
		Value:     r.Value,
		Shown:     shown.Value,
		State:     r.State,
		Overall:   r.Computed[standing.Overall],
		Stated:    r.Stated,
		HasStated: r.HasSaid,
	}
}

// arrange orders the projects: of one kind by its weight, or by percent; of all by what
// is at stake, then by the number of kinds that are bad news.
func (e *Exceptions) arrange(share bool) {
	bad := func(p *ExceptionProject) (n int) {
		for i := range p.Cases {
			if p.Cases[i].Kind != exception.Under {
				n++
			}
		}
		return n
	}
	slices.SortStableFunc(e.Projects, func(a, b ExceptionProject) int {
		code := strings.Compare(a.Code, b.Code)
		switch {
		case e.Kind == "":
			return cmp.Or(
				cmp.Compare(b.Value(figure.AtStake).N, a.Value(figure.AtStake).N),
				cmp.Compare(bad(&b), bad(&a)),
				code,
			)
		case share && (e.Kind == exception.Over || e.Kind == exception.Under):
			x, y := a.Value(figure.ComputedOver), b.Value(figure.ComputedOver)
			if !x.Known || !y.Known {
				return code
			}
			by := y.R.Cmp(x.R)
			if e.Kind == exception.Under {
				by = -by
			}
			return cmp.Or(by, code)
		}
		return cmp.Or(b.Cases[0].Weight.Cmp(a.Cases[0].Weight), code)
	})
}

// Say sums the exceptions up.
func (e *Exceptions) Say() []tell.Phrase {
	return tell.Exceptions(e.Looked, e.names(), e.Kind, e.stake())
}

// names are the projects found, the gravest first.
func (e *Exceptions) names() (out [][2]string) {
	for _, p := range e.Projects {
		out = append(out, [2]string{p.Code, p.Name})
	}
	return out
}

// stake writes what is at stake of the first project; "" where nothing is, or it is not
// known.
func (e *Exceptions) stake() string {
	if len(e.Projects) == 0 {
		return ""
	}
	v := e.Projects[0].Value(figure.AtStake)
	if !v.Known || v.N <= 0 {
		return ""
	}
	return tell.Millions(v, e.Projects[0].Currency)
}
