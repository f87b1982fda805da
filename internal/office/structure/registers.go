package structure

import (
	"context"
	"fmt"
	"strings"

	"turret/internal/office"
	"turret/internal/office/access"
	"turret/internal/office/entry"
	"turret/internal/record"
	"turret/internal/right"
)

// Register is a kind of records with a page made from its declaration.
type Register struct {
	*record.Kind
	Rows  []RegisterRow
	Among map[string][]string // codes that a column can refer to, by its name
	May   bool                // the actor may write it
}

// RegisterRow is a record: its cells in canonical form, by column.
type RegisterRow struct {
	ID    int64
	Cells map[string]string
}

// Registers lists the kinds of records that have a page made from them.
func Registers() (out []*record.Kind) {
	for _, k := range record.OfRecords() {
		if k.Form != nil {
			out = append(out, k)
		}
	}
	return out
}

// register finds a kind that has a page, and what its writer needs.
func register(table string) (*record.Kind, right.Action, error) {
	k := record.Named(table)
	if k == nil || k.Form == nil {
		return nil, "", office.Refusef("There is no register %q.", table)
	}
	if k.Form.Needs == "" {
		return k, right.Gather, nil
	}
	return k, right.Action(k.Form.Needs), nil
}

// Register reads the records of a kind that has a page.
func (o Room) Register(ctx context.Context, a right.Actor, table string) (*Register, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	k, needs, err := register(table)
	if err != nil {
		return nil, err
	}
	some := !right.May(a, needs) && k.Form.Scope != "" && len(a.Administers) > 0
	if a.Sight != nil && !some {
		return nil, &right.Denied{Actor: a, Action: needs}
	}
	s, err := o.Book().Snapshot(ctx)
	if err != nil {
		return nil, err
	}
	out := &Register{Kind: k, May: right.May(a, needs) || some}
	rows := s.Records.Of(k)
	for i := range rows {
		if some && !entry.Administers(a, s, k, &rows[i]) {
			continue
		}
		out.Rows = append(out.Rows, RegisterRow{rows[i].ID, record.FormatRow(k, &rows[i], s.Office.Periods)})
	}
	out.Among = make(map[string][]string)
	for i := range k.Columns {
		to := k.Columns[i].Type.To()
		if to == nil || to == record.Projects.Kind {
			continue
		}
		for _, r := range s.Records.Of(to) {
			out.Among[k.Columns[i].Name] = append(out.Among[k.Columns[i].Name], r.Fields[0].Text)
		}
	}
	return out, nil
}

// told says in words what right a record gives: "right: account tor, right read, scope P1".
func told(k *record.Kind, row entry.Row) string {
	var said []string
	for i := range k.Columns {
		if c := &k.Columns[i]; row[c.Name] != "" && row[c.Name] != record.OrClear("") {
			said = append(said, strings.ReplaceAll(c.Name, "_", " ")+" "+row[c.Name])
		}
	}
	return k.One + ": " + strings.Join(said, ", ")
}

// SaveRecord keeps a record of a kind that has a page: cells as they are typed, by
// column. An empty one that is not of the key clears what was there. Seen is the
// revision that the page showed.
func (o Room) SaveRecord(ctx context.Context, a right.Actor, seen int64, table string, cells map[string]string) error {
	k, needs, err := register(table)
	if err != nil {
		return err
	}
	if k.Form.Scope == "" || len(a.Administers) == 0 { // else it is looked at where it is planned
		if err := right.Check(a, needs); err != nil {
			return err
		}
	}
	row, name := entry.Row{}, ""
	for i := range k.Columns {
		c := &k.Columns[i]
		text := strings.TrimSpace(cells[c.Name])
		switch {
		case c.Key && text == "" && !c.Blank:
			return &office.Misfit{Column: c.Name, Why: "it tells the " + k.One + " from others; write it"}
		case c.Key:
			name = strings.TrimSpace(name + " " + text)
		default:
			text = record.OrClear(text)
		}
		row[c.Name] = text
	}
	note := fmt.Sprintf("%s %s", k.One, name)
	report, err := entry.In(o.Office).
		Enter(ctx, a, &entry.Form{Origin: office.Registered, Note: note, Seen: seen, Takes: needs, Rows: entry.These(entry.Of(k.Name, row))})
	if err == nil && report.Written && k.Form.Scope != "" {
		access.In(o.Office).Note(ctx, a, access.Rights, told(k, row))
	}
	return err
}
