package amounts

import (
	"fmt"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// stand lists the versions that the table can stand beside, and takes the one that is asked
// for: of a plan usually the one in force, of what is stated what was stated before.
func (t *Table) stand(asked string) {
	p := t.subject.view.Project
	for i := range p.Plan {
		if n := p.Plan[i].Number; t.subject.Part != portfolio.PlanPart || n != t.Baseline {
			t.Besides = append(t.Besides, Beside{fmt.Sprintf("plan-%d", n), fmt.Sprintf("Plan, baseline %d", n)})
		}
	}
	stated := func(name, title string, list []portfolio.Version) {
		for i := range list {
			q := calendar.Period(list[i].Number)
			if q < t.subject.at || q == t.subject.at && t.subject.Name != name {
				t.Besides = append(t.Besides, Beside{name + "-" + t.periods.Code(q), title + " of " + t.periods.Name(q)})
			}
		}
	}
	stated("forecast", "Forecast", p.Forecast)
	stated("commitment", "Orders", p.Commitment)
	usual := ""
	for _, b := range t.Besides {
		switch {
		case b.Code == asked && asked != "":
			t.Beside = asked
			return
		case strings.HasPrefix(b.Code, t.subject.Name+"-"):
			usual = b.Code // the last of its kind
		}
	}
	t.Beside = usual
}

// besideLines are the lines of the version beside.
func (t *Table) besideLines() []portfolio.Line {
	p := t.subject.view.Project
	kind, code, _ := strings.Cut(t.Beside, "-")
	list := map[string][]portfolio.Version{"plan": p.Plan, "forecast": p.Forecast, "commitment": p.Commitment}[kind]
	for i := range list {
		if kind == "plan" && fmt.Sprint(list[i].Number) == code || kind != "plan" && t.periods.Code(calendar.Period(list[i].Number)) == code {
			return list[i].Lines
		}
	}
	return nil
}

// compare writes beside each cell what the version beside says: of the same line, or, where
// that has none, of all lines of its cost code and flow, if the table has one alone.
func (t *Table) compare() {
	type loose struct {
		code, flow string
		currency   money.Currency
	}
	exact, all := make(map[string]map[calendar.Period]int64), make(map[loose]map[calendar.Period]int64)
	looseOf := func(key string) loose {
		x := strings.Split(key, "~")
		return loose{x[0], x[1], money.Currency(x[5])}
	}
	for _, l := range t.besideLines() {
		key := t.keyOf(&l)
		if exact[key] == nil {
			exact[key] = make(map[calendar.Period]int64)
		}
		if all[looseOf(key)] == nil {
			all[looseOf(key)] = make(map[calendar.Period]int64)
		}
		for _, c := range l.Cells {
			exact[key][c.Period] += c.Amount
			all[looseOf(key)][c.Period] += c.Amount
		}
	}
	lines := make(map[loose]int)
	for i := range t.Lines {
		lines[looseOf(t.Lines[i].Key)]++
	}
	for i := range t.Lines {
		l := &t.Lines[i]
		of, ok := exact[l.Key]
		if k := looseOf(l.Key); !ok && lines[k] == 1 {
			of = all[k]
		}
		for j := range l.Cells {
			if n, said := of[t.Columns[j].Period]; said {
				l.Cells[j].Beside = short(n, l.currency)
			}
		}
	}
}
