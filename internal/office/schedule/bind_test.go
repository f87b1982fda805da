package schedule_test

import (
	"errors"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/due"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/officetest"
	"turret/internal/office/schedule"
	"turret/internal/right"
)

func pushedRows(p *schedule.Push) (rows, keys []string) {
	for _, x := range p.Rows {
		rows = append(rows, fmt.Sprintf("%s/%s %s %d", x.Project, x.Code, x.Is[1], x.Days))
		keys = append(keys, x.Key())
	}
	return rows, keys
}

func bonds(t *testing.T, o *office.Office, project, activity string) (out []string) {
	list, err := schedule.In(o).Bonds(t.Context(), november(t, o), project, activity)
	require.NoError(t, err)
	for _, b := range list {
		out = append(out, fmt.Sprintf("%s by %s: %s → %s %s%+d, broken %d, holds %v", b.Other.Activity, b.Project, b.From, b.To, b.Type, b.Lag, b.Broken, b.Holds))
	}
	return out
}

// TestTakeOutALink: what it held is told before it goes, and what was taken of it is stated
// with it, as one change; a file that states it again does not put it in.
func TestTakeOutALink(t *testing.T) {
	o := harbour(t)
	room, m := schedule.In(o), november(t, o)
	require.Equal(t, []string{
		"Launched by PIER: YARD/out → PIER/fit FS+0, broken 9, holds true",
		"Test by PIER: PIER/fit → PIER/test FS+0, broken 0, holds true",
	}, bonds(t, o, "PIER", "fit"))
	out := schedule.Bind{Project: "PIER", From: "YARD/out", To: "PIER/fit", Type: "FS", Out: true}
	p, err := room.Bind(t.Context(), officetest.Ines, m, out)
	require.NoError(t, err)
	rows, keys := pushedRows(p)
	// Back to its own dates from Wed 23, Thu 24 and Thu 24 December.
	require.Equal(t, []string{"PIER/fit 2026-12-10 -9", "PIER/test 2026-12-14 -8", "PIER/open 2026-12-15 -7"}, rows)
	require.Equal(t, "PIER 2026-12-15 -7", fmt.Sprintf("%s %s %d", p.Ends[0].Project, p.Ends[0].Is, p.Ends[0].Days))
	before := officetest.LastBatch(t, o)
	_, err = room.KeepBind(t.Context(), officetest.Ines, m, out, keys[:1], m.Revision(), true)
	require.NoError(t, err)
	require.Equal(t, before, officetest.LastBatch(t, o), "nothing is kept by looking")
	_, err = room.KeepBind(t.Context(), officetest.Ines, m, out, keys[:1], m.Revision(), false)
	require.NoError(t, err)
	require.Equal(t, before+1, officetest.LastBatch(t, o), "the link and the dates are one change")
	require.Equal(t, []string{"Test by PIER: PIER/fit → PIER/test FS+0, broken 0, holds true"}, bonds(t, o, "PIER", "fit"))
	require.NotContains(t, officetest.Found(november(t, o)), "PIER link-broken link YARD/out to fit")

	_, err = room.Bind(t.Context(), officetest.Ines, november(t, o), out)
	require.ErrorContains(t, err, "there is no link from YARD/out to PIER/fit any more")
	r := officetest.Take(t, o, entry.Options{}, officetest.File("links.csv", "project,from,to,type,lag\nPIER,YARD/out,fit,FS,0\n"))
	require.Contains(t, fmt.Sprint(r.Notes), "1 link that it states was taken out here and stay out")
	require.Len(t, bonds(t, o, "PIER", "fit"), 1)
	r = officetest.Take(t, o, entry.Options{}, officetest.File("links.csv", "project,from,to,type,lag\nPIER,fit,test,FS,0\n"))
	require.Empty(t, r.Notes, "it was not taken out")
	r = officetest.Take(t, o, entry.Options{}, officetest.File("links.csv", "project,from,to,state\nPIER,YARD/out,fit,off\n"))
	require.Empty(t, r.Notes, "it says so itself")
	in := schedule.Bind{From: "YARD/out", To: "PIER/fit"}
	_, err = room.KeepBind(t.Context(), officetest.Ines, november(t, o), in, nil, november(t, o).Revision(), false)
	require.NoError(t, err)
	require.Len(t, bonds(t, o, "PIER", "fit"), 2, "put in again")
}

// TestPutInALink: what it pushes is told before it is kept, with a lag in working days.
func TestPutInALink(t *testing.T) {
	o := harbour(t)
	room, m := schedule.In(o), november(t, o)
	in := schedule.Bind{From: "YARD/hull", To: "PIER/sign", Type: "FS", Lag: "+2"}
	p, err := room.Bind(t.Context(), officetest.Ines, m, in)
	require.NoError(t, err)
	rows, keys := pushedRows(p)
	// The hull until Fri 11 December, two days on Tue 15; from Tue 1 that is ten days.
	require.Equal(t, []string{"PIER/sign 2026-12-15 10"}, rows)
	report, err := room.KeepBind(t.Context(), officetest.Ines, m, in, keys, m.Revision(), true)
	require.NoError(t, err)
	require.Len(t, report.Effects, 1)
	_, err = room.KeepBind(t.Context(), officetest.Ines, m, in, keys, m.Revision(), false)
	require.NoError(t, err)
	require.Equal(t, []string{"Hull by PIER: YARD/hull → PIER/sign FS+2, broken 0, holds true"}, bonds(t, o, "PIER", "sign"))

	_, err = room.Bind(t.Context(), officetest.Ines, november(t, o), in)
	require.ErrorContains(t, err, "is linked with YARD/hull so already")
	in.Lag = "5"
	p, err = room.Bind(t.Context(), officetest.Ines, november(t, o), in)
	require.NoError(t, err)
	rows, _ = pushedRows(p)
	require.Equal(t, []string{"PIER/sign 2026-12-18 3"}, rows, "another lag")
	_, err = room.KeepBind(t.Context(), officetest.Ines, november(t, o), in, []string{keys[0]}, november(t, o).Revision(), false)
	require.ErrorContains(t, err, "Dates have moved since this was shown")

	for _, x := range []struct {
		b    schedule.Bind
		says string
	}{
		{schedule.Bind{From: "PIER/open", To: "YARD/hull"}, "that closes a loop, in which each waits for itself"},
		{schedule.Bind{From: "PIER/open", To: "PIER/open"}, "does not wait for itself"},
		{schedule.Bind{From: "PIER", To: "PIER/open"}, "names no activity"},
		{schedule.Bind{From: "YARD/S", To: "PIER/open"}, "YARD/S stands outside the network"},
		{schedule.Bind{From: "NONE/x", To: "PIER/open"}, "there is no project NONE"},
		{schedule.Bind{From: "PIER/fit", To: "PIER/open", Type: "XX"}, `"XX" is no kind of link`},
		{schedule.Bind{From: "PIER/fit", To: "PIER/open", Lag: "soon"}, `"soon" is no number of working days`},
		{schedule.Bind{From: "PIER/fit", To: "PIER/open", Lag: "10000"}, "from -9999 to 9999"},
	} {
		_, err := room.Bind(t.Context(), officetest.Ines, november(t, o), x.b)
		var wrong *office.Misfit
		require.True(t, errors.As(err, &wrong), x.says)
		require.ErrorContains(t, err, x.says)
	}

	executive := right.Actor{Account: 9, Name: "Eve", Role: right.Executive}
	p, err = room.Bind(t.Context(), executive, november(t, o), schedule.Bind{From: "PIER/fit", To: "PIER/open", Lag: "3"})
	require.NoError(t, err)
	require.Equal(t, "Links are put in and taken out by the portfolio office.", p.Nobody)
	var denied *right.Denied
	_, err = room.KeepBind(t.Context(), executive, november(t, o), in, nil, november(t, o).Revision(), false)
	require.True(t, errors.As(err, &denied))
}

// TestConstrain: a constraint has its day and a reason, binds the network, and goes again.
func TestConstrain(t *testing.T) {
	o := harbour(t)
	room := schedule.In(o)
	seen := func() int64 { return november(t, o).Revision() }
	for _, x := range []struct {
		b    schedule.Bound
		says string
	}{
		{schedule.Bound{Constraint: "after lunch", Day: "2026-12-01", Reason: "x"}, `"after lunch" is none`},
		{schedule.Bound{Constraint: "not after", Day: "soon", Reason: "x"}, "a constraint needs its day"},
		{schedule.Bound{Constraint: "not after", Day: "2026-12-16"}, "say why it is bound"},
	} {
		require.ErrorContains(t, room.Constrain(t.Context(), officetest.Ines, seen(), "PIER", "open", x.b), x.says)
	}
	require.NoError(t, room.Constrain(t.Context(), officetest.Ines, seen(), "PIER", "open", schedule.Bound{Constraint: "not after", Day: "2026-12-16", Reason: "The season begins"}))
	require.Contains(t, officetest.Found(november(t, o)), "PIER constraint-broken activity open")
	require.NoError(t, room.Constrain(t.Context(), officetest.Ines, seen(), "PIER", "open", schedule.Bound{}))
	require.NotContains(t, officetest.Found(november(t, o)), "PIER constraint-broken activity open")
	require.ErrorContains(t, room.Constrain(t.Context(), officetest.Ines, seen(), "PIER", "none", schedule.Bound{}), "there is no activity PIER/none")
	var denied *right.Denied
	require.True(t, errors.As(room.Constrain(t.Context(), right.Actor{Account: 9, Name: "Eve", Role: right.Executive}, seen(), "PIER", "open", schedule.Bound{}), &denied))
}

// TestDeliver: what an activity makes gets a receiver, is handed over, sent back, handed over
// again and accepted; out of turn it is refused.
func TestDeliver(t *testing.T) {
	o := harbour(t)
	room := schedule.In(o)
	do := func(d schedule.Deliver) error {
		d.Day = "2026-11-30"
		return room.Deliver(t.Context(), officetest.Ines, november(t, o).Revision(), "PIER", "test", d)
	}
	state := func() string {
		x, err := room.Interfaces(t.Context(), officetest.Ines, november(t, o))
		require.NoError(t, err)
		for _, d := range x.Deliverables {
			if d.Code == "test" {
				return string(d.State) + " " + d.Deliverable.Reason
			}
		}
		return "none"
	}
	require.Equal(t, "none", state())
	require.ErrorContains(t, do(schedule.Deliver{Now: due.HandedOver}), "PIER/test is no deliverable; say who receives it")
	require.ErrorContains(t, do(schedule.Deliver{To: " "}), "say who receives it")
	require.NoError(t, do(schedule.Deliver{To: "Harbour master"}))
	require.Equal(t, "to come ", state())
	require.ErrorContains(t, do(schedule.Deliver{Now: due.Accepted}), "what is to come is not accepted")
	require.ErrorContains(t, do(schedule.Deliver{Now: due.SentBack, Remark: "x"}), "what is to come is not sent back")
	require.NoError(t, do(schedule.Deliver{Now: due.HandedOver}))
	require.Equal(t, "handed over ", state())
	require.ErrorContains(t, do(schedule.Deliver{Now: due.HandedOver}), "it is handed over already")
	require.ErrorContains(t, do(schedule.Deliver{Now: due.SentBack}), "say what is wrong")
	require.NoError(t, do(schedule.Deliver{Now: due.SentBack, Remark: "No seal"}))
	require.Equal(t, "sent back No seal", state())
	require.NoError(t, do(schedule.Deliver{Now: due.HandedOver}), "on the same day")
	require.Equal(t, "handed over ", state())
	require.NoError(t, do(schedule.Deliver{Now: due.Accepted}))
	require.Equal(t, "accepted ", state())
	require.ErrorContains(t, room.Deliver(t.Context(), officetest.Ines, november(t, o).Revision(), "PIER", "test", schedule.Deliver{Now: due.SentBack, Day: "2026-12-05", Remark: "x"}), "2026-12-05 is still to come")
	require.ErrorContains(t, room.Deliver(t.Context(), officetest.Ines, november(t, o).Revision(), "PIER", "test", schedule.Deliver{Now: due.SentBack, Day: "soon", Remark: "x"}), "is not a date")
	require.NoError(t, do(schedule.Deliver{Nobody: true}))
	require.Equal(t, "none", state())
}

// TestWhoHandsOver: the lead of the giver says that it is handed over, the lead of a project
// that waits for it or is its receiver that it is accepted or sent back; nobody else.
func TestWhoHandsOver(t *testing.T) {
	o := harbour(t)
	room := schedule.In(o)
	m := november(t, o)
	lead := func(name string, projects ...string) right.Actor {
		a := right.Actor{Account: 7, Name: name, Role: right.Lead}
		for _, code := range projects {
			a.Projects = append(a.Projects, m.Snapshot().Project(code).ID)
		}
		return a
	}
	pier, yard := lead("Pia", "PIER"), lead("Dag", "YARD")
	do := func(a right.Actor, d schedule.Deliver) error {
		d.Day = "2026-11-30"
		return room.Deliver(t.Context(), a, november(t, o).Revision(), "PIER", "test", d)
	}
	var denied *right.Denied
	refused := func(a right.Actor, d schedule.Deliver) {
		t.Helper()
		require.ErrorAs(t, do(a, d), &denied)
	}
	refused(pier, schedule.Deliver{To: "YARD"})
	require.NoError(t, do(officetest.Ines, schedule.Deliver{To: "yard"}), "however it is written")
	refused(yard, schedule.Deliver{Now: due.HandedOver})
	refused(right.Actor{Account: 8, Name: "Eve", Role: right.Executive}, schedule.Deliver{Now: due.HandedOver})
	require.NoError(t, do(pier, schedule.Deliver{Now: due.HandedOver}))
	refused(pier, schedule.Deliver{Now: due.Accepted})
	refused(pier, schedule.Deliver{Now: due.SentBack, Remark: "No seal"})
	refused(yard, schedule.Deliver{Nobody: true})
	require.NoError(t, do(yard, schedule.Deliver{Now: due.SentBack, Remark: "No seal"}))
	require.NoError(t, do(pier, schedule.Deliver{Now: due.HandedOver}))
	require.NoError(t, do(yard, schedule.Deliver{Now: due.Accepted}))
	require.NoError(t, do(officetest.Ines, schedule.Deliver{To: "Pia"}))
	require.NoError(t, do(pier, schedule.Deliver{Now: due.SentBack, Remark: "Once more"}), "the receiver by name")
	give := func(a right.Actor, now due.Handing) error {
		return room.Deliver(t.Context(), a, november(t, o).Revision(), "YARD", "out", schedule.Deliver{Now: now, Remark: "x"})
	}
	require.ErrorAs(t, give(pier, due.HandedOver), &denied)
	require.NoError(t, give(yard, due.HandedOver))
	require.ErrorAs(t, give(yard, due.Accepted), &denied)
	require.NoError(t, give(pier, due.Accepted), "PIER/fit waits for it")
	require.ErrorAs(t, room.Constrain(t.Context(), pier, november(t, o).Revision(), "PIER", "test", schedule.Bound{}), &denied)
	require.ErrorAs(t, room.Raise(t.Context(), pier, november(t, o).Revision(), "PIER", "test", "project"), &denied)
}

// TestLeading: what the opening waits for, by how far each may move before it does.
func TestLeading(t *testing.T) {
	o := harbour(t)
	list, hidden, err := schedule.In(o).Leading(t.Context(), officetest.Ines, november(t, o), "PIER", "open")
	require.NoError(t, err)
	require.Zero(t, hidden)
	var got []string
	for _, x := range list {
		got = append(got, fmt.Sprintf("%s/%s %s %d", x.Project, x.Code, x.Finish, x.Float))
	}
	// The hull is done on Fri 11 December, the launch waits until its own day, Fri 18.
	require.Equal(t, []string{"PIER/test 2026-12-24 0", "PIER/fit 2026-12-23 0", "YARD/out 2026-12-18 0", "YARD/hull 2026-12-11 5"}, got)
	for _, none := range []string{"sign", "nothing"} {
		list, _, err = schedule.In(o).Leading(t.Context(), officetest.Ines, november(t, o), "PIER", none)
		require.NoError(t, err)
		require.Empty(t, list, none)
	}
}
