package stating

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/right"
	"turret/internal/store"
)

// May tells whether an actor may state a kind for a project in a moment's period.
func May(a right.Actor, m *office.Moment, project string, kind portfolio.PartKind) bool {
	p := m.Snapshot().Project(project)
	return p != nil && right.CheckState(a, p.ID, (&Section{Name: kind.String(), Kind: kind}).right(), int(m.Asked.Number)) == nil
}

// subject is a section that an actor may state, for a moment's period.
func (o Room) subject(a right.Actor, m *office.Moment, project, name string) (*subject, error) {
	section := sectionNamed(name)
	if section == nil {
		return nil, office.Refusef("There is no part %q of a statement.", name)
	}
	if m.Empty {
		return nil, office.Refusef("There are no periods yet, so nothing can be stated.")
	}
	p := m.Snapshot().Project(project)
	if p == nil {
		return nil, office.Refusef("There is no project %q.", project)
	}
	if err := right.CheckState(a, p.ID, section.right(), int(m.Asked.Number)); err != nil {
		return nil, err
	}
	return o.subjectOn(m.Snapshot(), p, m.Asked.Number, section), nil
}

func (o Room) subjectOn(s *book.Snapshot, p *portfolio.Project, at calendar.Period, section *Section) *subject {
	return &subject{
		Section: section, snap: s, project: p, at: at,
		stated: statedFor(s, p.ID, section.Kind, at), today: calendar.DateIn(o.Clock()),
	}
}

// laid is a section as subject gives it, with its grid, on which nothing is typed.
func (o Room) laid(ctx context.Context, a right.Actor, m *office.Moment, project, section string) (*subject, *Grid, error) {
	s, err := o.subject(a, m, project, section)
	if err != nil {
		return nil, nil, err
	}
	g, err := s.lay(ctx, s)
	return s, g, err
}

// statedFor tells whether something of a kind was stated for a period.
func statedFor(s *book.Snapshot, project int64, kind portfolio.PartKind, at calendar.Period) bool {
	return lastStated(s.Stated[project], kind, at) == at
}

// lastStated gives the last period up to one that something of a kind was stated for.
func lastStated(list []store.Stated, kind portfolio.PartKind, at calendar.Period) (last calendar.Period) {
	for _, x := range list {
		if v := calendar.Period(x.Version); x.Kind == kind && v <= at {
			last = max(last, v)
		}
	}
	return last
}

// Open tells why nothing can be stated of a project, or, with "", of any, for a moment's
// period by an actor; nil where it can.
func Open(a right.Actor, m *office.Moment, project string) error {
	p := m.Snapshot().Project(project)
	switch {
	case m.Asked.Closed:
		return office.Refusef("%s is closed: what was stated for it stays as it is. State the next period.", m.Asked.Name)
	case m.Asked.Checking() && !right.May(a, right.State) && (p == nil || !m.Snapshot().LetIn(p.ID, m.Asked.Number)):
		return office.Refusef("%s is in checking, so leads state no more for it. What you typed is kept; tell an analyst of the office what is missing.", m.Asked.Name)
	}
	return nil
}

// Sheet is a section as its writer sees it.
type Sheet struct {
	*Section
	Project, Name string
	Currency      string
	Grid          *Grid
	Since         time.Time // when its draft was begun; zero: there is none
	Stated        bool      // something of the kind was stated for the period
	Owed          bool
	Due           calendar.Date

	By     string // who stated it for the period, and when; "" where nobody did
	At     time.Time
	Batch  int64
	Repeat bool // as it was before

	typed map[string]Typed
}

// Sheet reads a section of a project, with what the actor has typed of it.
func (o Room) Sheet(ctx context.Context, a right.Actor, m *office.Moment, project, section string) (*Sheet, error) {
	s, err := o.subject(a, m, project, section)
	if err != nil {
		return nil, err
	}
	return o.sheet(ctx, a, s)
}

func (o Room) sheet(ctx context.Context, a right.Actor, s *subject) (*Sheet, error) {
	g, err := s.lay(ctx, s)
	if err != nil {
		return nil, err
	}
	typed, since, err := o.draft(ctx, a, s)
	if err != nil {
		return nil, err
	}
	g.take(typed)
	if s.Kind == portfolio.ProgressPart {
		inOrder(g, "start", "finish")
		inOrder(g, "actual_start", "actual_finish")
	}
	out := &Sheet{
		Section: s.Section, Project: s.project.Code, Name: s.project.Name, Currency: string(s.project.Currency), Grid: g,
		Since: since, Stated: s.stated, Owed: s.snap.Office.Owes(s.project, s.Kind, s.at), Due: s.snap.Office.DueOn(s.Name, s.at), typed: typed,
	}
	return out, o.by(ctx, s, out)
}

// by tells who stated what holds of a section for the period.
func (o Room) by(ctx context.Context, s *subject, out *Sheet) error {
	for _, x := range s.snap.Stated[s.project.ID] {
		if x.Kind == s.Kind && calendar.Period(x.Version) == s.at {
			out.Batch = x.Batch
		}
	}
	if out.Batch == 0 {
		return nil
	}
	named, err := o.Store().BatchesNamed(ctx, []int64{out.Batch})
	if b, ok := named[out.Batch]; ok {
		out.By, out.At, out.Repeat = b.Actor, time.UnixMilli(b.At).UTC(), b.Origin == office.Confirmed
	}
	return err
}

// Summary is what a project's statement would be if it were sent: its sections, and
// what they would do.
type Summary struct {
	Sheets []*Sheet      // those that the actor may state
	Effect *entry.Effect // of sending all; nil where nothing would change
	Wrong  int           // cells that cannot be taken
	Why    string        // why it cannot be sent though no cell is wrong, or ""
}

// Changes counts the cells that sending would change.
func (s *Summary) Changes() (n int) {
	for _, x := range s.Sheets {
		n += x.Grid.Changes()
	}
	return n
}

// Clashing counts the cells that someone else stated otherwise meanwhile.
func (s *Summary) Clashing() (n int) {
	for _, x := range s.Sheets {
		n += x.Grid.Clashing()
	}
	return n
}

// Summary reads what a project's statement would be, and what it would do.
func (o Room) Summary(ctx context.Context, a right.Actor, m *office.Moment, project string) (*Summary, error) {
	out := &Summary{}
	for i := range walked {
		if !May(a, m, project, walked[i].Kind) {
			continue
		}
		x, err := o.Sheet(ctx, a, m, project, walked[i].Name)
		if err != nil {
			return nil, err
		}
		if x.Kind == portfolio.StepPart && len(x.Grid.Rows) == 0 {
			continue // it has none
		}
		out.Sheets = append(out.Sheets, x)
	}
	if len(out.Sheets) == 0 {
		_, err := o.subject(a, m, project, Sections[0].Name)
		return nil, err
	}
	if out.Changes() == 0 {
		return out, nil
	}
	for _, x := range out.Sheets {
		out.Wrong += x.Grid.wrongs()
	}
	form := o.form(a, m, project, nil)
	form.Dry = true
	form.Wrong = func(table string, row int, column, why string) { o.mark(out, m, project, table, row, column, why) }
	r, err := entry.In(o.Office).Enter(ctx, a, form)
	if err != nil {
		if out.Wrong == 0 && !errors.Is(err, office.ErrRefused) {
			return nil, err
		}
		if out.Wrong == 0 {
			out.Why = err.Error()
		}
		return out, nil
	}
	for i := range r.Effects {
		if r.Effects[i].Code == project && out.Wrong == 0 {
			out.Effect = &r.Effects[i]
		}
	}
	return out, nil
}

// mark puts a refusal at the cell that it is about.
func (o Room) mark(s *Summary, m *office.Moment, project, table string, row int, column, why string) {
	p := m.Snapshot().Project(project)
	for _, x := range s.Sheets {
		if x.Table != table {
			continue
		}
		sub := o.subjectOn(m.Snapshot(), p, m.Asked.Number, x.Section)
		rows := x.rows(sub, x.Grid)
		if row >= len(rows) {
			row -= len(rows) // of the next section of the table
			continue
		}
		if column == "amount" {
			column = rows[row]["period"]
		}
		x.Grid.each(func(r *Row, j int, c *Cell) {
			if x.Grid.Columns[j].Name == column && c.Changed() && sameKeys(r.keys, rows[row]) {
				if c.Wrong == "" {
					s.Wrong++
				}
				c.Wrong = why
			}
		})
		return
	}
}

func sameKeys(keys, row map[string]string) bool {
	for name, text := range keys {
		if row[name] != text {
			return false
		}
	}
	return true
}

// sent is what of drafts a statement is made of, by section and field.
type sent map[string]map[string]Typed

// form is what an actor's drafts of a project would state, of all sections or some. It tells
// what it took.
func (o Room) form(a right.Actor, m *office.Moment, project string, took *sent, only ...string) *entry.Form {
	f := &entry.Form{Origin: office.Stated, Note: fmt.Sprintf("%s for %s", project, m.Asked.Name), Takes: right.State}
	f.Rows = func(ctx context.Context, s *book.Snapshot) ([]entry.Rows, error) {
		rows, from, wrong, err := o.rowsOn(ctx, a, s, m.Asked.Number, project, only)
		if took != nil {
			*took = from
		}
		if err == nil && wrong != "" && !f.Dry { // else all that is wrong is told
			err = office.Refusef("%s.", wrong)
		}
		return rows, err
	}
	return f
}

// rowsOn makes the rows of drafts on the snapshot that they are planned on. What someone
// else stated otherwise since it was typed is a *Conflict: it is chosen first. Wrong says
// what of it cannot be true together, or "".
func (o Room) rowsOn(
	ctx context.Context, a right.Actor, s *book.Snapshot, at calendar.Period, project string, only []string,
) (rows []entry.Rows, took sent, wrong string, err error) {
	p := s.Project(project)
	if p == nil {
		return nil, nil, "", office.Refusef("There is no project %q any more.", project)
	}
	var t tables
	took = make(sent)
	for i := range walked {
		section := &walked[i]
		if right.CheckState(a, p.ID, section.right(), int(at)) != nil || len(only) > 0 && !slices.Contains(only, section.Name) {
			continue
		}
		sub := o.subjectOn(s, p, at, section)
		x, err := o.sheet(ctx, a, sub)
		if err != nil {
			return nil, nil, "", err
		}
		if x.Grid.Changes() == 0 {
			continue
		}
		if n := x.Grid.Clashing(); n > 0 {
			return nil, nil, "", &office.Conflict{Text: clash(x), More: n - 1}
		}
		if why := x.Grid.wrong(); why != "" && wrong == "" {
			wrong = x.Title + ", " + why
		}
		t.add(section.Table, section.rows(sub, x.Grid))
		took[section.Name] = x.typed
	}
	return t.rows(), took, wrong, nil
}

// tables collects rows by table, in the order in which the tables first come.
type tables struct {
	by    map[string][]entry.Row
	order []string
}

func (t *tables) add(table string, rows []map[string]string) {
	if len(rows) == 0 {
		return
	}
	if t.by == nil {
		t.by = make(map[string][]entry.Row)
	}
	if t.by[table] == nil {
		t.order = append(t.order, table)
	}
	for _, r := range rows {
		t.by[table] = append(t.by[table], entry.Row(r))
	}
}

func (t *tables) rows() (out []entry.Rows) {
	for _, name := range t.order {
		out = append(out, entry.Of(name, t.by[name]...))
	}
	return out
}

// clash says which cell someone else stated otherwise.
func clash(x *Sheet) (text string) {
	show := func(s string) string {
		if s == "" {
			return "nothing"
		}
		return "“" + s + "”"
	}
	x.Grid.each(func(r *Row, j int, c *Cell) {
		if c.Clashes() && text == "" {
			text = fmt.Sprintf(
				"%s, %s, %s: it was %s when you typed %s, and someone else has stated %s since. Choose which holds; nothing was sent.",
				x.Title, strings.TrimSpace(r.Code+" "+r.Title), x.Grid.Columns[j].Title, show(c.Typed.Was), show(c.Typed.Text), show(c.Is),
			)
		}
	})
	return text
}

// Send states what an actor has typed of a project, of all sections or some, in one batch, and
// gives the batch.
// What was sent is no draft any more; what was typed meanwhile still is.
func (o Room) Send(ctx context.Context, a right.Actor, m *office.Moment, project string, only ...string) (int64, error) {
	if err := Open(a, m, project); err != nil {
		return 0, err
	}
	var took sent
	r, err := entry.In(o.Office).Enter(ctx, a, o.form(a, m, project, &took, only...))
	if err != nil {
		return 0, err
	}
	if p := m.Snapshot().Project(project); p != nil && len(took) > 0 {
		if err := o.Store().Spend(ctx, a.Account, p.ID, int64(m.Asked.Number), o.Now()); err != nil {
			return r.Revision, err
		}
	}
	for name, typed := range took {
		s, err := o.subject(a, m, project, name)
		if err != nil {
			return r.Revision, err
		}
		err = o.change(ctx, a, s, func(kept map[string]Typed) error {
			maps.DeleteFunc(kept, func(field string, t Typed) bool { return typed[field] == t })
			return nil
		})
		if err != nil {
			return r.Revision, err
		}
	}
	if !r.Written {
		return 0, office.Refusef("Nothing was typed that differs from what is stated, so nothing was sent.")
	}
	return r.Revision, nil
}

// Confirm says that what a project stated last still holds: of some sections, or, with
// none named, of all that are owed for the moment's period and not stated. It is a
// statement of its own.
func (o Room) Confirm(ctx context.Context, a right.Actor, m *office.Moment, project string, only ...string) error {
	if err := Open(a, m, project); err != nil {
		return err
	}
	at := m.Asked.Number
	rows := func(ctx context.Context, s *book.Snapshot) ([]entry.Rows, error) {
		var t tables
		p := s.Project(project)
		for i := range Sections {
			section := &Sections[i]
			named := slices.Contains(only, section.Name)
			if p == nil || statedFor(s, p.ID, section.Kind, at) || !named && (len(only) > 0 || !s.Office.Owes(p, section.Kind, at)) {
				continue
			}
			if err := right.CheckState(a, p.ID, section.Name, int(at)); err != nil {
				if named {
					return nil, err
				}
				continue
			}
			sub := o.subjectOn(s, p, at, section)
			g, err := section.lay(ctx, sub)
			if err != nil {
				return nil, err
			}
			t.add(section.Table, repeated(sub, g))
		}
		if len(t.order) == 0 {
			return nil, office.Refusef("There is nothing to confirm for %s: it was stated for %s, or never before.", project, m.Asked.Name)
		}
		return t.rows(), nil
	}
	_, err := entry.In(o.Office).Enter(ctx, a, &entry.Form{
		Origin: office.Confirmed, Note: fmt.Sprintf("%s for %s: nothing has changed", project, m.Asked.Name), Takes: right.State, Rows: rows,
	})
	return err
}

// repeated are the rows that say of a section what was said last, once more: all
// amounts, and of other kinds what is not folded.
func repeated(s *subject, g *Grid) (out []map[string]string) {
	if s.Table == "costs" {
		return amountRows(s, g)
	}
	for i := range g.Rows {
		r := &g.Rows[i]
		row := map[string]string{"project": s.project.Code, "period": s.snap.Office.Periods.Code(s.at)}
		said := false
		for j := range r.Cells {
			text := r.Cells[j].Is
			if s.Kind == portfolio.NarrativePart {
				text = r.Cells[j].Last
			}
			if text != "" {
				row[g.Columns[j].Name], said = text, true
			}
		}
		if said && !r.Folded {
			for name, text := range r.keys {
				row[name] = text
			}
			out = append(out, row)
		}
	}
	return out
}
