package amounts

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"

	"turret/internal/book"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/record"
	"turret/internal/right"
)

// Sending is what sending a draft would do.
type Sending struct {
	Changes, Clashes int
	Wrong            int    // cells that cannot be taken
	Why              string // why it cannot be sent though no cell is wrong, or ""
	Effect           *entry.Effect
	Bridge           []Moved // lines that sending moves, those that it moves most first
}

// Moved is a line with what it came to and what it would come to, over the cells that can be
// typed, in minor units of its currency.
type Moved struct {
	Title    string
	Currency money.Currency
	Was, Is  int64
}

// bridge lists the lines that a draft moves.
func (t *Table) bridge() (out []Moved) {
	for i := range t.Lines {
		l := &t.Lines[i]
		x := Moved{Title: l.Title(), Currency: l.currency}
		for j, n := range l.amountsOf() {
			if c := &l.Cells[j]; !c.Locked {
				x.Is += n
				was, _ := money.Parse(cmp.Or(c.Is, "0"), l.currency) // it holds, so it can be read
				x.Was += was
			}
		}
		if x.Was != x.Is {
			out = append(out, x)
		}
	}
	slices.SortStableFunc(out, func(a, b Moved) int {
		size := func(x Moved) int64 { return max(x.Is-x.Was, x.Was-x.Is) }
		return cmp.Compare(size(b), size(a))
	})
	return out
}

// Sending tells what sending would do; refusals stand at their cells of the table.
func (o Room) Sending(ctx context.Context, a right.Actor, m *office.Moment, t *Table) (*Sending, error) {
	out := &Sending{}
	out.Changes, out.Wrong, out.Clashes = t.Changes()
	out.Bridge = t.bridge()
	if out.Changes == 0 || out.Wrong > 0 || out.Clashes > 0 || t.Shut != "" {
		return out, nil
	}
	f := o.form(a, m, t.Project, t.Kind.Name, nil)
	f.Dry = true
	var rows []entry.Row
	_, rows = t.rows()
	f.Wrong = func(_ string, row int, _, why string) {
		if row >= len(rows) {
			return
		}
		r := rows[row]
		if _, c := t.Cell(fieldOf(lineKey(r["cost_code"], r["flow"], r["class"], r["cost_centre"], r["activity"], r["currency"]), r["period"])); c != nil {
			c.Wrong = why
			out.Wrong++
		}
	}
	r, err := entry.In(o.Office).Enter(ctx, a, f)
	if err != nil {
		if out.Wrong == 0 {
			out.Why = err.Error()
		}
		return out, nil
	}
	for i := range r.Effects {
		if r.Effects[i].Code == t.Project {
			out.Effect = &r.Effects[i]
		}
	}
	return out, nil
}

// Send states what an actor has typed of a kind of a project, in one batch, and gives it. What
// was sent is no draft any more; what was typed meanwhile still is.
func (o Room) Send(ctx context.Context, a right.Actor, m *office.Moment, project, kind string) (int64, error) {
	t, err := o.Table(ctx, a, m, project, kind, "")
	if err != nil {
		return 0, err
	}
	if t.Shut != "" {
		return 0, office.Refusef("%s", t.Shut)
	}
	var sent map[string]Typed
	r, err := entry.In(o.Office).Enter(ctx, a, o.form(a, m, project, kind, &sent))
	if err != nil {
		return 0, err
	}
	if err := o.forget(ctx, a, t.subject, sent); err != nil {
		return r.Revision, err
	}
	if !r.Written {
		return 0, office.Refusef("Nothing was typed that differs from what is there, so nothing was sent.")
	}
	return r.Revision, nil
}

// form is what a draft would state, made on the snapshot that it is planned on: what someone
// else made another since it was typed is a conflict, and a baseline that was decided
// meanwhile is told.
func (o Room) form(a right.Actor, m *office.Moment, project, kind string, sent *map[string]Typed) *entry.Form {
	k := KindNamed(kind)
	f := &entry.Form{Origin: office.Stated, Note: fmt.Sprintf("%s of %s for %s", strings.ToLower(k.Title), project, m.Asked.Name), Takes: right.State}
	if k.Part == portfolio.PlanPart {
		f.Origin, f.Takes, f.Note = office.Planned, right.Found, "plan of "+project
	}
	if k.Part == portfolio.AccrualPart || k.Part == portfolio.ActualPart {
		f.Takes = right.Gather
	}
	f.Rows = func(ctx context.Context, s *book.Snapshot) ([]entry.Rows, error) {
		sub, err := o.subject(ctx, a, s, o.at(m), project, kind)
		if err != nil {
			return nil, err
		}
		t, err := o.table(ctx, a, sub, "")
		if err != nil {
			return nil, err
		}
		if t.Shut != "" {
			return nil, office.Refusef("%s", t.Shut)
		}
		if err := t.ready(); err != nil {
			return nil, err
		}
		fields, rows := t.rows()
		if sent != nil {
			*sent = fields
		}
		if len(rows) == 0 {
			return nil, nil
		}
		return []entry.Rows{entry.Of("costs", rows...)}, nil
	}
	return f
}

// ready refuses a draft that cannot be sent, with the cell.
func (t *Table) ready() error {
	var conflict *office.Conflict
	wrong := ""
	t.each(func(l *Line, j int, c *Cell) {
		switch {
		case c.Clashes() && conflict == nil:
			conflict = &office.Conflict{Text: fmt.Sprintf(
				"%s, %s: it was %s when you typed %s, and someone else has made it %s since. Choose which holds; nothing was sent.",
				l.Title(), t.Columns[j].Name, quoted(c.Typed.Was), quoted(c.Typed.Text), quoted(c.Is),
			)}
		case c.Clashes():
			conflict.More++
		case c.Wrong != "" && wrong == "":
			wrong = fmt.Sprintf("%s, %s: %s", l.Title(), t.Columns[j].Name, c.Wrong)
		}
	})
	switch {
	case conflict != nil:
		return conflict
	case wrong != "":
		return office.Refusef("%s. Nothing was sent.", wrong)
	}
	return nil
}

func quoted(text string) string {
	if text == "" {
		return "nothing"
	}
	return "“" + text + "”"
}

// rows are the amounts that are sent, and the fields of the draft that they come from. Of a
// statement by period that is not there yet, the first one is the whole of it, since lines
// that it does not name are none.
func (t *Table) rows() (fields map[string]Typed, rows []entry.Row) {
	fields = maps.Clone(t.typed)
	whole := (t.subject.Part == portfolio.ForecastPart || t.subject.Part == portfolio.CommitmentPart) && !t.Stated
	if changes, _, _ := t.Changes(); changes == 0 && !t.noteChanges() {
		whole = false
	}
	t.each(func(l *Line, j int, c *Cell) {
		note, notes := t.typed[c.Name+noted]
		if c.Locked || !c.Changed() && !notes && !(whole && c.Is != "") {
			return
		}
		text := c.Value()
		if text == "" && !c.Changed() {
			return
		}
		row := entry.Row{
			"project": t.Project, "kind": t.Kind.Name, "version": t.version, "period": t.Columns[j].Code, "amount": record.OrClear(text),
			"cost_code": l.Code, "flow": l.Flow, "class": l.Class, "cost_centre": l.Centre, "activity": l.Activity, "currency": l.Money,
		}
		if whole && text == "" {
			row["amount"] = "0"
		}
		if notes {
			row["note"] = record.OrClear(note.Text)
		}
		rows = append(rows, row)
	})
	for _, x := range t.Beyond {
		if !whole {
			break
		}
		l := t.line(x.line)
		rows = append(rows, entry.Row{
			"project": t.Project, "kind": t.Kind.Name, "version": t.version, "period": t.periods.Code(x.period), "amount": money.Format(x.amount, l.currency),
			"cost_code": l.Code, "flow": l.Flow, "class": l.Class, "cost_centre": l.Centre, "activity": l.Activity, "currency": l.Money,
		})
	}
	slices.SortStableFunc(rows, func(a, b entry.Row) int {
		return cmp.Or(cmp.Compare(a["cost_code"], b["cost_code"]), cmp.Compare(a["period"], b["period"]))
	})
	return fields, rows
}

func (t *Table) noteChanges() bool {
	for name := range t.typed {
		if strings.HasSuffix(name, noted) {
			return true
		}
	}
	return false
}

// Note keeps what is to be said beside a cell.
func (o Room) Note(ctx context.Context, a right.Actor, m *office.Moment, project, kind, field, text string) error {
	t, err := o.Table(ctx, a, m, project, kind, "")
	if err != nil {
		return err
	}
	_, c := t.Cell(field)
	switch {
	case c == nil || c.Locked:
		return office.Refusef("There is no cell that a note could be kept beside; choose one that can be typed in.")
	case c.Value() == "":
		return office.Refusef("A note stands beside an amount; type one first, if only 0.")
	case len(text) > longestText:
		return office.Refusef("The note is longer than %d characters; shorten it.", longestText)
	}
	was := c.Note
	if x, ok := t.typed[field+noted]; ok {
		was = x.Was
	}
	return o.change(ctx, a, t.subject, func(kept map[string]Typed) error {
		put(kept, field+noted, Typed{Was: was, Text: text})
		return nil
	})
}
