package office

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"turret/internal/change"
	"turret/internal/core/approval"
	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/gather"
	"turret/internal/right"
)

// unknown is what a row is refused with when it refers to nothing.
func unknown(what, code, table string) string {
	return fmt.Sprintf("%s %q is not known; gather it with %s first, or correct the code", what, code, table)
}

// resolve turns the codes of references to records into ids. Parents within
// the same table wait until the table is read.
func (p *plan) resolve(t *portfolio.Table, r *portfolio.Row) (column, value, why string) {
	for i := range t.Columns {
		c, f := &t.Columns[i], &r.Fields[i]
		if f.Said != portfolio.Value {
			continue
		}
		what, table := "", ""
		switch c.Type {
		case portfolio.ProjectRef:
			what, table = "project", "projects"
		case portfolio.ProgrammeRef:
			what, table = "programme", "programmes"
		case portfolio.CostCodeRef:
			what, table = "cost code", "cost_codes"
		case portfolio.CentreRef:
			what, table = "cost centre", "cost_centres"
		}
		if table == "" || table == t.Name {
			continue
		}
		if f.Int = p.id(table, f.Text); f.Int == 0 {
			return c.Name, f.Text, unknown(what, f.Text, table)
		}
	}
	return "", "", ""
}

// record takes a row of a table of records.
func (p *plan) record(t *portfolio.Table, r *portfolio.Row, cells func() map[string]string) {
	if column, value, why := p.resolve(t, r); why != "" {
		p.bad(r, cells(), column, value, "%s", why)
		return
	}
	rp := p.records[t.Name]
	e := rp.open(keyOf(t, r), len(t.Columns))
	if e.after.ID == 0 {
		e.after.ID = rp.nextID
		rp.nextID++
	}
	p.take(t, e, r, cells, true, func(e *entry) (string, string) { return p.checkRecord(t, e) })
}

// checkRecord looks at a record as a row would leave it.
func (p *plan) checkRecord(t *portfolio.Table, e *entry) (column, why string) {
	f := func(name string) *portfolio.Field { return &e.after.Fields[t.Index(name)] }
	switch t.Name {
	case "settings":
		return p.checkSetting(e)
	case "projects":
		if e.before != nil && p.hasMoney(e.after.ID) && e.before.Fields[t.Index("currency")] != *f("currency") {
			return "currency", "amounts are stated in the project's currency already; keep it, or begin a new project"
		}
		return firstWrong(t, &e.after, [2]string{"start", "finish"})
	case "rates":
		if f("rate").Said != portfolio.Value {
			return "rate", "a rate needs a value above zero"
		}
		if money.Currency(f("currency").Text) == p.reporting() {
			return "currency", fmt.Sprintf("%s is the reporting currency, whose rate is always 1", p.reporting())
		}
	case "baselines":
		return p.checkBaseline(t, e)
	case "calendars":
		_, weekday := calendar.ParseWeekday(f("day").Text)
		if weekday != (f("kind").Text == "week") {
			return "day", "a week row names a weekday (mon … sun), a holiday row an ISO date"
		}
	case "rules":
		return p.checkRule(t, e)
	case "dimensions":
		return p.checkDimension(e)
	case "policies":
		return p.checkPolicy(t, e)
	case "checks":
		return p.checkCheck(t, e)
	case "checks_off", "answers":
		return p.checkSaid(t, e)
	case "overrides":
		return p.checkOverride(t, e)
	case "boundaries":
		if (f("first").Said == portfolio.Value) != (f("last").Said == portfolio.Value) {
			return "last", "a period needs both a first and a last day, or a - in both where it is none"
		}
	case "periods":
		at := calendar.Period(f("period").Int)
		switch closed := p.snap.Closed[at]; {
		case closed && f("state").Text != "closed":
			return "state", p.snap.Office.Periods.Name(at) + " is closed; reopen it with a reason"
		case !closed && f("state").Text == "closed":
			p.toClose = append(p.toClose, at)
		}
	}
	return "", ""
}

// checkBaseline keeps what is approved approved, and by someone else than who
// proposed it.
func (p *plan) checkBaseline(t *portfolio.Table, e *entry) (column, why string) {
	if !e.changed() {
		return "", ""
	}
	say := func(x *portfolio.Row) approval.Row {
		r := row{t, x}
		return approval.Row{Number: int(r.int("baseline")), State: portfolio.Approval(r.or("state")), Dated: r.said("approved"), Approver: r.text("approver"), Proposer: r.text("proposer")}
	}
	var was *approval.Row
	if e.before != nil {
		x := say(e.before)
		was = &x
	}
	return approval.Refuse(was, say(&e.after), p.opts.origin == decided, func(name string) bool {
		return p.signsIn(name) && !p.by.Same(change.By{Name: name})
	})
}

// signsIn tells whether an account has a displayed name.
func (p *plan) signsIn(name string) bool {
	for _, a := range p.accounts {
		if (change.By{Name: a.Name}).Same(change.By{Name: name}) && !a.Disabled {
			return true
		}
	}
	return false
}

func (p *plan) checkSetting(e *entry) (column, why string) {
	name, value := e.after.Fields[0].Text, e.after.Fields[1].Text
	switch name {
	case "name", "calendar":
		return "", ""
	case "reporting_currency":
		c, ok := money.ParseCurrency(value)
		if !ok {
			return "value", fmt.Sprintf("%q is not a currency of ISO 4217, such as EUR", value)
		}
		if c != p.snap.Office.Reporting && len(p.snap.Records["rates"])+len(p.snap.Stated) > 0 {
			return "value", "the reporting currency cannot change once rates or statements are there; make a new database with it"
		}
	case "fiscal_start":
		n, err := strconv.Atoi(value)
		if err != nil || n < 1 || n > 12 {
			return "value", fmt.Sprintf("%q is not a month from 1 to 12", value)
		}
		if n != p.snap.Office.Periods.FiscalStart() && len(p.snap.Stated) > 0 {
			return "value", "the fiscal year cannot change once something is stated; make a new database with it"
		}
	default:
		role, ok := strings.CutPrefix(name, codeLevel)
		if !ok || !slices.Contains(right.Roles, right.Role(role)) {
			return "setting", fmt.Sprintf("%q is not a setting; there are name, reporting_currency, fiscal_start, calendar, and code_level_ with a role", name)
		}
		if n, err := strconv.Atoi(value); value != "" && (err != nil || n < 1 || n > 9) {
			return "value", fmt.Sprintf("%q is not a level from 1 to 9", value)
		}
	}
	return "", ""
}

func (p *plan) hasMoney(project int64) bool {
	for _, s := range p.snap.Stated[project] {
		if s.Kind.Lines() || s.Kind == portfolio.BaselinePart {
			return true
		}
	}
	return false
}

// finish resolves parents within a table of records, once it is read: what
// refers to nothing or to itself is refused, and what refers to that.
func (p *plan) finish(t *portfolio.Table) {
	if t.Name == "shares" {
		p.finishShares(t)
	}
	rp := p.records[t.Name]
	col := -1
	for i := range t.Columns {
		if t.Columns[i].Name == "parent" {
			col = i
		}
	}
	if rp == nil || col < 0 {
		return
	}
	p.settleParents(t, rp.list, col, func(e *entry) string { return e.after.Fields[0].Text }, func(code string) *entry { return rp.find(code + "\x00") })
}

// finishShares refuses the shares of a project or cost code from a period that
// do not add up to 100, or to nothing.
func (p *plan) finishShares(t *portfolio.Table) {
	type set struct{ project, code, from int64 }
	sums := make(map[set]int64)
	list := p.records[t.Name].list
	of := func(e *entry) set {
		r := row{t, &e.after}
		return set{r.int("project"), r.int("cost_code"), r.int("from")}
	}
	for _, e := range list {
		if e.void || e.before == nil && e.said == nil {
			continue
		}
		sums[of(e)] += row{t, &e.after}.int("percent")
	}
	const all = 100 * portfolio.Quantity
	for _, e := range list {
		k := of(e)
		if !e.touched() || sums[k] == all || sums[k] == 0 {
			continue
		}
		p.refuse(gather.Refusal{
			File: e.byFile, Row: int(e.by.Row), Column: "percent", Cells: formatRow(t, &portfolio.Row{Fields: e.said}, p.snap.Office.Periods),
			Reason: fmt.Sprintf("the shares from %s add up to %s%%, not to 100; state them all, those that end with 0", p.periodCode(int32(k.from)), strings.TrimRight(strings.TrimRight(money.FormatScaled(sums[k], 6), "0"), ".")),
		})
		e.restore()
		e.void = e.before == nil
	}
}

// settleParents refuses the touched entries whose parent is not known or that
// are their own ancestors, until none is left.
func (p *plan) settleParents(t *portfolio.Table, list []*entry, col int, code func(*entry) string, find func(string) *entry) {
	usable := func(e *entry) bool { return e != nil && !e.void && (e.before != nil || e.said != nil) }
	for again := true; again; {
		again = false
		for _, e := range list {
			f := &e.after.Fields[col]
			if !e.touched() || f.Said != portfolio.Value {
				continue
			}
			why := ""
			if parent := find(f.Text); !usable(parent) {
				why = unknown(strings.TrimSuffix(t.Columns[col].Name, "_"), f.Text, t.Name)
			} else {
				f.Int = parent.after.ID
				chain := []string{code(e)}
				for x := parent; usable(x); x = find(x.after.Fields[col].Text) {
					chain = append(chain, code(x))
					if x == e {
						why = "it is its own parent, or in a loop of parents: " + strings.Join(chain, " → ") + "; correct one of them"
						break
					}
					if len(chain) > len(list)+1 || x.after.Fields[col].Said != portfolio.Value {
						break
					}
				}
			}
			if why == "" {
				continue
			}
			p.refuse(gather.Refusal{File: e.byFile, Row: int(e.by.Row), Column: t.Columns[col].Name, Value: f.Text, Reason: why, Cells: formatRow(t, &portfolio.Row{Fields: e.said}, p.snap.Office.Periods)})
			e.restore()
			e.void = e.before == nil
			again = true
		}
	}
}
