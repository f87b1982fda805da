package finding

import (
	"fmt"
	"strings"

	"turret/internal/core/network"
	"turret/internal/core/portfolio"
)

// wovenChecks look at what the network of all projects tells: links, loops, constraints, and
// activities that stand outside.
var wovenChecks = []Check{
	{
		Code:  "link-broken",
		Title: "Link broken by current dates",
		About: "Current dates that a dependency does not allow, within the project or with another, by the working days that are missing.",
		run:   (*run).linksBroken,
	},
	{
		Code:  "link-overtaken",
		Title: "Started before its link allows",
		About: "An activity that was started though what it depends on does not allow it yet: the link holds it no longer.",
		run:   (*run).linksOvertaken,
	},
	{
		Code:     "link-idle",
		Title:    "Link that holds nothing",
		Severity: Note,
		About:    "A dependency on a summary, or on an activity that is gone, has no date, or is of a project that does not run.",
		run:      (*run).linksIdle,
	},
	{
		Code:     "loop",
		Title:    "Activities that wait for themselves",
		Severity: Error,
		About:    "A loop of dependencies, within the project or over several: its activities stand outside the network.",
		run:      (*run).loops,
	},
	{
		Code:     "outside-network",
		Title:    "Activity outside the network",
		Severity: Note,
		About:    "An activity without any date, or on a calendar without a working day: nothing it moves or waits for can be told.",
		run:      (*run).outsideNetwork,
	},
	{
		Code:  "constraint-broken",
		Title: "Later than its constraint",
		About: "An activity that ends later than it may, or that stays on its day though its links hold it later.",
		run:   (*run).constraintsBroken,
	},
	{
		Code:  "constraint-incomplete",
		Title: "Constraint without its day",
		About: "A constraint without a day, or a day without the kind of constraint: it binds nothing.",
		run:   (*run).constraintsIncomplete,
	},
}

// troubles hands over what is wrong in the network with what the project states, of some
// kinds.
func (r *run) troubles(do func(*network.Portfolio, *network.Trouble), kinds ...network.Kind) {
	w := r.outside.Web
	if w == nil || w.Plain || !r.active() {
		return
	}
	list := w.Net().Troubles(w.View)
	for i := range list {
		for _, k := range kinds {
			if list[i].Kind == k {
				do(w.Net(), &list[i])
			}
		}
	}
}

func (r *run) linksBroken() {
	r.missedLinks(network.LinkBroken, func(from, to *end, link, days string) string {
		return fmt.Sprintf(
			"Activity %s has its %s on %s, and %s its %s on %s: the link (%s) misses %s; move one, or correct the link.",
			to.name, to.which, to.when, from.name, from.which, from.when, link, days,
		)
	})
}

func (r *run) linksOvertaken() {
	r.missedLinks(network.LinkOvertaken, func(from, to *end, link, days string) string {
		return fmt.Sprintf(
			"Activity %s was started on %s, %s before its link (%s) to %s allows; correct the start, or take the link away.",
			to.name, to.when, days, link, from.name,
		)
	})
}

// missedLinks adds a finding for each link that its ends miss, with what it says of them.
func (r *run) missedLinks(kind network.Kind, says func(from, to *end, link, days string) string) {
	r.troubles(func(n *network.Portfolio, t *network.Trouble) {
		l := &n.Stated[t.Link]
		from, to := r.end(n, l, 0), r.end(n, l, 1)
		r.add(Finding{
			Record: fmt.Sprintf("link %s to %s", l.From, l.To), Source: to.status.Source, Against: l.Source, Place: to.place,
			Values: from.when + ", " + to.when,
			Text:   says(&from, &to, l.Type.String()+lagged(l.Lag), plural(t.Days, "working day", "working days")),
		})
	}, kind)
}

func (r *run) linksIdle() {
	r.troubles(func(n *network.Portfolio, t *network.Trouble) {
		l := &n.Stated[t.Link]
		r.add(Finding{
			Record: fmt.Sprintf("link %s to %s", l.From, l.To), Source: l.Source, Values: t.Why,
			Place: Place{Table: "links", Key: []Cell{{"from", l.From}, {"to", l.To}}, Columns: []string{"type", "lag"}},
			Text:  fmt.Sprintf("The link from %s to %s holds nothing: %s. Link what really waits, or take it away.", l.From, l.To, t.Why),
		})
	}, network.LinkIdle)
}

func (r *run) loops() {
	r.troubles(func(_ *network.Portfolio, t *network.Trouble) {
		way := append(append([]string(nil), t.Loop...), t.Loop[0])
		if len(way) > 12 {
			way = append(append(way[:6:6], "…"), way[len(way)-5:]...)
		}
		r.add(Finding{
			Record: "loop of " + t.Loop[0], Values: strings.Join(t.Loop, ", "), Source: r.Activities[t.Activity].Source,
			Text: fmt.Sprintf(
				"%s wait for themselves, so none of them has dates in the network: %s. Take one of the links away.",
				plural(len(t.Loop), "activity", "activities"), strings.Join(way, " → "),
			),
		})
	}, network.Loop)
}

func (r *run) outsideNetwork() {
	r.troubles(func(_ *network.Portfolio, t *network.Trouble) {
		f := Finding{Record: r.activity(t.Activity), Values: "no date", Source: r.Activities[t.Activity].Source, Place: r.progress(t.Activity, "start", "finish")}
		f.Text = fmt.Sprintf("Activity %s has no date, so nothing it moves or waits for can be told; state its dates.", r.name(t.Activity))
		r.add(f)
	}, network.NoDate)
	told := false
	r.troubles(func(*network.Portfolio, *network.Trouble) {
		if told { // one calendar is one thing to know
			return
		}
		told = true
		r.add(Finding{
			Record: "calendar", Values: "no working day",
			Text: fmt.Sprintf("The calendar of the project (%s) has no working day, so its activities stand outside the network; name its working days.", r.calendar()),
		})
	}, network.NoWorkday)
}

// calendar is what the project's calendar is called.
func (r *run) calendar() string {
	if c := r.Project.Project.Calendar; c != "" {
		return c
	}
	return "the office's"
}

func (r *run) constraintsBroken() {
	r.troubles(func(_ *network.Portfolio, t *network.Trouble) {
		b := r.Activities[t.Activity].Bound
		why := ""
		if b.Reason != "" {
			why = " (" + b.Reason + ")"
		}
		f := Finding{
			Record: r.activity(t.Activity), Values: fmt.Sprintf("%s %s, %d", b.Constraint, on(t.Day), t.Days),
			Source: r.Activities[t.Activity].Source, Place: r.constraint(t.Activity),
		}
		days := plural(t.Days, "working day", "working days")
		if t.Kind == network.TooLate {
			f.Text = fmt.Sprintf("Activity %s is to end no later than %s%s, and ends %s later; bring it forward, or agree another day.", r.name(t.Activity), on(t.Day), why, days)
		} else {
			f.Text = fmt.Sprintf("Activity %s is bound to %s%s, and what it depends on holds it %s later; move what comes before, or agree another day.", r.name(t.Activity), on(t.Day), why, days)
		}
		r.add(f)
	}, network.TooLate, network.Overruled)
}

func (r *run) constraintsIncomplete() {
	r.troubles(func(_ *network.Portfolio, t *network.Trouble) {
		f := Finding{
			Record: r.activity(t.Activity), Values: t.Why + t.Day.String(), Source: r.Activities[t.Activity].Source, Place: r.constraint(t.Activity),
		}
		if t.Day == 0 {
			f.Text = fmt.Sprintf("Activity %s has the constraint “%s” and no day for it, so it binds nothing; state the day, or clear it.", r.name(t.Activity), t.Why)
		} else {
			f.Text = fmt.Sprintf("Activity %s has a day for a constraint (%s), and no constraint, so it binds nothing; state which, or clear it.", r.name(t.Activity), on(t.Day))
		}
		r.add(f)
	}, network.HalfBound)
}

// constraint is where a constraint of an activity is stated.
func (r *run) constraint(i int) Place {
	return Place{Table: "activities", Key: []Cell{{"activity", r.Activities[i].Code}}, Columns: []string{"constraint", "constraint_date", "constraint_reason"}}
}

// end is one end of a dependency in words.
type end struct {
	name, which, when string
	status            portfolio.Status
	place             Place
}

func (r *run) end(n *network.Portfolio, l *network.Stated, k int) end {
	at := l.Ends[k]
	v := n.Views[at.View]
	a := &v.Activities[at.Activity]
	e := end{name: a.Code + " of " + v.Code, which: "finish", status: *v.Status(at.Activity, v.Period)}
	net := &n.Activities[[2]int32{n.Links[l.Link].From, n.Links[l.Link].To}[k]]
	date := net.Finish
	if k == 0 && (l.Type == network.StartStart || l.Type == network.StartFinish) || k == 1 && (l.Type == network.StartStart || l.Type == network.FinishStart) {
		e.which, date = "start", net.Start
	}
	e.when = on(date)
	if v.Code == r.Code {
		e.name = r.name(at.Activity)
		e.place = r.progress(at.Activity, "start", "finish")
	}
	return e
}

func lagged(days int) string {
	if days == 0 {
		return ""
	}
	return ", lag " + plural(days, "working day", "working days")
}
