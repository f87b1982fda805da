package entry

import (
	"context"
	"slices"

	"turret/internal/change"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/record"
	"turret/internal/tell"
)

// compare looks whether others changed the records that are entered since their
// writer saw them. What only they changed stays; where both did it is a *Conflict.
func (p *plan) compare(ctx context.Context) error {
	if p.opts.form == nil || p.opts.form.Seen == change.Unseen {
		return nil
	}
	var found []*change.Conflict
	for _, t := range record.Kinds() {
		rp := p.records[t.Name]
		if rp == nil || !slices.ContainsFunc(rp.list, func(e *entry) bool { return e.touched() && e.before != nil }) {
			continue
		}
		seen, err := change.SeenAt(ctx, p.store, t, p.snap.Records[t.Name], p.opts.form.Seen)
		if err != nil {
			return err
		}
		for _, e := range rp.list {
			if e.before == nil || !e.touched() || seen[e.before.ID] == nil {
				continue
			}
			if c := seen[e.before.ID].Merge(t, e.before, &e.after); c != nil {
				found = append(found, c)
			}
		}
	}
	if len(found) == 0 {
		return nil
	}
	return &office.Conflict{Text: p.clash(found), More: len(found) - 1}
}

// clash says what someone else changed meanwhile.
func (p *plan) clash(found []*change.Conflict) string {
	c := found[0]
	x := tell.Meanwhile{Who: c.By.Name, At: c.At, Batch: c.Batch, More: len(found) - 1}
	write := func(col *record.Column, f portfolio.Field) string {
		return record.Format(col, &f, p.reporting(), p.snap.Office.Periods)
	}
	for i := range c.Table.Columns {
		col := &c.Table.Columns[i]
		f := c.Record.Fields[i]
		if text := p.textOf(col, f); col.Key && text != "" {
			x.Key = append(x.Key, text)
		}
	}
	x.What = c.Table.One
	for _, k := range c.Clashes {
		if k.Column.Stamp && len(c.Clashes) > 1 {
			continue
		}
		for _, f := range []*portfolio.Field{&k.Was, &k.Is, &k.Would} {
			if isRef(k.Column.Type) && f.Said == portfolio.Value {
				f.Text = p.textOf(k.Column, *f)
			}
		}
		x.Fields = append(
			x.Fields,
			tell.Clash{
				Name:  k.Column.Name,
				Was:   write(k.Column, k.Was),
				Is:    write(k.Column, k.Is),
				Would: write(k.Column, k.Would),
			},
		)
	}
	return x.String()
}

// textOf writes a field of a key: a reference as its code.
func (p *plan) textOf(col *record.Column, f portfolio.Field) string {
	table := map[record.Type]string{record.ProjectRef: "projects", record.ProgrammeRef: "programmes", record.CostCodeRef: "cost_codes", record.CentreRef: "cost_centres"}[col.Type]
	if rp := p.records[table]; rp != nil {
		for _, e := range rp.list {
			if e.after.ID == f.Int {
				return e.after.Fields[0].Text
			}
		}
	}
	return record.Format(col, &f, p.reporting(), p.snap.Office.Periods)
}
