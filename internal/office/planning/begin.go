package planning

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"turret/internal/book"
	"turret/internal/change"
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/export"
	"turret/internal/record"
	"turret/internal/right"
)

// Beginning is a project that is to be begun.
type Beginning struct {
	Code, Name, Programme, Lead, Currency, Calendar string
	Start                                           string // the day on which it starts; "": the days of the template hold
	Template                                        string // the code of a template; "": empty
	State                                           string // active, proposed, or template for one that never runs
}

// Choice is what a field can be, and what it is called.
type Choice struct{ Code, Name string }

// Choices are what the fields of a beginning can be.
type Choices struct {
	Programmes, Templates []Choice
	Calendars, People     []string
	Reporting             string
	Revision              int64
}

// Choices reads them.
func (o Room) Choices(ctx context.Context, a right.Actor) (*Choices, error) {
	if err := right.Check(a, right.Found); err != nil {
		return nil, err
	}
	s, err := o.Book().Snapshot(ctx)
	if err != nil {
		return nil, err
	}
	c := &Choices{Reporting: string(s.Office.Reporting), Revision: s.Revision}
	for _, g := range s.Office.Groups {
		c.Programmes = append(c.Programmes, Choice{g.Code, g.Name})
	}
	list, err := s.Templates(ctx)
	if err != nil {
		return nil, err
	}
	for _, p := range list {
		name := p.Name
		if n := len(p.Activities); n > 0 {
			name = fmt.Sprintf("%s, %d activities", name, n)
		}
		c.Templates = append(c.Templates, Choice{p.Code, name})
	}
	for code := range s.Office.Calendars {
		if code != "" {
			c.Calendars = append(c.Calendars, code)
		}
	}
	slices.Sort(c.Calendars)
	for _, p := range s.Projects() {
		if p.Lead != "" && !slices.Contains(c.People, p.Lead) {
			c.People = append(c.People, p.Lead)
		}
	}
	slices.Sort(c.People)
	return c, nil
}

// Begin begins a project, with what its template has: activities, steps, links and the
// original plan. All of it is one change.
func (o Room) Begin(ctx context.Context, a right.Actor, b Beginning) error {
	if err := right.Check(a, right.Found); err != nil {
		return err
	}
	b.Code = strings.TrimSpace(b.Code)
	if b.Code == "" {
		return &office.Misfit{Column: "project", Why: "it tells the project from others; write a short code, such as FR-03"}
	}
	if strings.TrimSpace(b.Name) == "" {
		return &office.Misfit{Column: "name", Why: "write what the project is called"}
	}
	var start calendar.Date
	if b.Start = strings.TrimSpace(b.Start); b.Start != "" {
		var err error
		if start, err = calendar.ParseDate(b.Start); err != nil {
			return &office.Misfit{Column: "start", Why: err.Error()}
		}
	}
	rows := func(ctx context.Context, s *book.Snapshot) ([]entry.Rows, error) {
		taken := false
		for _, r := range s.Records.Of(record.Projects.Kind) {
			taken = taken || strings.EqualFold(record.Projects.Project.Of(&r), b.Code)
		}
		if taken {
			return nil, &office.Misfit{Column: "project", Why: fmt.Sprintf("there is a project %s already; take another code", b.Code)}
		}
		row := entry.Row{"project": b.Code, "name": b.Name}
		for column, text := range map[string]string{
			"programme": b.Programme, "lead": b.Lead, "currency": b.Currency, "calendar": b.Calendar, "start": b.Start, "state": b.State,
		} {
			if text = strings.TrimSpace(text); text != "" {
				row[column] = text
			}
		}
		out := []entry.Rows{entry.Of("projects", row)}
		if b.Template == "" {
			return out, nil
		}
		more, err := o.copied(ctx, a, s, &b, start)
		return append(out, more...), err
	}
	_, err := entry.In(o.Office).Enter(ctx, a, &entry.Form{
		Origin: office.Planned, Note: "project " + b.Code, Seen: change.Unseen, Takes: right.Found, Rows: rows,
	})
	return err
}

// copied are the rows of a template as those of a new project.
func (o Room) copied(ctx context.Context, a right.Actor, s *book.Snapshot, b *Beginning, start calendar.Date) ([]entry.Rows, error) {
	list, err := s.Templates(ctx)
	if err != nil {
		return nil, err
	}
	at := slices.IndexFunc(list, func(p *portfolio.Project) bool { return p.Code == b.Template })
	if at < 0 {
		return nil, &office.Misfit{Column: "template", Why: fmt.Sprintf("there is no template %q any more; choose another", b.Template)}
	}
	t := list[at]
	drawn, err := export.In(o.Office).Drawing(ctx, a, s, t)
	if err != nil {
		return nil, err
	}
	if c := cmp.Or(b.Currency, string(s.Office.Reporting)); c != string(t.Currency) && paid(drawn) {
		return nil, &office.Misfit{Column: "currency", Why: fmt.Sprintf("the template's money is in %s; begin the project in it, or from a template without money", t.Currency)}
	}
	m := mover{cal: s.Office.CalendarOf(b.Calendar), ps: s.Office.Periods, from: first(drawn), to: start}
	var out []entry.Rows
	for _, table := range []string{"activities", "steps", "links", "costs"} {
		var rows []entry.Row
		for _, was := range drawn[table] {
			row, err := m.row(table, was, t.Code, b.Code)
			if err != nil {
				return nil, err
			}
			if row != nil {
				rows = append(rows, row)
			}
		}
		if len(rows) > 0 {
			out = append(out, entry.Of(table, rows...))
		}
	}
	return out, nil
}

// paid tells whether a drawing has money.
func paid(drawn map[string][]map[string]string) bool {
	return len(drawn["costs"]) > 0 || slices.ContainsFunc(drawn["activities"], func(r map[string]string) bool { return r["budget"] != "" })
}

// dated are the columns of days that move with a project.
var dated = []string{"baseline_start", "baseline_finish", "start", "finish"}

// first is the first day of a drawing; zero where it has none.
func first(drawn map[string][]map[string]string) (out calendar.Date) {
	for _, r := range drawn["activities"] {
		for _, c := range dated {
			if d, err := calendar.ParseDate(r[c]); err == nil && (out == 0 || d < out) {
				out = d
			}
		}
	}
	return out
}

// last is the last day of a drawing; zero where it has none.
func last(drawn map[string][]map[string]string) (out calendar.Date) {
	for _, r := range drawn["activities"] {
		for _, c := range dated {
			if d, err := calendar.ParseDate(r[c]); err == nil {
				out = max(out, d)
			}
		}
	}
	return out
}

// mover moves the rows of a template to where a project starts.
type mover struct {
	cal      *calendar.Calendar
	ps       *calendar.Periods
	from, to calendar.Date // to is zero where nothing moves
}

// row is a row of a template as that of a project; nil for what is not taken over.
func (m *mover) row(table string, was map[string]string, template, project string) (entry.Row, error) {
	row := entry.Row{}
	for c, text := range was {
		if text != "" && text != "-" {
			row[c] = text
		}
	}
	row["project"] = project
	switch {
	case table == "activities" && row["baseline"] != "" && row["baseline"] != "1",
		table == "costs" && row["version"] != "1", table == "costs" && row["amount"] == "":
		return nil, nil
	}
	delete(row, "done") // of a step
	for _, c := range []string{"from", "to"} {
		if text, ok := strings.CutPrefix(row[c], template+"/"); ok {
			row[c] = text
		}
	}
	if m.to == 0 || m.from == 0 {
		return row, nil
	}
	for _, c := range dated {
		if d, err := calendar.ParseDate(row[c]); err == nil {
			row[c] = m.cal.Moved(d, m.from, m.to).String()
		}
	}
	if table == "costs" {
		p, err := m.ps.Parse(row["period"])
		if err != nil {
			return nil, err
		}
		if row["period"] = m.ps.Code(p + m.ps.Near(m.to) - m.ps.Near(m.from)); row["period"] == "" {
			return nil, &office.Misfit{Column: "start", Why: "the plan would reach beyond the periods that are drawn; draw more of them, or start earlier"}
		}
	}
	return row, nil
}
