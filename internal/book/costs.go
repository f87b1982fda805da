package book

import (
	"cmp"
	"context"

	"turret/internal/core/calendar"
	"turret/internal/core/costs"
	"turret/internal/core/earned"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// costsKey is one way to look at the money of all projects. It takes as much room as
// all cells.
type costsKey struct {
	of       *lineage // figures
	period   calendar.Period
	against  portfolio.Against
	currency money.Currency // "": each project's own
	rates    costs.Rates
	outlook  bool // with what the computed outlook says is still to come
}

func (costsKey) Weight() int { return 40 }

// Costs gives the lines of money of projects, by code, as a period knows them:
// in a currency, or with "" in each project's own; with outlook also what the
// computed outlook says is still to come. Codes that are not
// there are left out.
func (s *Snapshot) Costs(
	ctx context.Context,
	codes []string,
	p calendar.Period,
	against portfolio.Against,
	currency money.Currency,
	rates costs.Rates,
	outlook bool,
) ([]*costs.Project, error) {
	if err := s.fill(ctx); err != nil {
		return nil, err
	}
	known, err := tableOf[*costs.Project](ctx, s.memo, costsKey{s.memo.figures, p, against, currency, rates, outlook})
	if err != nil {
		return nil, err
	}
	projects := make([]*portfolio.Project, 0, len(codes))
	for _, code := range codes {
		if pr := s.Project(code); pr != nil {
			projects = append(projects, pr)
		}
	}
	out := make([]*costs.Project, len(projects))
	todo := known.each(projects, upTo(len(projects)), out)
	made := make([]*portfolio.Project, len(todo))
	err = parallel(ctx, len(todo), func(ctx context.Context, k int) (err error) {
		i := todo[k]
		made[k] = projects[i]
		out[i], err = s.costsOf(ctx, projects[i], p, against, currency, rates, outlook)
		return err
	})
	if err != nil {
		return nil, err
	}
	known.put(s, made, func(k int) *costs.Project { return out[todo[k]] })
	return out, nil
}

func (s *Snapshot) costsOf(
	ctx context.Context,
	pr *portfolio.Project,
	p calendar.Period,
	against portfolio.Against,
	currency money.Currency,
	rates costs.Rates,
	outlook bool,
) (*costs.Project, error) {
	full, err := s.whole(ctx, pr, p)
	if err != nil {
		return nil, err
	}
	progress := earned.NewProgress(portfolio.At(s.Office, full, p, against))
	out := costs.Of(progress, cmp.Or(currency, full.Currency), rates)
	if outlook {
		s.expect(out, progress)
	}
	return out, nil
}

// expect adds what the computed outlook says is still to come: to the computed
// finish, else the stated, else the planned one.
func (s *Snapshot) expect(to *costs.Project, progress *earned.Progress) {
	e := figure.OfProject(progress).In(to.Currency)
	toGo := e.Get(figure.ETCComputed)
	if !toGo.Known {
		return
	}
	last := progress.Period
	for _, id := range [...]figure.ID{figure.FinishComputed, figure.FinishStated, figure.FinishPlanned} {
		if v := e.Get(id); v.Known {
			last = s.Office.Periods.Of(calendar.Date(v.N))
			break
		}
	}
	to.Expect(progress.Period, toGo.N, last)
}

// EachCost hands over every cell of a project's money as a period knows it, and
// gives the reason why it is not known, or "".
func (s *Snapshot) EachCost(
	ctx context.Context,
	code string,
	p calendar.Period,
	against portfolio.Against,
	currency money.Currency,
	rates costs.Rates,
	each func(*portfolio.Project, *costs.Cell),
) (why string, err error) {
	if err := s.fill(ctx); err != nil {
		return "", err
	}
	pr := s.Project(code)
	if pr == nil {
		return "", nil
	}
	full, err := s.whole(ctx, pr, p)
	if err != nil {
		return "", err
	}
	return costs.Each(
		earned.NewProgress(portfolio.At(s.Office, full, p, against)),
		cmp.Or(currency, full.Currency),
		rates,
		func(c *costs.Cell) { each(full, c) },
	), nil
}

// PlanAt gives the lines of a project's money at a period against the baseline
// of a number, with its first and last baseline dates; nil where there is no
// such project.
func (s *Snapshot) PlanAt(
	ctx context.Context,
	code string,
	p calendar.Period,
	number int,
	currency money.Currency,
) (*costs.Project, [2]calendar.Date, error) {
	v, err := s.View(ctx, code, p, portfolio.Against(number))
	if v == nil || err != nil {
		return nil, [2]calendar.Date{}, err
	}
	start, finish := v.BaselineSpan()
	c := costs.Of(earned.NewProgress(v), cmp.Or(currency, v.Currency), costs.Usual)
	return c, [2]calendar.Date{start, finish}, nil
}
