package entry_test

import (
	"encoding/csv"
	"fmt"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/gather"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/officetest"
)

// A drawn schedule, as it is meant: whatever form it is sent in, it is read as this or asked
// about.
type drawn struct {
	code, wbs, name string
	parent          int // place, or -1
	depth           int
	kind            string
	start, finish   calendar.Date
	days            int
	links           []drawnLink
}

type drawnLink struct {
	from int // place
	kind string
	lag  int
}

var monFri = calendar.New("", calendar.MondayToFriday, nil)

// drawSchedule makes two or three summaries with tasks below, a milestone at the end of
// each, and links to what came before.
func drawSchedule(r *rand.Rand) (out []drawn) {
	words := []string{"Survey", "Dredging", "Piling", "Quay wall", "Crane rails", "Paving", "Cabling", "Commissioning", "Fendering", "Drainage"}
	r.Shuffle(len(words), func(i, j int) { words[i], words[j] = words[j], words[i] })
	at, word := calendar.DateOf(2026, 3, 2), 0
	for s := range 2 + r.IntN(2) {
		top := len(out)
		out = append(out, drawn{wbs: fmt.Sprint(s + 1), name: fmt.Sprintf("Section %c", 'A'+s), parent: -1, kind: "summary", start: at})
		for k := range 2 + r.IntN(2) {
			days := 5 * (1 + r.IntN(4))
			if r.IntN(3) == 0 {
				days += 1 + r.IntN(4)
			}
			a := drawn{wbs: fmt.Sprintf("%d.%d", s+1, k+1), name: words[word], parent: top, depth: 1, kind: "task", start: at, days: days}
			word++
			a.finish = monFri.WorkingDay(at, days-1)
			for i := range out {
				if out[i].kind == "task" && r.IntN(3) == 0 {
					a.links = append(a.links, drawnLink{i, []string{"FS", "FS", "SS", "FF"}[r.IntN(4)], []int{0, 0, 2, 5, -1}[r.IntN(5)]})
				}
			}
			out = append(out, a)
			at = monFri.WorkingDay(a.finish, 1)
		}
		end := len(out) - 1
		out = append(out, drawn{
			wbs: fmt.Sprintf("%d.9", s+1), name: fmt.Sprintf("Section %c ready", 'A'+s), parent: top, depth: 1, kind: "milestone",
			start: out[end].finish, finish: out[end].finish, links: []drawnLink{{end, "FS", 0}},
		})
		out[top].finish = out[end].finish
		out[top].days = monFri.Duration(out[top].start, out[top].finish)
	}
	return out
}

// tongueOf is how a sender's language writes a schedule.
type tongueOf struct {
	id, code, wbs, name, start, finish, duration, before string
	kinds                                                map[string]string
	day, week                                            string
	date                                                 string
}

var tongues = []tongueOf{
	{"ID", "Activity ID", "WBS", "Task Name", "Start", "Finish", "Duration", "Predecessors", nil, " days", " wks", "2006-01-02"},
	{"ID", "Activity ID", "WBS", "Task Name", "Start Date", "End Date", "Duration", "Predecessor", nil, "d", "w", "02/01/2006"},
	{"Nr.", "Vorgangsnr", "PSP", "Vorgangsname", "Anfang", "Ende", "Dauer", "Vorgänger", map[string]string{"FS": "EA", "SS": "AA", "FF": "EE"}, " Tage", " Wochen", "02.01.2006"},
	{"N°", "Code", "WBS", "Nom de tâche", "Début", "Fin", "Durée", "Prédécesseurs", map[string]string{"FS": "FD", "SS": "DD", "FF": "FF"}, " jours", " sem.", "02/01/2006"},
	{"Nr", "Aktivitet", "WBS", "Oppgavenavn", "Start", "Slutt", "Varighet", "Foregående", nil, " dager", " uker", "02.01.2006"},
}

// sent writes a schedule as one of many senders would.
func sent(r *rand.Rand, list []drawn) (body string, note string) {
	w := tongues[r.IntN(len(tongues))]
	coded := r.IntN(3) > 0 // activities have codes of their own, beside the numbers of rows
	ids := !coded || r.IntN(2) == 0
	refs := "code" // what predecessors name
	if ids && (!coded || r.IntN(2) == 0) {
		refs = "id"
	} else if r.IntN(4) == 0 {
		refs = "name"
	}
	nest := []string{"wbs", "level", "indent"}[r.IntN(3)]
	ends := []string{"both", "start", "finish"}[r.IntN(3)]
	between := []string{";", "; ", ",", ", ", "\n"}[r.IntN(5)]
	if refs == "name" {
		between = ";"
	}
	weeks := r.IntN(2) == 0
	note = fmt.Sprintf("%s, coded %v, ids %v, refs %s, nest %s, ends %s, between %q, weeks %v", w.duration, coded, ids, refs, nest, ends, between, weeks)
	var heads []string
	if ids {
		heads = append(heads, w.id)
	}
	if coded {
		heads = append(heads, w.code)
	}
	if nest == "wbs" {
		heads = append(heads, w.wbs)
	} else if nest == "level" {
		heads = append(heads, "Outline Level")
	}
	heads = append(heads, w.name, w.duration)
	if ends != "finish" {
		heads = append(heads, w.start)
	}
	if ends != "start" {
		heads = append(heads, w.finish)
	}
	heads = append(heads, w.before)
	calls := func(i int) string {
		switch refs {
		case "id":
			return fmt.Sprint(i + 1)
		case "name":
			return list[i].name
		}
		return list[i].code
	}
	var b strings.Builder
	out := csv.NewWriter(&b)
	out.Comma = []rune{',', ';', '\t'}[r.IntN(3)]
	_ = out.Write(heads)
	for i, a := range list {
		var row []string
		if ids {
			row = append(row, fmt.Sprint(i+1))
		}
		if coded {
			row = append(row, a.code)
		}
		if nest == "wbs" {
			row = append(row, a.wbs)
		} else if nest == "level" {
			row = append(row, fmt.Sprint(a.depth+1))
		}
		name := a.name
		if nest == "indent" {
			name = strings.Repeat("   ", a.depth) + name
		}
		lasts := fmt.Sprintf("%d%s", a.days, w.day)
		if weeks && a.days > 0 && a.days%5 == 0 {
			lasts = fmt.Sprintf("%d%s", a.days/5, w.week)
		}
		row = append(row, name, lasts)
		if ends != "finish" {
			row = append(row, a.start.Time().Format(w.date))
		}
		if ends != "start" {
			row = append(row, a.finish.Time().Format(w.date))
		}
		var before []string
		for _, l := range a.links {
			text, kind := calls(l.from), l.kind
			if k := w.kinds[kind]; k != "" {
				kind = k
			}
			if l.kind != "FS" || l.lag != 0 {
				if refs == "name" {
					text += " "
				}
				text += kind
			}
			if l.lag != 0 {
				text += fmt.Sprintf("%+d%s", l.lag, w.day)
			}
			before = append(before, text)
		}
		_ = out.Write(append(row, strings.Join(before, between)))
	}
	out.Flush()
	return b.String(), note
}

// TestSchedulesAsSent: however a schedule is written, the activities, what is above each,
// their dates and their links are those that were meant, or it is asked; never others.
func TestSchedulesAsSent(t *testing.T) {
	asked := 0
	all := 150
	if testing.Short() {
		all = 40
	}
	for seed := range uint64(all) {
		r := rand.New(rand.NewPCG(seed, 21))
		list := drawSchedule(r)
		for i := range list {
			list[i].code = fmt.Sprintf("A%d", 10*(i+1))
		}
		body, note := sent(r, list)
		o := officetest.NewOffice(t)
		officetest.Take(t, o, entry.Options{}, officetest.File("projects.csv", "project,name,currency\nSC-01,Stack,EUR\n"))
		report := officetest.Take(t, o, entry.Options{Say: gather.Mapping{Fixed: map[string]string{"project": "SC-01"}}}, officetest.File("schedule.csv", body))
		if questions := slices.ContainsFunc(report.Sheets, func(s entry.SheetReport) bool { return len(s.Questions) > 0 }); questions {
			asked++
			t.Log(seed, note, report.Sheets[0].Questions)
			continue
		}
		require.Empty(t, report.Refusals, "%d: %s\n%s", seed, note, body)
		got := kept(t, o)
		if want := meant(list); !strings.Contains(note, "coded true") { // numbers of rows or outline numbers: either will do
			require.Equal(t, byNames(want), byNames(got), "%d: %s\n%s", seed, note, body)
		} else {
			require.Equal(t, want, got, "%d: %s\n%s", seed, note, body)
		}
	}
	require.Less(t, asked, all/10, "of the schedules that were asked about")
}

// byNames writes activities and links with names in place of codes.
func byNames(list []string) (out []string) {
	names := make(map[string]string)
	for _, x := range list {
		if a := strings.Split(x, " | "); len(a) > 1 {
			names[a[0]] = a[2]
		}
	}
	for _, x := range list {
		if a := strings.Split(x, " | "); len(a) > 1 {
			a[0], a[1] = names[a[0]], names[a[1]]
			out = append(out, strings.Join(a, " | "))
			continue
		}
		l := strings.Split(x, " ")
		l[0], l[2] = names[l[0]], names[l[2]]
		out = append(out, strings.Join(l, " "))
	}
	slices.Sort(out)
	return out
}

// meant writes a drawn schedule as kept writes one.
func meant(list []drawn) (out []string) {
	for _, a := range list {
		parent := ""
		if a.parent >= 0 {
			parent = list[a.parent].code
		}
		out = append(out, strings.Join([]string{a.code, parent, a.name, a.kind, a.start.String(), a.finish.String()}, " | "))
		for _, l := range a.links {
			out = append(out, strings.Join([]string{list[l.from].code, "→", a.code, l.kind, strconv.Itoa(l.lag)}, " "))
		}
	}
	slices.Sort(out)
	return out
}

// kept writes the activities and links that an office has.
func kept(t *testing.T, o *office.Office) (out []string) {
	t.Helper()
	files := officetest.Exported(t, o)
	each := func(name string, row func(get func(string) string)) {
		rows, err := csv.NewReader(strings.NewReader(files[name])).ReadAll()
		require.NoError(t, err, name)
		for _, cells := range rows[1:] {
			row(func(head string) string { return cells[slices.Index(rows[0], head)] })
		}
	}
	each("activities.csv", func(get func(string) string) {
		kind := get("kind")
		if kind == "" {
			kind = "task"
		}
		out = append(out, strings.Join([]string{get("activity"), get("parent"), get("name"), kind, get("start"), get("finish")}, " | "))
	})
	if files["links.csv"] != "" {
		each("links.csv", func(get func(string) string) {
			kind, lag := get("type"), get("lag")
			if kind == "" {
				kind = "FS"
			}
			if lag == "" {
				lag = "0"
			}
			out = append(out, strings.Join([]string{get("from"), "→", get("to"), kind, lag}, " "))
		})
	}
	slices.Sort(out)
	return out
}

// TestScheduleAgain: a schedule that is sent again is compared with what is known: by its
// codes, else by name and place once someone says so; what is new, what it no longer names
// and what it moves is told before it is taken.
func TestScheduleAgain(t *testing.T) {
	const first = "ID;WBS;Task Name;Duration;Start;Finish;Predecessors\n" +
		"1;1;Site;30 d;02.03.2026;10.04.2026;\n" +
		"2;1.1;Clear;10 d;02.03.2026;13.03.2026;\n" +
		"3;1.2;Dig;3 w;16.03.2026;03.04.2026;2\n" +
		"4;1.3;Pour;5 d;06.04.2026;10.04.2026;3;\n"
	// Fence is put in, so that all below are numbered anew; Dig takes two days longer, and
	// Pour follows Fence no more than Dig: it is linked with Clear instead.
	const again = "ID;WBS;Task Name;Duration;Start;Finish;Predecessors\n" +
		"1;1;Site;32 d;02.03.2026;14.04.2026;\n" +
		"2;1.1;Clear;10 d;02.03.2026;13.03.2026;\n" +
		"30;1.2;Fence;3 d;16.03.2026;18.03.2026;2\n" +
		"4;1.3;Dig;17 d;16.03.2026;07.04.2026;2\n" +
		"5;1.4;Pour;5 d;08.04.2026;14.04.2026;2SS+4 w\n"
	say := gather.Mapping{Fixed: map[string]string{"project": "SC-01"}}
	fresh := func() *office.Office {
		o := officetest.NewOffice(t)
		officetest.Take(t, o, entry.Options{}, officetest.File("projects.csv", "project,name,currency\nSC-01,Stack,EUR\n"))
		r := officetest.Take(t, o, entry.Options{Say: say}, officetest.File("schedule.csv", strings.Replace(first, "3;\n", "3\n", 1)))
		require.Empty(t, r.Refusals)
		return o
	}
	o := fresh()
	r := officetest.Take(t, o, entry.Options{Say: say}, officetest.File("schedule.csv", again))
	require.Zero(t, r.Changes(), "it asks first")
	require.Len(t, r.Sheets[0].Questions, 1)
	require.Contains(t, r.Sheets[0].Questions[0].Text, `2 activities are known by name and place under another code, as "Dig", 4 here and 3 before; "Pour", 5 here and 4 before`)
	require.Equal(t, []string{"by name", "by code"}, r.Sheets[0].Questions[0].Choices)

	say.Match = gather.MatchByName
	dry := officetest.Take(t, o, entry.Options{Say: say, DryRun: true, Effect: true}, officetest.File("schedule.csv", again))
	require.Empty(t, dry.Refusals)
	require.Len(t, dry.Effects, 1)
	d := dry.Effects[0].Dates
	require.Equal(t, []entry.Named{{Code: "30", Name: "Fence"}}, d.New)
	require.Empty(t, d.Gone)
	require.Equal(t, 2, d.NewLinks, "Clear to Fence, Clear to Pour")
	require.Equal(t, 1, d.GoneLinks, "Dig to Pour")
	require.False(t, d.Dropped)
	var moved []string
	for _, m := range d.Moved {
		moved = append(moved, fmt.Sprintf("%s %s→%s %+d", m.Name, m.Was, m.Is, m.Days))
	}
	require.Equal(t, []string{
		"Site 2026-04-10→2026-04-14 +2", "Dig 2026-04-03→2026-04-07 +2", "Pour 2026-04-10→2026-04-14 +2",
	}, moved)

	whole := officetest.Take(t, fresh(), entry.Options{Say: say, Whole: true, DryRun: true, Effect: true}, officetest.File("schedule.csv", again))
	require.True(t, whole.Effects[0].Dates.Dropped)
	require.Equal(t, 1, whole.Dropped, "the link that the whole schedule does not name")

	r = officetest.Take(t, o, entry.Options{Say: say, Whole: true}, officetest.File("schedule.csv", again))
	require.Empty(t, r.Refusals)
	require.Equal(t, []string{
		"1 |  | Site | summary | 2026-03-02 | 2026-04-14",
		"2 | 1 | Clear | task | 2026-03-02 | 2026-03-13",
		"2 → 3 FS 0", "2 → 30 FS 0", "2 → 4 SS 20",
		"3 | 1 | Dig | task | 2026-03-16 | 2026-04-07",
		"30 | 1 | Fence | task | 2026-03-16 | 2026-03-18",
		"4 | 1 | Pour | task | 2026-04-08 | 2026-04-14",
	}, kept(t, o))
	_, err := o.ParsePeriod(t.Context(), officetest.Operator, "2026-03")
	require.NoError(t, err)

	// A name at another place is another activity; where no place is told, the name tells.
	o = fresh()
	say.Match = ""
	r = officetest.Take(t, o, entry.Options{Say: say}, officetest.File("schedule.csv", "ID;WBS;Task Name;Start;Finish\n71;7;Dig;02.03.2026;03.03.2026\n72;7.1;Deep;02.03.2026;03.03.2026\n"))
	require.Empty(t, r.Sheets[0].Questions)
	r = officetest.Take(t, o, entry.Options{Say: say, DryRun: true}, officetest.File("schedule.csv", "ID;Task Name;Start;Finish\n81;Pour;02.03.2026;03.03.2026\n"))
	require.Len(t, r.Sheets[0].Questions, 1)
	say.Match = gather.MatchByName

	// A new activity under a code that is another's by name changes neither.
	o = fresh()
	r = officetest.Take(t, o, entry.Options{Say: say}, officetest.File("schedule.csv", strings.ReplaceAll(again, "30;1.2", "3;1.2")))
	require.Len(t, r.Refusals, 1)
	require.Contains(t, r.Refusals[0].Reason, "3 is, matched by name, the code of another activity")

	// Once progress was stated, dates of activities count no more: they are read as progress.
	o = fresh()
	officetest.Take(t, o, entry.Options{}, officetest.File("progress.csv", "project,activity,period,finish\nSC-01,3,2026-03,2026-04-03\n"))
	say.Match = ""
	later := strings.Replace(strings.Replace(first, "3;\n", "3\n", 1), "03.04.2026", "09.04.2026", 1)
	p, err := o.ParsePeriod(t.Context(), officetest.Operator, "2026-04")
	require.NoError(t, err)
	r = officetest.Take(t, o, entry.Options{Say: say, Period: p, DryRun: true, Effect: true}, officetest.File("schedule.csv", later))
	require.Empty(t, r.Refusals)
	require.Len(t, r.Effects, 1)
	require.Equal(t, "2026-04-09", r.Effects[0].Dates.Moved[0].Is.String())
}

// TestScheduleBesideACalendar: where the same files draw the reporting calendar, all sheets are
// understood again by it: a schedule's links are still its links.
func TestScheduleBesideACalendar(t *testing.T) {
	o := officetest.NewOffice(t)
	officetest.Take(t, o, entry.Options{}, officetest.File("projects.csv", "project,name,currency\nSC-01,Stack,EUR\n"))
	r := officetest.Take(t, o, entry.Options{},
		officetest.File("boundaries.csv", "period,first,last\nFY26-P11,2026-10-26,2026-11-29\nFY26-P12,2026-11-30,2026-12-27\n"),
		officetest.File("SC-01 schedule.csv", "Project,Activity ID,Activity name,Start,Finish,Predecessors\nSC-01,A,Survey,2026-11-02,2026-11-06,\nSC-01,B,Piling,2026-11-09,2026-11-13,A\n"),
	)
	require.Empty(t, r.Refusals)
	require.Equal(t, []string{"A |  | Survey | task | 2026-11-02 | 2026-11-06", "A → B FS 0", "B |  | Piling | task | 2026-11-09 | 2026-11-13"}, kept(t, o))
	var labels []string
	for _, s := range r.Sheets {
		labels = append(labels, s.Label()+" "+s.Table)
	}
	require.Equal(t, []string{"boundaries.csv boundaries", "SC-01 schedule.csv activities", "SC-01 schedule.csv, sheet links links"}, labels)
}
