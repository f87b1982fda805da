package stating_test

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"turret/internal/core/figure"
	"turret/internal/office"
	"turret/internal/office/account"
	"turret/internal/office/entry"
	"turret/internal/office/history"
	"turret/internal/office/officetest"
	"turret/internal/office/stating"
	"turret/internal/right"
	"turret/internal/store"
)

var ctx = context.Background()

// harbour is an office with two projects that were stated for May and June 2026; July is
// the period that is worked on.
func harbour(t *testing.T) *office.Office {
	o, _ := officetest.BareOffice(t)
	o.SetClock(func() time.Time { return time.Date(2026, 7, 30, 9, 0, 0, 0, time.UTC) })
	officetest.GatherMap(t, o, map[string]string{
		"cost_codes.csv": "cost_code,name\n10,Works\n20,Fees\n",
		"projects.csv":   "project,name,lead,currency,state,start\nA,Alpha,Ada,EUR,active,2026-05-01\nB,Beta,Ben,EUR,active,2026-05-01\n",
		"activities.csv": "project,activity,name,kind,budget,baseline_start,baseline_finish,start,finish\n" +
			"A,1,Piles,task,100,2026-05-01,2026-07-10,2026-05-01,2026-07-10\nA,2,Deck,task,100,2026-08-01,2026-09-30,2026-08-01,2026-09-30\n" +
			"A,3,Lights,task,100,2027-02-01,2027-03-31,2027-02-01,2027-03-31\nA,4,Opening,milestone,,,2027-04-01,,2027-04-01\nB,1,Hull,task,100,2026-05-01,2026-12-31,2026-05-01,2026-12-31\n",
		"progress.csv": "project,activity,period,percent,actual_start,note\nA,1,2026-05,10,2026-05-04,slow\nA,1,2026-06,40,,\nB,1,2026-06,5,2026-05-04,\n",
		"costs.csv": "project,cost_code,kind,flow,class,period,version,amount\nA,10,plan,cost,opex,2026-05,1,100\nA,20,plan,cost,opex,2026-09,1,50\n" +
			"A,10,forecast,cost,opex,2026-07,2026-06,70\nA,10,forecast,cost,opex,2026-08,2026-06,30.50\n",
		"postings.csv":   "posting,date,project,cost_code,class,amount\nL1,2026-06-10,A,10,opex,40\nL2,2026-07-10,A,10,opex,25\n",
		"risks.csv":      "project,risk,period,title,likelihood,impact,state\nA,R1,2026-06,Rock,3,4,open\nA,R2,2026-05,Wind,2,2,closed\n",
		"narratives.csv": "project,period,section,text,stated_standing\nA,2026-06,summary,As planned.,steady\n",
	})
	return o
}

func july(t *testing.T, o *office.Office) *office.Moment {
	t.Helper()
	return officetest.Moment(t, o, office.Ask{At: "2026-07", Own: true})
}

// sheet writes a section as lines: group, row, and its cells as is (last) or as typed.
func sheet(t *testing.T, o *office.Office, a office.Actor, section string) string {
	t.Helper()
	s, err := stating.In(o).Sheet(ctx, a, july(t, o), "A", section)
	require.NoError(t, err)
	var b strings.Builder
	for _, r := range s.Grid.Rows {
		if r.Group != "" {
			b.WriteString("[" + r.Group + "]")
		}
		b.WriteString(r.Key)
		for j, c := range r.Cells {
			if text := c.Value(); text != "" || c.Last != "" {
				fmt.Fprintf(&b, " %s=%s", s.Grid.Columns[j].Name, text)
			}
			if c.Last != "" && c.Last != c.Value() {
				b.WriteString("(" + c.Last + ")")
			}
			if c.Clashes() {
				b.WriteString("!")
			}
		}
		b.WriteString("\n")
	}
	return b.String()
}

// typed types texts into fields, as they are shown.
func typed(t *testing.T, o *office.Office, a office.Actor, section string, texts map[string]string) {
	t.Helper()
	m := july(t, o)
	s, err := stating.In(o).Sheet(ctx, a, m, "A", section)
	require.NoError(t, err)
	in := make(map[string]stating.Typed)
	for _, r := range s.Grid.Rows {
		for _, c := range r.Cells {
			if text, ok := texts[c.Name]; ok {
				in[c.Name] = stating.Typed{Was: c.Is, Text: text}
			}
		}
	}
	require.Len(t, in, len(texts), "every field is there")
	require.NoError(t, stating.In(o).Keep(ctx, a, m, "A", section, in))
}

func TestWhatASectionShows(t *testing.T) {
	o := harbour(t)
	ada := officetest.Admitted(t, o, "ada", right.Lead, "A")
	for section, want := range map[string]string{
		"progress": `
[Running, due or late]1 percent=40 start=2026-05-01 finish=2026-07-10 actual_start=2026-05-04 note=(slow)
[Starts within two periods]2 start=2026-08-01 finish=2026-09-30
[Later]3 start=2027-02-01 finish=2027-03-31
4 finish=2027-04-01
`,
		"forecast": `
10~opex~~~EUR booked=65 said=70 came=25 rest=45 2026-08=30.50
20~~~~EUR booked=0 came=0
`,
		"commitment": `
10~~~~EUR
20~~~~EUR
`,
		"risks": `
[Open]R1 title=Rock kind=risk likelihood=3 impact=4 state=open
[New]R3
R4
R5
[Closed]R2 title=Wind kind=risk likelihood=2 impact=2 state=closed
`,
		"narratives": `
summary text=(As planned.) stated_standing=(steady)
done
next
help
`,
	} {
		require.Equal(t, strings.TrimPrefix(want, "\n"), sheet(t, o, ada, section), section)
	}
}

// TestAStatement: what is typed is kept, is sent as one batch, and is no draft then.
func TestAStatement(t *testing.T) {
	o := harbour(t)
	ada := officetest.Admitted(t, o, "ada", right.Lead, "A")
	room := stating.In(o)
	typed(t, o, ada, "progress", map[string]string{"1/percent": "60 %", "1/note": "rock, at last", "1/finish": "2026-08-14"})
	typed(t, o, ada, "progress", map[string]string{"2/start": ""})
	typed(t, o, ada, "forecast", map[string]string{"10~opex~~~EUR/2026-09": "1 200.50", "20~~~~EUR/2026-09": "50"})
	typed(t, o, ada, "risks", map[string]string{"R1/state": "closed", "R3/title": "Ice", "R3/likelihood": "2", "R3/impact": "5"})
	typed(t, o, ada, "narratives", map[string]string{"summary/text": "Rock found.\nSix weeks.", "summary/stated_standing": "watch"})
	require.Contains(t, sheet(t, o, ada, "progress"), "1 percent=60 %(40) start=2026-05-01 finish=2026-08-14(2026-07-10)")
	sum, err := room.Summary(ctx, ada, july(t, o), "A")
	require.NoError(t, err)
	require.Equal(t, 12, sum.Changes())
	require.NotNil(t, sum.Effect)
	require.Equal(t, "A", sum.Effect.Code)
	before := officetest.LastBatch(t, o)
	id, err := room.Send(ctx, ada, july(t, o), "A")
	require.NoError(t, err)
	require.Equal(t, before+1, id, "one batch")
	out := officetest.Exported(t, o)
	require.Contains(t, out["progress.csv"], "A,1,2026-07,60,,2026-08-14,,,,\"rock, at last\"")
	require.Contains(t, out["progress.csv"], "A,2,2026-07,,-,", "what was emptied is cleared")
	for _, line := range []string{",2026-07,,,30.50,", ",2026-07,,,1200.50,", "A,20,forecast,cost,,2026-09,2026-07,,,50"} {
		require.Contains(t, out["costs.csv"], line, "the first statement of a period is the whole of it")
	}
	require.Contains(t, out["risks.csv"], "A,R3,,Ice,2,5")
	require.Contains(t, out["narratives.csv"], "watch")
	sum, err = room.Summary(ctx, ada, july(t, o), "A")
	require.NoError(t, err)
	require.Zero(t, sum.Changes(), "what was sent is no draft any more")
	_, err = room.Send(ctx, ada, july(t, o), "A")
	require.ErrorIs(t, err, office.ErrRefused, "there is nothing to send")
	typed(t, o, ada, "forecast", map[string]string{"10~opex~~~EUR/2026-08": ""})
	_, err = room.Send(ctx, ada, july(t, o), "A")
	require.NoError(t, err, "a later correction is a statement of the same period")
	require.NotContains(t, officetest.Exported(t, o)["costs.csv"], ",2026-07,,,30.50,")
}

// TestTwoInOneStatement: of two who state the same cell the second is told and chooses;
// the rest is taken, and nothing typed is lost.
func TestTwoInOneStatement(t *testing.T) {
	for _, own := range []bool{true, false} {
		o := harbour(t)
		ada, eve := officetest.Admitted(t, o, "ada", right.Lead, "A"), officetest.Admitted(t, o, "eve", right.Lead, "A")
		room := stating.In(o)
		typed(t, o, ada, "progress", map[string]string{"1/percent": "60", "2/note": "hers"})
		typed(t, o, eve, "progress", map[string]string{"1/percent": "55", "1/note": "his"})
		_, err := room.Send(ctx, eve, july(t, o), "A")
		require.NoError(t, err)
		require.Contains(t, sheet(t, o, ada, "progress"), "1 percent=60(40)!")
		_, err = room.Send(ctx, ada, july(t, o), "A")
		require.True(t, office.IsConflict(err), "%v", err)
		require.Equal(t, "Dates and progress, 1 Piles, %: it was “40” when you typed “60”, and someone else has stated “55” since. Choose which holds; nothing was sent.", err.Error())
		require.NoError(t, room.Choose(ctx, ada, july(t, o), "A", "progress", "1/percent", own))
		_, err = room.Send(ctx, ada, july(t, o), "A")
		require.NoError(t, err)
		out := officetest.Exported(t, o)["progress.csv"]
		require.Contains(t, out, "A,1,2026-07,"+map[bool]string{true: "60", false: "55"}[own]+",,,,,,his")
		require.Contains(t, out, "A,2,2026-07,,,,,,,hers")
	}
}

// TestWrongCells: what cannot be taken is told at its cell, and nothing is sent.
func TestWrongCells(t *testing.T) {
	o := harbour(t)
	ada := officetest.Admitted(t, o, "ada", right.Lead, "A")
	room := stating.In(o)
	for _, c := range []struct{ section, field, text, says string }{
		{"progress", "1/percent", "140", "not between 0 and 100"},
		{"progress", "2/finish", "2026-02-31", "does not exist"},
		{"progress", "2/finish", "2026-07-01", "before"},
		{"forecast", "20~~~~EUR/2026-09", "ten", "ten"},
		{"risks", "R1/impact", "9", "not between 1 and 5"},
	} {
		typed(t, o, ada, c.section, map[string]string{c.field: c.text})
		sum, err := room.Summary(ctx, ada, july(t, o), "A")
		require.NoError(t, err)
		told := sum.Why
		for _, s := range sum.Sheets {
			for _, r := range s.Grid.Rows {
				for _, x := range r.Cells {
					if x.Wrong != "" {
						told = x.Name + ": " + x.Wrong
					}
				}
			}
		}
		require.Contains(t, told, c.field+": ", "%s %s", c.field, sum.Why)
		require.Contains(t, told, c.says)
		before := officetest.LastBatch(t, o)
		_, err = room.Send(ctx, ada, july(t, o), "A")
		require.ErrorIs(t, err, office.ErrRefused)
		require.Equal(t, before, officetest.LastBatch(t, o))
		require.Contains(t, sheet(t, o, ada, c.section), c.text, "what was typed is still there")
		require.NoError(t, room.Drop(ctx, ada, july(t, o), "A", c.section))
	}
}

// Two cells that cannot be taken are both told, though for different reasons.
func TestAllThatIsWrong(t *testing.T) {
	o := harbour(t)
	ada := officetest.Admitted(t, o, "ada", right.Lead, "A")
	typed(t, o, ada, "progress", map[string]string{"1/percent": "140", "2/finish": "2026-07-01", "3/note": "fine"})
	sum, err := stating.In(o).Summary(ctx, ada, july(t, o), "A")
	require.NoError(t, err)
	require.Equal(t, 2, sum.Wrong)
	require.Nil(t, sum.Effect, "what cannot be sent does nothing")
	g := sum.Sheets[0].Grid
	require.Contains(t, g.Cell("1/percent").Wrong, "not between 0 and 100")
	require.Contains(t, g.Cell("2/finish").Wrong, "before it starts on 2026-08-01")
	require.Empty(t, g.Cell("3/note").Wrong)
}

// A part that is not there takes nothing, and nothing is dropped for it.
func TestNoSuchPart(t *testing.T) {
	o := harbour(t)
	ada := officetest.Admitted(t, o, "ada", right.Lead, "A")
	typed(t, o, ada, "progress", map[string]string{"1/percent": "60"})
	room := stating.In(o)
	require.ErrorIs(t, room.Drop(ctx, ada, july(t, o), "A", "send"), office.ErrRefused)
	require.ErrorIs(t, room.Keep(ctx, ada, july(t, o), "A", "elsewhere", nil), office.ErrRefused)
	require.Contains(t, sheet(t, o, ada, "progress"), "percent=60")
}

// TestWhoStates: a lead their own projects, a deputy what they were let, an analyst for
// everyone, others nothing.
func TestWhoStates(t *testing.T) {
	o := harbour(t)
	ada, eve := officetest.Admitted(t, o, "ada", right.Lead, "A"), officetest.Admitted(t, o, "eve", right.Lead)
	exec, ann := officetest.Admitted(t, o, "tor", right.Executive), officetest.Admitted(t, o, "ann", right.Analyst)
	officetest.GatherMap(t, o, map[string]string{"stating.csv": "project,account,kinds,from,until\nA,EVE,risks,2026-06,2026-07\nB,eve,,2026-08,\n"})
	var err error
	eve, _, err = account.In(o).ActorOf(ctx, eve.Account)
	require.NoError(t, err)
	room := stating.In(o)
	for _, c := range []struct {
		who     office.Actor
		project string
		section string
		may     bool
	}{
		{ada, "A", "progress", true},
		{ada, "B", "progress", false},
		{eve, "A", "risks", true},
		{eve, "A", "progress", false},
		{eve, "B", "risks", false},
		{exec, "A", "risks", false},
		{ann, "B", "forecast", true},
	} {
		_, err := room.Sheet(ctx, c.who, july(t, o), c.project, c.section)
		require.Equal(t, c.may, err == nil, "%v", c)
		if !c.may {
			require.ErrorAs(t, err, new(*office.Denied))
		}
	}
	typed(t, o, eve, "risks", map[string]string{"R1/likelihood": "5"})
	_, err = room.Send(ctx, eve, july(t, o), "A")
	require.NoError(t, err)
	_, err = entry.In(o).Gather(ctx, eve, []entry.File{officetest.File("progress.csv", "project,activity,period,percent\nA,1,2026-07,60\n")}, nil, entry.Options{})
	require.ErrorAs(t, err, new(*office.Denied), "through files neither")
	_, err = entry.In(o).Gather(ctx, ada, []entry.File{officetest.File("costs.csv", "project,cost_code,kind,period,version,amount\nA,10,plan,2026-05,1,900\n")}, nil, entry.Options{})
	require.ErrorAs(t, err, new(*office.Denied), "a lead changes no plan")
	_, err = room.Summary(ctx, exec, july(t, o), "A")
	require.ErrorAs(t, err, new(*office.Denied))
}

// TestConfirm: nothing has changed is a statement of its own.
func TestConfirm(t *testing.T) {
	o := harbour(t)
	ada := officetest.Admitted(t, o, "ada", right.Lead, "A")
	room := stating.In(o)
	desk := func() *stating.Desk {
		d, err := room.Desk(ctx, ada, july(t, o))
		require.NoError(t, err)
		return d
	}
	require.Equal(t, 2, desk().Missing, "progress and forecast")
	require.True(t, desk().Projects[0].Repeats)
	require.NoError(t, room.Confirm(ctx, ada, july(t, o), "A"))
	require.Zero(t, desk().Missing)
	list, err := o.Store().Batches(ctx, store.HistoryFilter{Most: 1})
	require.NoError(t, err)
	require.Equal(t, office.Confirmed, list[0].Origin)
	out := officetest.Exported(t, o)
	require.Contains(t, out["progress.csv"], "A,1,2026-07,40,")
	require.Contains(t, out["costs.csv"], "A,10,forecast,cost,opex,2026-08,2026-07,,,30.50")
	require.NotContains(t, out["risks.csv"], "2026-07", "risks are not owed")
	require.ErrorIs(t, room.Confirm(ctx, ada, july(t, o), "A"), office.ErrRefused, "once")
	require.NoError(t, room.Confirm(ctx, ada, july(t, o), "A", "risks", "narratives"))
	out = officetest.Exported(t, o)
	require.Contains(t, out["risks.csv"], "A,R1,risk,Rock,3,4,,,,open,,2026-07")
	require.NotContains(t, out["risks.csv"], "A,R2,risk,Wind,2,2,,,,closed,,2026-07", "what is closed is not said again")
	require.Contains(t, out["narratives.csv"], "A,2026-07,summary,As planned.,steady")
}

// TestShutPeriods: a period that is closed or in checking takes no statement of a lead,
// and what is typed stays.
func TestShutPeriods(t *testing.T) {
	o := harbour(t)
	ada, ann := officetest.Admitted(t, o, "ada", right.Lead, "A"), officetest.Admitted(t, o, "ann", right.Analyst)
	room := stating.In(o)
	typed(t, o, ada, "progress", map[string]string{"1/percent": "60"})
	typed(t, o, ann, "progress", map[string]string{"1/percent": "61"})
	officetest.GatherMap(t, o, map[string]string{"periods.csv": "period,state\n2026-07,in checking\n"})
	_, err := room.Send(ctx, ada, july(t, o), "A")
	require.ErrorIs(t, err, office.ErrRefused)
	require.Contains(t, err.Error(), "Jul 2026 is in checking")
	require.Contains(t, sheet(t, o, ada, "progress"), "percent=60")
	_, err = room.Send(ctx, ann, july(t, o), "A")
	require.NoError(t, err, "an analyst states on a lead's behalf")
	require.True(t, errors.Is(room.Confirm(ctx, ada, july(t, o), "A"), office.ErrRefused))
}

// TestLetIn: in checking one project is let in again, the other stays out, through files
// too; shut again it is out.
func TestLetIn(t *testing.T) {
	o := harbour(t)
	ada := officetest.Admitted(t, o, "ada", right.Lead, "A", "B")
	officetest.GatherMap(t, o, map[string]string{"periods.csv": "period,state\n2026-07,in checking\n", "let_in.csv": "project,period,reason\nA,2026-07,steel\n"})
	typed(t, o, ada, "progress", map[string]string{"1/percent": "60"})
	_, err := stating.In(o).Send(ctx, ada, july(t, o), "A")
	require.NoError(t, err)
	require.ErrorContains(t, stating.In(o).Confirm(ctx, ada, july(t, o), "B"), "in checking")
	percent := 69
	file := func(project string) error {
		percent++
		_, err := entry.In(o).Gather(ctx, ada, []entry.File{officetest.File("progress.csv", fmt.Sprintf("project,activity,period,percent\n%s,1,2026-07,%d\n", project, percent))}, nil, entry.Options{})
		return err
	}
	require.NoError(t, file("A"))
	require.ErrorContains(t, file("B"), "in checking")
	d, err := stating.In(o).Desk(ctx, ada, july(t, o))
	require.NoError(t, err)
	require.Equal(t, []bool{false, true}, []bool{d.Projects[0].Shut, d.Projects[1].Shut})
	officetest.GatherMap(t, o, map[string]string{"let_in.csv": "project,period,state\nA,2026-07,shut\n"})
	require.ErrorContains(t, file("A"), "in checking")
}

// TestMinutesLastTime: the desk tells how long the last statement took: here 90 seconds
// between two cells and 30 until it was sent, so two minutes; a pause counts two minutes.
func TestMinutesLastTime(t *testing.T) {
	o := harbour(t)
	ada := officetest.Admitted(t, o, "ada", right.Lead, "A")
	now := o.Clock()
	o.SetClock(func() time.Time { return now })
	minutes := func() int {
		officetest.Take(t, o, entry.Options{})
		d, err := stating.In(o).Desk(ctx, ada, officetest.Moment(t, o, office.Ask{At: "2026-08", Own: true}))
		require.NoError(t, err)
		return d.Projects[0].Minutes
	}
	typed(t, o, ada, "progress", map[string]string{"1/percent": "55"})
	now = now.Add(90 * time.Second)
	typed(t, o, ada, "progress", map[string]string{"1/percent": "60"})
	require.Zero(t, minutes(), "nothing was sent")
	now = now.Add(30 * time.Second)
	_, err := stating.In(o).Send(ctx, ada, july(t, o), "A")
	require.NoError(t, err)
	require.Equal(t, 2, minutes())
	s, err := stating.In(o).Sheet(ctx, ada, july(t, o), "A", "progress")
	require.NoError(t, err)
	require.Equal(t, ada.Name, s.By)
	require.True(t, now.Equal(s.At))
	require.False(t, s.Repeat)
}

// TestTakingBackAStatement: what was sent is taken back like any other change.
func TestTakingBackAStatement(t *testing.T) {
	o := harbour(t)
	ada := officetest.Admitted(t, o, "ada", right.Lead, "A")
	before := sheet(t, o, ada, "progress")
	typed(t, o, ada, "progress", map[string]string{"1/percent": "60"})
	batch, err := stating.In(o).Send(ctx, ada, july(t, o), "A")
	require.NoError(t, err)
	_, err = history.In(o).Undo(ctx, officetest.Operator, batch, false)
	require.NoError(t, err)
	require.Equal(t, before, sheet(t, o, ada, "progress"))
}

// TestSince: others' changes of some projects, and not one's own.
func TestSince(t *testing.T) {
	o := harbour(t)
	ada := officetest.Admitted(t, o, "ada", right.Lead, "A")
	since := o.Clock().Add(-time.Second)
	o.SetClock(func() time.Time { return since.Add(time.Minute) })
	typed(t, o, ada, "progress", map[string]string{"1/percent": "60"})
	_, err := stating.In(o).Send(ctx, ada, july(t, o), "A")
	require.NoError(t, err)
	officetest.GatherMap(t, o, map[string]string{"progress.csv": "project,activity,period,percent\nB,1,2026-07,9\n"})
	touched := func(projects ...string) (out []string) {
		list, err := history.In(o).Since(ctx, ada, july(t, o), projects, since.Add(30*time.Second))
		require.NoError(t, err)
		for _, x := range list {
			out = append(out, x.Project+" "+x.How())
		}
		return out
	}
	require.Empty(t, touched("A"), "one's own")
	require.Equal(t, []string{"B gathered"}, touched("A", "B", "gone"))
}

// TestSteps: steps are ticked with progress: an x is today, the percent of the activity
// follows from their weights (1 of 1 + 3, so 25), and one that was ticked can be cleared.
// A project without steps has no such part.
func TestSteps(t *testing.T) {
	o := harbour(t)
	ada := officetest.Admitted(t, o, "ada", right.Lead, "A", "B")
	parts := func() (out []string) {
		s, err := stating.In(o).Summary(ctx, ada, july(t, o), "A")
		require.NoError(t, err)
		for _, x := range s.Sheets {
			out = append(out, x.Section.Name)
		}
		return out
	}
	require.Equal(t, []string{"progress", "forecast", "commitment", "risks", "narratives"}, parts())
	officetest.GatherMap(t, o, map[string]string{
		"activities.csv": "project,activity,rule\nA,2,steps\n",
		"steps.csv":      "project,activity,step,weight,done\nA,2,S1,1,\nA,2,S2,3,\n",
	})
	require.Equal(t, []string{"progress", "steps", "forecast", "commitment", "risks", "narratives"}, parts())
	require.Equal(t, "[2 Deck]2 S1 weight=1\n2 S2 weight=3\n", sheet(t, o, ada, "steps"))
	typed(t, o, ada, "steps", map[string]string{"2 S1/done": "X"})
	_, err := stating.In(o).Send(ctx, ada, july(t, o), "A")
	require.NoError(t, err)
	require.Equal(t, "[2 Deck]2 S1 weight=1 done=2026-07-30\n2 S2 weight=3\n", sheet(t, o, ada, "steps"))
	ev := func() int64 {
		return officetest.ReadingOf(officetest.Moment(t, o, office.Ask{At: "2026-07"}), "A").Value(figure.EV).N
	}
	require.Equal(t, int64(3250), ev(), "40 of the piles' 100 and 25 of the deck's, of 300 in all, of a plan of 150")
	typed(t, o, ada, "steps", map[string]string{"2 S1/done": "", "2 S2/done": "soon"})
	_, err = stating.In(o).Send(ctx, ada, july(t, o), "A")
	require.ErrorIs(t, err, office.ErrRefused, "a word is no day")
	typed(t, o, ada, "steps", map[string]string{"2 S2/done": ""})
	_, err = stating.In(o).Send(ctx, ada, july(t, o), "A")
	require.NoError(t, err)
	require.Equal(t, int64(2000), ev(), "40 of 300")
	officetest.GatherMap(t, o, map[string]string{"steps.csv": "project,activity,step,done\nA,2,S1,2026-06-01\nA,2,S2,2026-06-02\n"})
	s, err := stating.In(o).Sheet(ctx, ada, july(t, o), "A", "steps")
	require.NoError(t, err)
	require.True(t, s.Grid.Rows[0].Folded, "all were done before")
}
