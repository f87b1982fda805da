package network_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/network"
	"turret/internal/office/officetest"
)

// TestNetwork goes from files to what is printed: kinds and states of activities, links
// within and across projects, of others' activities, of summaries, loops and what is gone.
// November 2026 ends on a Monday.
func TestNetwork(t *testing.T) {
	o := officetest.NewOffice(t)
	report := officetest.Take(t, o, entry.Options{},
		officetest.File("programmes.csv", "programme,name\nH,Harbour\n"),
		officetest.File("calendars.csv", "calendar,kind,day,name\noffice,week,mon,\noffice,week,tue,\noffice,week,wed,\noffice,week,thu,\noffice,week,fri,\n"),
		officetest.File("projects.csv", "project,name,programme,state,calendar\nP1,Pier,H,active,\nP2,Shed,,on hold,\nP3,Gone,,cancelled,\n"),
		officetest.File("activities.csv", `project,activity,parent,name,kind,baseline_start,baseline_finish,start,finish
P1,S,,All of it,summary,,,,
P1,A,S,Piles,task,,,2026-11-02,2026-11-20
P1,B,S,Deck,task,,,2026-12-01,2026-12-04
P1,C,S,Rail,task,2026-12-07,2026-12-08,,
P1,M,S,Open,milestone,,,,2026-12-07
P1,N,S,Without a date,task,,,,
P2,A,,Roof,task,,,2026-12-01,2026-12-10
P2,X,,One,task,,,2026-12-01,2026-12-02
P2,Y,,Two,task,,,2026-12-03,2026-12-04
P3,A,,Never,task,,,2026-12-01,2026-12-10
`),
		officetest.File("progress.csv", `project,activity,period,percent,start,finish,actual_start,actual_finish
P1,A,2026-11,100,,,2026-11-02,2026-11-27
P1,B,2026-11,20,,2026-12-02,2026-11-23,
P2,A,2026-12,50,2026-12-21,2026-12-23,,
`),
		officetest.File("links.csv", `project,from,to,type,lag
P1,A,B,,
P1,B,C,FS,2
P1,C,M,FF,
P1,P2/A,M,FS,1
P1,S,C,FS,
P1,P3/A,C,FS,
P2,X,Y,FS,
P2,Y,X,SS,
P2,P1/B,A,SF,
H1,A,B,FS,
P2,P1/A,P1/C,SS,3
P1,P2/X,C,FF,1
`))
	require.Len(t, report.Refusals, 1, "of the project that is not known")
	period, err := o.ParsePeriod(t.Context(), officetest.Ines, "2026-11")
	require.NoError(t, err)
	n, err := network.In(o).Network(t.Context(), officetest.Ines, period, "")
	require.NoError(t, err)
	require.Equal(t, "Outside the network: 1 activity has no date", n.Outside())

	var text strings.Builder
	require.NoError(t, n.WriteJSON(&text))
	var got struct {
		Activities []map[string]any
		Links      []map[string]any
		Loops      []string
	}
	require.NoError(t, json.Unmarshal([]byte(text.String()), &got))
	say := func(m map[string]any, names ...string) string {
		var out []string
		for _, name := range names {
			v, there := m[name]
			require.True(t, there, name)
			if v == nil {
				v = "-"
			}
			out = append(out, fmt.Sprint(v))
		}
		return strings.Join(out, " ")
	}
	var rows []string
	for _, a := range got.Activities {
		rows = append(rows, say(a, "project", "activity", "early_start", "early_finish", "late_start", "late_finish", "total_float", "free_float", "critical", "driven_by"))
	}
	require.Equal(t, []string{
		"P1 A 2026-11-02 2026-11-27 - - - - false -",
		// Started: until Wed 2; C may begin two days later, on Mon 7, as it is planned, and on
		// Thu 10 at the latest, so that B may end on Mon 7.
		"P1 B 2026-11-23 2026-12-02 - 2026-12-07 3 0 false -",
		"P1 C 2026-12-07 2026-12-08 2026-12-10 2026-12-11 3 3 false P1/B",
		// P2/A ends on Thu 10, and the day after is M.
		"P1 M 2026-12-11 2026-12-11 2026-12-11 2026-12-11 0 0 true P2/A",
		"P2 A 2026-12-01 2026-12-10 2026-12-01 2026-12-10 0 0 true -",
	}, rows)
	rows = nil
	for _, l := range got.Links {
		rows = append(rows, say(l, "project", "from", "to", "type", "lag", "broken_by"))
	}
	require.Equal(t, []string{
		"P1 A B FS 0 -", // overtaken
		"P1 B C FS 2 0",
		"P1 C M FF 0 1",
		"P1 P2/A M FS 1 4", // from Mon 7 to Fri 11
		"P1 P2/X C FF 1 -", // of a loop
		"P1 P3/A C FS 0 -",
		"P1 S C FS 0 -",
		"P2 P1/A P1/C SS 3 0",
		"P2 P1/B A SF 0 0",
		"P2 X Y FS 0 -",
		"P2 Y X SS 0 -",
	}, rows)
	require.Equal(t, []string{"P2/X", "P2/Y"}, got.Loops)

	n, err = network.In(o).Network(t.Context(), officetest.Ines, period, "H")
	require.NoError(t, err)
	require.Len(t, n.Activities, 4)
	require.Empty(t, n.Loops)
	_, err = network.In(o).Network(t.Context(), officetest.Ines, period, "Q")
	require.ErrorIs(t, err, office.ErrUnknownScope)
	text.Reset()
	require.NoError(t, n.WriteTable(&text))
	require.Contains(t, text.String(), "broken: P1, P2/A to M (FS+1) by 4 working days")
}

// TestTwoGivers: links whose givers have one code in two projects are two.
func TestTwoGivers(t *testing.T) {
	o := officetest.NewOffice(t)
	report := officetest.Take(t, o, entry.Options{},
		officetest.File("projects.csv", "project,name\nN01,a\nN02,b\nN03,c\n"),
		officetest.File("activities.csv", "project,activity,start,finish\nN01,a1,2026-12-01,2026-12-02\nN02,a29,2026-12-01,2026-12-04\nN03,a29,2026-12-01,2026-12-08\n"),
		officetest.File("links.csv", "project,from,to,type,lag\nN01,N02/a29,a1,FS,1\nN01,N03/a29,a1,FS,2\nN01,N01/a1,N02/a29,SS,0\n"))
	require.Empty(t, report.Refusals)
	again := officetest.Take(t, o, entry.Options{}, officetest.File("links.csv", "project,from,to,type,lag\nN01,N02/a29,a1,FS,1\nN01,a1,N02/a29,SS,0\n"))
	require.False(t, again.Written, "an activity of the project itself needs not name it")
	period, err := o.ParsePeriod(t.Context(), officetest.Ines, "2026-11")
	require.NoError(t, err)
	n, err := network.In(o).Network(t.Context(), officetest.Ines, period, "")
	require.NoError(t, err)
	require.Len(t, n.Links, 3)
	require.Equal(t, []string{"N01/a1", "N02/a29"}, n.Loops)
}

// TestConstraints: what binds dates comes from the activities' columns. November 2026 ends
// on a Monday; all days of December until the 24th are those of a week from Monday to Friday.
func TestConstraints(t *testing.T) {
	o := officetest.NewOffice(t)
	report := officetest.Take(t, o, entry.Options{},
		officetest.File("projects.csv", "project,name\nP,Pier\n"),
		officetest.File("activities.csv", `project,activity,kind,start,finish,constraint,constraint_date,constraint_reason
P,A,task,2026-12-01,2026-12-04,not before,2026-12-07,Spring tide
P,B,task,2026-12-01,2026-12-02,on,2026-12-03,
P,C,task,2026-12-08,2026-12-09,not after,2026-12-08,The fair
P,D,milestone,,2026-12-18,,2026-12-01,
P,E,task,2026-12-01,2026-12-02,on,,
`),
		officetest.File("links.csv", "project,from,to\nP,A,B\n"))
	require.Empty(t, report.Refusals)
	period, err := o.ParsePeriod(t.Context(), officetest.Ines, "2026-11")
	require.NoError(t, err)
	n, err := network.In(o).Network(t.Context(), officetest.Ines, period, "")
	require.NoError(t, err)
	var rows []string
	for _, a := range n.Activities {
		rows = append(rows, fmt.Sprint(a.Activity, " ", a.EarlyStart, " ", a.EarlyFinish, " ", *a.LateFinish, " ", *a.TotalFloat))
	}
	require.Equal(t, []string{
		// Not before the 7th: four days to Thu 10. B stays on its day, though A is not done by
		// then, and may itself end on the 18th at the latest: two days before are Wed 16.
		"A 2026-12-07 2026-12-10 2026-12-16 4",
		"B 2026-12-03 2026-12-04 2026-12-18 10",
		"C 2026-12-08 2026-12-09 2026-12-08 -1",
		"D 2026-12-18 2026-12-18 2026-12-18 0",
		"E 2026-12-01 2026-12-02 2026-12-18 12",
	}, rows)
}
