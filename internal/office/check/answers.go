package check

import (
	"cmp"
	"context"
	"fmt"
	"strings"

	"turret/internal/book"
	"turret/internal/change"
	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/history"
	"turret/internal/record"
	"turret/internal/right"
	"turret/internal/tell"
)

// What can be said about findings.
const (
	Accept   = "accepted"
	SendBack = "sent back"
	Withdraw = "withdrawn"
)

// Answer says something about findings of a moment: accepted with a reason
// until a period, sent back with a question, or withdrawn. Those that are gone
// meanwhile are left out, and how many were answered is told. Seen is the revision
// that the page showed: where others answered one of them since, none is.
func (o Room) Answer(
	ctx context.Context,
	a right.Actor,
	m *office.Moment,
	seen int64,
	keys []office.FindingKey,
	answer, until, reason string,
) (n int, err error) {
	if err := right.Check(a, right.Answer); err != nil {
		return 0, err
	}
	if len(keys) == 0 {
		return 0, office.Refusef("Choose the findings first.")
	}
	var rows []entry.Row
	for _, k := range keys {
		f := m.Finding(k)
		if f == nil {
			continue
		}
		r := entry.Row{
			"project":    k.Project,
			"check":      k.Check,
			"record":     k.Record,
			"from":       m.Period.Code,
			"answer":     answer,
			"reason":     reason,
			"resting_on": f.Values,
			"by":         a.Name,
		}
		switch answer {
		case Accept:
			r["until"] = until
		case SendBack:
			r["until"] = "-"
		case Withdraw:
			r["until"], r["reason"] = "-", "-"
		}
		rows = append(rows, r)
	}
	if len(rows) == 0 {
		return 0, office.Refusef("These findings are gone meanwhile: the data have changed.")
	}
	_, err = entry.In(o.Office).
		Enter(ctx, a, &entry.Form{Origin: office.Answered, Note: answer + " " + tell.Plural(len(rows), "finding", "findings"), Seen: seen, Rows: func(_ context.Context, s *book.Snapshot) ([]entry.Rows, error) {
			if s.Closed[m.Period.Number] {
				return nil, office.Refusef("%s is closed, so its findings stay as they were answered.", m.Period.Name)
			}
			return []entry.Rows{entry.Of("answers", rows...)}, nil
		}})
	return len(rows), err
}

// LeaveOut turns a check off for a project from a moment's period on, with a
// reason; until is a period, or "" for no end.
func (o Room) LeaveOut(
	ctx context.Context,
	a right.Actor,
	m *office.Moment,
	seen int64,
	project, check, until, reason string,
) error {
	if err := right.Check(a, right.Rule); err != nil {
		return err
	}
	row := entry.Row{"project": project, "check": check, "from": m.Period.Code, "until": until, "reason": reason}
	_, err := entry.In(o.Office).
		Enter(ctx, a, &entry.Form{Origin: office.Ruled, Note: "check " + check + " off for " + project, Seen: seen, Rows: entry.These(entry.Of("checks_off", row))})
	return err
}

// Mendable is a cell that mends a finding: its column, and what stands there
// now, in canonical form.
type Mendable struct {
	Column, About, Value string
	Domain               []string // of a choice
}

// Mendable gives the cells at which a finding is mended; none where it is not
// mended by a row, or the period is closed.
func (o Room) Mendable(ctx context.Context, a right.Actor, m *office.Moment, f *office.Finding) ([]Mendable, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	t := record.Named(f.Place.Table)
	if t == nil || m.Period.Closed {
		return nil, nil
	}
	values, err := o.standing(ctx, m, f)
	if err != nil {
		return nil, err
	}
	var out []Mendable
	for _, c := range f.Place.Columns {
		col := &t.Columns[t.Index(c)]
		out = append(out, Mendable{Column: c, About: col.About, Value: values[c], Domain: col.Domain})
	}
	return out, nil
}

// standing reads what stands at the place of a finding.
func (o Room) standing(ctx context.Context, m *office.Moment, f *office.Finding) (map[string]string, error) {
	key := make(map[string]string)
	for _, c := range f.Place.Key {
		key[c.Column] = c.Text
	}
	if f.Place.Table == "postings" {
		p, err := o.Store().PostingOf(ctx, key["posting"])
		if err != nil || p == nil {
			return nil, err
		}
		return map[string]string{"amount": money.Format(p.Amount, p.Currency)}, nil
	}
	out := make(map[string]string)
	_, err := m.Snapshot().Examine(ctx, f.Project, m.Period.Number, portfolio.Latest, false, func(e *figure.Eval) {
		p := e.Subject.(*figure.Project)
		switch f.Place.Table {
		case "progress", "activities":
			for i := range p.Activities {
				if p.Activities[i].Code == key["activity"] {
					lastSaid(out, p, i)
				}
			}
		case "costs":
			out["amount"] = lineAmount(p, key)
		case "risks":
			for _, x := range figure.RisksInForce(p.View) {
				if x.Code == key["risk"] {
					out["likelihood"], out["impact"], out["owner"], out["state"], out["response"] = counted(
						x.Likelihood,
					), counted(
						x.Impact,
					), x.Owner, x.State, x.Response
				}
			}
		}
	})
	return out, err
}

func counted(n int64) string {
	if n == 0 {
		return ""
	}
	return money.FormatScaled(n, 0)
}

// lastSaid gives what was last said of an activity, and what its baseline says.
func lastSaid(out map[string]string, p *figure.Project, i int) {
	s := p.Status(i, p.Period)
	for column, d := range map[string]calendar.Date{"start": s.Start, "finish": s.Finish, "actual_start": s.Began, "actual_finish": s.Done} {
		out[column] = d.String()
	}
	for column, n := range map[string]int64{"percent": s.Percent, "units_done": s.Units} {
		if n >= 0 {
			out[column] = figure.TrimDecimals(money.FormatScaled(n, portfolio.QuantityScale))
		}
	}
	if b := p.Row(i); b != nil {
		out["baseline_start"], out["baseline_finish"] = b.Start.String(), b.Finish.String()
		if b.HasBudget {
			out["budget"] = money.Format(b.Budget, p.Project.Currency)
		}
	}
}

// lineAmount finds the amount of one cell of a total or a forecast.
func lineAmount(p *figure.Project, key map[string]string) string {
	lines := p.Actual
	if key["kind"] == "forecast" {
		lines = nil
		if v := p.Forecast; v != nil && p.Office.Periods.Code(calendar.Period(v.Number)) == key["version"] {
			lines = v.Lines
		}
	}
	for i := range lines {
		l := &lines[i]
		if l.Code != key["cost_code"] || l.Class != key["class"] || l.Centre != key["cost_centre"] ||
			l.Activity != key["activity"] {
			continue
		}
		for _, c := range l.Cells {
			if p.Office.Periods.Code(c.Period) == key["period"] {
				return money.Format(c.Amount, l.Currency)
			}
		}
	}
	return ""
}

// Correct mends a finding at its cells, in one batch: cells in canonical form
// by column; those that stay as they were seen, or as they are where seen does
// not tell, are left out. Where another changed one of the others meanwhile it
// is refused, with what it is now. With dry it tells what that would do, and
// writes nothing.
func (o Room) Correct(
	ctx context.Context,
	a right.Actor,
	m *office.Moment,
	k office.FindingKey,
	cells, seen map[string]string,
	dry bool,
) (*entry.Report, error) {
	if err := right.Check(a, right.Gather); err != nil {
		return nil, err
	}
	f := m.Finding(k)
	if f == nil {
		return nil, office.Refusef("This finding is gone meanwhile: the data have changed.")
	}
	note := "finding corrected: " + f.Title + ", " + strings.TrimSpace(k.Project+" "+f.Record)
	return entry.In(o.Office).
		Enter(ctx, a, &entry.Form{Origin: office.Corrected, Note: note, Dry: dry, Seen: change.Unseen, Rows: func(ctx context.Context, s *book.Snapshot) ([]entry.Rows, error) {
			now := m.On(s) // the cells as they are where the change is planned
			if now.Period.Closed = s.Closed[m.Period.Number]; now.Period.Closed {
				return nil, office.Refusef(
					"%s is closed; reopen it with a reason, or mend it in an open period.",
					m.Period.Name,
				)
			}
			row, err := o.mended(ctx, a, now, f, k, cells, seen)
			return []entry.Rows{entry.Of(f.Place.Table, row)}, err
		}})
}

// mended is the row that mends a finding: what is changed of its cells.
func (o Room) mended(
	ctx context.Context,
	a right.Actor,
	m *office.Moment,
	f *office.Finding,
	k office.FindingKey,
	cells, seen map[string]string,
) (entry.Row, error) {
	mendable, err := o.Mendable(ctx, a, m, f)
	if err != nil {
		return nil, err
	}
	row := entry.Row{"project": k.Project}
	for _, c := range f.Place.Key {
		if c.Text != "" {
			row[c.Column] = c.Text
		}
	}
	changed := 0
	for _, c := range mendable {
		text, there := cells[c.Column]
		text = strings.TrimSpace(text)
		was, told := seen[c.Column]
		if !told {
			was = c.Value
		}
		if !there || text == was || text == c.Value {
			continue
		}
		if was != c.Value {
			return nil, o.outdone(ctx, m, f, c, text)
		}
		if text == "" {
			text = "-"
		}
		row[c.Column] = text
		changed++
	}
	if changed == 0 {
		return nil, office.Refusef("Nothing is changed yet: put the right value into one of the cells.")
	}
	return row, nil
}

// outdone refuses a cell that another changed since it was shown.
func (o Room) outdone(ctx context.Context, m *office.Moment, f *office.Finding, c Mendable, text string) error {
	h, err := history.In(o.Office).
		History(ctx, right.Actor{Role: right.Analyst}, m, history.Ask{Project: f.Project, Table: f.Place.Table})
	if err != nil {
		return err
	}
	by := "someone"
	if len(h.Batches) > 0 {
		by = fmt.Sprintf("%s (%s UTC)", h.Batches[0].Actor, h.Batches[0].At.Format("2 Jan 2006 15:04"))
	}
	word := func(s string) string { return cmp.Or(s, "nothing") }
	return &office.Conflict{
		Text: fmt.Sprintf(
			"%s was changed meanwhile by %s: it says %s now. Yours, %s, is still in the form: go on with it to put it in place of that, or put theirs.",
			tell.Capital(strings.ReplaceAll(c.Column, "_", " ")),
			by,
			word(c.Value),
			word(text),
		),
	}
}
