package book

import (
	"context"

	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/core/portfolio"
)

// ExamineGroup hands an evaluation of a group to use, for a trail: of a
// programme or "*", or, where codes is not nil, of that set of projects. The
// evaluation must not be kept.
func (s *Snapshot) ExamineGroup(
	ctx context.Context,
	code string,
	codes []string,
	p calendar.Period,
	against portfolio.Against,
	use func(*figure.Eval),
) error {
	places, err := s.members(ctx, code)
	if err != nil {
		return err
	}
	if codes != nil {
		places = s.placesOf(codes)
	}
	parts, err := s.evaluate(ctx, places, p, against)
	if err != nil {
		return err
	}
	set, err := s.set(ctx, p)
	if err != nil {
		return err
	}
	g := s.rollup(set, p, picked(parts, places))
	if codes == nil {
		g.Own = s.ownFunding(code)
	}
	e := g.Eval(p)
	e.All()
	use(e)
	return nil
}

// Examine hands an evaluation of a project to use, for a trail; ok is false
// where there is no such project. The evaluation must not be kept.
func (s *Snapshot) Examine(
	ctx context.Context,
	code string,
	p calendar.Period,
	against portfolio.Against,
	reporting bool,
	use func(*figure.Eval),
) (ok bool, err error) {
	if err := s.fill(ctx); err != nil {
		return false, err
	}
	pr := s.Project(code)
	if pr == nil {
		return false, nil
	}
	full, err := s.whole(ctx, pr, p)
	if err != nil {
		return false, err
	}
	j, err := s.judge(ctx, p)
	if err != nil {
		return false, err
	}
	outside, err := j.outside(ctx, s, pr, p)
	if err != nil {
		return false, err
	}
	ev := s.figures(full, p, against)
	e := ev.own
	if reporting {
		e = ev.reporting
	}
	if outside.Web, err = s.Web(ctx, code, p); err != nil {
		return false, err
	}
	if web := outside.Web; web != nil && s.full != nil {
		w := *web
		w.Seen = func(code string) bool { return s.Project(code) != nil }
		outside.Web = &w
	}
	use(e.Judge(finding.Found(j.check(pr.Code, ev.own, outside)), outside.Web))
	return true, nil
}
