package demo

import (
	"fmt"
	"hash/fnv"
)

// Slips of the pen, as real statements have them: some are made good a period
// later, and those of the open period wait to be found.

// forgot tells of the few activities whose lead states them as complete and
// forgets the day, and says it a period later.
func forgot(l *life, t *task, p int) bool {
	if t.milestone || t.rule != "stated" || l.done(t, p) < 1 || p > l.start && l.done(t, p-1) == 1 {
		return false
	}
	h := fnv.New32a()
	fmt.Fprint(h, l.code, t.code)
	return h.Sum32()%17 == 0 || l.code == "PS-03" && p == openPeriod
}

// wentBack is the percentage of an activity that is stated lower than before.
func wentBack(l *life, p, percent, before int) int {
	if (l.code == "FR-07" && p == openPeriod || l.code == "PS-01" && p == openPeriod-4) && before > 15 &&
		percent < 100 {
		return before - 10
	}
	return percent
}

// ahead is an actual start that has not come yet.
func ahead(l *life, t *task, p int) (day string) {
	if l.code == "FR-02" && p == openPeriod && t.code == "E1" {
		return firstDay(p+1).AddDate(0, 0, 6).Format(iso)
	}
	return ""
}

// flaws adds what was booked and ordered in the open period and should not have
// been, or was booked on what does not run.
func flaws(co, po, an *sheet, p int) {
	month := code(p)
	if p == 15 || p == openPeriod { // storage goes on while the project is on hold
		po.row(
			fmt.Sprintf("L%s-FR-06-91", month),
			firstDay(p).AddDate(0, 0, 17).Format(iso),
			"FR-06",
			"230",
			"capex",
			"4120.00",
			"EUR",
			"Holm Storage",
			"Cabin panels in store",
		)
	}
	if p != openPeriod {
		return
	}
	for _, n := range []string{"92", "93"} { // one invoice, entered twice
		po.row(
			fmt.Sprintf("L%s-QS-06-%s", month, n),
			firstDay(p).AddDate(0, 0, 19).Format(iso),
			"QS-06",
			"220",
			"capex",
			"12480.00",
			"EUR",
			"Lumen Quayworks",
			"Columns, lot 4",
		)
	}
	co.row(
		"QS-07",
		"220",
		"actual",
		"cost",
		"capex",
		month,
		"",
		"96500.00",
		"",
		"lantern, as told by the lead",
	) // and by the ledger
	co.row(
		"SP-03",
		"230",
		"commitment",
		"cost",
		"capex",
		code(p+2),
		month,
		"6300000.00",
		"EUR",
		"cells, framework order",
	)
	an.row(
		"SP-02",
		"statement-stale",
		"forecast",
		month,
		"sent back",
		"",
		"Mats, your last forecast is of August. What do the sockets cost from here on?",
		"last stated Aug 2026",
		Analyst.Name,
	)
	an.row(
		"PS-04",
		"stated-better",
		"stated standing",
		month,
		"accepted",
		code(p+3),
		"The provider bears the overrun by contract, signed in August",
		"Steady, Watch",
		Analyst.Name,
	)
}

// links are the dependencies that leads state: of each phase's first task and
// its gate, and one that the dates stated do not keep.
var links = [][4]string{
	{"SP-01", "C9", "D2", "FS"},
	{"SP-01", "D6", "E1", "FS"},
	{"SP-01", "E1", "E2", "SS"},
	{"SP-01", "E9", "F1", "FS"},
	{"FR-04", "C9", "D2", "FS"},
	{"FR-04", "D6", "E1", "FS"},
	{"FR-04", "D7", "E1", "FS"},
	{"FR-04", "E9", "F3", "FS"},
}
