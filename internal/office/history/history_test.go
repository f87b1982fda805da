package history_test

import (
	"context"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/figure"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/history"
	"turret/internal/office/officetest"
	"turret/internal/office/period"
	"turret/internal/right"
)

// TestHistory: every batch is found by who, project, table, row, file and day,
// with before and after.
func TestHistory(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	other := right.Actor{Name: "Mira Stenholt", Role: right.Analyst}
	gathered := func(a right.Actor, name, body string) int64 {
		t.Helper()
		r, err := entry.In(o).Gather(ctx, a, []entry.File{officetest.File(name, body)}, nil, entry.Options{})
		require.NoError(t, err)
		require.Empty(t, r.Refusals)
		return r.Revision
	}
	first := gathered(officetest.Operator, "progress-a.csv", "project,activity,period,percent\nK1,A,2026-02,45\n")
	second := gathered(other, "progress-b.csv", "project,activity,period,percent\nK1,A,2026-02,55\nK2,A,2026-02,25\n")
	third := gathered(other, "names_100%.csv", "project,name,lead\nK2,South quay renamed,Mira\n")

	rows := officetest.Batches(t, o, history.Ask{Project: "K1", Table: "progress", Row: "a"})
	require.GreaterOrEqual(t, len(rows), 2)
	require.Equal(t, []int64{second, first}, []int64{rows[0].ID, rows[1].ID})
	require.Equal(t, []string{"K1 progress A, stated 2026-02 percent: 45 → 55"}, officetest.Wrote(rows[0].Rows))
	require.Equal(t, "Mira Stenholt", rows[0].Actor)
	require.Empty(t, officetest.Batches(t, o, history.Ask{Project: "K1", Table: "progress", Row: "none such"}))

	names := func(ask history.Ask) (out []int64) {
		for _, b := range officetest.Batches(t, o, ask) {
			out = append(out, b.ID)
		}
		return out
	}
	require.Equal(t, []int64{third, second}, names(history.Ask{Who: "mira"}))
	require.Equal(t, []int64{first}, names(history.Ask{File: "progress-a"}))
	require.Equal(
		t,
		[]int64{third},
		names(history.Ask{File: "_100%"}),
		"what looks like a pattern is taken by the letter",
	)
	require.Empty(t, names(history.Ask{File: "_200"}))
	require.Contains(t, names(history.Ask{Project: "K2"}), third)
	require.Equal(t, []int64{third}, names(history.Ask{Who: "mira", Table: "projects"}))
	require.NotContains(t, names(history.Ask{Project: "K1"}), third)
	all := officetest.Batches(t, o, history.Ask{})
	day := all[0].At.Format("2006-01-02")
	require.Equal(t, names(history.Ask{}), names(history.Ask{From: day, To: day}))
	require.Empty(t, names(history.Ask{To: "2001-01-01"}))
	require.Equal(t, names(history.Ask{})[1:], names(history.Ask{Before: all[0].ID}))

	for _, bad := range []history.Ask{{Project: "none"}, {Table: "none"}, {From: "31.02.2026"}, {Row: "A"}} {
		_, err := history.In(o).History(ctx, officetest.Operator, officetest.February(t, o), bad)
		require.ErrorIs(t, err, office.ErrRefused, "%+v", bad)
	}

	b, err := history.In(o).BatchOf(ctx, officetest.Operator, officetest.February(t, o), third, "")
	require.NoError(t, err)
	require.ElementsMatch(
		t,
		[]string{"K2 projects  name: South quay → South quay renamed", "K2 projects  lead: Ben → Mira"},
		officetest.Wrote(b.Rows),
	)
	b, err = history.In(o).BatchOf(ctx, officetest.Operator, officetest.February(t, o), second, "K2")
	require.NoError(t, err)
	require.Len(t, b.Rows, 1)
	b, err = history.In(o).BatchOf(ctx, officetest.Operator, officetest.February(t, o), 9999, "")
	require.NoError(t, err)
	require.Nil(t, b)
}

// TestHistoryTellsARecordAsItWas: what a batch made is told as it was made,
// whatever came later.
func TestHistoryTellsARecordAsItWas(t *testing.T) {
	ctx := context.Background()
	o := officetest.WithBase(t)
	made := officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("projects.csv", "project,name,lead,currency\nN1,First name,Ada,EUR\n"),
	).Revision
	officetest.Take(t, o, entry.Options{}, officetest.File("projects.csv", "project,name\nN1,Second name\n"))
	officetest.Take(t, o, entry.Options{}, officetest.File("projects.csv", "project,name\nN1,Third name\n"))
	b, err := history.In(o).BatchOf(ctx, officetest.Operator, officetest.Moment(t, o, office.Ask{}), made, "")
	require.NoError(t, err)
	require.Contains(t, officetest.Wrote(b.Rows), "N1 projects  name:  → First name")
}

// TestUndoTheRest: where later work stands on a part of a batch, the rest of it
// can be taken back, project by project; and then no more.
func TestUndoTheRest(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	ac := func(code string) int64 {
		t.Helper()
		return officetest.ReadingOf(officetest.February(t, o), code).Value(figure.AC).N
	}
	k1, k2 := ac("K1"), ac("K2")
	const head = "project,cost_code,kind,period,amount\n"
	batch := officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("a.csv", head+"K1,20,actual,2026-02,10.00\nK2,20,actual,2026-02,20.00\n"),
		officetest.File(
			"postings.csv",
			"posting,date,period,project,cost_code,amount\nU1,2026-02-20,2026-02,K1,10,1.00\nU2,2026-02-20,2026-02,K2,10,2.00\n",
		),
	).Revision
	later := officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("b.csv", head+"K1,20,actual,2026-02,15.00\n"),
	).Revision

	u, err := history.In(o).Undoing(ctx, officetest.Operator, batch)
	require.NoError(t, err)
	require.False(t, u.Can())
	require.Equal(t, [2][]string{{"K2"}, {"K1"}}, [2][]string{u.Rest, u.Stay})
	require.Contains(t, u.Way[0], "costs of K1: batch")
	_, err = history.In(o).Undo(ctx, officetest.Operator, batch, false)
	require.ErrorContains(t, err, "later work stands on it")
	require.Equal(t, k2+2200, ac("K2"))

	_, err = history.In(o).Undo(ctx, officetest.Operator, batch, true)
	require.NoError(t, err)
	require.Equal(t, k1+1600, ac("K1"), "what stands on it stays: 15.00 + 1.00")
	require.Equal(t, k2, ac("K2"), "statement and posting are gone")
	h := officetest.Batches(t, o, history.Ask{File: "a.csv"})
	require.Equal(t, 1, h[0].Kept)
	require.NotZero(t, h[0].Undone)

	// Once more there is nothing to take back, until the later one is gone.
	_, err = history.In(o).Undo(ctx, officetest.Operator, batch, true)
	require.ErrorIs(t, err, office.ErrRefused)
	_, err = history.In(o).Undo(ctx, officetest.Operator, later, false)
	require.NoError(t, err)
	require.Equal(t, k1+1100, ac("K1"))
	_, err = history.In(o).Undo(ctx, officetest.Operator, batch, true)
	require.NoError(t, err)
	require.Equal(t, [2]int64{k1, k2}, [2]int64{ac("K1"), ac("K2")})

	// What cannot be undone at all is said.
	none, err := history.In(o).Undoing(ctx, officetest.Operator, h[0].Undone)
	require.NoError(t, err)
	require.Nil(t, none, "an undo is not undone")
	_, err = history.In(o).Undo(ctx, officetest.Operator, h[0].Undone, false)
	require.ErrorContains(t, err, "nothing that can be undone: taken back")
	_, err = history.In(o).Undoing(ctx, right.Actor{Name: "Tor", Role: right.Executive}, batch)
	require.Error(t, err)
}

// TestUndoKeepsTogetherWhatMoved: where a posting was moved between two projects and
// later work stands on one of them, neither is taken back; a third is.
func TestUndoKeepsTogetherWhatMoved(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	officetest.Take(t, o, entry.Options{}, officetest.File("projects.csv", "project,name,currency\nK3,Third,EUR\n"))
	const head = "posting,date,period,project,cost_code,amount\n"
	officetest.Take(t, o, entry.Options{}, officetest.File("first.csv", head+"M1,2026-02-20,2026-02,K1,10,5.00\n"))
	ac := func(code string) int64 {
		t.Helper()
		return officetest.ReadingOf(officetest.February(t, o), code).Value(figure.AC).N
	}
	k2 := ac("K2")
	batch := officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("moved.csv", head+"M1,2026-02-20,2026-02,K2,10,5.00\nM3,2026-02-20,2026-02,K3,10,7.00\n"),
	).Revision
	require.Equal(t, k2+500, ac("K2"))
	officetest.Take(t, o, entry.Options{}, officetest.File("after.csv", head+"M9,2026-02-21,2026-02,K1,10,1.00\n"))
	u, err := history.In(o).Undoing(ctx, officetest.Operator, batch)
	require.NoError(t, err)
	require.False(t, u.Can())
	require.Equal(t, [2][]string{{"K3"}, {"K1", "K2"}}, [2][]string{u.Rest, u.Stay})
	_, err = history.In(o).Undo(ctx, officetest.Operator, batch, true)
	require.NoError(t, err)
	require.Equal(t, k2+500, ac("K2"), "the posting stays where it was moved to")
	require.False(t, officetest.ReadingOf(officetest.February(t, o), "K3").Value(figure.AC).N != 0)
}

// TestUndoWhatAScreenChanged: answers, standings and rules are batches like
// others.
func TestUndoWhatAScreenChanged(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	r := officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File(
			"overrides.csv",
			"project,dimension,from,until,standing,reason\nK2,cost,2026-02,2026-03,act,seen on site\n",
		),
	)
	require.Empty(t, r.Refusals)
	last := officetest.Batches(t, o, history.Ask{Table: "overrides"})
	require.Len(t, last, 1)
	_, err := history.In(o).Undo(ctx, officetest.Operator, last[0].ID, false)
	require.NoError(t, err)
	require.Len(t, officetest.Batches(t, o, history.Ask{Table: "overrides"}), 2)
	_, err = history.In(o).Undo(ctx, officetest.Operator, last[0].ID, false)
	require.ErrorContains(t, err, "undone already")
	b, err := history.In(o).BatchOf(ctx, officetest.Operator, officetest.February(t, o), last[0].ID, "")
	require.NoError(t, err)
	require.NotZero(t, b.Undone)
	require.Equal(t, "K2 overrides cost, 2026-02 standing:  → act", officetest.Wrote(b.Rows)[1], "what is gone can be read still")

	h := officetest.Batches(t, o, history.Ask{Table: "overrides"})
	require.Equal(t, fmt.Sprintf("batch %d of test, gathered %s, overrides.csv", b.ID, b.At.Format("2 Jan 2006")), h[0].Said())
	b, err = history.In(o).BatchOf(ctx, officetest.Operator, officetest.February(t, o), b.Undone, "")
	require.NoError(t, err)
	require.Equal(t, h[0].Said(), b.Said())
	require.Contains(t, officetest.Wrote(b.Rows), "K2 overrides cost, 2026-02 standing: act → ")
	for _, d := range b.Rows {
		require.Empty(t, d.Is, d.Column)
	}
}

// A batch that closes a period, or takes it in checking, says which in words.
func TestBatchesOfPeriodsNameThem(t *testing.T) {
	o := officetest.CheckedOffice(t)
	ctx := context.Background()
	require.NoError(t, period.In(o).SetChecking(ctx, officetest.Operator, officetest.February(t, o), true))
	h := officetest.Batches(t, o, history.Ask{Table: "periods"})
	require.Equal(t, []string{"Feb 2026 in checking", "Jan 2026"}, []string{h[0].Said(), h[1].Said()})
}
