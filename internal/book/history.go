package book

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/store"
)

// perRead is the number of part changes whose bodies are read at once.
const perRead = 100

// PartDiffers hands over, change by change, what changes of parts made
// different, until each gives false.
func (s *Snapshot) PartDiffers(
	ctx context.Context,
	list []store.PartHistory,
	each func(store.PartHistory, []Differs) bool,
) error {
	for len(list) > 0 {
		some := list[:min(len(list), perRead)]
		list = list[len(some):]
		bodies := make(map[int64][]byte)
		var ids []int64
		for _, p := range some {
			for _, id := range [...]int64{p.Before, p.After} {
				if _, there := bodies[id]; id != 0 && !there {
					bodies[id] = nil
					ids = append(ids, id)
				}
			}
		}
		if err := s.bodies(ctx, ids, func(id int64, body []byte) error { bodies[id] = body; return nil }); err != nil {
			return err
		}
		for _, p := range some {
			code := codeOf(s, s, p.Project)
			d, err := partDiffers(s, p.Part, bodies[p.Before], bodies[p.After])
			if err != nil {
				return fmt.Errorf("%s of %s: %w", p.Kind, code, err)
			}
			for i := range d {
				d[i].Project = code
			}
			if !each(p, d) {
				return nil
			}
		}
	}
	return nil
}

// ChangeDiffers writes changes of one table's records for people: of a record
// that was made, every field as it was then. later gives what the same batch and
// later ones changed of a record, the last first.
func (s *Snapshot) ChangeDiffers(c store.Change, later func() ([]store.Change, error)) ([]Differs, error) {
	t := record.Named(c.Table)
	row := s.record(c.Table, c.Record)
	d := Differs{Table: c.Table, Key: fmt.Sprintf("record %d, gone", c.Record), Column: c.Field}
	if t == nil {
		return []Differs{d}, nil
	}
	var after []store.Change
	if row == nil || c.Field == store.Added {
		var err error
		if after, err = later(); err != nil {
			return nil, err
		}
	}
	if row == nil {
		row = s.gone(t, after)
	}
	if row != nil {
		d.Key, d.Project = s.key(t, row)
	}
	switch c.Field {
	case store.Removed:
		if row != nil { // its fields tell
			return nil, nil
		}
		d.Column, d.Was = "row", "there"
		return []Differs{d}, nil
	case store.Added:
		if row == nil {
			d.Column, d.Is = "row", "there"
			return []Differs{d}, nil
		}
		born := *row
		born.Fields = append([]portfolio.Field{}, row.Fields...)
		for _, x := range after { // the earliest comes last
			if i := t.Index(x.Field); i >= 0 {
				born.Fields[i] = s.read(&t.Columns[i], x.Before)
			}
		}
		out := rowDiffers(s, t, nil, &born, "project", "")
		for i := range out {
			out[i].Project, out[i].Key = d.Project, d.Key
		}
		return out, nil
	}
	if i := t.Index(c.Field); i >= 0 {
		col := &t.Columns[i]
		was, is := s.read(col, c.Before), s.read(col, c.After)
		d.Was, d.Is = s.written(col, &was, ""), s.written(col, &is, "")
	} else {
		d.Was, d.Is = text(c.Before), text(c.After)
	}
	if row != nil {
		d.Source = row.Source
	}
	return []Differs{d}, nil
}

// gone gives a record as it was when a batch took it away; nil where none of the changes
// did, or what it said was not kept.
func (s *Snapshot) gone(t *record.Kind, changes []store.Change) *portfolio.Row {
	by := slices.IndexFunc(changes, func(c store.Change) bool { return c.Field == store.Removed })
	if by < 0 {
		return nil
	}
	var row *portfolio.Row
	for _, c := range changes {
		if i := t.Index(c.Field); i >= 0 && c.Batch == changes[by].Batch && c.Before != nil {
			if row == nil {
				row = &portfolio.Row{ID: c.Record, Fields: make([]portfolio.Field, len(t.Columns))}
			}
			row.Fields[i] = s.read(&t.Columns[i], c.Before)
		}
	}
	return row
}

func text(s *string) string {
	if s == nil {
		return ""
	}
	return *s
}

// record finds a record by id; nil where it is gone.
func (s *Snapshot) record(table string, id int64) *portfolio.Row {
	rows := s.Records[table]
	for i := range rows {
		if rows[i].ID == id {
			return &rows[i]
		}
	}
	return nil
}

// key names a record by its key, and the project that it is of.
func (s *Snapshot) key(t *record.Kind, row *portfolio.Row) (key, project string) {
	var words []string
	for i := range t.Columns {
		c := &t.Columns[i]
		if c.Name == "project" {
			project = s.written(c, &row.Fields[i], "")
		} else if c.Key {
			if w := s.written(c, &row.Fields[i], ""); w != "" {
				words = append(words, w)
			}
		}
	}
	return strings.Join(words, ", "), project
}

// read reads a field as changes keep it.
func (s *Snapshot) read(c *record.Column, raw *string) portfolio.Field {
	if raw == nil {
		return portfolio.Field{}
	}
	f := portfolio.Field{Said: portfolio.Value, Text: *raw}
	switch c.Type {
	case record.Date, record.Period, record.Whole, record.Decimal:
		f.Int, _ = strconv.ParseInt(*raw, 10, 64) // the store writes whole numbers
	case record.ProjectRef, record.ProgrammeRef, record.CostCodeRef, record.CentreRef:
		f.Int, _ = strconv.ParseInt(*raw, 10, 64)
		table := map[record.Type]string{record.ProjectRef: "projects", record.ProgrammeRef: "programmes", record.CostCodeRef: "cost_codes", record.CentreRef: "cost_centres"}[c.Type]
		f.Text = "record " + *raw
		if r := s.record(table, f.Int); r != nil {
			f.Text = r.Fields[0].Text
		}
	}
	return f
}
