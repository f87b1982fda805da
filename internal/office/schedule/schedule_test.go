package schedule_test

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/officetest"
	"turret/internal/office/schedule"
	"turret/internal/right"
)

// harbour is two projects in November 2026, of which the pier waits for the yard: a hull that
// is launched nine working days after the pier needs it, a raised opening, a deliverable that
// was sent back, and a backlog.
func harbour(t *testing.T) *office.Office {
	o := officetest.NewOffice(t)
	o.SetClock(func() time.Time { return time.Date(2026, 12, 4, 9, 0, 0, 0, time.UTC) })
	r := officetest.Take(t, o, entry.Options{},
		officetest.File("calendars.csv", "calendar,kind,day,name\noffice,week,mon,\noffice,week,tue,\noffice,week,wed,\noffice,week,thu,\noffice,week,fri,\noffice,holiday,2026-12-25,Christmas\n"),
		officetest.File("settings.csv", "setting,value\ncalendar,office\n"),
		officetest.File("programmes.csv", "programme,name\nH,Harbour\n"),
		officetest.File("projects.csv", "project,name,programme,lead\nPIER,Pier,H,Ada\nYARD,Yard,H,Ben\nGONE,Gone,H,Ben\n"),
		officetest.File("activities.csv", `project,activity,parent,name,kind,level,baseline_start,baseline_finish,start,finish,owner,receiver,handed_over,sent_back,sent_back_reason
YARD,S,,Ship,summary,,,,,,,,,,
YARD,hull,S,Hull,task,,2026-11-02,2026-11-27,2026-11-16,2026-12-11,Cy,,,,
YARD,plan,S,Plan,task,,2026-10-05,2026-10-30,2026-10-05,2026-10-30,Cy,Ada,2026-10-30,2026-11-05,Wrong scale
YARD,out,S,Launched,milestone,programme,,2026-12-04,,2026-12-18,,Pier team,,,
PIER,fit,,Fitting,task,,2026-12-08,2026-12-10,2026-12-08,2026-12-10,,,,,
PIER,test,,Test,task,,2026-12-14,2026-12-14,2026-12-14,2026-12-14,,,,,
PIER,open,,Opening,milestone,portfolio,,2026-12-15,,2026-12-15,,,,,
PIER,sign,,Signed,milestone,,,2026-11-10,,2026-11-10,,,,,
`),
		officetest.File("links.csv", "project,from,to,type,lag\nYARD,hull,out,FS,0\nPIER,YARD/out,fit,FS,0\nPIER,fit,test,FS,0\nPIER,test,open,FS,0\n"),
		officetest.File("progress.csv", "project,activity,period,percent,finish,actual_start,actual_finish\nYARD,hull,2026-11,50,,2026-11-16,\nYARD,plan,2026-10,100,,2026-10-05,2026-10-30\nYARD,out,2026-10,,2026-12-11,,\nYARD,out,2026-11,,2026-12-18,,\n"),
		officetest.File("narratives.csv", "project,period,section,text\nYARD,2026-11,summary,The plates came late.\n"),
		officetest.File("items.csv", "project,item,name,size,state,created,accepted,due,blocked,owner\nPIER,I1,Bollards,3,accepted,2026-10-01,2026-11-30,,,Cy\nPIER,I2,Ladders,5,doing,2026-10-01,,2026-12-10,2026-11-25,Cy\n"),
	)
	require.Empty(t, r.Refusals)
	return o
}

func moment(t *testing.T, o *office.Office, ask office.Ask) *office.Moment {
	m, err := o.Moment(t.Context(), officetest.Ines, ask)
	require.NoError(t, err)
	return m
}

func november(t *testing.T, o *office.Office) *office.Moment {
	return moment(t, o, office.Ask{At: "2026-11"})
}

func TestTimeline(t *testing.T) {
	o := harbour(t)
	s, err := schedule.In(o).Timeline(t.Context(), officetest.Ines, november(t, o), []string{"YARD", "PIER"}, 0)
	require.NoError(t, err)
	require.Equal(t, "2026-11-30", s.AsOf.String())
	var rows []string
	s.Each(func(a *schedule.Activity) {
		float := "-"
		if a.HasFloat {
			float = fmt.Sprint(a.Float)
		}
		rows = append(rows, strings.TrimSpace(fmt.Sprintf("%s/%s %d %s %s float %s %s", a.Of.Code, a.Code, a.Depth, a.Current[0], a.Current[1], float, a.Held)))
	})
	require.Equal(t, []string{
		"PIER/fit 0 2026-12-08 2026-12-10 float 0 YARD/out",
		"PIER/test 0 2026-12-14 2026-12-14 float 0 PIER/fit",
		"PIER/open 0 2026-12-15 2026-12-15 float 0 PIER/test",
		"PIER/sign 0 2026-11-10 2026-11-10 float 17", // it can fall on Tue 1 December at the earliest; the end is Thu 24
		"YARD/S 0 2026-10-05 2026-12-18 float -",
		"YARD/hull 1 2026-11-16 2026-12-11 float 5",
		"YARD/plan 1 2026-10-05 2026-10-30 float -",
		"YARD/out 1 2026-12-18 2026-12-18 float 0",
	}, rows)
	require.Len(t, s.Links, 4)
	broken := 0
	for _, l := range s.Links {
		broken += l.Broken
	}
	require.Equal(t, 9, broken, "from Tue 8 to Mon 21 December")

	why, err := schedule.In(o).Why(t.Context(), officetest.Ines, november(t, o), "PIER", "open")
	require.NoError(t, err)
	var names []string
	for _, w := range why {
		names = append(names, w.Project+"/"+w.Code)
	}
	require.Equal(t, []string{"PIER/open", "PIER/test", "PIER/fit", "YARD/out"}, names)

	s, err = schedule.In(o).Timeline(t.Context(), officetest.Ines, moment(t, o, office.Ask{At: "2026-11", Vs: "2026-10"}), []string{"YARD"}, 0)
	require.NoError(t, err)
	s.Each(func(a *schedule.Activity) {
		if a.Code == "out" {
			require.Equal(t, "2026-12-11", a.Was[1].String(), "as it was stated in October")
		}
	})
	s, err = schedule.In(o).Timeline(t.Context(), officetest.Ines, november(t, o), nil, 7)
	require.NoError(t, err)
	require.Empty(t, s.Projects, "there are not so many pages")
}

func TestMonth(t *testing.T) {
	o := harbour(t)
	got := func(ask schedule.EventAsk) (out []string) {
		m, err := schedule.In(o).Month(t.Context(), officetest.Ines, november(t, o), ask)
		require.NoError(t, err)
		for _, w := range m.Weeks {
			require.Len(t, w, 7)
			for _, d := range w {
				for _, e := range d.Events {
					out = append(out, d.Date.String()[5:]+" "+e.Of.Code+"/"+e.Activity.Code+" "+e.What)
				}
			}
		}
		return out
	}
	require.Equal(t, []string{"12-08 PIER/fit starts", "12-10 PIER/fit due", "12-11 YARD/hull due", "12-14 PIER/test due", "12-14 PIER/test starts", "12-15 PIER/open due", "12-18 YARD/out due"}, got(schedule.EventAsk{Month: "2026-12", First: time.Monday}))
	require.Equal(t, []string{"12-15 PIER/open due", "12-18 YARD/out due"}, got(schedule.EventAsk{Month: "2026-12", Only: "raised"}))
	require.Equal(t, []string{"12-11 YARD/hull due"}, got(schedule.EventAsk{Month: "2026-12", Who: "Cy"}))
	require.Contains(t, got(schedule.EventAsk{Month: "2026-11"}), "11-10 PIER/sign missed")
	m, err := schedule.In(o).Month(t.Context(), officetest.Ines, november(t, o), schedule.EventAsk{Month: "2026-12", First: time.Sunday})
	require.NoError(t, err)
	require.Equal(t, "2026-11-29", m.Weeks[0][0].Date.String(), "the week begins on a Sunday")
	christmas := m.Weeks[3][5]
	require.Equal(t, "2026-12-25 Christmas true", fmt.Sprint(christmas.Date, " ", christmas.Holiday, " ", christmas.Off))
	m, err = schedule.In(o).Month(t.Context(), officetest.Ines, november(t, o), schedule.EventAsk{Month: "1066-10"})
	require.NoError(t, err)
	require.Contains(t, m.Asked, "is no month")
}

// TestLists also looks before the period has ended: what is due by its end is not overdue.
func TestLists(t *testing.T) {
	o := harbour(t)
	codes := func(l *schedule.Lists, key string) (out []string) {
		for _, x := range l.Lists {
			if string(x.Key) == key {
				for _, a := range x.Rows {
					out = append(out, a.Code)
				}
			}
		}
		return out
	}
	l, err := schedule.In(o).Lists(t.Context(), officetest.Ines, november(t, o), "")
	require.NoError(t, err)
	require.Equal(t, []string{"sign"}, codes(l, "missed"))
	require.Empty(t, codes(l, "overdue"))
	require.Equal(t, []string{"fit", "hull", "test", "open", "out"}, codes(l, "due"))
	require.Equal(t, []string{"fit", "test"}, codes(l, "next"))
	require.Equal(t, []string{"sign"}, codes(l, "silent"), "nobody ever spoke of it; what is to come is not owed yet")
	require.Equal(t, []string{"2026 2 0"}, []string{fmt.Sprint(l.Kept[len(l.Kept)-1].Period[4:], " ", l.Kept[len(l.Kept)-1].Due, " ", l.Kept[len(l.Kept)-1].OnTime)}, "hull and sign")
	l, err = schedule.In(o).Lists(t.Context(), officetest.Ines, november(t, o), "Cy")
	require.NoError(t, err)
	require.Equal(t, []string{"hull"}, codes(l, "due"))

	o.SetClock(func() time.Time { return time.Date(2026, 11, 9, 9, 0, 0, 0, time.UTC) })
	l, err = schedule.In(o).Lists(t.Context(), officetest.Ines, november(t, o), "")
	require.NoError(t, err)
	require.True(t, l.Before)
	require.Empty(t, codes(l, "missed"), "its day is tomorrow")
	require.Contains(t, codes(l, "due"), "sign")
}

func TestInterfacesAndDeliverables(t *testing.T) {
	o := harbour(t)
	x, err := schedule.In(o).Interfaces(t.Context(), officetest.Ines, november(t, o))
	require.NoError(t, err)
	require.Len(t, x.List, 1)
	i := x.List[0]
	require.Equal(t, "YARD/out PIER/fit 2026-12-18 2026-12-07 9", fmt.Sprintf("%s/%s %s/%s %s %s %d", i.Giver.Project, i.Giver.Code, i.Taker.Project, i.Taker.Code, i.Promised, i.Needed, i.Conflict))
	require.Equal(t, [2]int{1, 1}, x.Cells[[2]string{"YARD", "PIER"}])
	var states []string
	for _, d := range x.Deliverables {
		states = append(states, d.Code+" "+string(d.State))
	}
	require.Equal(t, []string{"plan sent back", "out to come"}, states)

	none, err := schedule.In(o).Interfaces(t.Context(), officetest.Ines, moment(t, o, office.Ask{At: "2026-11", Filter: office.Filter{Text: "GONE"}}))
	require.NoError(t, err)
	require.Empty(t, none.List)
}

func TestWent(t *testing.T) {
	o := harbour(t)
	w, err := schedule.In(o).Went(t.Context(), officetest.Ines, november(t, o))
	require.NoError(t, err)
	require.Len(t, w.Milestones, 2)
	g := w.Milestones[0]
	require.Equal(t, "out", g.Code)
	require.Equal(t, 5, g.Moved)
	require.Equal(t, "The plates came late.", g.Steps[0].Words)
	require.Equal(t, 1, w.Still)
}

func TestBacklogs(t *testing.T) {
	o := harbour(t)
	b, err := schedule.In(o).Backlogs(t.Context(), officetest.Ines, november(t, o), "")
	require.NoError(t, err)
	require.Equal(t, "PIER", b.One.Of.Code)
	require.Equal(t, []schedule.Recent{{Who: "Cy", Accepted: 1}}, b.One.Recent)
	require.Len(t, b.One.DueBy, 1)
	require.Len(t, b.One.Blocked(), 1)
	b, err = schedule.In(o).Backlogs(t.Context(), officetest.Ines, november(t, o), "YARD")
	require.NoError(t, err)
	require.Nil(t, b.One)
}

// TestPush: what a later launch pushes is told, taken, and one change; part of it leaves a
// broken link, and what has moved meanwhile is not overwritten unseen.
func TestPush(t *testing.T) {
	o := harbour(t)
	room := schedule.In(o)
	m := november(t, o)
	move := schedule.Move{Project: "YARD", Activity: "out", Finish: "2026-12-21"}
	p, err := room.Push(t.Context(), officetest.Ines, m, move)
	require.NoError(t, err)
	var rows []string
	for _, x := range p.Rows {
		rows = append(rows, fmt.Sprintf("%s/%s %s %s %d", x.Project, x.Code, x.Is[0], x.Is[1], x.Days))
		require.True(t, x.May)
	}
	require.Equal(t, []string{
		"YARD/out 2026-12-21 2026-12-21 1",
		"PIER/fit 2026-12-22 2026-12-24 1", "PIER/test 2026-12-28 2026-12-28 1", "PIER/open 2026-12-28 2026-12-28 1",
	}, rows)
	require.Equal(t, "PIER 2026-12-28 1", fmt.Sprintf("%s %s %d", p.Ends[0].Project, p.Ends[0].Is, p.Ends[0].Days))
	before := officetest.LastBatch(t, o)
	all := []string{p.Rows[0].Key(), p.Rows[1].Key(), p.Rows[2].Key(), p.Rows[3].Key()}
	report, err := room.Keep(t.Context(), officetest.Ines, m, move, all, m.Revision(), true)
	require.NoError(t, err)
	require.NotEmpty(t, report.Effects)
	require.Equal(t, before, officetest.LastBatch(t, o), "nothing is kept by looking")
	_, err = room.Keep(t.Context(), officetest.Ines, m, move, all[:2], m.Revision(), false)
	require.NoError(t, err)
	require.Equal(t, before+1, officetest.LastBatch(t, o))
	now := november(t, o)
	x, err := room.Interfaces(t.Context(), officetest.Ines, now)
	require.NoError(t, err)
	require.Zero(t, x.Conflicts, "the pier is fitted after the launch now")
	require.Contains(t, officetest.Found(now), "PIER link-broken link fit to test", "what was not taken breaks")

	_, err = room.Keep(t.Context(), officetest.Ines, m, move, all[2:], m.Revision(), false)
	require.ErrorContains(t, err, "Dates have moved since this was shown", "the same move pushes them no more: what was taken does")
	_, err = room.Keep(t.Context(), officetest.Ines, m, schedule.Move{Project: "YARD", Activity: "out", Finish: "2026-12-22"}, all[:1], m.Revision(), false)
	require.ErrorContains(t, err, "Dates have moved since this was shown")
	_, err = room.Keep(t.Context(), officetest.Ines, m, move, nil, m.Revision(), false)
	require.ErrorContains(t, err, "Nothing is taken")
}

func TestPushIsRefused(t *testing.T) {
	o := harbour(t)
	room := schedule.In(o)
	m := november(t, o)
	for _, c := range []struct{ activity, start, finish, says string }{
		{"plan", "", "2026-12-01", "it is finished"},
		{"hull", "2026-11-20", "", "it was started on 2026-11-16"},
		{"out", "", "tomorrow", "is not a date"},
		{"none", "", "2026-12-01", "stands outside the network"},
		{"hull", "", "2026-11-10", "lies before the start"},
	} {
		_, err := room.Push(t.Context(), officetest.Ines, m, schedule.Move{Project: "YARD", Activity: c.activity, Start: c.start, Finish: c.finish})
		require.ErrorContains(t, err, c.says, c.activity)
	}
	_, err := room.Push(t.Context(), officetest.Ines, m, schedule.Move{Project: "NONE", Activity: "x"})
	require.ErrorContains(t, err, "there is no project NONE")
	past, err := room.Push(t.Context(), officetest.Ines, moment(t, o, office.Ask{At: "2026-12"}), schedule.Move{Project: "YARD", Activity: "out", By: 3})
	require.NoError(t, err)
	require.Equal(t, "2026-12-21", past.Rows[0].Is[1].String(), "by days")

	executive := right.Actor{Account: 9, Name: "Eve", Role: right.Executive}
	p, err := room.Push(t.Context(), executive, m, schedule.Move{Project: "YARD", Activity: "out", Finish: "2026-12-21"})
	require.NoError(t, err)
	require.False(t, p.Rows[0].May)
	var denied *right.Denied
	_, err = room.Keep(t.Context(), executive, m, p.Move, []string{p.Rows[0].Key()}, m.Revision(), false)
	require.True(t, errors.As(err, &denied), "%v", err)
	_, err = room.Timeline(context.Background(), right.Actor{}, m, nil, 0)
	require.Error(t, err)
}

// TestRaise: what is raised shows among the milestones that are followed; what is not there
// is not made by it.
func TestRaise(t *testing.T) {
	o := harbour(t)
	room := schedule.In(o)
	m := november(t, o)
	require.NoError(t, room.Raise(t.Context(), officetest.Ines, m.Revision(), "PIER", "sign", "programme"))
	w, err := room.Went(t.Context(), officetest.Ines, november(t, o))
	require.NoError(t, err)
	require.Len(t, w.Milestones, 3)
	before := officetest.LastBatch(t, o)
	require.ErrorContains(t, room.Raise(t.Context(), officetest.Ines, november(t, o).Revision(), "PIER", "nothing", "portfolio"), "there is no activity PIER/nothing")
	require.ErrorContains(t, room.Raise(t.Context(), officetest.Ines, november(t, o).Revision(), "PIER", "sign", "moon"), "is no level")
	require.Equal(t, before, officetest.LastBatch(t, o))
	var denied *right.Denied
	require.True(t, errors.As(room.Raise(t.Context(), right.Actor{Account: 9, Name: "Eve", Role: right.Executive}, m.Revision(), "PIER", "sign", "portfolio"), &denied))
}

// TestAgree: who agreed to an interface is kept with the link, and withdrawn again.
func TestAgree(t *testing.T) {
	o := harbour(t)
	room := schedule.In(o)
	agreed := func() string {
		x, err := room.Interfaces(t.Context(), officetest.Ines, november(t, o))
		require.NoError(t, err)
		require.Len(t, x.List, 1)
		require.Equal(t, 9, x.List[0].Conflict, "its dates are as they were")
		return x.List[0].Agreed
	}
	require.Empty(t, agreed())
	seen := november(t, o).Revision()
	require.NoError(t, room.Agree(t.Context(), officetest.Ines, seen, "PIER", "YARD/out", "fit", true))
	require.Equal(t, officetest.Ines.Name, agreed())
	require.NoError(t, room.Agree(t.Context(), officetest.Ines, november(t, o).Revision(), "PIER", "YARD/out", "fit", false))
	require.Empty(t, agreed())
	require.ErrorContains(t, room.Agree(t.Context(), officetest.Ines, november(t, o).Revision(), "PIER", "YARD/out", "test", true), "states no link")
	var denied *right.Denied
	require.True(t, errors.As(room.Agree(t.Context(), right.Actor{Account: 9, Name: "Eve", Role: right.Executive}, seen, "PIER", "YARD/out", "fit", true), &denied))
	officetest.GatherMap(t, o, map[string]string{"links.csv": "project,from,to,what\nPIER,YARD/out,fit,The hull with its papers\n"})
	x, err := room.Interfaces(t.Context(), officetest.Ines, november(t, o))
	require.NoError(t, err)
	require.Equal(t, "The hull with its papers", x.List[0].What)
}
