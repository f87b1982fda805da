package entry

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"

	"turret/internal/book"
	"turret/internal/change"
	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/gather"
	"turret/internal/record"
	"turret/internal/store"
)

// plan works out what rows would change, on one snapshot, before anything is
// written.
type plan struct {
	snap     *book.Snapshot
	by       change.By
	accounts []store.Account // who can sign in
	store    *store.Store
	opts     Options
	report   *Report
	refuse   func(gather.Refusal)
	file     string // being read, as messages call it
	fileID   int32
	adding   bool // rows of one cell of the sheet are parts of one amount
	table    *record.Kind
	records  map[string]*recordPlan
	parts    map[portfolio.Part]*partPlan
	lines    map[portfolio.Part]*linePlan
	ledger   *ledgerPlan
	expect   int   // postings to come, at most
	broken   error // why the plan cannot be made
	toClose  []calendar.Period
	looked   map[string]map[int64]bool // records that rows referred to, by kind and id
	again    map[string]int            // bookings that say all that another of their file says, by file
	rounded  map[string]int            // amounts with more decimals than their currency, by file
}

func newPlan(snap *book.Snapshot, st *store.Store, opts Options, report *Report) *plan {
	p := &plan{
		snap: snap, store: st, opts: opts, report: report,
		records: make(
			map[string]*recordPlan,
		), parts: make(map[portfolio.Part]*partPlan), looked: make(map[string]map[int64]bool), lines: make(map[portfolio.Part]*linePlan), rounded: make(map[string]int), again: make(map[string]int),
	}
	for _, t := range record.Kinds() {
		if t.Keep == record.Records {
			p.records[t.Name] = newRecordPlan(t, snap.Records[t.Name])
		}
	}
	return p
}

// entry is one key of a table: as it was, as it becomes, and what this run said.
type entry struct {
	before *portfolio.Row // nil: new
	after  portfolio.Row
	said   []portfolio.Field // in this run; nil: untouched
	by     portfolio.Source  // the first row of this run
	byFile string
	void   bool // rows of this run contradict each other
}

func (e *entry) touched() bool { return e.said != nil && !e.void }

// changed tells whether a touched entry differs from what it was.
func (e *entry) changed() bool {
	return e.before == nil || !slices.Equal(e.before.Fields, e.after.Fields) ||
		!maps.Equal(e.before.Extra, e.after.Extra)
}

// restore undoes what this run did to the entry.
func (e *entry) restore() {
	if e.before != nil {
		e.after = e.before.Clone()
	}
	e.said = nil
}

// contradicts gives the first column that a row says differently from an
// earlier row of this run.
func (e *entry) contradicts(r *portfolio.Row) int {
	if e.said == nil {
		return -1
	}
	for i := range r.Fields {
		if e.said[i].Said != portfolio.Nothing && r.Fields[i].Said != portfolio.Nothing && e.said[i] != r.Fields[i] {
			return i
		}
	}
	return -1
}

// merge takes what a row says; the rest stays. With forget, a cleared field
// becomes empty; else it stays as cleared.
func (e *entry) merge(r *portfolio.Row, src portfolio.Source, file string, forget bool) {
	if e.said == nil {
		e.said = make([]portfolio.Field, len(r.Fields))
		e.by, e.byFile = src, file
	}
	before := e.after.Clone()
	for i := range r.Fields {
		f := r.Fields[i]
		if f.Said == portfolio.Nothing {
			continue
		}
		e.said[i] = f
		if f.Said == portfolio.None && forget {
			f = portfolio.Field{}
		}
		e.after.Fields[i] = f
	}
	for k, v := range r.Extra {
		if e.after.Extra == nil {
			e.after.Extra = make(map[string]string)
		}
		if v == "-" {
			delete(e.after.Extra, k)
		} else {
			e.after.Extra[k] = v
		}
	}
	if e.before == nil || !slices.Equal(before.Fields, e.after.Fields) || !maps.Equal(before.Extra, e.after.Extra) {
		e.after.Source = src
	}
}

// entries are the keyed rows of a table or part, in order.
type entries struct {
	list  []*entry
	byKey map[string]int
}

func newEntries(rows []portfolio.Row, key func(*portfolio.Row) string) entries {
	e := entries{byKey: make(map[string]int, len(rows))}
	for i := range rows {
		e.byKey[key(&rows[i])] = len(e.list)
		e.list = append(e.list, &entry{before: &rows[i], after: rows[i].Clone()})
	}
	return e
}

func (e *entries) find(key string) *entry {
	if i, ok := e.byKey[key]; ok {
		return e.list[i]
	}
	return nil
}

func (e *entries) open(key string, columns int) *entry {
	if x := e.find(key); x != nil {
		return x
	}
	x := &entry{after: portfolio.Row{Fields: make([]portfolio.Field, columns)}}
	e.byKey[key] = len(e.list)
	e.list = append(e.list, x)
	return x
}

// keyOf joins the key fields of a row: references by id, texts as they are.
func keyOf(t *record.Kind, r *portfolio.Row, skip ...string) string {
	var b strings.Builder
	for i := range t.Columns {
		c := &t.Columns[i]
		if !c.Key || slices.Contains(skip, c.Name) {
			continue
		}
		f := &r.Fields[i]
		if other, _, ok := strings.Cut(f.Text, "/"); ok && c.Type == record.EndRef { // activities count within their projects
			b.WriteString(other + "/")
		}
		if isRef(c.Type) || f.Text == "" {
			fmt.Fprintf(&b, "%d\x00", f.Int)
		} else {
			b.WriteString(f.Text + "\x00")
		}
	}
	return b.String()
}

func isRef(t record.Type) bool {
	switch t {
	case record.ProjectRef,
		record.ProgrammeRef,
		record.CostCodeRef,
		record.CentreRef,
		record.ActivityRef,
		record.EndRef:
		return true
	}
	return false
}

// fail notes that the plan cannot be made: what is not the fault of a row is no
// refusal of it.
func (p *plan) fail(err error) {
	if p.broken == nil {
		p.broken = err
	}
}

// stopped tells that no more rows are to be read: the plan cannot be made, or
// nobody waits for it any more.
func (p *plan) stopped(ctx context.Context) bool {
	if err := ctx.Err(); err != nil {
		p.fail(err)
	}
	return p.broken != nil
}

// bad refuses the row being read.
func (p *plan) bad(r *portfolio.Row, cells map[string]string, column, value, format string, args ...any) {
	x := gather.Refusal{
		File:   p.file,
		Row:    int(r.Source.Row),
		Column: column,
		Value:  value,
		Reason: fmt.Sprintf(format, args...),
		Cells:  cells,
	}
	if p.table.Keep == record.Ledger {
		p.worth(&x, r)
	}
	p.wait(&x, r)
	p.refuse(x)
}

// worth notes the amount of a refused row, and its currency.
func (p *plan) worth(x *gather.Refusal, r *portfolio.Row) {
	a := p.table.Index("amount")
	if a < 0 || a >= len(r.Fields) {
		return
	}
	x.Amount = r.Fields[a].Text
	x.Unit = r.Fields[p.table.Index("currency")].Text
	if j := p.table.Index("project"); x.Unit == "" && x.Amount != "" {
		x.Unit = string(p.projectCurrency(r.Fields[j].Text))
	}
}

// wait notes that a refused row waits for a code: a project or cost code that
// nothing matched.
func (p *plan) wait(x *gather.Refusal, r *portfolio.Row) {
	i := p.table.Index(x.Column)
	if i < 0 || i >= len(r.Fields) || r.Fields[i].Int != 0 || r.Fields[i].Said != portfolio.Value {
		return
	}
	switch p.table.Columns[i].Type {
	case record.ProjectRef, record.CostCodeRef:
		x.Waits = x.Column
	case record.ProgrammeRef:
		x.Lacks = record.Programmes.Name
		return
	default:
		return
	}
	p.worth(x, r)
}

// amount reads an amount as minor units. One that a spreadsheet computed is
// rounded half to even, and that is told.
func (p *plan) amount(f *portfolio.Field, c money.Currency) (int64, error) {
	n, err := money.Parse(f.Text, c)
	if err != nil && f.Int == portfolio.Computed && errors.Is(err, money.ErrPrecision) {
		p.rounded[p.file]++
		return money.Parse(money.RoundText(f.Text, c.Exponent()), c)
	}
	return n, err
}

// contradiction refuses two rows of one run that state the same key differently.
func (p *plan) contradiction(t *record.Kind, e *entry, column int, r *portfolio.Row, cells map[string]string) {
	name := t.Columns[column].Name
	if !e.void {
		text := record.Format(&t.Columns[column], &e.said[column], "", p.snap.Office.Periods)
		p.refuse(
			gather.Refusal{
				File:   e.byFile,
				Row:    int(e.by.Row),
				Column: name,
				Value:  text,
				Reason: fmt.Sprintf(
					"row %d of %s states the same key with another %s; neither was taken, keep one",
					r.Source.Row,
					p.file,
					name,
				),
				Cells: record.FormatRow(t, &portfolio.Row{Fields: e.said}, p.snap.Office.Periods),
			},
		)
		e.restore()
		e.void = true
	}
	p.bad(
		r,
		cells,
		name,
		cells[name],
		"row %d of %s states the same key with another %s; neither was taken, keep one",
		e.by.Row,
		e.byFile,
		name,
	)
}

// take merges a row into an entry, or refuses it; check looks at the merged row
// and gives a column and a reason against it.
func (p *plan) take(
	t *record.Kind,
	e *entry,
	r *portfolio.Row,
	cells func() map[string]string,
	forget bool,
	check func(*entry) (column, why string),
) bool {
	if e.void {
		p.bad(
			r,
			cells(),
			"",
			"",
			"another row of this run states the same key differently; neither was taken, keep one",
		)
		return false
	}
	if c := e.contradicts(r); c >= 0 {
		p.contradiction(t, e, c, r, cells())
		return false
	}
	undo := *e
	undo.after = e.after.Clone()
	undo.said = slices.Clone(e.said)
	e.merge(r, portfolio.Source{File: p.fileID, Row: r.Source.Row}, p.file, forget)
	if column, why := check(e); why != "" {
		*e = undo
		p.bad(r, cells(), column, cells()[column], "%s", why)
		return false
	}
	return true
}

func ordered(t *record.Kind, r *portfolio.Row, start, finish string) (column, why string) {
	i, j := t.Index(start), t.Index(finish)
	if i < 0 || j < 0 || r.Fields[i].Said != portfolio.Value || r.Fields[j].Said != portfolio.Value ||
		r.Fields[i].Int <= r.Fields[j].Int {
		return "", ""
	}
	return finish, fmt.Sprintf(
		"%s %s lies before %s %s; correct one of them",
		finish,
		calendar.Date(r.Fields[j].Int),
		start,
		calendar.Date(r.Fields[i].Int),
	)
}

func firstWrong(t *record.Kind, r *portfolio.Row, pairs ...[2]string) (column, why string) {
	for _, x := range pairs {
		if column, why = ordered(t, r, x[0], x[1]); why != "" {
			return column, why
		}
	}
	return "", ""
}

// recordPlan is a table of records.
type recordPlan struct {
	t *record.Kind
	entries
	nextID int64
}

func newRecordPlan(t *record.Kind, rows []portfolio.Row) *recordPlan {
	p := &recordPlan{t: t, entries: newEntries(rows, func(r *portfolio.Row) string { return keyOf(t, r) })}
	for i := range rows {
		p.nextID = max(p.nextID, rows[i].ID)
	}
	p.nextID++
	return p
}

// id gives the id of the record with a code, or zero.
func (p *plan) id(table, code string) int64 {
	if e := p.records[table].find(code + "\x00"); e != nil && (e.before != nil || e.touched()) {
		if p.looked[table] == nil {
			p.looked[table] = make(map[int64]bool)
		}
		p.looked[table][e.after.ID] = true
		return e.after.ID
	}
	return 0
}

// setting gives a setting as this run leaves it.
func (p *plan) setting(name string) string {
	if e := p.records["settings"].find(name + "\x00"); e != nil {
		return e.after.Fields[1].Text
	}
	return ""
}

func (p *plan) reporting() money.Currency {
	if c, ok := money.ParseCurrency(p.setting("reporting_currency")); ok {
		return c
	}
	return p.snap.Office.Reporting
}

// projectCurrency gives the currency of a project by code.
func (p *plan) projectCurrency(code string) money.Currency {
	if e := p.records[record.Projects.Name].find(code + "\x00"); e != nil {
		if c := record.Projects.Currency.Of(&e.after); c != "" {
			return money.Currency(c)
		}
	}
	return p.reporting()
}

func (p *plan) closed(period int32) bool { return p.snap.Closed[calendar.Period(period)] }

func (p *plan) closedWhy(period int32) string {
	return fmt.Sprintf(
		"%s is closed and holds another value; reopen the period with a reason, or state it in an open one",
		p.snap.Office.Periods.Code(calendar.Period(period)),
	)
}

// batch gathers what is to be written.
func (p *plan) batch(ctx context.Context) (*store.Batch, error) {
	b := &store.Batch{Base: p.snap.Revision, Origin: "gather"}
	for _, t := range record.Kinds() {
		rp := p.records[t.Name]
		if rp == nil {
			continue
		}
		for _, e := range rp.list {
			if !e.touched() || t.Name == "periods" && e.after.Fields[1].Text == "closed" { // which a close writes
				continue
			}
			if p.report.count(t.Name, e.byFile, e.before == nil, e.changed()) {
				p.told(t, e, "")
				b.Records = append(b.Records, store.RecordChange{Table: t, Before: e.before, After: e.after})
			}
		}
	}
	for _, key := range sortedParts(p.parts) {
		p.stayOut(key)
		if c, ok := p.parts[key].change(p, key); ok {
			b.Parts = append(b.Parts, c)
		}
	}
	for _, key := range sortedParts(p.lines) {
		if c, ok := p.lines[key].change(p, key); ok {
			b.Parts = append(b.Parts, c)
		}
	}
	if p.ledger != nil {
		parts, err := p.ledger.change(ctx, p)
		if err != nil {
			return nil, err
		}
		b.Parts = append(b.Parts, parts...)
		b.Postings = p.ledger.taken
	}
	return b, nil
}

func sortedParts[V any](m map[portfolio.Part]V) []portfolio.Part {
	return slices.SortedFunc(maps.Keys(m), func(a, b portfolio.Part) int {
		return cmp.Or(cmp.Compare(a.Project, b.Project), cmp.Compare(a.Kind, b.Kind), cmp.Compare(a.Version, b.Version))
	})
}

// stated finds the part in force, or zero.
func (p *plan) stated(key portfolio.Part) int64 {
	for _, s := range p.snap.Stated[key.Project] {
		if s.Part == key {
			return s.ID
		}
	}
	return 0
}
