package entry

import (
	"context"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/gather"
	"turret/internal/record"
	"turret/internal/store"
	"turret/internal/store/format"
)

// partPlan is a part that holds rows.
type partPlan struct {
	t *record.Kind
	entries
	was    int64 // part in force, or zero
	nextID int64 // of activities
}

// part opens a part with the rows in force.
func (p *plan) part(ctx context.Context, key portfolio.Part) (*partPlan, error) {
	if pp := p.parts[key]; pp != nil {
		return pp, nil
	}
	t := record.OfPart(key.Kind)
	rows, was, err := p.loadRows(ctx, key)
	if err != nil {
		return nil, err
	}
	pp := &partPlan{
		t:       t,
		was:     was,
		entries: newEntries(rows, func(r *portfolio.Row) string { return partKey(t, r) }),
		nextID:  1,
	}
	for i := range rows {
		pp.nextID = max(pp.nextID, rows[i].ID+1)
	}
	p.parts[key] = pp
	return pp, nil
}

// partKey is the key of a row within its part.
func partKey(t *record.Kind, r *portfolio.Row) string {
	return keyOf(t, r, "project", t.Version, "baseline")
}

func (p *plan) loadRows(ctx context.Context, key portfolio.Part) (rows []portfolio.Row, was int64, err error) {
	if was = p.stated(key); was == 0 {
		return nil, 0, nil
	}
	err = p.store.Bodies(ctx, []int64{was}, func(_ int64, body []byte) (err error) {
		rows, err = format.DecodeRows(body, len(record.OfPart(key.Kind).Columns))
		return err
	})
	return rows, was, err
}

// change gives the part to be written, where it differs from the one in force.
func (pp *partPlan) change(p *plan, key portfolio.Part) (store.PartChange, bool) {
	changed := pp.was == 0
	var rows []portfolio.Row
	touched, drops := false, p.drops(key) && pp.named()
	for _, e := range pp.list {
		if drops && !e.touched() && e.before != nil && !e.void {
			p.report.Dropped++
			changed = true
			continue
		}
		if e.said == nil && e.before == nil || e.void && e.before == nil {
			continue
		}
		if e.touched() {
			touched = true
			changed = changed || e.changed()
			if key.Kind != portfolio.BaselinePart ||
				e.changed() && (e.before != nil || key.Version > 1) { // a row of activities counts once
				if p.report.count(key.Kind.Sent(), e.byFile, e.before == nil, e.changed()) {
					p.told(pp.t, e, p.projectCode(key.Project)+p.versionName(key))
				}
			}
		}
		rows = append(rows, e.after)
	}
	if !changed || !touched {
		return store.PartChange{}, false
	}
	return store.PartChange{Part: key, Body: format.EncodeRows(rows), Before: pp.was}, true
}

// activityID finds an activity of a project by its code, else by how people write it:
// the code without its signs or leading zeros, or the name, where one alone has it. It
// gives the code too, and zero where there is none.
func (p *plan) activityID(ctx context.Context, project int64, text string) (id int64, code string, err error) {
	pp, err := p.part(ctx, portfolio.Part{Project: project, Kind: portfolio.ActivityPart})
	if err != nil {
		return 0, text, err
	}
	there := func(e *entry) bool { return e != nil && (e.before != nil || e.touched()) && !e.void }
	if e := pp.find(text + "\x00"); there(e) {
		return e.after.ID, text, nil
	}
	at, name := record.Activities.Kind.Index("activity"), record.Activities.Kind.Index("name")
	for _, same := range [...]func(*portfolio.Row) bool{
		func(r *portfolio.Row) bool { return gather.LooseCode(r.Fields[at].Text) == gather.LooseCode(text) },
		func(r *portfolio.Row) bool { return gather.Normal(r.Fields[at].Text) == gather.Normal(text) }, // 2-1 for 2.1
		func(r *portfolio.Row) bool { return gather.Normal(r.Fields[name].Text) == gather.Normal(text) },
		func(r *portfolio.Row) bool { // the code, and then the name
			first, rest, ok := strings.Cut(strings.TrimSpace(text), " ")
			return ok && gather.LooseCode(r.Fields[at].Text) == gather.LooseCode(first) &&
				gather.Normal(r.Fields[name].Text) == gather.Normal(rest)
		},
	} {
		var found *entry
		n := 0
		for _, e := range pp.list {
			if there(e) && same(&e.after) {
				found = e
				n++
			}
		}
		if n == 1 {
			return found.after.ID, found.after.Fields[at].Text, nil
		}
		if n > 1 {
			break
		}
	}
	return 0, text, nil
}

// resolveActivities turns the codes of activities into ids.
func (p *plan) resolveActivities(
	ctx context.Context,
	t *record.Kind,
	r *portfolio.Row,
	project int64,
	projectCode string,
) (column, value, why string) {
	for i := range t.Columns {
		c, f := &t.Columns[i], &r.Fields[i]
		if f.Said != portfolio.Value || c.Type != record.ActivityRef && c.Type != record.EndRef ||
			t.Name == "activities" {
			continue
		}
		in, name, code := project, projectCode, f.Text
		if other, act, ok := strings.Cut(f.Text, "/"); ok && c.Type == record.EndRef {
			if in = p.id("projects", other); in == 0 {
				return c.Name, f.Text, unknown("project", other, "projects")
			}
			name, code = other, act
		}
		id, known, err := p.activityID(ctx, in, code)
		if err != nil {
			p.fail(err)
			return c.Name, f.Text, err.Error()
		}
		if id == 0 {
			return c.Name, f.Text, unknown("activity", code, "activities") + " of project " + name
		}
		if f.Int = id; known != code {
			f.Text = strings.TrimSuffix(f.Text, code) + known
		}
		if in == project {
			f.Text = known
		}
	}
	return "", "", ""
}

// minor reads the money of a row in a currency, into minor units.
func (p *plan) minor(t *record.Kind, r *portfolio.Row, c money.Currency) (column, value, why string) {
	for i := range t.Columns {
		f := &r.Fields[i]
		if t.Columns[i].Type != record.Money || f.Said != portfolio.Value {
			continue
		}
		n, err := p.amount(f, c)
		if err != nil {
			return t.Columns[i].Name, f.Text, err.Error()
		}
		f.Int, f.Text = n, ""
	}
	return "", "", ""
}

// statement takes a row of a table that is kept as parts.
func (p *plan) statement(ctx context.Context, t *record.Kind, r *portfolio.Row, cells func() map[string]string) {
	column, value, why := p.resolve(t, r)
	project := r.Fields[t.Index("project")]
	if why == "" {
		column, value, why = p.resolveActivities(ctx, t, r, project.Int, project.Text)
	}
	if why == "" {
		column, value, why = p.minor(t, r, p.projectCurrency(project.Text))
	}
	if why != "" {
		p.bad(r, cells(), column, value, "%s", why)
		return
	}
	if t.Name == "activities" {
		p.activity(ctx, t, r, cells)
		return
	}
	kind, _ := portfolio.PartKindNamed(t.Name)
	key := portfolio.Part{Project: project.Int, Kind: kind}
	r.Fields[t.Index("project")] = portfolio.Field{}
	if t.Version != "" {
		v := t.Index(t.Version)
		key.Version = int32(r.Fields[v].Int)
		r.Fields[v] = portfolio.Field{}
	}
	pp, err := p.part(ctx, key)
	if err != nil {
		p.fail(err)
		return
	}
	p.take(t, pp.open(partKey(t, r), len(t.Columns)), r, cells, !kind.Dated(), func(e *entry) (string, string) {
		if kind.Dated() && p.closed(key.Version) && e.changed() {
			return "", p.closedWhy(key.Version)
		}
		return firstWrong(t, &e.after, [2]string{"start", "finish"}, [2]string{"actual_start", "actual_finish"})
	})
}

// activity takes a row of activities: what it says of the activity, and what
// it says of one baseline.
func (p *plan) activity(ctx context.Context, t *record.Kind, r *portfolio.Row, cells func() map[string]string) {
	project := r.Fields[t.Index("project")].Int
	number := int32(r.Fields[t.Index("baseline")].Int)
	acts, err := p.part(ctx, portfolio.Part{Project: project, Kind: portfolio.ActivityPart})
	if err != nil {
		p.fail(err)
		return
	}
	base, err := p.part(ctx, portfolio.Part{Project: project, Kind: portfolio.BaselinePart, Version: number})
	if err != nil {
		p.fail(err)
		return
	}
	row := r.Clone()
	dated := portfolio.Row{
		Source: r.Source,
		Fields: make([]portfolio.Field, len(record.ActivityBaselines.Kind.Columns)),
	}
	for i, c := range record.ActivityBaselines.Kind.Columns {
		if i > 0 {
			dated.Fields[i] = r.Fields[t.Index(c.Name)]
			row.Fields[t.Index(c.Name)] = portfolio.Field{}
		}
	}
	row.Fields[t.Index("project")], row.Fields[t.Index("baseline")] = portfolio.Field{}, portfolio.Field{}
	e := acts.open(partKey(t, &row), len(t.Columns))
	if e.after.ID == 0 {
		e.after.ID = acts.nextID
		acts.nextID++
	}
	code := r.Fields[t.Index("activity")].Text
	dated.Fields[0] = portfolio.Field{Said: portfolio.Value, Int: e.after.ID, Text: code}
	saved := *e
	saved.after = e.after.Clone()
	if !p.take(
		t,
		e,
		&row,
		cells,
		true,
		func(e *entry) (string, string) { return firstWrong(t, &e.after, [2]string{"start", "finish"}) },
	) {
		return
	}
	b := base.open(partKey(record.ActivityBaselines.Kind, &dated), len(record.ActivityBaselines.Kind.Columns))
	ok := p.take(record.ActivityBaselines.Kind, b, &dated, cells, true, func(e *entry) (string, string) {
		if n := e.after.Fields[1]; n.Said == portfolio.Value && n.Int < 0 {
			return "budget", "a budget is not below zero"
		}
		return firstWrong(record.ActivityBaselines.Kind, &e.after, [2]string{"baseline_start", "baseline_finish"})
	})
	if !ok {
		*e = saved
	}
}

// finishActivities resolves the parents of activities, once all are read.
func (p *plan) finishActivities() {
	t := record.Activities.Kind
	for _, key := range sortedParts(p.parts) {
		if key.Kind != portfolio.ActivityPart {
			continue
		}
		pp := p.parts[key]
		p.settleParents(
			t,
			pp.list,
			t.Index("parent"),
			func(e *entry) string { return e.after.Fields[t.Index("activity")].Text },
			func(code string) *entry { return pp.find(code + "\x00") },
		)
		for _, base := range sortedParts(p.parts) { // a refused activity has no baseline
			if base.Project != key.Project || base.Kind != portfolio.BaselinePart {
				continue
			}
			for _, e := range p.parts[base].list {
				code := e.after.Fields[0].Text
				if a := pp.find(code + "\x00"); e.touched() && a != nil && a.before == nil && !a.touched() {
					e.restore()
					e.void = e.before == nil
				}
			}
		}
	}
}

func (p *plan) periodCode(n int32) string { return p.snap.Office.Periods.Code(calendar.Period(n)) }

func (p *plan) closedPart(k portfolio.Part) bool { return k.Kind.Dated() && p.closed(k.Version) }
