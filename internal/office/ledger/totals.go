package ledger

import (
	"cmp"
	"context"
	"fmt"
	"regexp"
	"slices"
	"time"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/office"
)

// totals lists where a lead states monthly totals beside the ledger's postings.
func (o Room) totals(ctx context.Context, m *office.Moment, out *Reconciled) error {
	s := m.Snapshot()
	for _, p := range s.Projects() {
		v, err := s.View(ctx, p.Code, m.Asked.Number, m.Against)
		if err != nil {
			return err
		}
		if v == nil || len(v.Actual) == 0 || len(v.Ledger) == 0 {
			continue
		}
		out.Totals = append(out.Totals, beside(s.Office, v)...)
	}
	slices.SortStableFunc(out.Totals, func(a, b Total) int {
		return cmp.Or(cmp.Compare(len(b.Both), len(a.Both)), cmp.Compare(a.Project, b.Project), cmp.Compare(a.Code, b.Code))
	})
	return nil
}

// beside are the codes of a project on which both say something.
func beside(o *portfolio.Office, v *portfolio.View) (out []Total) {
	type on struct {
		code     int64
		currency money.Currency
	}
	lead, ledger := make(map[on]map[calendar.Period]int64), make(map[on]map[calendar.Period]int64)
	collect := func(into map[on]map[calendar.Period]int64, lines []portfolio.Line) {
		for i := range lines {
			l := &lines[i]
			if l.Flow != portfolio.Cost {
				continue
			}
			k := on{l.CodeID, l.Currency}
			if into[k] == nil {
				into[k] = make(map[calendar.Period]int64)
			}
			for _, c := range l.Cells {
				if c.Period <= v.Period {
					into[k][c.Period] += c.Amount
				}
			}
		}
	}
	collect(lead, v.Actual)
	collect(ledger, v.Ledger)
	for k, of := range lead {
		posted := ledger[k]
		if posted == nil {
			continue
		}
		code := o.Codes[k.code]
		t := Total{Project: v.Project.Code, Name: v.Project.Name, Code: code.Code, CodeName: code.Name, Currency: k.currency}
		for p, n := range of {
			t.Lead += n
			if _, both := posted[p]; both {
				t.Both = append(t.Both, p)
			}
		}
		for _, n := range posted {
			t.Ledger += n
		}
		slices.Sort(t.Both)
		out = append(out, t)
	}
	slices.SortFunc(out, func(a, b Total) int { return cmp.Or(cmp.Compare(a.Code, b.Code), cmp.Compare(a.Currency, b.Currency)) })
	return out
}

func timeOf(ms int64) time.Time { return time.UnixMilli(ms).UTC() }

// days as people write them: with the year first, or last.
var (
	yearFirst = regexp.MustCompile(`^(\d{4})[-./](\d{1,2})[-./](\d{1,2})`)
	yearLast  = regexp.MustCompile(`^(\d{1,2})\.(\d{1,2})\.(\d{4})$`)
)

// dayIn reads a day of which the order is beyond doubt.
func dayIn(text string) (calendar.Date, bool) {
	at := [3]int{1, 2, 3}
	x := yearFirst.FindStringSubmatch(text)
	if x == nil {
		if x = yearLast.FindStringSubmatch(text); x == nil {
			return 0, false
		}
		at = [3]int{3, 2, 1}
	}
	d, err := calendar.ParseDate(fmt.Sprintf("%s-%02s-%02s", x[at[0]], x[at[1]], x[at[2]]))
	return d, err == nil
}
