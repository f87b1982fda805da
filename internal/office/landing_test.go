package office_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/office"
	"turret/internal/office/board"
	"turret/internal/office/closing"
	"turret/internal/office/intake"
	"turret/internal/office/officetest"
)

// closed closes periods of an office.
func closed(t *testing.T, o *office.Office, codes ...string) {
	t.Helper()
	for _, code := range codes {
		p, err := o.ParsePeriod(context.Background(), officetest.Operator, code)
		require.NoError(t, err)
		_, err = closing.In(o).ClosePeriod(context.Background(), officetest.Operator, p)
		require.NoError(t, err)
	}
}

// TestWhereOneLands: an office stated January and February. While a period says nothing
// of its own, all is as of the last one that does, and says so; what prepares a period
// shows it all the same.
func TestWhereOneLands(t *testing.T) {
	const march = "project,period,section,text\nK1,2026-03,summary,On we go.\n"
	for _, c := range []struct {
		name                 string
		close                []string
		state                bool // something for March
		ask                  office.Ask
		period, asked, as    string
		vs, since, note      string
		selected, rated      string // on the rail: which is chosen, and the last whose counts show
		beforeWith, nextWith string
	}{
		{name: "none closed", period: "2026-02", asked: "2026-02", selected: "2026-02", rated: "2026-02", beforeWith: "2026-01"},
		{name: "one closed, the next stated", close: []string{"2026-01"}, period: "2026-02", asked: "2026-02", since: "2026-01", selected: "2026-02", rated: "2026-02", beforeWith: "2026-01"},
		{name: "the day after a close", close: []string{"2026-01", "2026-02"}, period: "2026-02", asked: "2026-02", since: "2026-01", selected: "2026-02", rated: "2026-02", beforeWith: "2026-01", nextWith: "2026-03"},
		{name: "the open one is asked for", close: []string{"2026-01", "2026-02"}, ask: office.Ask{At: "2026-03"}, period: "2026-02", asked: "2026-03", as: "Mar 2026 is open. Nothing is stated for it yet. As of Feb 2026:", since: "2026-01", selected: "2026-03", rated: "2026-02", beforeWith: "2026-02"},
		{name: "one to come is asked for", ask: office.Ask{At: "2026-03"}, period: "2026-02", asked: "2026-03", as: "Mar 2026 is still to come. Nothing is stated for it yet. As of Feb 2026:", selected: "2026-03", rated: "2026-02", beforeWith: "2026-02"},
		{name: "and compared with the last", close: []string{"2026-01", "2026-02"}, ask: office.Ask{At: "2026-03", Vs: "2026-02"}, period: "2026-02", asked: "2026-03", as: "Mar 2026 is open. Nothing is stated for it yet. As of Feb 2026:", since: "2026-01", note: "Mar 2026 is not compared with Feb 2026: nothing is stated for one of them.", selected: "2026-03", rated: "2026-02", beforeWith: "2026-02"},
		{name: "compared with one that says nothing", close: []string{"2026-01", "2026-02"}, ask: office.Ask{At: "2026-02", Vs: "2026-03"}, period: "2026-02", asked: "2026-02", since: "2026-01", note: "Feb 2026 is not compared with Mar 2026: nothing is stated for one of them.", selected: "2026-02", rated: "2026-02", beforeWith: "2026-01", nextWith: "2026-03"},
		{name: "compared with an earlier one", close: []string{"2026-01", "2026-02"}, ask: office.Ask{At: "2026-03", Vs: "2026-01"}, period: "2026-02", asked: "2026-03", as: "Mar 2026 is open. Nothing is stated for it yet. As of Feb 2026:", vs: "2026-01", since: "2026-01", selected: "2026-03", rated: "2026-02", beforeWith: "2026-02"},
		{name: "once something is stated", close: []string{"2026-01", "2026-02"}, state: true, period: "2026-03", asked: "2026-03", since: "2026-02", selected: "2026-03", rated: "2026-03", beforeWith: "2026-02"},
		{name: "what prepares it", close: []string{"2026-01", "2026-02"}, ask: office.Ask{Own: true}, period: "2026-03", asked: "2026-03", since: "2026-02", selected: "2026-03", rated: "2026-02", beforeWith: "2026-02"},
		{name: "no such period", ask: office.Ask{At: "2031-13"}, period: "2026-02", asked: "2026-02", note: "this is Feb 2026", selected: "2026-02", rated: "2026-02", beforeWith: "2026-01"},
		{name: "one far ahead", ask: office.Ask{At: "2027-01"}, period: "2026-02", asked: "2026-02", note: "Nothing is stated for Jan 2027; this is Feb 2026.", selected: "2026-02", rated: "2026-02", beforeWith: "2026-01"},
		{name: "far ahead, and preparing", close: []string{"2026-01", "2026-02"}, ask: office.Ask{At: "2027-01", Own: true}, period: "2026-03", asked: "2026-03", since: "2026-02", note: "Nothing is stated for Jan 2027; this is Mar 2026.", selected: "2026-03", rated: "2026-02", beforeWith: "2026-02"},
		{name: "no such period to compare with", ask: office.Ask{Vs: "soon"}, period: "2026-02", asked: "2026-02", note: "nothing is compared", selected: "2026-02", rated: "2026-02", beforeWith: "2026-01"},
	} {
		t.Run(c.name, func(t *testing.T) {
			o := officetest.NewOffice(t)
			officetest.GatherMap(t, o, officetest.Checked)
			closed(t, o, c.close...)
			if c.state {
				officetest.GatherMap(t, o, map[string]string{"narratives.csv": march})
			}
			m, err := o.Moment(context.Background(), officetest.Operator, c.ask)
			require.NoError(t, err)
			require.Equal(t, [5]string{c.period, c.asked, c.as, c.vs, c.since}, [5]string{m.Period.Code, m.Asked.Code, m.AsOf(), m.Vs.Code, m.Since.Code})
			if c.note == "" {
				require.Empty(t, m.Notes)
			} else {
				require.Len(t, m.Notes, 1)
				require.Contains(t, m.Notes[0], c.note)
			}
			require.Equal(t, [2]string{c.beforeWith, c.nextWith}, [2]string{m.Before.Code, m.After.Code})
			rail, err := board.In(o).Rail(context.Background(), officetest.Operator, m, "*")
			require.NoError(t, err)
			var selected, rated string
			for _, p := range rail {
				if p.Selected {
					selected += p.Code
				}
				if p.Rated {
					rated = p.Code
				}
			}
			require.Equal(t, [2]string{c.selected, c.rated}, [2]string{selected, rated})
		})
	}
}

// TestBeforeAPeriodHasEnded: while March says nothing and lasts, nobody owes anything for
// it, it counts nothing, and it cannot be closed; once it has ended, or something is
// stated, it is owed.
func TestBeforeAPeriodHasEnded(t *testing.T) {
	ctx := context.Background()
	o := officetest.NewOffice(t)
	officetest.GatherMap(t, o, officetest.Checked)
	closed(t, o, "2026-01", "2026-02")
	day := calendar.DateIn(time.Date(2026, 3, 31, 12, 0, 0, 0, time.UTC))
	o.SetClock(func() time.Time { return day.Time().Add(12 * time.Hour) })
	march := func() *office.Moment {
		return officetest.Moment(t, o, office.Ask{Own: true})
	}
	matrix := func() *intake.Matrix {
		x, err := intake.In(o).Matrix(ctx, officetest.Operator, march())
		require.NoError(t, err)
		return x
	}
	require.False(t, march().Owes())
	stated, owes := march().Owing()
	require.Equal(t, [3]int{0, 0, 0}, [3]int{stated, owes, march().Waiting()})
	x := matrix()
	require.True(t, x.Early)
	require.Zero(t, x.Owing)
	for _, g := range x.Groups {
		for _, r := range g.Rows {
			require.Empty(t, r.Owes, r.Code)
		}
	}
	c, err := closing.In(o).Closing(ctx, officetest.Operator, march())
	require.NoError(t, err)
	require.Equal(t, "Nothing is stated for 2026-03 yet, and it lasts until 31 Mar 2026; what ends without a statement can be closed from then on.", c.Why)
	p, err := o.ParsePeriod(ctx, officetest.Operator, "2026-03")
	require.NoError(t, err)
	_, err = closing.In(o).ClosePeriod(ctx, officetest.Operator, p)
	require.ErrorContains(t, err, "lasts until 31 Mar 2026")

	day++ // the first of April
	require.True(t, march().Owes())
	_, owes = march().Owing()
	require.Positive(t, owes)
	require.Equal(t, owes, matrix().Owing)
	c, err = closing.In(o).Closing(ctx, officetest.Operator, march())
	require.NoError(t, err)
	require.Empty(t, c.Why)
	kinds := make(map[string]int)
	for _, p := range c.Points {
		kinds[p.Kind] = len(p.Names) + p.More
	}
	require.Equal(t, owes, kinds[closing.Owing])

	day-- // one that has not ended, of which something is stated
	officetest.GatherMap(t, o, map[string]string{"narratives.csv": "project,period,section,text\nK1,2026-03,summary,On we go.\n"})
	require.True(t, march().Owes())
	require.Equal(t, owes, matrix().Owing)
}
