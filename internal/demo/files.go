package demo

import (
	"fmt"
	"math"
	"strconv"

	"turret/internal/office/entry"
)

var lives = func() []*life {
	out := make([]*life, len(projects))
	for i := range projects {
		out[i] = newLife(&projects[i], uint64(i+1))
	}
	return out
}()

const iso = "2006-01-02"

func cents(x float64) string { return strconv.FormatFloat(math.Round(x*100)/100, 'f', 2, 64) }

// rate gives what a currency is worth in euro in a period.
func rate(currency string, p int) float64 {
	switch currency {
	case "NOK":
		return 0.0860 + 0.0028*math.Sin(float64(p)/3.1)
	case "GBP":
		return 1.1650 + 0.0240*math.Sin(float64(p)/2.6+1)
	}
	return 1
}

// masterFiles are what the office sets up before the first period: structure,
// baselines and plans.
func masterFiles() []entry.File {
	pr := newSheet("programmes.csv", "programme", "name", "parent", "owner")
	for _, x := range programmes {
		pr.row(x[0], x[1], "", x[2])
	}
	cc := newSheet("cost_codes.csv", "cost_code", "name", "parent", "reserve")
	for _, x := range costCodes {
		cc.row(x[0], x[1], x[2], x[3])
	}
	cal := newSheet("calendars.csv", "calendar", "kind", "day", "name")
	for year := 2025; year <= 2029; year++ {
		for _, d := range [][2]string{{"01-01", "New Year"}, {"05-01", "May Day"}, {"12-24", "Christmas Eve"}, {"12-25", "Christmas Day"}, {"12-26", "Second day"}} {
			cal.row("office", "holiday", fmt.Sprintf("%d-%s", year, d[0]), d[1])
			cal.row("yard", "holiday", fmt.Sprintf("%d-%s", year, d[0]), d[1])
		}
	}
	for _, d := range []string{"mon", "tue", "wed", "thu", "fri", "sat"} {
		cal.row("yard", "week", d, "")
	}
	set := newSheet("settings.csv", "setting", "value")
	set.row("calendar", "office")
	set.row("discount_rate", "4")
	due := newSheet("due_days.csv", "statement", "days")
	for _, d := range [][2]string{{"progress", "3"}, {"forecast", "4"}, {"ledger", "2"}, {"risks", "4"}, {"narratives", "5"}} {
		due.row(d[0], d[1])
	}
	deputies := newSheet("stating.csv", "project", "account", "kinds", "from") // its lead is away
	deputies.row("QS-05", "ada", "progress, forecast, risks", code(openPeriod))
	rates := newSheet("rates.csv", "currency", "period", "set", "rate")
	for _, c := range []string{"NOK", "GBP"} {
		for year := 2024; year <= 2028; year++ {
			plan := rate(c, (year-2025)*12+2)
			rates.row(c, fmt.Sprintf("%d-04", year), "plan", strconv.FormatFloat(plan, 'f', 4, 64))
		}
		rates.row(c, code(0), "period", strconv.FormatFloat(rate(c, 0), 'f', 5, 64))
	}
	return append(
		[]entry.File{pr.file(), cc.file(), cal.file(), set.file(), due.file(), deputies.file(), rates.file()},
		append(projectFiles(), fundingFiles()...)...)
}

func projectFiles() []entry.File {
	ps := newSheet(
		"projects.csv",
		"project",
		"name",
		"programme",
		"lead",
		"sponsor",
		"stage",
		"state",
		"currency",
		"start",
		"finish",
		"calendar",
		"earned_value",
	)
	ce := newSheet("cost_centres.csv", "cost_centre", "name", "parent")
	for _, x := range centres {
		ce.row(x[0], x[1], x[2])
	}
	sh := newSheet("shares.csv", "project", "cost_code", "from", "cost_centre", "percent")
	for _, x := range shared {
		sh.row(x[0], x[1], code(0), x[2], x[3])
	}
	bl := newSheet("baselines.csv", "project", "baseline", "approved", "reason", "approver")
	ac := newSheet(
		"activities.csv",
		"project",
		"activity",
		"parent",
		"name",
		"kind",
		"level",
		"rule",
		"baseline_start",
		"baseline_finish",
		"baseline",
		"units",
		"owner",
	)
	st := newSheet("steps.csv", "project", "activity", "step", "weight", "done")
	it := newSheet("items.csv", "project", "item", "name", "size", "state", "created", "accepted", "dropped", "due", "blocked", "owner")
	co := newSheet(
		"costs.csv",
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
	li := newSheet("links.csv", "project", "from", "to", "type", "lag")
	linkRows(li)
	for _, l := range lives {
		state, earned := "active", "on"
		if l.state == "proposed" {
			state = "proposed"
		}
		if l.earnedOff {
			earned = "off"
		}
		ps.row(
			l.code,
			l.name,
			l.programme,
			l.lead,
			l.sponsor,
			l.stage,
			state,
			l.currency,
			l.begin.Format(iso),
			l.day(1).Format(iso),
			l.calendar,
			earned,
		)
		bl.row(l.code, "1", l.begin.AddDate(0, 0, -20).Format(iso), "approved by the board", l.sponsor)
		for i, ph := range phases {
			ac.row(l.code, string(rune('A'+i)), "", ph.name, "summary", "", "", "", "", "", "", l.lead)
		}
		for i := range l.tasks {
			t := &l.tasks[i]
			kind, rule, units := "task", t.rule, ""
			if t.milestone {
				kind, rule = "milestone", ""
			}
			if rule == "units" {
				units = "120"
			}
			ac.row(
				l.code,
				t.code,
				t.parent,
				t.name,
				kind,
				t.level,
				rule,
				t.start.Format(iso),
				t.finish.Format(iso),
				"1",
				units,
				l.lead,
			)
			if rule == "steps" {
				for s := range 4 {
					st.row(l.code, t.code, fmt.Sprintf("S%d", s+1), strconv.Itoa(s+1), "")
				}
			}
		}
		if l.rule == "items" {
			firstItemRows(it, l)
		}
		planRows(co, l, 1, 0, l.months, 1)
	}
	return []entry.File{
		ce.file(),
		ps.file(),
		sh.file(),
		bl.file(),
		ac.file(),
		st.file(),
		it.file(),
		co.file(),
		li.file(),
		boundRows().file(),
	}
}
