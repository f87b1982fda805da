package record

import "turret/internal/core/portfolio"

// Projects are the projects.
var Projects = func() *projectsKind {
	k := &projectsKind{Kind: records("projects", "project", "project", "the projects")}
	k.Project = k.code("project", "code", Key)
	k.NameCol = k.text("name", "name")
	k.Programme = k.ref("programme", ProgrammeRef, "its programme")
	k.Lead = k.text("lead", "who states it")
	k.Sponsor = k.text("sponsor", "who answers for it")
	k.Stage = k.text("stage", "stage")
	k.State = k.choice(
		"state",
		[]string{"proposed", "active", "on hold", "finished", "cancelled", "template"},
		"state; a template never runs, and others are begun from it",
		Default("active"),
	)
	k.StateSince = k.date("state_since", "the state holds from this day; empty: always")
	k.Currency = k.currency("currency", "its own currency; empty: the reporting one")
	k.Start = k.date("start", "planned start")
	k.Finish = k.date("finish", "planned finish")
	k.Calendar = k.text("calendar", "a calendar; empty: the office's")
	k.EarnedValue = k.choice(
		"earned_value",
		[]string{"on", "off"},
		"off: PV, AC and the stated forecast stand alone",
		Default("on"),
	)
	k.OutlookMethod = k.choice(
		"outlook_method",
		[]string{"stated", "plan", "cpi", "cpi3", "cpi_spi"},
		"the estimate that counts; empty: cpi from 15% earned on, plan before",
	)
	k.TooEarly = k.decimal(
		"too_early",
		"percent elapsed below which indices stay silent; empty: 15",
		Within(0, hundred),
	)
	k.PacePeriods = k.whole(
		"pace_periods",
		"periods that the pace of its backlog is taken over; empty: 3",
		Within(1, 36),
	)
	k.GraceDays = k.whole(
		"grace_days",
		"working days after the baseline start after which an item of its backlog counts as added; empty: 10",
		Within(0, 999),
	)
	k.Client = k.text("client", "whom it is done for: a code, which clients give a name, or a name")
	k.Actuals = k.choice(
		"actuals",
		[]string{"booked", "time"},
		"time: of periods of which nothing is booked, its plan is its actual cost",
		Default("booked"),
	)
	k.Refuse = k.refuse
	k.Form = &Form{
		Title: "Projects",
		Says:  "Of each the office reads a plan, what was spent, and what is stated.",
		Needs: founding,
	}
	return k
}()

type projectsKind struct {
	*Kind
	Programme                                                                                                      RefCol
	Project, NameCol, Lead, Sponsor, Stage, State, Currency, Calendar, EarnedValue, OutlookMethod, Client, Actuals TextCol
	StateSince, Start, Finish                                                                                      DateCol
	TooEarly, PacePeriods, GraceDays                                                                               NumberCol
}

func (k *projectsKind) refuse(r Run, x *Change) (column, why string) {
	if x.Before != nil && r.Paid(x.After.ID) && *k.Currency.In(x.Before) != *k.Currency.In(x.After) {
		return "currency", "amounts are stated in the project's currency already; keep it, or begin a new project"
	}
	if is := k.Template(x.After); x.Before != nil && is != k.Template(x.Before) {
		if is {
			return "state", "a project does not become a template; begin a template from its activities"
		}
		return "state", "a template never runs; begin a new project from it"
	}
	return ordered(x, k.Start, k.Finish)
}

// Template tells whether a project is a template.
func (k *projectsKind) Template(r *portfolio.Row) bool {
	return k.State.Of(r) == string(portfolio.Template)
}
