package entry

import (
	"context"
	"fmt"
	"strings"

	"turret/internal/core/portfolio"
	"turret/internal/gather"
	"turret/internal/record"
)

// unknown is what a row is refused with when it refers to nothing.
func unknown(what, code, table string) string {
	return fmt.Sprintf("%s %q is not known; gather it with %s first, or correct the code", what, code, table)
}

// resolve turns the codes of references to records into ids. Parents within
// the same table wait until the table is read.
func (p *plan) resolve(t *record.Kind, r *portfolio.Row) (column, value, why string) {
	for i := range t.Columns {
		c, f := &t.Columns[i], &r.Fields[i]
		if f.Said != portfolio.Value {
			continue
		}
		what, table := "", ""
		switch c.Type {
		case record.ProjectRef:
			what, table = "project", "projects"
		case record.ProgrammeRef:
			what, table = "programme", "programmes"
		case record.CostCodeRef:
			what, table = "cost code", "cost_codes"
		case record.CentreRef:
			what, table = "cost centre", "cost_centres"
		}
		if table == "" || table == t.Name {
			continue
		}
		if f.Int = p.id(table, f.Text); f.Int == 0 {
			return c.Name, f.Text, unknown(what, f.Text, table)
		}
		if c.Type == record.ProjectRef && p.template(f.Text) && !drawn(t, r) {
			return c.Name, f.Text, "it is a template, which never runs: it has activities and a plan, and nothing is stated of it"
		}
	}
	return "", "", ""
}

// drawn tells whether a row draws a project, so that a template has it too.
func drawn(t *record.Kind, r *portfolio.Row) bool {
	switch t {
	case record.Activities.Kind, record.Steps.Kind, record.Links.Kind, record.Shares.Kind:
		return true
	case record.Costs.Kind:
		return record.Costs.KindCol.Of(r) == portfolio.PlanPart.String()
	}
	return false
}

// template tells whether the project of a code is a template as this run leaves it.
func (p *plan) template(code string) bool {
	e := p.records[record.Projects.Name].find(code + "\x00")
	return e != nil && record.Projects.Template(&e.after)
}

// record takes a row of a table of records.
func (p *plan) record(ctx context.Context, t *record.Kind, r *portfolio.Row, cells func() map[string]string) {
	if column, value, why := p.resolve(t, r); why != "" {
		p.bad(r, cells(), column, value, "%s", why)
		return
	}
	if why := p.unlikelyRate(t, r); why != "" {
		p.bad(r, cells(), "rate", record.Rates.Rate.Of(r), "%s", why)
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
func (p *plan) checkRecord(t *record.Kind, e *entry) (column, why string) {
	if t.Refuse == nil {
		return "", ""
	}
	return t.Refuse(planRun{p}, &record.Change{Before: e.before, After: &e.after, Same: !e.changed()})
}

// finish resolves parents within a table of records, once it is read: what
// refers to nothing or to itself is refused, and what refers to that.
func (p *plan) finish(t *record.Kind) {
	if t.Sum != nil {
		p.addUp(t)
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
	p.settleParents(
		t,
		rp.list,
		col,
		func(e *entry) string { return e.after.Fields[0].Text },
		func(code string) *entry { return rp.find(code + "\x00") },
	)
}

// addUp refuses rows that have to add up to something with others and do not.
func (p *plan) addUp(t *record.Kind) {
	sums := make(map[any]int64)
	list := p.records[t.Name].list
	for _, e := range list {
		if !e.void && (e.before != nil || e.said != nil) {
			set, n := t.Sum.Of(&e.after)
			sums[set] += n
		}
	}
	for _, e := range list {
		if !e.touched() {
			continue
		}
		set, _ := t.Sum.Of(&e.after)
		column, why := t.Sum.Refuse(planRun{p}, &e.after, sums[set])
		if why == "" {
			continue
		}
		p.refuse(
			gather.Refusal{
				File:   e.byFile,
				Row:    int(e.by.Row),
				Column: column,
				Cells:  record.FormatRow(t, &portfolio.Row{Fields: e.said}, p.snap.Office.Periods),
				Reason: why,
			},
		)
		e.restore()
		e.void = e.before == nil
	}
}

// settleParents refuses the touched entries whose parent is not known or that
// are their own ancestors, until none is left.
func (p *plan) settleParents(
	t *record.Kind,
	list []*entry,
	col int,
	code func(*entry) string,
	find func(string) *entry,
) {
	usable := func(e *entry) bool { return e != nil && !e.void && (e.before != nil || e.said != nil) }
	for again := true; again; {
		again = false
		for _, e := range list {
			f := &e.after.Fields[col]
			if !e.touched() || f.Said != portfolio.Value {
				continue
			}
			why, lacks := "", ""
			if parent := find(f.Text); !usable(parent) {
				if t.Keep == record.Records {
					lacks = t.Name
				}
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
			p.refuse(
				gather.Refusal{
					File:   e.byFile,
					Row:    int(e.by.Row),
					Column: t.Columns[col].Name,
					Value:  f.Text,
					Lacks:  lacks,
					Reason: why,
					Cells:  record.FormatRow(t, &portfolio.Row{Fields: e.said}, p.snap.Office.Periods),
				},
			)
			e.restore()
			e.void = e.before == nil
			again = true
		}
	}
}
