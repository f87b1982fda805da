package gather

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
)

// linksOf reads the links that a list of activities tells: "from kind lag to", or what is
// asked and refused.
func linksOf(t *testing.T, body string, o *Options, m Mapping) (links, told []string) {
	t.Helper()
	u := understand(t, "QS-01 schedule.csv", []byte(body), o, m)[0]
	for _, q := range u.Questions {
		told = append(told, q.About+": "+q.Text+" ["+strings.Join(q.Choices, ", ")+"]")
	}
	if !u.Linked || len(u.Questions) > 0 {
		return nil, told
	}
	rows, refused := rowsOf(t, u.Links(), o)
	for _, r := range rows {
		kind, lag := fields(r, "type"), fields(r, "lag")
		if kind == "" {
			kind = "FS"
		}
		links = append(links, strings.TrimSpace(strings.Join([]string{fields(r, "project") + ":", fields(r, "from"), kind, lag, fields(r, "to")}, " ")))
	}
	for _, r := range refused {
		told = append(told, r.Reason)
	}
	return links, told
}

// scheduled are options of an office that works Monday to Friday.
func scheduled() *Options {
	o := knowing()
	c := calendar.New("", calendar.MondayToFriday, nil)
	o.Works = func(string) *calendar.Calendar { return c }
	return o
}

// TestLinksOfLists: what columns of predecessors and successors name, by which column they
// do, and what is asked where several fit.
func TestLinksOfLists(t *testing.T) {
	const head = "Project,Activity ID,Activity name,Start,Finish,"
	row := func(code, name string, rest ...string) string {
		return "QS-01," + code + "," + name + ",2026-03-02,2026-03-06," + strings.Join(rest, ",") + "\n"
	}
	for name, x := range map[string]struct {
		body  string
		say   Mapping
		links []string
		told  string
	}{
		"codes": {
			body:  head + "Predecessors\n" + row("A10", "Survey") + row("A20", "Piling", `"A10FS+2 d"`) + row("A30", "Paving", `"A20; A10SS"`),
			links: []string{"QS-01: A10 FS 2 A20", "QS-01: A20 FS 0 A30", "QS-01: A10 SS 0 A30"},
		},
		"successors": {
			body:  head + "Successors\n" + row("A10", "Survey", "A20FF+1 w") + row("A20", "Piling"),
			links: []string{"QS-01: A10 FF 5 A20"},
		},
		"both tell the same": {
			body:  head + "Predecessors,Successors\n" + row("A10", "Survey", "", "A20") + row("A20", "Piling", "A10", ""),
			links: []string{"QS-01: A10 FS 0 A20"},
		},
		"successors tell more": {
			body:  head + "Predecessors,Successors\n" + row("A10", "Survey", "", `"A20, A30"`) + row("A20", "Piling", "A10", "") + row("A30", "Paving", "", ""),
			links: []string{"QS-01: A10 FS 0 A20", "QS-01: A10 FS 0 A30"},
		},
		"both differ": {
			body:  head + "Predecessors,Successors\n" + row("A10", "Survey", "", `"A20SS, A30"`) + row("A20", "Piling", "A10", "") + row("A30", "Paving", "", ""),
			links: []string{"QS-01: A10 SS 0 A20", "QS-01: A10 FS 0 A30"},
			told:  "the link from A10 to A20 is told twice: as SS+0 and as FS+0",
		},
		"numbers of rows": {
			body: head + "Predecessors\n" + row("A10", "Survey") + row("A20", "Piling", "1") + row("A30", "Paving", "2"),
			told: `names activities by numbers that no column has; say whether they count the rows of the list [predecessors by row, extra, ignore]`,
		},
		"numbers of rows, as was said": {
			body:  head + "Predecessors\n" + row("A10", "Survey") + row("A20", "Piling", "1") + row("A30", "Paving", "2"),
			say:   Mapping{Columns: map[string]string{"predecessors": "predecessors by row"}},
			links: []string{"QS-01: A10 FS 0 A20", "QS-01: A20 FS 0 A30"},
		},
		"two columns have them": {
			body: head + "No,Predecessors\n" + row("3", "Survey", "1") + row("1", "Piling", "2", "1") + row("2", "Paving", "3", "3"),
			told: `"Predecessors" names can be those of Activity ID or of No, which are not the same; say which [predecessors by activity`,
		},
		"one is not there": {
			body:  head + "Predecessors\n" + row("A10", "Survey") + row("A20", "Piling", `"A10;A15"`),
			links: nil,
			told:  `no column has the activities that "Predecessors" names, as "A10;A15"; say what it names them by [predecessors by activity`,
		},
		"none are": {
			body: head + "Predecessors\n" + row("A10", "Survey") + row("A20", "Piling", "X1"),
			told: `no column has the activities that "Predecessors" names, as "X1"; say what it names them by [extra, ignore]`,
		},
		"nine of ten codes": {
			body:  head + "Predecessors\n" + row("A10", "Survey") + row("A20", "Piling", "A10") + row("A30", "Paving", `"A10;A20;A10SS"`) + row("A40", "Rails", `"A10;A20;A30;A30SS;A99"`) + row("A50", "Ready", "A40"),
			links: []string{"QS-01: A10 FS 0 A20", "QS-01: A10 FS 0 A30", "QS-01: A20 FS 0 A30", "QS-01: A10 FS 0 A40", "QS-01: A20 FS 0 A40", "QS-01: A30 FS 0 A40", "QS-01: A99 FS 0 A40", "QS-01: A40 FS 0 A50"},
			told:  "the link from A10 to A30 is told twice: as FS+0 and as SS+0; leave one; the link from A30 to A40 is told twice",
		},
		"nine of ten numbers": {
			body:  head + "Predecessors,No\n" + row("A10", "Survey", "", "71") + row("A20", "Piling", "71", "72") + row("A30", "Paving", "71;72", "73") + row("A40", "Rails", "71;72;73", "74") + row("A50", "Ready", "72;73;99", "75"),
			links: []string{"QS-01: A10 FS 0 A20", "QS-01: A10 FS 0 A30", "QS-01: A20 FS 0 A30", "QS-01: A10 FS 0 A40", "QS-01: A20 FS 0 A40", "QS-01: A30 FS 0 A40", "QS-01: A20 FS 0 A50", "QS-01: A30 FS 0 A50"},
			told:  `"72;73;99" names "99", which the column "no" has not; write what it calls the activity`,
		},
		"a number twice": {
			body: head + "Predecessors,No\n" + row("A10", "Survey", "", "71") + row("A20", "Piling", "71", "71") + row("A30", "Paving", "71", "73"),
			told: `no column has the activities that "Predecessors" names, as "71"`,
		},
		"the language is heard later": {
			body:  head + "Predecessors\n" + row("A10", "Survey") + row("A20", "Piling", "A10AA") + row("A30", "Paving", "A20EA+1 d"),
			links: []string{"QS-01: A10 SS 0 A20", "QS-01: A20 FS 1 A30"},
		},
		"past a row of sums": {
			body:  head + "Predecessors\n" + row("A10", "Survey") + "Total,,,,,\n" + row("A20", "Piling", "A10") + row("A30", "Paving", "A20"),
			links: []string{"QS-01: A10 FS 0 A20", "QS-01: A20 FS 0 A30"},
		},
		"empty": {
			body: head + "Predecessors\n" + row("A10", "Survey") + row("A20", "Piling"),
		},
	} {
		t.Run(name, func(t *testing.T) {
			links, told := linksOf(t, x.body, scheduled(), x.say)
			require.Equal(t, x.links, links)
			if x.told == "" {
				require.Empty(t, told)
			} else {
				require.Contains(t, strings.Join(told, "; "), x.told)
			}
		})
	}
}

// TestLinksAcross: numbers that begin anew in each project are its own; a number that one
// other project alone has leads there.
func TestLinksAcross(t *testing.T) {
	const body = "Project,Activity,Description,No,Predecessors\n" +
		"QS-01,A10,Survey,1,\nQS-01,A20,Piling,2,1\nQS-02,B10,Crane,1,\nQS-02,B20,Rails,2,1\nQS-02,B30,Trials,3,2\nQS-01,A30,Handover,4,3\n"
	links, told := linksOf(t, body, scheduled(), Mapping{Table: "activities"})
	require.Empty(t, told)
	require.Equal(t, []string{"QS-01: A10 FS 0 A20", "QS-02: B10 FS 0 B20", "QS-02: B20 FS 0 B30", "QS-01: QS-02/B30 FS 0 A30"}, links)
}

// TestDurations: of one end and a duration the other is counted; what its numbers are in is
// asked where nothing tells.
func TestDurations(t *testing.T) {
	dates := func(head, rows string, o *Options, m Mapping) (out, told []string) {
		u := understand(t, "QS-01 schedule.csv", []byte("Project,Activity ID,Activity name,"+head+"\n"+rows), o, m)[0]
		for _, q := range u.Questions {
			told = append(told, q.About+": "+q.Text)
		}
		list, refused := rowsOf(t, u, o)
		if len(u.Questions) > 0 {
			return nil, told
		}
		for _, r := range list {
			out = append(out, fields(r, "start", "finish", "baseline_start", "baseline_finish", "kind"))
		}
		for _, r := range refused {
			told = append(told, r.Reason)
		}
		return out, told
	}
	o := scheduled()
	for name, x := range map[string]struct {
		head, rows string
		say        Mapping
		want       []string
		told       string
	}{
		"from the start":     {head: "Start,Duration", rows: "QS-01,A,Survey,2026-03-02,3 w\nQS-01,B,Ready,2026-03-20,0 d\n", want: []string{"2026-03-02 2026-03-20", "2026-03-20 2026-03-20 milestone"}},
		"to the finish":      {head: "Finish,Duration", rows: "QS-01,A,Survey,2026-03-20,3 w\n", want: []string{"2026-03-02 2026-03-20"}},
		"of the baseline":    {head: "Baseline start,Duration", rows: "QS-01,A,Survey,2026-03-02,5 d\n", want: []string{"2026-03-02 2026-03-06"}},
		"head tells":         {head: "Start,Duration (weeks)", rows: "QS-01,A,Survey,2026-03-02,2\n", want: []string{"2026-03-02 2026-03-13"}},
		"head tells days":    {head: "Start,Duration in calendar days", rows: "QS-01,A,Survey,2026-03-02,2\n", want: []string{"2026-03-02 2026-03-03"}},
		"both ends":          {head: "Start,Finish,Duration", rows: "QS-01,A,Survey,2026-03-02,2026-04-01,99 parsecs\n", want: []string{"2026-03-02 2026-04-01"}},
		"nothing tells":      {head: "Start,Duration", rows: "QS-01,A,Survey,2026-03-02,10\n", told: "nothing says what its numbers are in"},
		"it was said":        {head: "Start,Duration", rows: "QS-01,A,Survey,2026-03-02,10\n", say: Mapping{Forms: map[string]string{"*": InWeeks}}, want: []string{"2026-03-02 2026-05-08"}},
		"days or hours":      {head: "Start,Varighet", rows: "QS-01,A,Survey,2026-03-02,10t\n", told: "nothing says what its numbers are in"},
		"a German t":         {head: "Start,Dauer", rows: "QS-01,A,Survey,2026-03-02,10t\n", want: []string{"2026-03-02 2026-03-13"}},
		"months":             {head: "Start,Duration", rows: "QS-01,A,Survey,2026-03-02,2 months\nQS-01,B,Piling,2026-03-02,5 d\n", want: []string{"2026-03-02 2026-03-06"}, told: "no fixed number of working days"},
		"beyond the days":    {head: "Start,Duration", rows: "QS-01,A,Survey,2026-03-02,90000 d\nQS-01,B,Piling,2026-03-02,5 d\n", want: []string{"2026-03-02 2026-03-06"}, told: "leads beyond the days"},
		"a dash":             {head: "Start,Duration", rows: "QS-01,A,Survey,2026-03-02,-\nQS-01,B,Piling,2026-03-02,5 d\n", want: []string{"2026-03-02", "2026-03-02 2026-03-06"}},
		"a start is missing": {head: "Start,Duration", rows: "QS-01,A,Survey,,5 d\nQS-01,B,Piling,2026-03-02,5 d\n", want: []string{"", "2026-03-02 2026-03-06"}},
	} {
		t.Run(name, func(t *testing.T) {
			got, told := dates(x.head, x.rows, o, x.say)
			require.Equal(t, x.want, got)
			if x.told == "" {
				require.Empty(t, told)
			} else {
				require.Contains(t, strings.Join(told, "; "), x.told)
			}
		})
	}
	unknown := scheduled()
	unknown.Works = func(string) *calendar.Calendar { return nil }
	_, told := dates("Start,Duration", "QS-01,A,Survey,2026-03-02,5 d\n", unknown, Mapping{})
	require.Contains(t, told[0], "gather the project first")
}

// TestNesting: levels and spaces tell what is above what, as outline numbers do.
func TestNesting(t *testing.T) {
	for name, body := range map[string]string{
		"levels": "Activity ID,Level,Activity name,Start,Finish\n" +
			"A,1,Works,2026-03-02,2026-03-20\nB,2,Survey,2026-03-02,2026-03-06\nC,2,Piling,2026-03-09,2026-03-20\nD,3,Test pile,2026-03-09,2026-03-10\nE,1,Ready,2026-03-20,2026-03-20\n",
		"spaces": "Activity ID,Activity name,Start,Finish\n" +
			"A,Works,2026-03-02,2026-03-20\nB,  Survey,2026-03-02,2026-03-06\nC,  Piling,2026-03-09,2026-03-20\nD,    Test pile,2026-03-09,2026-03-10\nE,Ready,2026-03-20,2026-03-20\n",
		"outline": "Activity ID,WBS,Activity name,Start,Finish\n" +
			"A,1,Works,2026-03-02,2026-03-20\nB,1.1,Survey,2026-03-02,2026-03-06\nC,1.2,Piling,2026-03-09,2026-03-20\nD,1.2.1.,Test pile,2026-03-09,2026-03-10\nE,2,Ready,2026-03-20,2026-03-20\n",
	} {
		u := understand(t, "QS-01 schedule.csv", []byte(body), scheduled(), Mapping{Table: "activities"})[0]
		require.Empty(t, u.Questions, name)
		rows, refused := rowsOf(t, u, scheduled())
		require.Empty(t, refused, name)
		var got []string
		for _, r := range rows {
			got = append(got, fields(r, "activity", "parent", "kind"))
		}
		require.Equal(t, []string{"A summary", "B A", "C A summary", "D C", "E"}, got, name)
	}
	// Levels that jump are none.
	u := understand(t, "QS-01 schedule.csv", []byte("Activity ID,Outline level,Activity name,Start\nA,1,Works,2026-03-02\nB,3,Survey,2026-03-02\n"), scheduled(), Mapping{Table: "activities"})[0]
	require.Zero(t, u.Depth)
	for _, levels := range [][2]string{{"98", "99"}, {"-1", "0"}, {"one", "two"}} {
		u := understand(t, "QS-01 schedule.csv", []byte("Activity ID,Outline level,Activity name,Start\nA,"+levels[0]+",Works,2026-03-02\nB,"+levels[1]+",Survey,2026-03-02\n"), scheduled(), Mapping{Table: "activities"})[0]
		require.Zero(t, u.Depth, levels)
	}
}
