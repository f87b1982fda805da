package schedule

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

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
}

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
	return nil
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

// PostLine raises an activity to a level.
func PostLine(site *shell.Site) fiber.Handler {
	again := GetLine(site)
	return func(c fiber.Ctx) error {
		project, activity, _ := strings.Cut(c.FormValue("of"), "/")
		level := c.FormValue("level")
		err := schedule.In(site.Office).Raise(c.Context(), shell.Actor(c), shell.Mark(c), project, activity, level)
		return shell.Settle(c, err, again, shell.WithDone(shell.StateOf(c).Page("/timeline"), fmt.Sprintf("%s/%s shows up to the level of the %s.", project, activity, level)))
	}
}
