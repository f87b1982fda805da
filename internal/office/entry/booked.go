package entry

import (
	"context"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/gather"
)

// booked tells what is known as spent: totals of months, and what the ledger has. Amounts of
// another currency than the project's are not added up. It is only worked out when a file
// states amounts to date.
func booked(ctx context.Context, s *book.Snapshot) func(gather.Spent) (string, error) {
	var filled map[string]*portfolio.Project
	return func(ask gather.Spent) (string, error) {
		if filled == nil {
			list, err := s.Filled(ctx)
			if err != nil {
				return "", err
			}
			filled = make(map[string]*portfolio.Project, len(list))
			for _, p := range list {
				filled[p.Code] = p
			}
		}
		p := filled[ask.Project]
		if p == nil {
			return "0", nil
		}
		year := func(at calendar.Period) int { return s.Office.Periods.FiscalYear(at) }
		view := portfolio.At(s.Office, p, ask.Before, portfolio.Latest)
		classed := func(l *portfolio.Line) bool {
			class, _ := view.Class(l)
			return ask.Class == "" || class == ask.Class
		}
		sum := int64(0)
		for _, lines := range [...][]portfolio.Line{p.Actual, p.Ledger} {
			for i := range lines {
				l := &lines[i]
				if s.Office.Codes[l.CodeID].Code != ask.Code || l.Flow != portfolio.Cost || l.Currency != p.Currency || !classed(l) {
					continue
				}
				for _, c := range l.Cells {
					if c.Period < ask.Before && (!ask.OfYear || year(c.Period) == year(ask.Before)) {
						sum += c.Amount
					}
				}
			}
		}
		return money.Format(sum, p.Currency), nil
	}
}
