package office

import (
	"cmp"
	"context"
	"maps"
	"slices"
	"strconv"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/store"
)

// cellKey tells the cells of one part apart.
type cellKey struct {
	code     int64
	flow     string
	class    string
	centre   string
	activity int64
	period   calendar.Period
}

// cellState is a cell as it was and as it becomes.
type cellState struct {
	codeText, activityText string
	was, is                cell
	had, has               bool
	touched                bool
	void                   bool
	said                   *portfolio.Row // the first row of this run
	file                   string
}

type cell struct {
	amount   int64
	currency money.Currency
	remark   *portfolio.Remark
	source   portfolio.Source
}

func (c cell) equal(d cell) bool {
	if c.amount != d.amount || c.currency != d.currency {
		return false
	}
	var a, b portfolio.Remark
	if c.remark != nil {
		a = *c.remark
	}
	if d.remark != nil {
		b = *d.remark
	}
	return a.Note == b.Note && maps.Equal(a.Extra, b.Extra)
}

// linePlan is a part that holds time-phased amounts.
type linePlan struct {
	cells map[cellKey]*cellState
	was   int64
	drop  bool // the file is the whole statement
}

func (p *plan) linesOf(key portfolio.Part) (*linePlan, error) {
	if lp := p.lines[key]; lp != nil {
		return lp, nil
	}
	lp := &linePlan{cells: make(map[cellKey]*cellState), was: p.stated(key)}
	p.lines[key] = lp
	if lp.was == 0 {
		return lp, nil
	}
	return lp, p.store.Bodies(context.Background(), []int64{lp.was}, func(_ int64, body []byte) error {
		lines, err := store.DecodeLines(body)
		for i := range lines {
			l := &lines[i]
			for _, c := range l.Cells {
				k := cellKey{l.CodeID, string(l.Flow), l.Class, l.Centre, l.ActivityID, c.Period}
				x := cell{c.Amount, l.Currency, c.Remark, c.Source}
				lp.cells[k] = &cellState{codeText: l.Code, activityText: l.Activity, was: x, is: x, had: true, has: true}
			}
		}
		return err
	})
}

// cost takes a row of costs.
func (p *plan) cost(t *portfolio.Table, r *portfolio.Row, cells func() map[string]string) {
	column, value, why := p.resolve(t, r)
	project := r.Fields[t.Index("project")]
	if why == "" {
		column, value, why = p.resolveActivities(t, r, project.Int, project.Text)
	}
	if why != "" {
		p.bad(r, cells(), column, value, "%s", why)
		return
	}
	f := func(name string) *portfolio.Field { return &r.Fields[t.Index(name)] }
	key := portfolio.Part{Project: project.Int}
	key.Kind, _ = portfolio.PartKindNamed(f("kind").Text)
	if key.Version, why = p.costVersion(key.Kind, f("version"), calendar.Period(f("period").Int)); why != "" {
		p.bad(r, cells(), "version", f("version").Text, "%s", why)
		return
	}
	lp, err := p.linesOf(key)
	if err != nil {
		p.bad(r, cells(), "", "", "%s", err)
		return
	}
	k := cellKey{f("cost_code").Int, f("flow").Text, f("class").Text, f("cost_centre").Text, f("activity").Int, calendar.Period(f("period").Int)}
	c := lp.cells[k]
	if c == nil {
		c = &cellState{codeText: f("cost_code").Text, activityText: f("activity").Text}
		lp.cells[k] = c
	}
	if p.repeated(t, c, r, cells) {
		return
	}
	next, has := c.is, c.has
	if cur := f("currency"); cur.Said == portfolio.Value {
		next.currency = money.Currency(cur.Text)
	} else if next.currency == "" || cur.Said == portfolio.None {
		next.currency = p.projectCurrency(project.Text)
	}
	switch amount := f("amount"); amount.Said {
	case portfolio.Value:
		if next.amount, err = p.amount(amount, next.currency); err != nil {
			p.bad(r, cells(), "amount", amount.Text, "%s", err)
			return
		}
		has = true
	case portfolio.None:
		next, has = cell{}, false
	}
	if has {
		next.remark = remarked(next.remark, f("note"), r.Extra)
	}
	if p.closedPart(key) && (has != c.had || has && !next.equal(c.was)) {
		p.bad(r, cells(), "amount", f("amount").Text, "%s", p.closedWhy(key.Version))
		return
	}
	if has && (!c.had || !next.equal(c.was)) {
		next.source = portfolio.Source{File: p.fileID, Row: r.Source.Row}
	}
	said := cloneRow(r)
	c.is, c.has, c.touched, c.said, c.file = next, has, true, &said, p.file
	if p.opts.Whole && (key.Kind == portfolio.PlanPart || key.Kind == portfolio.ForecastPart || key.Kind == portfolio.CommitmentPart) {
		lp.drop = true
	}
}

// repeated refuses a row that states a cell of this run differently.
func (p *plan) repeated(t *portfolio.Table, c *cellState, r *portfolio.Row, cells func() map[string]string) bool {
	if c.void {
		p.bad(r, cells(), "", "", "another row of this run states the same key differently; neither was taken, keep one")
		return true
	}
	if c.said == nil {
		return false
	}
	e := &entry{said: c.said.Fields, by: c.said.Source, byFile: c.file}
	column := e.contradicts(r)
	if column < 0 {
		return false
	}
	p.contradiction(t, e, column, r, cells())
	c.is, c.has, c.touched, c.void = c.was, c.had, false, true
	return true
}

func remarked(old *portfolio.Remark, note *portfolio.Field, extra map[string]string) *portfolio.Remark {
	if note.Said == portfolio.Nothing && len(extra) == 0 {
		return old
	}
	var m portfolio.Remark
	if old != nil {
		m = *old
	}
	if note.Said != portfolio.Nothing {
		m.Note = note.Text
	}
	if len(extra) > 0 {
		m.Extra = maps.Clone(m.Extra)
		if m.Extra == nil {
			m.Extra = make(map[string]string)
		}
		maps.Copy(m.Extra, extra)
	}
	if m.Note == "" && len(m.Extra) == 0 {
		return nil
	}
	return &m
}

// costVersion reads the version of an amount: the baseline of a plan, the
// statement period of a forecast or commitment; accruals and actuals go by
// their own period.
func (p *plan) costVersion(kind portfolio.PartKind, f *portfolio.Field, own calendar.Period) (int32, string) {
	switch kind {
	case portfolio.PlanPart:
		if f.Said != portfolio.Value {
			return 1, ""
		}
		n, err := strconv.Atoi(f.Text)
		if err != nil || n < 1 || n > 9999 {
			return 0, "the version of a plan is a baseline number from 1 to 9999"
		}
		return int32(n), ""
	case portfolio.ForecastPart, portfolio.CommitmentPart:
		if f.Said != portfolio.Value {
			if p.opts.Period != 0 {
				return int32(p.opts.Period), ""
			}
			return 0, "the version of a " + kind.String() + " is the period it was stated in; fill it in, or give --period"
		}
		v, err := p.snap.Office.Periods.Parse(f.Text)
		if err != nil {
			return 0, err.Error()
		}
		return int32(v), ""
	}
	if f.Said == portfolio.Value {
		return 0, "accruals and actuals have no version; leave it empty"
	}
	return int32(own), ""
}

// change gives the part to be written, where it differs from the one in force.
func (lp *linePlan) change(p *plan, key portfolio.Part) (store.PartChange, bool) {
	changed, touched := lp.was == 0, false
	for _, c := range lp.cells {
		touched = touched || c.touched
	}
	if !touched {
		return store.PartChange{}, false
	}
	dropped := 0
	for _, c := range lp.cells {
		if lp.drop && !c.touched && c.has {
			dropped++
		}
	}
	if dropped > 0 && p.closedPart(key) {
		p.report.note("%s of %s: %d cells that the whole statement does not name were kept, since %s is closed", key.Kind, p.projectCode(key.Project), dropped, p.periodCode(key.Version))
		dropped = 0
	} else {
		p.report.Dropped += dropped
	}
	for k, c := range lp.cells {
		if lp.drop && !c.touched && dropped > 0 {
			c.has = false
		}
		if c.touched {
			differs := c.had != c.has || c.has && !c.is.equal(c.was)
			if p.report.count("costs", c.file, !c.had && c.has, differs) {
				changed = true
				p.toldCell(key, k, c)
			}
		}
	}
	if !changed && dropped == 0 {
		return store.PartChange{}, false
	}
	return store.PartChange{Part: key, Body: store.EncodeLines(linesFrom(lp.cells)), Before: lp.was}, true
}

func (p *plan) projectCode(id int64) string {
	for _, e := range p.records["projects"].list {
		if e.after.ID == id {
			return e.after.Fields[0].Text
		}
	}
	return ""
}

// linesFrom groups cells to lines, in a fixed order.
func linesFrom(cells map[cellKey]*cellState) []portfolio.Line {
	type lineKey struct {
		cellKey
		currency money.Currency
	}
	byLine := make(map[lineKey]*portfolio.Line)
	for k, c := range cells {
		if !c.has {
			continue
		}
		lk := lineKey{k, c.is.currency}
		lk.period = 0
		l := byLine[lk]
		if l == nil {
			l = &portfolio.Line{CodeID: k.code, Code: c.codeText, Flow: portfolio.Flow(k.flow), Class: k.class, Centre: k.centre, ActivityID: k.activity, Activity: c.activityText, Currency: c.is.currency}
			byLine[lk] = l
		}
		l.Cells = append(l.Cells, portfolio.Cell{Period: k.period, Amount: c.is.amount, Source: c.is.source, Remark: c.is.remark})
	}
	out := make([]portfolio.Line, 0, len(byLine))
	for _, l := range byLine {
		slices.SortFunc(l.Cells, func(a, b portfolio.Cell) int { return int(a.Period - b.Period) })
		out = append(out, *l)
	}
	slices.SortFunc(out, func(a, b portfolio.Line) int {
		return cmp.Or(cmp.Compare(a.CodeID, b.CodeID), cmp.Compare(a.Flow, b.Flow), cmp.Compare(a.Class, b.Class), cmp.Compare(a.Centre, b.Centre), cmp.Compare(a.ActivityID, b.ActivityID), cmp.Compare(a.Currency, b.Currency))
	})
	return out
}
