package money

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/costs"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/store"
)

// moneyVersion is what one version of a table is made of.
type moneyVersion struct {
	inputs  *book.Snapshot
	codes   []string // of the projects that count
	period  calendar.Period
	against portfolio.Against
	name    string
}

// summed lists the projects that a moment's groups add up, in scope: those are
// the ones whose plan and cost are known and that are neither proposed nor
// cancelled.
func summed(rs *book.Readings, wanted func(*office.Reading) bool) (codes []string) {
	for _, r := range rs.Rows {
		if r.Group || !wanted(r) || r.State == portfolio.Cancelled || r.State == portfolio.Proposed ||
			!r.Value(figure.BAC).Known ||
			!r.Value(figure.AC).Known {
			continue
		}
		codes = append(codes, r.Code)
	}
	return codes
}

func (b *moneyBuilder) wanted(rs *book.Readings) func(*office.Reading) bool {
	m := b.m
	return func(r *office.Reading) bool {
		if b.out.Project != nil {
			return r.Code == b.out.Project.Code
		}
		return (m.Scope.Code == "" || office.Within(rs, r, m.Scope.Code)) && m.Filter.Wants(r)
	}
}

// version says what a version is made of.
func (b *moneyBuilder) version(
	s *book.Snapshot,
	rs *book.Readings,
	p calendar.Period,
	against portfolio.Against,
	name string,
) moneyVersion {
	v := moneyVersion{s, summed(rs, b.wanted(rs)), p, against, name}
	if b.out.Project != nil {
		v.codes = []string{b.out.Project.Code}
	}
	return v
}

// of gives the money of a version's projects.
func (b *moneyBuilder) of(ctx context.Context, v moneyVersion, rates costs.Rates) ([]*costs.Project, error) {
	return v.inputs.Costs(ctx, v.codes, v.period, v.against, b.out.in, rates, b.query.Outlook)
}

// reporting gives the readings of a period in the reporting currency, by which
// it is known what counts.
func (b *moneyBuilder) reporting(ctx context.Context, p calendar.Period) (*book.Readings, error) {
	return b.o.Book().Readings(ctx, b.m.Snapshot(), p, b.m.Against, true)
}

// baseline reads the number of one of the project's baselines; what is none is
// noted.
func (b *moneyBuilder) baseline(text string) (n int, ok bool) {
	if text == "" {
		return 0, false
	}
	n, err := strconv.Atoi(text)
	if b.out.Project == nil {
		b.note("A baseline by its number is a version of one project's money: choose a project first.")
		return 0, false
	}
	p := b.inputs.Project(b.out.Project.Code)
	if err != nil || p == nil || !slices.Contains(p.Numbers(), n) {
		b.note("%s has no baseline %q, so it is left out.", b.out.Project.Code, text)
		return 0, false
	}
	return n, true
}

// beside gives the second version: what the address names, else the compared
// period; nil for none.
func (b *moneyBuilder) beside(ctx context.Context, now *book.Readings) (*portfolio.Office, []*costs.Project, error) {
	t, m := b.out, b.m
	s, rs, p, against := b.inputs, now, m.Period.Number, m.Against
	id, cut := strings.CutPrefix(b.ask.Beside, "cut")
	number, numbered := strings.CutPrefix(b.ask.Beside, "baseline")
	switch {
	case numbered:
		n, ok := b.baseline(number)
		if !ok {
			return nil, nil, nil
		}
		against, t.Version = portfolio.Against(n), fmt.Sprintf("baseline %d", n)
	case b.ask.Plan != "" && b.ask.Beside == "latest":
		against, t.Version = portfolio.Latest, "the latest plan"
	case b.ask.Beside == "original" && m.Against == portfolio.Original,
		b.ask.Beside == "latest" && m.Against == portfolio.Latest:
		b.note("The plan is %s already, so nothing stands beside it.", b.ask.Beside)
		return nil, nil, nil
	case b.ask.Beside == "original":
		against, t.Version = portfolio.Original, "the original plan"
	case b.ask.Beside == "latest":
		against, t.Version = portfolio.Latest, "the latest plan"
	case cut:
		n, err := strconv.ParseInt(id, 10, 64)
		i := slices.IndexFunc(m.Snapshot().History, func(c store.Cut) bool { return c.ID == n })
		if err != nil || i < 0 {
			b.note("There is no cut %q any more, so nothing stands beside.", id)
			return nil, nil, nil
		}
		c := m.Snapshot().History[i]
		if s, err = b.o.Book().InputsOf(ctx, m.Snapshot(), n); err != nil {
			return nil, nil, err
		}
		if rs, err = b.o.Book().ReadingsOf(ctx, m.Snapshot(), n, true); err != nil {
			return nil, nil, err
		}
		p, t.Version = calendar.Period(c.Period), "the cut "+c.Name
	case b.ask.Beside != "" && b.ask.Beside != "period":
		b.note(
			"There is no version %q: there are latest, original, a cut, and the period to compare with on the rail.",
			b.ask.Beside,
		)
		return nil, nil, nil
	case m.Vs.Code != "":
		p, t.Version = m.Vs.Number, m.Vs.Name
		var err error
		if s, err = b.o.Book().InputsAt(ctx, m.Snapshot(), p); err != nil {
			return nil, nil, err
		}
		if rs, err = b.reporting(ctx, p); err != nil {
			return nil, nil, err
		}
	default:
		return nil, nil, nil
	}
	second := b.version(s, rs, p, against, t.Version)
	list, err := b.of(ctx, second, t.rates)
	if err != nil {
		return nil, nil, err
	}
	t.versions = append(t.versions, second)
	return s.Office, list, nil
}
