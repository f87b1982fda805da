package entry

import (
	"fmt"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/store"
)

// KeyChange is a key that a gather would make or change, in words.
type KeyChange struct {
	Row int    `json:"row"`
	New bool   `json:"new"`
	Key string `json:"key"`
	Was string `json:"was,omitempty"`
	Is  string `json:"is"`
}

// mostChanges are told of one sheet.
const mostChanges = 100

// tell keeps a change of a sheet, while there is room.
func (r *Report) tell(file string, x KeyChange) {
	if r.changes != nil && len(r.changes[file]) < mostChanges {
		r.changes[file] = append(r.changes[file], x)
	}
}

// telling tells whether a change of a sheet would be kept.
func (r *Report) telling(file string) bool {
	return r.changes != nil && len(r.changes[file]) < mostChanges
}

// told keeps what becomes of a record or a row of a part.
func (p *plan) told(t *record.Kind, e *entry, of string) {
	if !p.report.telling(e.byFile) {
		return
	}
	var key, was, is []string
	if of != "" {
		key = append(key, of)
	}
	for i := range t.Columns {
		c := &t.Columns[i]
		write := func(f *portfolio.Field) string { return record.Format(c, f, p.reporting(), p.snap.Office.Periods) }
		after := write(&e.after.Fields[i])
		if c.Key {
			if after != "" {
				key = append(key, after)
			}
			continue
		}
		before := ""
		if e.before != nil {
			before = write(&e.before.Fields[i])
		}
		if before != after {
			if e.before != nil {
				was = append(was, c.Name+" "+orDash(before))
			}
			is = append(is, c.Name+" "+orDash(after))
		}
	}
	p.report.tell(
		e.byFile,
		KeyChange{
			Row: int(e.by.Row),
			New: e.before == nil,
			Key: strings.Join(key, " · "),
			Was: strings.Join(was, ", "),
			Is:  strings.Join(is, ", "),
		},
	)
}

func orDash(s string) string {
	if s == "" {
		return "—"
	}
	return s
}

// versionName says which statement of a part is meant.
func (p *plan) versionName(key portfolio.Part) string {
	switch {
	case key.Kind == portfolio.BaselinePart || key.Kind == portfolio.PlanPart:
		return fmt.Sprintf(" baseline %d", key.Version)
	case key.Kind.Dated() && key.Version != 0:
		return " " + p.periodCode(key.Version)
	}
	return ""
}

// toldCell keeps what becomes of an amount.
func (p *plan) toldCell(key portfolio.Part, l *lineState, c *cellState) {
	file := p.fileName(c.file)
	if !p.report.telling(file) {
		return
	}
	write := func(x cell, has bool) string {
		if !has {
			return "—"
		}
		return money.Format(x.amount, x.currency) + " " + string(x.currency)
	}
	x := KeyChange{
		New: !c.had,
		Key: strings.Join(
			[]string{
				p.projectCode(key.Project),
				l.codeText,
				key.Kind.String() + p.versionName(key),
				p.snap.Office.Periods.Code(c.period),
			},
			" · ",
		),
		Is: write(c.is, c.has),
	}
	if c.had {
		x.Was = write(c.before(), true)
	}
	x.Row = int(c.row)
	p.report.tell(file, x)
}

// toldPosting keeps what becomes of a posting.
func (p *plan) toldPosting(n *store.Posting) {
	file := p.fileName(n.Source.File)
	if !p.report.telling(file) {
		return
	}
	write := func(x *store.Posting) string {
		return fmt.Sprintf(
			"%s %s in %s",
			money.Format(x.Amount, x.Currency),
			x.Currency,
			p.snap.Office.Periods.Code(calendar.Period(x.Period)),
		)
	}
	x := KeyChange{
		Row: int(n.Source.Row),
		New: n.Was == nil,
		Key: n.Code + " · " + p.projectCode(n.Project),
		Is:  write(n),
	}
	if n.Was != nil {
		x.Was = write(n.Was)
	}
	p.report.tell(file, x)
}
