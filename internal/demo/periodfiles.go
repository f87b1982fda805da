package demo

import (
	"bytes"
	"fmt"
	"math"
	"strconv"
	"time"

	"turret/internal/office/entry"
)

// periodFiles are what comes in for a period.
func periodFiles(p int) []entry.File {
	month := code(p)
	rates := newSheet("rates-"+month+".csv", "currency", "period", "set", "rate")
	for _, c := range []string{"NOK", "GBP"} {
		rates.row(c, month, "period", strconv.FormatFloat(rate(c, p), 'f', 5, 64))
	}
	pg := newSheet(
		"progress-"+month+".csv",
		"project",
		"activity",
		"period",
		"percent",
		"start",
		"finish",
		"actual_start",
		"actual_finish",
		"units_done",
		"note",
	)
	co := newSheet(
		"costs-"+month+".csv",
		"project",
		"cost_code",
		"kind",
		"flow",
		"class",
		"period",
		"version",
		"amount",
		"currency",
		"note",
	)
	po := newSheet(
		"postings-"+month+".csv",
		"posting",
		"date",
		"project",
		"cost_code",
		"class",
		"amount",
		"currency",
		"supplier",
		"text",
	)
	ri := newSheet(
		"risks-"+month+".csv",
		"project",
		"risk",
		"kind",
		"title",
		"likelihood",
		"impact",
		"owner",
		"state",
		"response",
		"period",
	)
	na := newSheet("narratives-"+month+".csv", "project", "period", "section", "text", "stated_standing")
	ps := newSheet("projects-"+month+".csv", "project", "state", "state_since")
	bl := newSheet("baselines-"+month+".csv", "project", "baseline", "approved", "reason", "approver")
	pr := newSheet("baselines-proposed-"+month+".csv", "project", "baseline", "state", "proposed", "proposer", "reason")
	ac := newSheet("activities-"+month+".csv", "project", "activity", "baseline_start", "baseline_finish", "baseline")
	st := newSheet("steps-"+month+".csv", "project", "activity", "step", "done")
	it := newSheet("items-"+month+".csv", "project", "item", "name", "size", "state", "created", "accepted", "dropped", "due", "blocked", "owner")
	an := newSheet(
		"answers-"+month+".csv",
		"project",
		"check",
		"record",
		"from",
		"answer",
		"until",
		"reason",
		"resting_on",
		"by",
	)
	ov := newSheet("overrides-"+month+".csv", "project", "dimension", "from", "until", "standing", "reason")
	for _, l := range lives {
		if l.stateFrom == p && l.stateFrom > 0 {
			ps.row(l.code, l.state, l.stateSince)
		}
		if l.rebaseline == p && p > 0 {
			bl.row(
				l.code,
				"2",
				firstDay(p).AddDate(0, 0, 14).Format(iso),
				"ground found softer than surveyed",
				l.sponsor,
			)
			for i := range l.tasks {
				t := &l.tasks[i]
				ac.row(l.code, t.code, t.real[0].Format(iso), t.real[1].Format(iso), "2")
			}
			planRows(co, l, 2, p-l.start, l.months+3, 1.06)
		}
		if l.proposes > 0 && l.proposes == p {
			pr.row(
				l.code,
				"2",
				"proposed",
				lastDay(p).AddDate(0, 0, -16).Format(iso),
				"Callum Reith",
				"piles go deeper than the borings said; two more rigs from spring",
			)
			for i := range l.tasks {
				t := &l.tasks[i]
				ac.row(l.code, t.code, t.real[0].Format(iso), t.real[1].Format(iso), "2")
			}
			planRows(co, l, 2, p-l.start, l.months+5, 1.22)
		}
		if !l.running(p) {
			continue
		}
		progressRows(pg, st, it, l, p)
		moneyRows(co, po, l, p)
		riskRows(ri, l, p)
		storyRows(na, l, p)
	}
	if p >= openPeriod-2 {
		po.row(
			"LX-"+month,
			lastDay(p).Format(iso),
			"QS-06",
			unmapped,
			"opex",
			"1860.00",
			"EUR",
			"Sundries",
			"Code closed by finance",
		)
	}
	flaws(co, po, an, p)
	if p == openPeriod-3 {
		ov.row("SP-04", "risk", month, code(openPeriod+3), "watch", "The insurer carries the trench risk until spring")
	}
	cl, cm := controlTotals(po, p), commentary(p)
	var out []entry.File
	for _, s := range []*sheet{cl, rates, ps, bl, pr, ac, st, it, pg, co, po, ri, na, cm, ov, an} {
		s.w.Flush()
		if bytes.Count(s.b.Bytes(), []byte("\n")) > 1 { // more than its header
			out = append(out, s.file())
		}
	}
	return out
}

// progressRows state the activities that move in a period, or whose dates do.
func progressRows(pg, st, it *sheet, l *life, p int) {
	d, month := lastDay(p), code(p)
	for i := range l.tasks {
		t := &l.tasks[i]
		now, before := l.done(t, p), 0.0
		if p > l.start {
			before = l.done(t, p-1)
		}
		late := p > l.start && forgot(l, t, p-1)
		if before == 1 && !late {
			continue
		}
		is := l.says(t, p)
		percent, units := "", ""
		switch {
		case t.milestone:
		case t.rule == "units":
			units = strconv.Itoa(int(math.Round(120 * now)))
		case t.rule == "stated":
			percent = strconv.Itoa(wentBack(l, p, int(math.Round(100*now)), int(math.Round(100*before))))
		}
		pg.row(l.code, t.code, month, percent, is.start.Format(iso), is.finish.Format(iso), is.began, is.finished, units, "")
		if t.rule == "steps" {
			for s := range 4 {
				if at := float64(s+1) / 4; now >= at && before < at {
					st.row(l.code, t.code, fmt.Sprintf("S%d", s+1), d.Format(iso))
				}
			}
		}
	}
	if l.rule == "items" {
		itemRows(it, l, p)
	}
}

func later(a, b time.Time) time.Time {
	if a.Before(b) {
		return b
	}
	return a
}

// riskRows state the risks of a project: the worst one grows until the works
// are half done, and is closed near the end.
func riskRows(ri *sheet, l *life, p int) {
	if (p-l.start)%3 != 0 && p != openPeriod {
		return
	}
	f := l.earned(p)
	likelihood, impact := 2, 2
	switch {
	case l.risk >= 20:
		likelihood, impact = 4, 5
	case l.risk >= 15:
		likelihood, impact = 4, 4
	case l.risk >= 12:
		likelihood, impact = 3, 4
	case l.risk >= 8:
		likelihood, impact = 3, 3
	}
	if f < 0.2 {
		likelihood = max(likelihood-1, 1)
	}
	state := "open"
	if f > 0.9 {
		state = "closed"
	}
	month := code(p)
	ri.row(
		l.code,
		"R1",
		"risk",
		"Supplier delivers late",
		strconv.Itoa(likelihood),
		strconv.Itoa(impact),
		l.lead,
		state,
		"Weekly calls, penalties in the contract",
		month,
	)
	ri.row(
		l.code,
		"R2",
		"risk",
		"Weather window missed",
		"2",
		strconv.Itoa(min(impact, 3)),
		l.lead,
		"open",
		"Float kept before the season ends",
		month,
	)
	if l.dear > 0.1 && f > 0.3 {
		ri.row(
			l.code,
			"I1",
			"issue",
			"Prices above estimate",
			"5",
			"2",
			l.lead,
			"open",
			"Re-rate agreed item by item",
			month,
		)
	}
}

// storyRows write the lead's words; a hopeful lead states better than it is.
func storyRows(na *sheet, l *life, p int) {
	f := l.earned(p)
	slip, over := l.admitted(p), (l.price(min(f+0.1, 1))-1)*(1-l.hope)
	if l.rebaseline > 0 && p >= l.rebaseline { // said of the new baseline
		slip, over = 4, 0.02
	}
	stated := "steady"
	if slip > 14 || over > 0.05 {
		stated = "watch"
	}
	if slip > 60 || over > 0.12 {
		stated = "act"
	}
	text := fmt.Sprintf("%d%% of the work is done.", int(math.Round(100*f)))
	switch {
	case slip > 14:
		text += fmt.Sprintf(" We expect to finish about %d weeks late.", int(math.Round(slip/7)))
	case f > 0 && f < 1:
		text += " We expect to finish as planned."
	}
	if over > 0.02 {
		text += fmt.Sprintf(" Costs run %d%% above estimate.", int(math.Round(100*over)))
	}
	na.row(l.code, code(p), "summary", text, stated)
	for i := range l.tasks {
		if t := &l.tasks[i]; !t.milestone && l.done(t, p) < 1 {
			na.row(l.code, code(p), "next", t.name+" comes next.", "")
			break
		}
	}
}

// commentary are the office's words on the whole of the last closed period and the one before,
// with figures that follow.
func commentary(p int) *sheet {
	out := newSheet("commentaries-"+code(p)+".csv", "scope", "period", "section", "text")
	if p < openPeriod-2 || p == openPeriod {
		return out
	}
	say := func(section, text string) { out.row("*", code(p), section, text) }
	say("summary", "The portfolio comes to {eac_computed} where {bac} is planned, and stands at {standing}. {earned_share} of the work is earned.")
	say("next", "Each project at Act tells the next board what it needs to come back.")
	return out
}
