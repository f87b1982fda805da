package amounts

import (
	"slices"

	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/core/spread"
	"turret/internal/office"
)

// carry moves on, spreads or drops what was forecast for the period and did not come.
func (b *block) carry(rest string) error {
	if b.t.subject.Part != portfolio.ForecastPart {
		return office.Refusef("Only a forecast carries on what did not come.")
	}
	if !slices.Contains([]string{"move", "spread", "drop"}, rest) {
		return &office.Misfit{Column: "rest", Why: "say whether it moves on, is spread, or is dropped"}
	}
	left := b.t.didNotCome()
	any := false
	for _, l := range b.lines {
		n := left[l.Key]
		at, amounts := b.cells(l)
		if n == 0 || len(at) == 0 {
			continue
		}
		any = true
		switch rest {
		case "move":
			first, ok := money.Add(amounts[0], n)
			if !ok {
				return office.Refusef("%s: %s.", l.Title(), spread.ErrRange)
			}
			b.set(l.Key, at[0], first)
		case "spread":
			parts, err := spread.By(n, amounts)
			if err != nil {
				parts, err = spread.By(n, spread.Even(len(at)))
			}
			if err != nil {
				return office.Refusef("%s: %s.", l.Title(), err)
			}
			for k, q := range at {
				more, ok := money.Add(amounts[k], parts[k])
				if !ok {
					return office.Refusef("%s: %s.", l.Title(), spread.ErrRange)
				}
				b.set(l.Key, q, more)
			}
		}
	}
	if !any {
		return office.Refusef("All that was forecast for %s came on these lines, and no more.", b.t.periods.Name(b.t.subject.at))
	}
	if rest == "drop" {
		return office.Refusef("It is dropped by leaving the later periods as they are: nothing has to be changed.")
	}
	return nil
}

// didNotCome is, by line, what was forecast for the period last time, less what came.
func (t *Table) didNotCome() map[string]int64 {
	out := make(map[string]int64)
	s := t.subject
	before := portfolio.VersionAt(s.view.Project.Forecast, int(s.at)-1)
	if before == nil {
		return out
	}
	at := func(l *portfolio.Line) (sum int64) {
		for _, c := range l.Cells {
			if c.Period == s.at {
				sum += c.Amount
			}
		}
		return sum
	}
	type on struct{ code, flow, currency string }
	came, lines := make(map[on]int64), make(map[on]int)
	onOf := func(key string) on {
		x := partsOf(key)
		return on{x[0], x[1], x[5]}
	}
	booked := s.view.Ledger
	if len(booked) == 0 {
		booked = s.view.Actual
	}
	for i := range booked {
		came[onOf(t.keyOf(&booked[i]))] += at(&booked[i])
	}
	for i := range before.Lines {
		if at(&before.Lines[i]) != 0 {
			lines[onOf(t.keyOf(&before.Lines[i]))]++
		}
	}
	for i := range before.Lines {
		l := &before.Lines[i]
		key := t.keyOf(l)
		said := at(l)
		if said == 0 {
			continue
		}
		// What came on a code is taken off its first line: the ledger does not tell lines apart.
		k := onOf(key)
		out[key] = said
		if lines[k] == 1 {
			out[key] = said - came[k]
		} else {
			take := min(max(came[k], 0), said)
			out[key] = said - take
			came[k] -= take
		}
	}
	return out
}
