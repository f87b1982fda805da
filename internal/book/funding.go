package book

import (
	"cmp"
	"context"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/earned"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// fundings lists the money that is authorised and moved, of all scopes, by period. Amounts
// without a currency are in that of their project, and of other scopes in the reporting one;
// of a transfer always in that.
func (rec Records) fundings(reporting money.Currency) (out []portfolio.Funding) {
	own := make(map[string]money.Currency)
	rec.each(record.Projects.Kind, func(r *portfolio.Row) {
		own[record.Projects.Project.Of(r)] = money.Currency(record.Projects.Currency.Of(r))
	})
	add := func(f portfolio.Funding, amount record.NumberCol, r *portfolio.Row) {
		if f.Currency == "" && f.Transfer == "" {
			f.Currency = own[f.Scope]
		}
		f.Currency = cmp.Or(f.Currency, reporting)
		n, err := record.AmountOf(r, amount, f.Currency)
		if err != nil {
			return // it was refused where it was recorded
		}
		f.Amount, f.Source = n, r.Source
		out = append(out, f)
	}
	rec.each(record.Funding.Kind, func(r *portfolio.Row) {
		k := record.Funding
		add(portfolio.Funding{
			Scope: k.Scope.Of(r), From: k.From.Of(r), Period: k.Period.Of(r), Currency: money.Currency(k.Currency.Of(r)), Says: k.Decision.Of(r),
		}, k.Amount, r)
	})
	rec.each(record.Transfers.Kind, func(r *portfolio.Row) {
		k := record.Transfers
		add(portfolio.Funding{
			Scope: k.Scope.Of(r), From: k.From.Of(r), Period: k.Period.Of(r), Currency: money.Currency(k.Currency.Of(r)), Says: k.Reason.Of(r),
			Transfer: k.Transfer.Of(r), Code: k.CostCode.Code(r),
		}, k.Amount, r)
	})
	slices.SortStableFunc(out, func(a, b portfolio.Funding) int {
		return cmp.Or(cmp.Compare(a.Period, b.Period), cmp.Compare(a.From, b.From), cmp.Compare(a.Transfer, b.Transfer))
	})
	return out
}

// funding fills in the money of projects.
func (rec Records) funding(reporting money.Currency, projects map[int64]*portfolio.Project) {
	by := make(map[string]*portfolio.Project, len(projects))
	for _, p := range projects {
		by[p.Code] = p
	}
	for _, f := range rec.fundings(reporting) {
		if p := by[f.Scope]; p != nil {
			p.Funding = append(p.Funding, f)
		}
	}
}

// common fills in the money of programmes and of the whole portfolio, what clients are
// called, and how deep plans go.
func (rec Records) common(o *portfolio.Office) {
	projects := make(map[string]bool)
	rec.each(record.Projects.Kind, func(r *portfolio.Row) { projects[record.Projects.Project.Of(r)] = true })
	for _, f := range rec.fundings(o.Reporting) {
		if !projects[f.Scope] {
			o.Funding = append(o.Funding, f)
		}
	}
	o.Clients = make(map[string]string)
	rec.each(record.Clients.Kind, func(r *portfolio.Row) {
		o.Clients[record.Clients.Client.Of(r)] = record.Clients.NameCol.Of(r)
	})
	o.Depths = make(map[string]int)
	rec.each(record.Depths.Kind, func(r *portfolio.Row) {
		o.Depths[record.Depths.Stage.Of(r)] = int(record.Depths.Level.Of(r))
	})
	o.Sections = rec.sections()
}

// ownFunding is the money of a group itself. Who reads but some of the projects reads what is
// theirs alone.
func (s *Snapshot) ownFunding(group string) []portfolio.Funding {
	if s.full != nil {
		return nil
	}
	return s.Office.FundingOf(group)
}

// Spending hands over, of each project and group for which money is authorised at a period,
// what is authorised and what is spent and to come, both cumulative: of groups in the
// reporting currency, of projects there too or in their own. Why tells why it is not known,
// or is "".
func (s *Snapshot) Spending(
	ctx context.Context, p calendar.Period, against portfolio.Against, reporting bool,
	use func(code string, group bool, authorised, spent earned.Series, why string),
) error {
	parts, err := s.everyPart(ctx, p, against)
	if err != nil {
		return err
	}
	tell := func(code string, e *figure.Eval) {
		if !e.Get(figure.Funded).Known {
			return
		}
		of := e.Subject.(figure.Spender)
		authorised, why := of.Authorised(e)
		spent, not := of.Course(e)
		use(code, e.Subject.IsGroup(), authorised, spent, cmp.Or(why, not))
	}
	for _, c := range parts {
		c.asked.Lock()
		if reporting {
			tell(c.project.Code, c.reporting)
		} else {
			tell(c.project.Code, c.own)
		}
		c.asked.Unlock()
	}
	set, err := s.set(ctx, p)
	if err != nil {
		return err
	}
	for _, of := range append(slices.Clone(s.Office.Groups), portfolio.Programme{Code: portfolio.Everywhere}) {
		places, err := s.members(ctx, of.Code)
		if err != nil {
			return err
		}
		g := s.rollup(set, p, picked(parts, places))
		g.Own = s.ownFunding(of.Code)
		tell(of.Code, g.Eval(p))
	}
	return nil
}
