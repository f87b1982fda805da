package schedule

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/core/due"
	"turret/internal/core/network"
	"turret/internal/office"
	"turret/internal/office/schedule"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// One is the activity that is looked at, with why it is when it is.
type One struct {
	*schedule.Activity
	Link   string // of its project
	Close  string
	Steps  []Why
	Facts  [][2]string
	Moves  bool      // other dates can be tried
	Starts bool      // its start is still to come
	Above  string    // the level above its own; "" at the top, and where the reader may not raise it
	Below  string    // the level below, the same
	Now    [2]string // its stated dates
	Bonds  []OneTie
	Leads  []LeadRow // what a milestone waits for
	Others int       // that are not listed
	Linking
	May      bool        // the reader may change what the plan says of it
	Over     bool        // they may say now that what it makes is handed over
	Back     bool        // or that it is accepted or sent back
	Bound    [3]string   // constraint, day, reason
	State    due.Handing // of a deliverable; "" where it is none
	Receiver string
	Today    string // the day that facts are entered for, unless another is typed
}

// LeadRow is an activity that a milestone waits for.
type LeadRow struct{ Name, Link, Float, Class string }

// mostLeads is how many of them are listed.
const mostLeads = 8

// leads lists what a milestone waits for.
func (p *Line) leads(c fiber.Ctx, site *shell.Site, project, code string) error {
	list, hidden, err := schedule.In(site.Office).Leading(c.Context(), p.Actor, p.Moment, project, code)
	for i := range list[:min(len(list), mostLeads)] {
		x := &list[i]
		r := LeadRow{
			Name: x.Project + "/" + x.Code + " " + x.Activity, Float: fmt.Sprintf("%d d", x.Float),
			Link: p.With(p.State.With("of", x.Project+"/"+x.Code).With("open", openWith(p.State, x.Project))),
		}
		switch {
		case x.Float <= 0:
			r.Class = "act"
		case x.Float <= p.Near():
			r.Class = "watch"
		}
		p.Of.Leads = append(p.Of.Leads, r)
	}
	p.Of.Others = len(list) - len(p.Of.Leads) + hidden
	return err
}

// OneTie is a link of the activity.
type OneTie struct{ Says, Name, Link, Class, Broken, Out string }

// Constraints are what can bind its date.
func (*One) Constraints() []string { return schedule.Constraints }

// Why is a step on the way back to what drives an activity.
type Why struct{ Name, Link, When, Says string }

// one reads the activity that is looked at.
func (p *Line) one(c fiber.Ctx, site *shell.Site) error {
	project, code, ok := strings.Cut(p.State.Get("of"), "/")
	if !ok {
		return nil
	}
	var found *schedule.Activity
	list := p.Found.By[project]
	for i := range list {
		if list[i].Code == code {
			found = &list[i]
		}
	}
	if found == nil {
		p.Moment.Notes = append(p.Moment.Notes, "There is no activity "+p.State.Get("of")+" here.")
		return nil
	}
	steps, err := schedule.In(site.Office).Why(c.Context(), p.Actor, p.Moment, project, code)
	if err != nil {
		return err
	}
	p.Of = &One{Activity: found, Link: p.State.Project(project), Close: p.Turn("of", "")}
	p.Of.Moves, p.Of.Starts = found.Done == 0 && !found.Summary(), found.Began == 0 && !found.Milestone()
	if at := slices.Index(schedule.Levels, cmp.Or(found.Level, schedule.Levels[0])); at >= 0 && office.MayFound(p.Actor) && !found.Summary() {
		if at < len(schedule.Levels)-1 {
			p.Of.Above = schedule.Levels[at+1]
		}
		if at > 0 {
			p.Of.Below = schedule.Levels[at-1]
		}
	}
	p.Of.Now = [2]string{found.Current[0].String(), found.Current[1].String()}
	fact := func(name, text string) { p.Of.Facts = append(p.Of.Facts, [2]string{name, text}) }
	fact("Baseline", pair(found.Planned))
	fact("Stated", pair(found.Current))
	if found.Early[1] != 0 && found.Early != found.Current {
		fact("By the network", pair(found.Early))
	}
	if found.HasFloat {
		text := tell.Plural(found.Float, "working day", "working days")
		if found.Critical {
			text += ", critical"
		} else if found.Near {
			text += ", near-critical"
		}
		fact("Float", text)
	}
	if found.Constraint != "" {
		fact("Constraint", strings.TrimSuffix(found.Constraint+", "+found.Because, ", "))
	}
	fact("Shows up to", found.Level)
	if found.Who() != "" {
		fact("Who", found.Who())
	}
	for i, s := range steps {
		p.Of.Steps = append(p.Of.Steps, p.step(s, i, steps))
	}
	if found.Summary() {
		return nil
	}
	p.Of.May = office.MayFound(p.Actor)
	p.handed(found)
	over, back := schedule.In(site.Office).Hands(p.Actor, p.Moment, project, found)
	given := p.Of.State == due.HandedOver || p.Of.State == due.Accepted
	p.Of.Over, p.Of.Back = over && !given, back && given
	p.Of.Linking = linkingOf(func(string) string { return "" })
	if found.Milestone() && found.Done == 0 {
		if err := p.leads(c, site, project, code); err != nil {
			return err
		}
	}
	return p.bonds(c, site, project, code)
}

// handed says what binds an activity, and what becomes of what it makes, in its forms.
func (p *Line) handed(a *schedule.Activity) {
	if b := a.Bound; b != nil {
		p.Of.Bound = [3]string{b.Constraint, "", b.Reason}
		if b.Day != 0 {
			p.Of.Bound[1] = b.Day.String()
		}
	}
	p.Of.Today = p.Found.AsOf.String()
	d := a.Deliverable
	if d == nil {
		return
	}
	p.Of.State, p.Of.Receiver = due.Of(d, a.Current[1], p.Found.AsOf), d.Receiver
	text := d.Receiver + ", " + string(p.Of.State)
	switch p.Of.State {
	case due.HandedOver:
		text += " on " + tell.Date(d.HandedOver)
	case due.Accepted:
		text += " on " + tell.Date(d.Accepted)
	case due.SentBack:
		text += " on " + tell.Date(d.SentBack)
		if d.Reason != "" {
			text += ": " + d.Reason
		}
	}
	p.Of.Facts = append(p.Of.Facts, [2]string{"Goes to", text})
}

// bonds lists the links of the activity.
func (p *Line) bonds(c fiber.Ctx, site *shell.Site, project, code string) error {
	list, err := schedule.In(site.Office).Bonds(c.Context(), p.Moment, project, code)
	for i := range list {
		b := &list[i]
		way := "before"
		x := OneTie{Says: "before", Name: b.Other.Project + "/" + b.Other.Code + " " + b.Other.Activity, Link: p.With(p.State.With("of", b.Other.Project+"/"+b.Other.Code).With("open", openWith(p.State, b.Other.Project)))}
		if b.Into {
			way, x.Says = "after", "after"
		}
		x.Says += ", " + b.Type
		if b.Lag != 0 {
			x.Says += " " + days(b.Lag)
		}
		if b.Broken > 0 {
			x.Broken = "broken by " + tell.Plural(b.Broken, "working day", "working days")
		}
		if p.Of.May {
			x.Out = "/timeline/link?" + p.State.With("trail", "").With("way", way).With("other", b.Other.Project+"/"+b.Other.Code).With("tie", b.Type).With("drop", b.Project).Query()
		}
		p.Of.Bonds = append(p.Of.Bonds, x)
	}
	return err
}

// step says why an activity on the way is when it is.
func (p *Line) step(s schedule.WhyStep, i int, steps []schedule.WhyStep) Why {
	if s.Name == "" {
		return Why{Name: "An activity of a project that is not yours to read"}
	}
	w := Why{Name: s.Project + "/" + s.Code + " " + s.Activity, When: pair(s.Early), Link: p.With(p.State.With("of", s.Project+"/"+s.Code).With("open", openWith(p.State, s.Project)))}
	switch s.Cause {
	case network.ByLink:
		w.Says = "held by " + steps[min(i+1, len(steps)-1)].Project + "/" + steps[min(i+1, len(steps)-1)].Code + ", " + s.Type
		if s.Lag != 0 {
			w.Says += " " + days(s.Lag)
		}
	case network.ByFact:
		w.Says = "finished"
	case network.ByPeriod:
		w.Says = "goes on from the end of " + p.Moment.Period.Name
	case network.ByConstraint:
		w.Says = "its constraint"
	default:
		w.Says = "its stated dates"
	}
	return w
}

// openWith are the projects that are unfolded, with one more.
func openWith(s shell.State, code string) string {
	list := s.Names("open")
	if !slices.Contains(list, code) {
		list = append(list, code)
	}
	return strings.Join(list, ",")
}

// PostLine changes what the plan says of an activity: the level that it shows up to, what
// binds its date, and what becomes of what it makes.
func PostLine(site *shell.Site) fiber.Handler {
	again := GetLine(site)
	return func(c fiber.Ctx) error {
		of := c.FormValue("of")
		project, activity, _ := strings.Cut(of, "/")
		room, actor, mark := schedule.In(site.Office), shell.Actor(c), shell.Mark(c)
		var err error
		var said string
		switch do := c.FormValue("do"); do {
		case "bind":
			b := schedule.Bound{Constraint: c.FormValue("constraint"), Day: c.FormValue("day"), Reason: c.FormValue("reason")}
			err, said = room.Constrain(c.Context(), actor, mark, project, activity, b), of+" is bound: "+b.Constraint+" "+b.Day+"."
			if b.Constraint == "" {
				said = of + " is bound no longer."
			}
		case "deliver", "keep", string(due.HandedOver), string(due.Accepted), string(due.SentBack):
			d := schedule.Deliver{Now: due.Handing(do), Day: c.FormValue("day"), Remark: c.FormValue("remark")}
			said = fmt.Sprintf("%s is %s.", of, do)
			switch do {
			case "deliver":
				d = schedule.Deliver{To: c.FormValue("receiver")}
				said = of + " is a deliverable for " + d.To + "."
			case "keep":
				d, said = schedule.Deliver{Nobody: true}, of+" is no deliverable any more."
			}
			err = room.Deliver(c.Context(), actor, mark, project, activity, d)
		default:
			level := c.FormValue("level")
			err, said = room.Raise(c.Context(), actor, mark, project, activity, level), fmt.Sprintf("%s shows up to the level of the %s.", of, level)
		}
		return shell.Settle(c, err, again, shell.WithDone(shell.StateOf(c).Page("/timeline"), said))
	}
}
