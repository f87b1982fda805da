package main

import (
	"context"
	"fmt"
	"strings"

	"github.com/jmoiron/sqlx"

	"turret/internal/gather"
	"turret/internal/office"
	"turret/internal/office/closing"
	"turret/internal/office/entry"
)

// millions is the number of changes that the history of one record is looked
// for in.
const millions = 2_000_000

// historyStep opens the closed period again, takes a late file for a tenth of
// the projects, closes it again and compares the two cuts on their screen; then
// it looks for the history of one record among two million changes.
func historyStep(ctx context.Context, dir string) (result, error) {
	o, err := office.Open(ctx, me, database(dir), false)
	if err != nil {
		return nil, err
	}
	defer o.Close()
	p, err := o.ParsePeriod(ctx, me, lastPeriod)
	if err != nil {
		return nil, err
	}
	if err := closing.In(o).ReopenPeriod(ctx, me, p, "a late file"); err != nil {
		return nil, err
	}
	var late strings.Builder
	late.WriteString("project,period,section,text\n")
	for i := 0; i < projects; i += 10 {
		fmt.Fprintf(&late, "%s,%s,summary,A late word\n", code(i), lastPeriod)
	}
	if _, err := entry.In(o).Gather(ctx, me, []gather.File{{Name: "late.csv", Body: []byte(late.String())}}, nil, entry.Options{}); err != nil {
		return nil, err
	}
	if _, err := closing.In(o).ClosePeriod(ctx, me, p); err != nil {
		return nil, err
	}
	m, err := o.Moment(ctx, me, office.Ask{At: lastPeriod})
	if err != nil {
		return nil, err
	}
	cuts, err := closing.In(o).Cuts(ctx, me, m)
	if err != nil {
		return nil, err
	}
	if err := manyChanges(ctx, dir); err != nil {
		return nil, err
	}
	b, err := within(ctx, o)
	if err != nil {
		return nil, err
	}
	r := make(result)
	for name, path := range map[string]string{
		"two cuts of the portfolio compared": fmt.Sprintf("/cuts/compare?at=%s&a=%d&b=%d", lastPeriod, cuts[1].ID, cuts[0].ID),
		"sheet of a closed period":           "/project/" + code(7) + "?at=" + lastPeriod,
		"history of one record":              "/history?table=projects&project=" + code(7),
		"history of all, first page":         "/history",
	} {
		if _, _, err := b.get(path); err != nil { // what is computed once is not the screen's
			return nil, err
		}
		if r[name], err = b.median(path, 9); err != nil {
			return nil, err
		}
	}
	return r, nil
}

// manyChanges fills the history with changes of all projects, in the batches
// that are there.
func manyChanges(ctx context.Context, dir string) error {
	db, err := sqlx.Open("sqlite", "file:"+database(dir))
	if err != nil {
		return err
	}
	defer db.Close()
	_, err = db.ExecContext(ctx, `WITH RECURSIVE n (i) AS (SELECT 0 UNION ALL SELECT i + 1 FROM n WHERE i + 1 < ?)
INSERT INTO change (batch, tbl, record, field, before, after) SELECT 2 + i % (SELECT max(id) - 2 FROM batch), CASE i % 4 WHEN 0 THEN 'project' ELSE 'answer' END, i / 40 + 1, 'name', 'before ' || i, 'after ' || i FROM n`, millions)
	return err
}
