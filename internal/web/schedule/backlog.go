package schedule

import (
	"fmt"
	"html/template"
	"net/http"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/exact"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/office/schedule"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// Backlog is the page of a backlog.
type Backlog struct {
	Dates
	Found   *schedule.Backlogs
	Picks   []Tab
	Picture template.HTML
	Figures []Figured
	States  []State
	Blocked []Item
	Due     []Item
	Recent  []schedule.Recent
	Added   []Item
	Course  [][3]string
	Stands  []Stand
}

// Stand is how the project stands by its dates, or by its backlog's pace alone.
type Stand struct {
	Glyph template.HTML
	What  string
	Says  string
}

// Figured is a figure with its trail.
type Figured struct {
	Title, Link string
	Value       tell.Cell
}

// State is the share of the scope in a state.
type State struct{ Name, Items, Size, Share string }

// Item is an item of the backlog.
type Item struct{ Code, Name, Owner, Size, When, Says, Class string }

// GetBacklog answers /backlog.
func GetBacklog(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		d, err := frame(c, site, "Backlogs")
		if err != nil {
			return err
		}
		p := &Backlog{Dates: d}
		of := p.State.Get("of")
		if p.Found, err = schedule.In(site.Office).Backlogs(c.Context(), p.Actor, p.Moment, of); err != nil {
			return err
		}
		if of != "" && p.Found.One == nil {
			c.Status(http.StatusNotFound)
			p.Moment.Notes = append(p.Moment.Notes, fmt.Sprintf("No project here is called %s and has a backlog.", of))
		}
		if p.Found.One != nil {
			p.fill()
		}
		return shell.Render(c, BacklogTemplate, p)
	}
}

// shown are the figures that the page lists.
var shown = []figure.ID{
	figure.Scope, figure.Accepted, figure.AddedShare, figure.Pace, figure.NetPace, figure.NotReady, figure.FinishPlanned, figure.FinishStated,
	figure.FinishPace, figure.FinishNetPace, figure.SlipPace,
}

func (p *Backlog) fill() {
	b := p.Found.One
	r := b.Of
	for _, x := range p.Found.Projects {
		p.Picks = append(p.Picks, Tab{x.Code + " " + x.Name, p.Turn("of", x.Code), x.Code == r.Code})
	}
	for _, id := range shown {
		v := r.Value(id)
		f := Figured{Title: figure.Get(id).Title, Value: tell.Figure(id, v, r.Currency, false), Link: p.trail(id)}
		p.Figures = append(p.Figures, f)
	}
	p.stands()
	p.speak()
	scope := b.Scope(b.Day)
	for _, s := range b.States() {
		x := State{Name: s.State, Items: fmt.Sprint(s.Count), Size: size(s.Size), Share: tell.Dash}
		if scope.Sign() > 0 {
			x.Share = tell.Ratio(ratio(s.Size.Quo(scope)), false)
		}
		p.States = append(p.States, x)
	}
	for _, it := range b.Blocked() {
		p.Blocked = append(p.Blocked, item(it, "since "+tell.Date(it.Blocked), tell.Plural(b.Cal.Slip(it.Blocked, b.Day), "working day", "working days")))
	}
	for _, it := range b.DueBy {
		x := item(it, tell.Date(it.Due), it.State)
		if it.Due <= b.AsOf {
			x.Class = "watch"
		}
		p.Due = append(p.Due, x)
	}
	p.Recent = b.Recent
	for _, it := range b.Items() {
		if it.InScope(b.Day) && b.WasAdded(it) {
			p.Added = append(p.Added, item(it, tell.Date(it.Created), it.State))
		}
	}
	p.burn()
}

// trail is the address of a figure's trail.
func (p *Backlog) trail(id figure.ID) string {
	return "/trail/" + p.Found.One.Of.Code + "/" + figure.Get(id).Name + "?" + p.State.Moment().Query()
}

func ratio(r exact.Ratio) float64 {
	f, _ := r.Rat().Float64()
	return f
}

func size(r exact.Ratio) string { return figure.TrimDecimals(figure.Decimals(r, 1)) }

func item(it *portfolio.Item, when, says string) Item {
	return Item{Code: it.Code, Name: it.Name, Owner: it.Owner, Size: size(exact.Of(it.Size, portfolio.Quantity)), When: when, Says: says}
}

// stands tells how the project stands by its dates, and how its backlog's pace alone would
// have it stand by the same limits.
func (p *Backlog) stands() {
	r := p.Found.One.Of
	dates := r.Standing[standing.Dates]
	p.Stands = []Stand{{chart.Glyph{Standing: dates, What: "Dates"}.SVG(), "Dates", dates.String()}}
	x, ok := standing.AtPace(r.Reasons, r.Value)
	if !ok {
		return
	}
	by := Stand{chart.Glyph{Standing: x.Standing, What: "By pace alone"}.SVG(), "By pace alone", x.Standing.String() + ": "}
	switch {
	case x.Silent != "":
		by.Says += x.Silent
	case !x.Value.Known:
		by.Says += x.Value.Why
	default:
		by.Says += fmt.Sprintf("%s behind the planned finish (%s)", tell.Plural(max(0, int(x.Value.N)), "working day", "working days"), tell.Limits(x))
	}
	p.Stands = append(p.Stands, by)
}

// speak says when the backlog will be done, and why.
func (p *Backlog) speak() {
	b, r := p.Found.One, p.Found.One.Of
	left := b.Left()
	p.say("%s has accepted %s of %s", r.Name, size(b.Accepted(b.Day)), size(b.Scope(b.Day)))
	if added, ok := b.Added(b.Day); ok && added.Sign() > 0 {
		p.say(", of which %s came after the start", size(added))
	}
	switch finish := r.Value(figure.FinishPace); {
	case left.Sign() == 0:
		p.say("; nothing is left.")
	case b.Early != "":
		p.say("; %s left, and of its pace it is %s.", size(left), b.Early)
	case !finish.Known:
		p.say("; ")
		p.tone("act", "", "%s, the %s left are never done", "at the pace of the last "+tell.Plural(b.Periods(), "period", "periods"), size(left))
		p.say(".")
	default:
		tone := "steady"
		if x, ok := standing.AtPace(r.Reasons, r.Value); ok {
			tone = x.Standing.Code()
		} else if b.PlannedBy != 0 && calendar.Date(finish.N) > b.PlannedBy {
			tone = "watch"
		}
		p.say("; at %s a period the %s left are done by ", size(b.Pace()), size(left))
		p.tone(tone, p.trail(figure.FinishPace), "%s", tell.Date(calendar.Date(finish.N)))
		if net := r.Value(figure.FinishNetPace); net.Known && net.N != finish.N {
			p.say(", by %s if as much is added as lately", tell.Date(calendar.Date(net.N)))
		} else if !net.Known {
			p.say(", and never if as much is added as lately")
		}
		if b.PlannedBy != 0 {
			p.say("; planned is %s", tell.Date(b.PlannedBy))
		}
		p.say(".")
	}
	if n := len(p.Found.One.Backlog.Blocked()); n > 0 {
		p.say(" %s.", tell.Plural(n, "item is blocked", "items are blocked"))
	}
}

// burn draws scope and what is accepted over time, and goes on to the finishes.
func (p *Backlog) burn() {
	b := p.Found.One
	course := b.Course()
	if len(course) == 0 {
		return
	}
	last := b.Period
	finish, net := p.day(figure.FinishPace), p.day(figure.FinishNetPace)
	for _, d := range []calendar.Date{finish, net, b.PlannedBy} {
		if d != 0 {
			last = max(last, p.Found.Periods.Near(d))
		}
	}
	first := course[0].Period
	last = min(last, first+95)
	x := chart.Curve{
		Title: "Backlog", Desc: "scope, and what of it is accepted, by period", Now: int(b.Period - first), NowName: p.Moment.Period.Name,
		Write: func(v float64) string { return fmt.Sprint(int(v)) },
	}
	scope := chart.Series{Name: "scope", Class: "plan", End: size(b.Scope(b.Day))}
	accepted := chart.Series{Name: "accepted", Class: "earned", End: size(b.Accepted(b.Day)), Before: true}
	for q := first; q <= last; q++ {
		x.Periods = append(x.Periods, p.Found.Periods.Name(q))
	}
	for _, c := range course {
		scope.Values = append(scope.Values, ratio(c.Scope))
		accepted.Values = append(accepted.Values, ratio(c.Accepted))
		p.Course = append(p.Course, [3]string{p.Found.Periods.Name(c.Period), size(c.Scope), size(c.Accepted)})
	}
	now := ratio(b.Scope(b.Day))
	for q := b.Period + 1; q <= last; q++ {
		scope.Values = append(scope.Values, now)
	}
	x.Series = append(x.Series, scope, accepted)
	for _, way := range []struct {
		name, class string
		day         calendar.Date
	}{{"at pace", "computed", finish}, {"at net pace", "order", net}} {
		if way.day == 0 || b.Left().Sign() == 0 {
			continue
		}
		end := min(p.Found.Periods.Near(way.day), last)
		steps := float64(max(1, end-b.Period))
		s := chart.Series{Name: way.name, Class: way.class, First: int(b.Period - first), End: tell.Date(way.day)}
		from := ratio(b.Accepted(b.Day))
		for k := 0.0; k <= steps; k++ {
			s.Values = append(s.Values, from+(now-from)*k/steps)
		}
		x.Series = append(x.Series, s)
	}
	p.Picture = chart.Fit(halfWidth, x.Draw)
}

func (p *Backlog) day(id figure.ID) calendar.Date {
	if v := p.Found.One.Of.Value(id); v.Known {
		return calendar.Date(v.N)
	}
	return 0
}
