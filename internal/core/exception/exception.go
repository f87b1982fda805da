// Package exception finds the projects that deserve a meeting: not the reddest,
// but those whose trouble is new, hidden or denied. It looks at the readings of a
// period and of those before it, as they were read then.
package exception

import (
	"math/big"
	"slices"

	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
)

// Kind is a reason to look at a project.
type Kind string

// The kinds.
const (
	Over      Kind = "over"      // largest overruns
	Under     Kind = "under"     // largest underruns
	Masked    Kind = "masked"    // bad in the period, good in all
	Worsening Kind = "worsening" // worse several periods running
	Idle      Kind = "idle"      // spending without progress
	Unmoved   Kind = "unmoved"   // a forecast that does not move
	After     Kind = "after"     // a forecast that moves only after the fact
	Hopeful   Kind = "hopeful"   // stated better than computed
	Growing   Kind = "growing"   // a backlog that grows faster than it is accepted
)

// Rule says how a kind is found.
type Rule struct {
	Kind   Kind
	Title  string
	About  string   // what it finds, with the limits' names in braces
	Limits []string // names of the limits that it asks for
	find   func(*Subject, Limits) (Case, bool)
}

// Rules lists the kinds, in the order in which they are told.
var Rules = []Rule{
	{
		Over,
		"Overruns",
		"The computed outlook is over the plan by {over}% or more, and by {least} thousand.",
		[]string{"over", "least"},
		(*Subject).over,
	},
	{
		Under,
		"Underruns",
		"The computed outlook is under the plan by {under}% or more, and by {least} thousand.",
		[]string{"under", "least"},
		(*Subject).under,
	},
	{
		Masked,
		"Bad now, good in all",
		"CPI or SPI of the period is below {period_index}, while that of all periods together is {whole_index} or more.",
		[]string{"period_index", "whole_index"},
		(*Subject).masked,
	},
	{
		Worsening,
		"Worse and worse",
		"CPI or SPI(t) fell, or the computed outlook over plan rose, {running} periods running, by {worse} points or more in all.",
		[]string{"running", "worse"},
		(*Subject).worsening,
	},
	{
		Idle,
		"Spent, not earned",
		"In {idle} periods {idle_spent}% or more of the plan was spent, and less than {idle_earned}% of that was earned.",
		[]string{"idle", "idle_spent", "idle_earned"},
		(*Subject).idle,
	},
	{
		Unmoved,
		"Unmoved forecast",
		"No forecast was stated for {unmoved} periods, or the stated outlook stayed within 0.5% of the plan for so long while the computed one moved by {moved}% or more.",
		[]string{"unmoved", "moved"},
		(*Subject).unmoved,
	},
	{
		After,
		"After the fact",
		"The stated outlook rose {after} periods running, each time by at most a quarter more than the period had cost beyond what it earned, and the computed one is still higher.",
		[]string{"after"},
		(*Subject).after,
	},
	{
		Hopeful,
		"Stated better",
		"The lead states a better standing than the figures say, or an outlook that is not credible and lower than the computed one.",
		nil,
		(*Subject).hopeful,
	},
	{
		Growing,
		"Scope outgrows acceptance",
		"More was added to the backlog in the periods of its pace than was accepted in them.",
		nil,
		(*Subject).growing,
	},
}

// Of gives the rule of a kind.
func Of(k Kind) (Rule, bool) {
	i := slices.IndexFunc(Rules, func(r Rule) bool { return r.Kind == k })
	if i < 0 {
		return Rule{}, false
	}
	return Rules[i], true
}

// Point is a project as it was read in a period: in its own currency, by which it is
// judged, and with its amounts as they are shown.
type Point struct {
	Value     func(figure.ID) figure.Value
	Shown     func(figure.ID) figure.Value
	State     portfolio.State
	Overall   standing.Standing // as computed
	Stated    standing.Standing
	HasStated bool
}

// Subject is a project at a period and before.
type Subject struct {
	Now     Point
	Before  []Point // the periods before, the latest first; a gap ends them
	Decimal int     // digits of the minor unit of the currency shown
}

// Case is why a project is found.
type Case struct {
	Kind    Kind
	IDs     []figure.ID // the figures that tell it
	Periods int         // that it goes over; zero where it is of one
	Amounts [3]int64    // as shown, in minor units, by kind: see its function
	Weight  *big.Rat    // what cases of a kind are ordered by, the largest first
}

// Find gives the cases of a subject, in the order of Rules.
func Find(s *Subject, l Limits) (out []Case) {
	if s.Now.State == portfolio.Cancelled || s.Now.State == portfolio.Proposed {
		return nil
	}
	for _, r := range Rules {
		if c, ok := r.find(s, l); ok {
			c.Kind = r.Kind
			if c.Weight == nil {
				c.Weight = new(big.Rat)
			}
			out = append(out, c)
		}
	}
	return out
}

// over finds an overrun. Amounts: what the outlook exceeds the plan by.
func (s *Subject) over(l Limits) (Case, bool) { return s.beyond(l, "over", 1) }

// under finds an underrun. Amounts: what the outlook is below the plan by.
func (s *Subject) under(l Limits) (Case, bool) { return s.beyond(l, "under", -1) }

// beyond finds an outlook away from the plan by a share of it, in the project's own
// currency, and by an amount as shown.
func (s *Subject) beyond(l Limits, limit string, sign int64) (Case, bool) {
	eac, bac := s.Now.Value(figure.EACComputed), s.Now.Value(figure.BAC)
	shown, plan := s.Now.Shown(figure.EACComputed), s.Now.Shown(figure.BAC)
	if !eac.Known || !bac.Known || bac.N <= 0 || !shown.Known || !plan.Known {
		return Case{}, false
	}
	by := sign * (eac.N - bac.N)
	least := new(big.Rat).Mul(l[limit], big.NewRat(bac.N, 100))
	thousand := new(big.Rat).Mul(l["least"], power(s.Decimal+3))
	c := Case{Amounts: [3]int64{sign * (shown.N - plan.N)}}
	c.Weight = new(big.Rat).SetInt64(c.Amounts[0])
	enough := l["least"].Sign() == 0 || c.Weight.Cmp(thousand) >= 0
	return c, by > 0 && new(big.Rat).SetInt64(by).Cmp(least) >= 0 && enough
}

func power(n int) *big.Rat {
	return new(big.Rat).SetInt(new(big.Int).Exp(big.NewInt(10), big.NewInt(int64(n)), nil))
}

// masked finds an index that is bad in the period and good in all. IDs: the
// period's index and the whole one, of each that is.
func (s *Subject) masked(l Limits) (c Case, ok bool) {
	if !s.running() {
		return c, false
	}
	for _, pair := range [...][2]figure.ID{{figure.CPIPeriod, figure.CPI}, {figure.SPIPeriod, figure.SPI}} {
		now, all := s.Now.Value(pair[0]), s.Now.Value(pair[1])
		if !now.Known || !all.Known || now.Rat().Cmp(l["period_index"]) >= 0 || all.Rat().Cmp(l["whole_index"]) < 0 {
			continue
		}
		c.IDs = append(c.IDs, pair[0], pair[1])
		if gap := new(big.Rat).Sub(all.Rat(), now.Rat()); c.Weight == nil || gap.Cmp(c.Weight) > 0 {
			c.Weight = gap
		}
	}
	return c, len(c.IDs) > 0
}

// trends are the figures that can get worse, with the way that is worse.
var trends = []struct {
	id    figure.ID
	worse int
}{{figure.CPI, -1}, {figure.SPIT, -1}, {figure.ComputedOver, 1}}

// worsening finds figures that got worse period by period. IDs: those figures.
func (s *Subject) worsening(l Limits) (c Case, ok bool) {
	c.Periods = l.Periods("running")
	if !s.running() || len(s.Before) < c.Periods {
		return c, false
	}
	for _, t := range trends {
		if s.each(c.Periods, func(is, was Point) bool {
			a, b := is.Value(t.id), was.Value(t.id)
			return a.Known && b.Known && a.R.Cmp(b.R) == t.worse
		}) {
			by := new(big.Rat).Sub(s.Now.Value(t.id).Rat(), s.Before[c.Periods-1].Value(t.id).Rat())
			if by.Mul(by.Abs(by), big.NewRat(100, 1)).Cmp(l["worse"]) < 0 {
				continue
			}
			if c.IDs = append(c.IDs, t.id); c.Weight == nil || by.Cmp(c.Weight) > 0 {
				c.Weight = by
			}
		}
	}
	return c, len(c.IDs) > 0
}

// idle finds spending that earns next to nothing. Amounts: spent, and earned.
func (s *Subject) idle(l Limits) (c Case, ok bool) {
	c.Periods, c.IDs = l.Periods("idle"), []figure.ID{figure.ACEarned, figure.EV}
	if !s.running() || len(s.Before) < c.Periods {
		return c, false
	}
	was, bac := s.Before[c.Periods-1], s.Now.Value(figure.BACEarned)
	var by, shown [2]int64
	for i, id := range c.IDs {
		if by[i], shown[i], ok = s.Now.since(was, id); !ok {
			return c, false
		}
	}
	if !bac.Known || bac.N <= 0 || by[0] <= 0 {
		return c, false
	}
	c.Amounts, c.Weight = [3]int64{shown[0], shown[1]}, new(big.Rat).SetInt64(shown[0]-shown[1])
	spent, earned := big.NewRat(100*by[0], bac.N), big.NewRat(100*by[1], by[0])
	return c, spent.Cmp(l["idle_spent"]) >= 0 && earned.Cmp(l["idle_earned"]) < 0
}

// since gives what a figure changed by since another point, in the own currency and as
// shown; ok is false where one is not known.
func (p Point) since(was Point, id figure.ID) (own, shown int64, ok bool) {
	a, b, x, y := p.Value(id), was.Value(id), p.Shown(id), was.Shown(id)
	return a.N - b.N, x.N - y.N, a.Known && b.Known && x.Known && y.Known
}

// still is how much of the plan a stated outlook that does not move may move by.
var still = big.NewRat(5, 1000)

// unmoved finds a forecast that does not move. Periods: since when. Without a
// statement IDs is its age alone; else Amounts are the lowest and highest stated
// outlook, and what the computed one moved by.
func (s *Subject) unmoved(l Limits) (c Case, ok bool) {
	c.Periods = l.Periods("unmoved")
	if !s.running() {
		return c, false
	}
	if age := s.Now.Value(figure.ForecastAge); age.Known && age.N >= int64(c.Periods) {
		return Case{
			IDs:     []figure.ID{figure.ForecastAge},
			Periods: int(age.N),
			Weight:  new(big.Rat).SetInt64(age.N),
		}, true
	}
	c.IDs = []figure.ID{figure.EACStated, figure.EACComputed}
	bac := s.Now.Value(figure.BAC)
	if len(s.Before) < c.Periods || !bac.Known || bac.N <= 0 {
		return c, false
	}
	points := append([]Point{s.Now}, s.Before[:c.Periods]...)
	var own, shown []int64
	for _, p := range points {
		v, x := p.Value(figure.EACStated), p.Shown(figure.EACStated)
		if !v.Known || !x.Known {
			return c, false
		}
		own, shown = append(own, v.N), append(shown, x.N)
	}
	by, moved, ok := s.Now.since(points[c.Periods], figure.EACComputed)
	if !ok {
		return c, false
	}
	c.Amounts = [3]int64{slices.Min(shown), slices.Max(shown), moved}
	c.Weight = big.NewRat(max(by, -by)*100, bac.N)
	apart := big.NewRat(slices.Max(own)-slices.Min(own), bac.N)
	return c, apart.Cmp(still) <= 0 && c.Weight.Cmp(l["moved"]) >= 0
}

// after finds a forecast that follows what was overspent. Amounts: what the
// stated outlook rose by, what was spent beyond what was earned, and what the
// computed outlook is still higher by.
func (s *Subject) after(l Limits) (c Case, ok bool) {
	c.Periods, c.IDs = l.Periods("after"), []figure.ID{figure.EACStated, figure.ACEarned, figure.EV, figure.EACComputed}
	if !s.running() || len(s.Before) < c.Periods {
		return c, false
	}
	follows := s.each(c.Periods, func(is, was Point) bool {
		var by, shown [3]int64
		for i, id := range c.IDs[:3] {
			var ok bool
			if by[i], shown[i], ok = is.since(was, id); !ok {
				return false
			}
		}
		rise, beyond := by[0], by[1]-by[2]
		c.Amounts[0], c.Amounts[1] = c.Amounts[0]+shown[0], c.Amounts[1]+shown[1]-shown[2]
		return rise > 0 && beyond > 0 && 4*rise <= 5*beyond
	})
	own, shown, ok := s.Now.above()
	if !follows || !ok {
		return c, false
	}
	c.Amounts[2] = shown
	c.Weight = new(big.Rat).SetInt64(shown)
	return c, own > 0
}

// above gives what the computed outlook is higher by than the stated one, in the own
// currency and as shown; ok is false where one is not known.
func (p Point) above() (own, shown int64, ok bool) {
	a, b := p.Value(figure.EACComputed), p.Value(figure.EACStated)
	x, y := p.Shown(figure.EACComputed), p.Shown(figure.EACStated)
	return a.N - b.N, x.N - y.N, a.Known && b.Known && x.Known && y.Known
}

// hopeful finds a lead who states better than the figures say. IDs: the outlooks,
// where the stated one is not credible and lower. Amounts: what it is lower by.
func (s *Subject) hopeful(Limits) (c Case, ok bool) {
	if !s.running() {
		return c, false
	}
	n := s.Now
	x := standing.Result{HasStated: n.HasStated, Stated: n.Stated}
	x.Computed[standing.Overall] = n.Overall
	gap := n.Value(figure.CredibilityGap)
	own, shown, known := n.above()
	if known {
		c.Amounts[0] = max(shown, 0)
		c.Weight = new(big.Rat).SetInt64(c.Amounts[0])
	}
	if gap.Known && !figure.Credible(gap) && known && own > 0 {
		c.IDs = []figure.ID{figure.EACStated, figure.EACComputed, figure.TCPIEAC, figure.CPI}
	}
	return c, x.Disagrees() || len(c.IDs) > 0
}

// running tells whether the project is: what is on hold or finished moves no more.
func (s *Subject) running() bool { return s.Now.State == portfolio.Active }

// each tells whether something holds of a number of steps back from one period to
// the one before.
func (s *Subject) each(n int, holds func(is, was Point) bool) bool {
	is := s.Now
	for _, was := range s.Before[:n] {
		if !holds(is, was) {
			return false
		}
		is = was
	}
	return true
}

// growing finds a backlog to which more is added than is accepted. IDs: the pace, with and
// without what is added.
func (s *Subject) growing(Limits) (c Case, ok bool) {
	pace, net := s.Now.Value(figure.Pace), s.Now.Value(figure.NetPace)
	if !s.running() || !pace.Known || !net.Known || net.R.Sign() >= 0 {
		return c, false
	}
	c.IDs = []figure.ID{figure.Pace, figure.NetPace}
	c.Weight = new(big.Rat).Neg(net.Rat())
	return c, true
}
