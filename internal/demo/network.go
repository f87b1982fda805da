package demo

import (
	"cmp"
	"fmt"
	"strconv"
	"time"
)

// woven are the projects whose leads state what waits for what.
var woven = map[string]bool{
	"FR-01": true, "FR-02": true, "QS-01": true, "QS-02": true, "SP-01": true, "SP-02": true, "SP-04": true,
	"PS-01": true, "PS-02": true, "PS-03": true,
}

// waits are the dependencies that such a lead knows of, where the stated dates keep them:
// from, to.
var waits = [][2]string{
	{"C9", "D2"},
	{"D2", "D4"},
	{"D3", "D5"},
	{"D4", "D6"},
	{"D5", "D7"},
	{"D7", "D9"},
	{"D9", "E2"},
	{"E1", "E3"},
	{"E2", "E4"},
	{"E9", "F2"},
	{"E4", "F2"},
	{"F1", "F3"},
	{"F2", "F4"},
}

// interfaces are the dependencies between projects, stated by the taker. Two are in
// conflict: the yard launches the hull of FR-01 after the linkspan is to be tried with it,
// and the grid is live after the sockets are to be handed over.
var interfaces = [][4]string{
	{"QS-02", "FR-01/D9", "E3", "2"},
	{"SP-02", "SP-01/E9", "F3", "0"},
	{"SP-01", "SP-04/D9", "D7", "5"},
	{"FR-01", "SP-02/D9", "E3", "0"},
	{"SP-01", "QS-01/D9", "E3", "0"},
	{"PS-03", "PS-01/D9", "F1", "0"},
	{"PS-05", "PS-02/D9", "D5", "0"},
	{"PS-02", "QS-06/D9", "E1", "10"},
	{"SP-02", "SP-05/D9", "E1", "0"},
	{"FR-02", "FR-05/D9", "D5", "5"},
	{"QS-05", "QS-04/C9", "F1", "0"},
	{"SP-01", "SP-03/D9", "F4", "0"},
	{"FR-07", "FR-04/E9", "F1", "0"},
	{"PS-01", "PS-05/E9", "F2", "0"},
	{"FR-07", "QS-07/E9", "E2", "0"},
}

// dock are the working days that the yard keeps the ferry in dock after a step: with them a
// path from the launch to the handover is near-critical.
var dock = map[[3]string]string{
	{"FR-01", "D9", "E2"}: "23",
	{"FR-01", "E2", "E4"}: "5",
	{"FR-01", "E4", "F2"}: "11",
}

// linkRows state the network: what holds within projects, and between them.
func linkRows(li *sheet) {
	for _, x := range links {
		li.row(x[0], x[1], x[2], x[3], "0")
	}
	own := make(map[[3]string]bool)
	for _, x := range links {
		own[[3]string{x[0], x[1], x[2]}] = true
	}
	for _, l := range lives {
		if !woven[l.code] {
			continue
		}
		for _, x := range waits {
			if l.keeps(x[0], x[1]) && !own[[3]string{l.code, x[0], x[1]}] {
				li.row(l.code, x[0], x[1], "FS", cmp.Or(dock[[3]string{l.code, x[0], x[1]}], "0"))
			}
		}
	}
	for _, x := range interfaces {
		li.row(x[0], x[1], x[2], "FS", x[3])
	}
}

// keeps tells whether the dates stated in the open period, and those that come true, keep a
// dependency of finish and start.
func (l *life) keeps(from, to string) bool {
	a, b := l.task(from), l.task(to)
	if a == nil || b == nil || !a.real[1].Before(b.real[0]) {
		return false
	}
	first, second := l.says(a, openPeriod), l.says(b, openPeriod)
	return first.finish.Before(second.start)
}

func (l *life) task(code string) *task {
	for i := range l.tasks {
		if l.tasks[i].code == code {
			return &l.tasks[i]
		}
	}
	return nil
}

// saying is what a lead says of the dates of an activity.
type saying struct {
	start, finish   time.Time
	began, finished string
}

// says gives what a lead says of an activity in a period.
func (l *life) says(t *task, p int) saying {
	d := lastDay(p)
	var s saying
	if !t.milestone && !d.Before(t.real[0]) {
		s.began = t.real[0].Format(iso)
	}
	if l.done(t, p) == 1 && !forgot(l, t, p) {
		s.finished = t.real[1].Format(iso)
	}
	if day := ahead(l, t, p); day != "" {
		s.began = day
	}
	shift := l.admitted(p)
	s.start, s.finish = l.move(t.start, shift), l.move(t.finish, shift)
	if s.began != "" && !d.Before(t.real[0]) {
		s.start = t.real[0]
	}
	if l.rebaseline > 0 && p >= l.rebaseline { // the new baseline holds, near enough
		s.start, s.finish = t.real[0], l.move(t.real[1], 4)
		if s.began == "" {
			s.start = l.move(t.real[0], 4)
		}
	}
	if !s.finish.After(d) && s.finished == "" { // still open: it cannot end before today
		s.finish = l.move(d, 5)
	}
	if s.start.After(s.finish) {
		s.start = s.finish
	}
	if !t.milestone && s.began == "" && !s.start.After(d) {
		s.start = l.move(d, 1)
		s.finish = later(s.finish, s.start)
	}
	if t.milestone {
		s.start = s.finish
	}
	return s
}

// handed are the deliverables: whose, which, who is handed it. Some were accepted, and one
// was sent back.
var handed = [][3]string{
	{"FR-01", "D9", "Linkspan team, Aldermouth"},
	{"FR-01", "E9", "Skerrow Sound Operations"},
	{"FR-02", "E9", "Skerrow Sound Operations"},
	{"QS-01", "C9", "Harbour Board"},
	{"QS-01", "D9", "Grid connection team"},
	{"QS-02", "D1", "Harbour Board"},
	{"SP-01", "E9", "Berth sockets team"},
	{"SP-02", "D1", "Ferry crews"},
	{"SP-04", "D9", "Grid connection team"},
	{"PS-01", "D9", "Ticket gates team"},
	{"PS-02", "D9", "Timetable studio"},
	{"PS-03", "C9", "Harbour Board"},
}

// boundRows state deliverables and constraints.
func boundRows() *sheet {
	ac := newSheet(
		"deliverables.csv", "project", "activity", "receiver", "handed_over", "accepted", "sent_back", "sent_back_reason",
		"constraint", "constraint_date", "constraint_reason",
	)
	for _, x := range handed {
		l := lifeOf(x[0])
		t := l.task(x[1])
		over, accepted, back, why := "", "", "", ""
		if l.done(t, openPeriod) == 1 {
			over = t.real[1].Format(iso)
			accepted = l.move(t.real[1], 9).Format(iso)
			if x[0] == "SP-02" {
				back, accepted, why = accepted, "", "Two of nine sockets sit too low at spring tides"
			}
		}
		ac.row(x[0], x[1], x[2], over, accepted, back, why, "", "", "")
	}
	ac.row("PS-05", "D9", "", "", "", "", "", "not after", "2027-06-25", "The winter timetable goes to print")
	ac.row("QS-05", "F1", "", "", "", "", "", "not before", "2027-06-21", "Seals leave the bay in June")
	return ac
}

func lifeOf(code string) *life {
	for _, l := range lives {
		if l.code == code {
			return l
		}
	}
	panic("no project " + code)
}

// The backlog of PS-02: what a passenger sees, in parts and on what.
var (
	parts  = []string{"Departures", "Delays", "Cancellations", "Next sailing", "Berth changes", "Weather notes", "Accessibility", "Vehicle space", "Announcements", "Favourites"}
	places = []string{"on the quay signs", "in the app", "at Aldermouth", "at Kirkhaven", "on Orran Bay", "for staff"}
)

// firstItems are those that the plan began with; scope was added in three periods.
const firstItems = 60

var added = map[int]int{11: 4, 15: 5, 18: 6}

// itemName names the n-th item of a backlog.
func itemName(n int) string {
	return parts[n%len(parts)] + " " + places[n/len(parts)%len(places)]
}

var itemOwners = []string{"Noor Haldane", "Sefa Brandvik", "Oli Trask"}

func itemCode(n int) string { return fmt.Sprintf("I%02d", n+1) }

// firstItemRows state the items that a plan begins with.
func firstItemRows(it *sheet, l *life) {
	for n := range firstItems {
		due := l.day(0.25 + 0.6*float64(n)/firstItems)
		it.row(l.code, itemCode(n), itemName(n), size(n), "new", l.begin.Format(iso), "", "", due.Format(iso), "", itemOwners[n%3])
	}
}

func size(n int) string { return strconv.Itoa(1 + n%5) }

// itemRows state what became of items in a period: accepted, taken up, added, dropped, and
// what is in the way.
func itemRows(it *sheet, l *life, p int) {
	d := lastDay(p)
	row := func(n int, state, accepted, dropped, blocked string) {
		it.row(l.code, itemCode(n), "", "", state, "", accepted, dropped, "", blocked, "")
	}
	now, before := int(firstItems*l.earned(p)), 0
	if p > l.start {
		before = int(firstItems * l.earned(p-1))
	}
	for n := before; n < now; n++ {
		row(n, "accepted", l.move(firstDay(p), float64(3+(n*7)%24)).Format(iso), "", "-")
	}
	for n := now; n < min(now+4, firstItems); n++ {
		row(n, []string{"done", "doing", "doing", "doing"}[n-now], "", "", "")
	}
	n := firstItems
	for q := 0; q < p; q++ {
		n += added[q]
	}
	for k := range added[p] {
		it.row(l.code, itemCode(n+k), itemName(n+k+3)+", second part", strconv.Itoa(1+k%3), "new", l.move(firstDay(p), float64(4+k)).Format(iso), "", "", "", "", itemOwners[k%3])
	}
	switch p {
	case 14:
		row(57, "dropped", "", l.move(d, -9).Format(iso), "")
		row(58, "dropped", "", l.move(d, -9).Format(iso), "")
	case openPeriod - 2:
		row(now+1, "doing", "", "", l.move(d, -12).Format(iso))
	case openPeriod:
		row(now+3, "doing", "", "", l.move(d, -8).Format(iso))
	}
}
