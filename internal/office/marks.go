package office

import (
	"context"
	"fmt"
	"slices"
	"time"

	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/right"
	"turret/internal/store"
)

// Tables that a form changes, by what the form is about.
var (
	ruleTables    = []string{"rules", "dimensions", "policies", "checks"}
	calendarForms = []string{"boundaries", "settings", "due_days", "calendars"}
)

// RuleMark marks the rules and checks as they are now, for RulesMoved.
func (o *Office) RuleMark(ctx context.Context, a right.Actor) (int64, error) {
	return o.mark(ctx, a, ruleTables...)
}

// CalendarMark marks the periods and calendars as they are now: a change of them
// that was made on an older view is refused.
func (o *Office) CalendarMark(ctx context.Context, a right.Actor) (int64, error) {
	return o.mark(ctx, a, calendarForms...)
}

// RulesMoved refuses where someone changed rules or checks since a mark, and
// says who.
func (o *Office) RulesMoved(ctx context.Context, a right.Actor, mark int64) error {
	return o.unmoved(ctx, a, mark, "rules or checks", ruleTables...)
}

// mark gives the last batch that changed one of some tables of records.
func (o *Office) mark(ctx context.Context, a right.Actor, tables ...string) (int64, error) {
	b, err := o.lastOf(ctx, a, tables...)
	if err != nil || b == nil {
		return 0, err
	}
	return b.ID, nil
}

// unmoved refuses where someone changed one of some tables since a mark, and
// says who. What it is that changed is told in words.
func (o *Office) unmoved(ctx context.Context, a right.Actor, mark int64, what string, tables ...string) error {
	b, err := o.lastOf(ctx, a, tables...)
	if err != nil || b == nil || b.ID <= mark {
		return err
	}
	return refuse("%s changed %s meanwhile (%s UTC, batch %d): this page shows it as it is now. What you typed is still in the form; keep it if it still holds.",
		b.Actor, what, b.At.Format("2 Jan 2006 15:04"), b.ID)
}

func (o *Office) lastOf(ctx context.Context, a right.Actor, tables ...string) (*Batch, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	list, err := o.store.Batches(ctx, store.HistoryFilter{Tables: tables, Most: 1})
	if err != nil || len(list) == 0 {
		return nil, err
	}
	b := batchOf(list[0])
	return &b, nil
}

// StandingMoved refuses where another person set the same standing since a mark,
// a revision of the office, and says what they set it to. Zero is no mark.
func (o *Office) StandingMoved(ctx context.Context, a right.Actor, mark int64, project, dimension string) error {
	return o.overtaken(ctx, a, mark, "overrides", project, func(get func(string) string) string {
		if get("dimension") != dimension {
			return ""
		}
		return fmt.Sprintf("set %s of %s to %s until %s: %s", dimension, project, capitalised(get("standing")), get("until"), get("reason"))
	})
}

// AnswerMoved refuses where another person answered the same finding since a
// mark, a revision of the office, and says what they said. Zero is no mark.
func (o *Office) AnswerMoved(ctx context.Context, a right.Actor, mark int64, k FindingKey) error {
	return o.overtaken(ctx, a, mark, "answers", k.Project, func(get func(string) string) string {
		if get("check") != k.Check || get("record") != k.Record {
			return ""
		}
		if get("answer") == Withdraw {
			return "took its answer back"
		}
		return fmt.Sprintf("%s it: %s", get("answer"), get("reason"))
	})
}

// overtaken refuses where another person changed a row of a table about a project
// since a mark. What they said is told of the row in question, and "" of others.
func (o *Office) overtaken(ctx context.Context, a right.Actor, mark int64, table, project string, says func(get func(column string) string) string) error {
	if err := right.Check(a, right.Read); err != nil {
		return err
	}
	s, err := o.book.Snapshot(ctx)
	if err != nil {
		return err
	}
	p := s.Project(project)
	if p == nil || mark == 0 || mark >= s.Revision {
		return nil
	}
	const most = 200
	list, err := o.store.ChangesThrough(ctx, table, p.ID, most)
	if err != nil {
		return err
	}
	t := portfolio.TableNamed(table)
	for _, c := range list {
		i := slices.IndexFunc(s.Records[table], func(r portfolio.Row) bool { return r.ID == c.Record })
		if c.Batch <= mark || i < 0 {
			continue
		}
		what := says(func(column string) string {
			at := t.Index(column)
			if f := &s.Records[table][i].Fields[at]; t.Columns[at].Type == portfolio.Period || column == "until" && f.Int != 0 {
				return s.Office.Periods.Name(calendar.Period(f.Int))
			}
			return s.Records[table][i].Fields[at].Text
		})
		if what == "" {
			continue
		}
		named, err := o.store.BatchesNamed(ctx, []int64{c.Batch})
		if err != nil {
			return err
		}
		by := named[c.Batch]
		if by.Actor == a.Name {
			return nil
		}
		return refuse("%s %s (%s UTC, while you had this page open). What you typed is still in the form: send it again to put it in the place of theirs.", by.Actor, what, time.UnixMilli(by.At).UTC().Format("2 Jan 2006 15:04"))
	}
	return nil
}
