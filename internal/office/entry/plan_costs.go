package entry

import (
	"cmp"
	"context"
	"fmt"
	"iter"
	"maps"
	"slices"
	"strconv"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/gather"
	"turret/internal/record"
	"turret/internal/store"
	"turret/internal/store/format"
)

// lineKey tells the lines of one part apart.
type lineKey struct {
	code     int64
	flow     string
	class    string
	centre   string
	activity int64
}

// lineState is a line with its cells, as this run leaves them.
type lineState struct {
	codeText, activityText string
	cells                  []cellState
}

// at finds the cell of a period, made where it is not there. It is good until
// the next is made.
func (l *lineState) at(p calendar.Period) *cellState {
	for i := range l.cells {
		if l.cells[i].period == p {
			return &l.cells[i]
		}
	}
	l.cells = append(l.cells, cellState{period: p})
	return &l.cells[len(l.cells)-1]
}

// cellState is a cell as it becomes, and as it was. There are many: it is kept
// small.
type cellState struct {
	is      cell
	was     *cell // nil: as it is, where it had one
	period  calendar.Period
	row     int32 // the first of this run; zero: none
	file    int32
	said    saidOf // by this run
	had     bool
	has     bool
	touched bool
	void    bool
}

// before is the cell as it was.
func (c *cellState) before() cell {
	if c.was != nil {
		return *c.was
	}
	return c.is
}

// saidOf marks what rows of this run said of a cell.
type saidOf uint8

const (
	saidAmount saidOf = 1 << iota
	saidCurrency
	saidNote
	saidUnclassed // the row stated no class
)

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
	lines map[lineKey]*lineState
	was   int64
	drop  bool // the file is the whole statement
}

func (p *plan) linesOf(ctx context.Context, key portfolio.Part) (*linePlan, error) {
	if lp := p.lines[key]; lp != nil {
		return lp, nil
	}
	lp := &linePlan{lines: make(map[lineKey]*lineState), was: p.stated(key)}
	p.lines[key] = lp
	if lp.was == 0 {
		return lp, nil
	}
	return lp, p.store.Bodies(ctx, []int64{lp.was}, func(_ int64, body []byte) error {
		lines, err := format.DecodeLines(body)
		for i := range lines {
			l := &lines[i]
			to := lp.line(lineKey{l.CodeID, string(l.Flow), l.Class, l.Centre, l.ActivityID}, l.Code, l.Activity)
			to.cells = slices.Grow(to.cells, len(l.Cells))
			for _, c := range l.Cells {
				to.cells = append(
					to.cells,
					cellState{
						period: c.Period,
						is:     cell{c.Amount, l.Currency, l.Remarks[c.Period], c.Source},
						had:    true,
						has:    true,
					},
				)
			}
		}
		return err
	})
}

// line finds a line, made where it is not there.
func (lp *linePlan) line(k lineKey, code, activity string) *lineState {
	l := lp.lines[k]
	if l == nil {
		l = &lineState{codeText: code, activityText: activity}
		lp.lines[k] = l
	}
	return l
}

// cost takes a row of costs.
func (p *plan) cost(ctx context.Context, t *record.Kind, r *portfolio.Row, cells func() map[string]string) {
	column, value, why := p.resolve(t, r)
	project := r.Fields[t.Index("project")]
	if why == "" {
		column, value, why = p.resolveActivities(ctx, t, r, project.Int, project.Text)
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
	lp, err := p.linesOf(ctx, key)
	if err != nil {
		p.fail(err)
		return
	}
	k := lineKey{f("cost_code").Int, f("flow").Text, "", f("cost_centre").Text, f("activity").Int}
	at := calendar.Period(f("period").Int)
	if f("class").Said == portfolio.Value {
		k.class = f("class").Text
	} else if k.class, why = lp.classOf(k, at); why != "" {
		p.bad(r, cells(), "class", "", "%s", why)
		return
	}
	line := lp.line(k, f("cost_code").Text, f("activity").Text)
	c := line.at(at)
	added := p.adds(t, c, r)
	if !added && p.repeated(key, k, line, c, r, cells) {
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
		if added {
			var fits bool
			if next.amount, fits = money.Add(next.amount, c.is.amount); !fits {
				p.bad(r, cells(), "amount", amount.Text, "with the rows before it the amount is too large")
				return
			}
		}
		has = true
	case portfolio.None:
		next, has = cell{}, false
	}
	if has {
		next.remark = remarked(next.remark, f("note"), r.Extra)
	}
	if p.closedPart(key) && (has != c.had || has && !next.equal(c.before())) {
		p.bad(r, cells(), "amount", f("amount").Text, "%s", p.closedWhy(key.Version))
		return
	}
	if has && (!c.had || !next.equal(c.before())) {
		next.source = portfolio.Source{File: p.fileID, Row: r.Source.Row}
	}
	if c.had && c.was == nil && (!has || !next.equal(c.is) || next.source != c.is.source) {
		was := c.is
		c.was = &was
	}
	switch {
	case f("class").Said != portfolio.Value:
		c.said |= saidUnclassed
	case !c.had:
		lp.giveWay(k, at, portfolio.Source{File: p.fileID, Row: r.Source.Row})
	}
	c.is, c.has, c.touched = next, has, true
	if c.row == 0 {
		c.row, c.file = r.Source.Row, p.fileID
	}
	for flag, name := range cellColumns {
		if f(name).Said != portfolio.Nothing {
			c.said |= flag
		}
	}
	if p.opts.Whole &&
		(key.Kind == portfolio.PlanPart || key.Kind == portfolio.ForecastPart || key.Kind == portfolio.CommitmentPart) {
		lp.drop = true
	}
}

// cellColumns are the columns that say something of a cell.
var cellColumns = map[saidOf]string{saidAmount: "amount", saidCurrency: "currency", saidNote: "note"}

// adds tells a row of a sheet whose rows of one cell are parts of one amount, where such a
// row stated the cell before.
func (p *plan) adds(t *record.Kind, c *cellState, r *portfolio.Row) bool {
	if !p.adding || c.void || c.row == 0 || c.file != p.fileID || c.row == r.Source.Row || !c.has {
		return false
	}
	if cur := r.Fields[t.Index("currency")]; cur.Said == portfolio.Value && cur.Text != string(c.is.currency) {
		return false
	}
	return r.Fields[t.Index("amount")].Said == portfolio.Value && c.said&saidAmount != 0
}

// repeated refuses a row that states a cell of this run differently.
func (p *plan) repeated(
	key portfolio.Part,
	k lineKey,
	line *lineState,
	c *cellState,
	r *portfolio.Row,
	cells func() map[string]string,
) bool {
	if c.void {
		p.bad(
			r,
			cells(),
			"",
			"",
			"another row of this run states the same key differently; neither was taken, keep one",
		)
		return true
	}
	if c.row == 0 {
		return false
	}
	column := c.contradicts(p.table, r)
	if column == "" {
		return false
	}
	first := p.fileName(c.file)
	x := gather.Refusal{
		File:   first,
		Row:    int(c.row),
		Column: column,
		Reason: fmt.Sprintf(
			"row %d of %s states the same key with another %s; neither was taken, keep one",
			r.Source.Row,
			p.file,
			column,
		),
		Cells: p.cellsOf(key, k, line, c),
	}
	x.Value = x.Cells[column]
	p.refuse(x)
	p.bad(
		r,
		cells(),
		column,
		cells()[column],
		"row %d of %s states the same key with another %s; neither was taken, keep one",
		c.row,
		first,
		column,
	)
	c.is, c.has, c.touched, c.void = c.before(), c.had, false, true
	return true
}

// contradicts gives the first column that a row says differently from an
// earlier row of this run.
func (c *cellState) contradicts(t *record.Kind, r *portfolio.Row) string {
	said := func(flag saidOf) (portfolio.Field, bool) {
		f := r.Fields[t.Index(cellColumns[flag])]
		return f, c.said&flag != 0 && f.Said != portfolio.Nothing
	}
	if f, both := said(saidCurrency); both && f.Text != string(c.is.currency) {
		return "currency"
	}
	if f, both := said(saidAmount); both {
		n, err := money.Parse(money.RoundText(f.Text, c.is.currency.Exponent()), c.is.currency)
		if has := f.Said == portfolio.Value; has != c.has || has && (err != nil || n != c.is.amount) {
			return "amount"
		}
	}
	if f, both := said(saidNote); both && (c.is.remark == nil) == (f.Text != "") ||
		both && c.is.remark != nil && c.is.remark.Note != f.Text {
		return "note"
	}
	return ""
}

// cellsOf writes what this run said of a cell in the canonical form.
func (p *plan) cellsOf(key portfolio.Part, k lineKey, line *lineState, c *cellState) map[string]string {
	out := map[string]string{
		"project": p.projectCode(
			key.Project,
		), "cost_code": line.codeText, "kind": key.Kind.String(), "flow": k.flow, "class": k.class,
		"period": p.snap.Office.Periods.Code(
			c.period,
		), "cost_centre": k.centre, "activity": line.activityText, "currency": string(c.is.currency),
	}
	switch key.Kind {
	case portfolio.PlanPart:
		out["version"] = strconv.Itoa(int(key.Version))
	case portfolio.ForecastPart, portfolio.CommitmentPart:
		out["version"] = p.periodCode(key.Version)
	}
	if c.has {
		out["amount"] = money.Format(c.is.amount, c.is.currency)
	}
	if c.is.remark != nil {
		out["note"] = c.is.remark.Note
	}
	maps.DeleteFunc(out, func(_, v string) bool { return v == "" })
	return out
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
	changed, touched, dropped := lp.was == 0, false, 0
	for _, l := range lp.lines {
		for i := range l.cells {
			c := &l.cells[i]
			touched = touched || c.touched
			if lp.drop && !c.touched && c.has {
				dropped++
			}
		}
	}
	if !touched {
		return store.PartChange{}, false
	}
	if dropped > 0 && p.closedPart(key) {
		p.report.note(
			"%s of %s: %d cells that the whole statement does not name were kept, since %s is closed",
			key.Kind,
			p.projectCode(key.Project),
			dropped,
			p.periodCode(key.Version),
		)
		dropped = 0
	} else {
		p.report.Dropped += dropped
	}
	for _, l := range lp.lines {
		for i := range l.cells {
			c := &l.cells[i]
			if lp.drop && !c.touched && dropped > 0 {
				c.has = false
			}
			if c.touched {
				differs := c.had != c.has || c.has && !c.is.equal(c.before())
				if p.report.count("costs", p.fileName(c.file), !c.had && c.has, differs) {
					changed = true
					p.toldCell(key, l, c)
				}
			}
		}
	}
	if !changed && dropped == 0 {
		return store.PartChange{}, false
	}
	return store.PartChange{Part: key, Body: format.EncodeLines(linesFrom(lp.each)), Before: lp.was}, true
}

// remarkedCell is a cell with what was said beside its amount, or nil.
type remarkedCell struct {
	portfolio.Cell
	remark *portfolio.Remark
}

// each hands over the cells that are there.
func (lp *linePlan) each(yield func(lineOf, remarkedCell) bool) {
	for k, l := range lp.lines {
		for i := range l.cells {
			c := &l.cells[i]
			if c.has &&
				!yield(
					lineOf{k, l.codeText, l.activityText, c.is.currency},
					remarkedCell{portfolio.Cell{Period: c.period, Amount: c.is.amount, Source: c.is.source}, c.is.remark},
				) {
				return
			}
		}
	}
}

func (p *plan) projectCode(id int64) string { return p.codeOf(record.Projects.Name, id) }

// codeOf is the code of a record of a kind by its id; "" where there is none.
func (p *plan) codeOf(kind string, id int64) string {
	for _, e := range p.records[kind].list {
		if e.after.ID == id {
			return e.after.Fields[0].Text
		}
	}
	return ""
}

// lineOf is what the cells of a line have in common.
type lineOf struct {
	lineKey
	code, activity string
	currency       money.Currency
}

// linesFrom groups cells to lines, in a fixed order.
func linesFrom(cells iter.Seq2[lineOf, remarkedCell]) []portfolio.Line {
	var out []portfolio.Line
	at := make(map[lineOf]int)
	for of, c := range cells {
		i, known := at[of]
		if !known {
			i = len(out)
			at[of] = i
			out = append(
				out,
				portfolio.Line{
					CodeID:     of.lineKey.code,
					Code:       of.code,
					Flow:       portfolio.Flow(of.flow),
					Class:      of.class,
					Centre:     of.centre,
					ActivityID: of.lineKey.activity,
					Activity:   of.activity,
					Currency:   of.currency,
				},
			)
		}
		out[i].Cells = append(out[i].Cells, c.Cell)
		if c.remark != nil {
			if out[i].Remarks == nil {
				out[i].Remarks = make(map[calendar.Period]*portfolio.Remark)
			}
			out[i].Remarks[c.Period] = c.remark
		}
	}
	for i := range out {
		slices.SortFunc(out[i].Cells, func(a, b portfolio.Cell) int { return int(a.Period - b.Period) })
	}
	slices.SortFunc(out, func(a, b portfolio.Line) int {
		return cmp.Or(
			cmp.Compare(a.CodeID, b.CodeID),
			cmp.Compare(a.Flow, b.Flow),
			cmp.Compare(a.Class, b.Class),
			cmp.Compare(a.Centre, b.Centre),
			cmp.Compare(a.ActivityID, b.ActivityID),
			cmp.Compare(a.Currency, b.Currency),
		)
	})
	return out
}
