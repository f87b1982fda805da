package schedule

import (
	"fmt"

	"github.com/gofiber/fiber/v3"

	"turret/internal/core/due"
	"turret/internal/office/schedule"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// Interfaces is the page of what projects give each other.
type Interfaces struct {
	Dates
	Found        *schedule.Interfaces
	Rows         []Interface
	Deliverables []Deliverable
	Matrix       []MatrixRow
}

// Interface is one dependency between two projects.
type Interface struct {
	Giver, Taker           Side
	Type, Promised, Needed string
	Conflict, State, Class string
	Deliverable            bool
	What, Agreed           string
	May                    bool
	Project, From, To      string // its key
}

// Side is one end of it.
type Side struct{ Project, Code, Name, Who, Link string }

// Deliverable is something that is handed over.
type Deliverable struct {
	Project, Code, Name, Link, From, To, Due, Over, Accepted, State, Why, Class string
}

// MatrixRow is a giver with what it gives to each taker.
type MatrixRow struct {
	Giver string
	Cells []MatrixCell
}

// MatrixCell is how many interfaces there are, and how many are in conflict.
type MatrixCell struct {
	Text, Title string
	Conflict    bool
}

// GetInterfaces answers /interfaces.
func GetInterfaces(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		d, err := frame(c, site, "Interfaces")
		if err != nil {
			return err
		}
		p := &Interfaces{Dates: d}
		if p.Found, err = schedule.In(site.Office).Interfaces(c.Context(), p.Actor, p.Moment); err != nil {
			return err
		}
		if !p.Moment.Empty {
			p.fill()
		}
		return shell.Render(c, InterfacesTemplate, p)
	}
}

func (p *Interfaces) side(e schedule.End) Side {
	s := Side{e.Project, e.Code, e.Activity, e.Who, ""}
	if e.Name != "" {
		s.Link = "/timeline?" + p.State.Moment().With("open", e.Project).With("of", e.Project+"/"+e.Code).Query()
	}
	return s
}

func (p *Interfaces) fill() {
	s := p.Found
	switch n := len(s.List); {
	case n == 0:
		p.say("Nothing here waits for another project, and nothing is waited for.")
	case s.Conflicts == 0:
		p.say("%s between projects, and none is in conflict.", tell.Plural(n, "interface", "interfaces"))
	default:
		w := s.List[0]
		p.say("Of %s between projects ", tell.Plural(n, "interface", "interfaces"))
		p.tone("act", "", "%s in conflict", tell.Plural(s.Conflicts, "is", "are"))
		p.say(": %s of %s comes %s after %s needs it.", w.Giver.Activity, w.Giver.Project, tell.Plural(w.Conflict, "working day", "working days"), w.Taker.Project)
		if w.Giver.Name == "" || w.Taker.Name == "" {
			p.Sentence[len(p.Sentence)-1].Text = ", the gravest by " + tell.Plural(w.Conflict, "working day", "working days") + "."
		}
	}
	for _, x := range s.List {
		r := Interface{
			Giver: p.side(x.Giver), Taker: p.side(x.Taker), Type: x.Type, Promised: tell.Date(x.Promised), Needed: tell.Date(x.Needed),
			Conflict: tell.Dash, State: "holds", Deliverable: x.Deliverable != nil, What: x.What, Agreed: x.Agreed, May: x.May,
			Project: x.StatedBy, From: x.From, To: x.To,
		}
		if x.Lag != 0 {
			r.Type += " " + days(x.Lag)
		}
		switch {
		case x.Given:
			r.State = "given"
		case x.Over:
			r.State = "taken"
		case x.Conflict > 0:
			r.State, r.Class, r.Conflict = "in conflict", "act", days(x.Conflict)
		}
		p.Rows = append(p.Rows, r)
	}
	for _, g := range s.Givers {
		row := MatrixRow{Giver: g}
		for _, t := range s.Takers {
			n := s.Cells[[2]string{g, t}]
			cell := MatrixCell{Text: count(n[0]), Conflict: n[1] > 0}
			if n[0] > 0 {
				cell.Title = fmt.Sprintf("%s gives %s %s, %d in conflict", g, t, tell.Plural(n[0], "thing", "things"), n[1])
			}
			row.Cells = append(row.Cells, cell)
		}
		p.Matrix = append(p.Matrix, row)
	}
	for _, d := range s.Deliverables {
		x := Deliverable{
			Project: d.Of.Code, Code: d.Code, Name: d.Name, From: d.Who(), To: d.Deliverable.Receiver, Due: tell.Date(d.Current[1]),
			Over: tell.Date(d.Deliverable.HandedOver), Accepted: tell.Date(d.Deliverable.Accepted), State: string(d.State), Why: d.Deliverable.Reason,
			Class: map[due.Handing]string{due.SentBack: "act", due.Late: "watch"}[d.State],
			Link:  "/timeline?" + p.State.Moment().With("open", d.Of.Code).With("of", d.Of.Code+"/"+d.Code).Query(),
		}
		if d.State == "sent back" {
			x.Accepted = "back " + tell.Date(d.Deliverable.SentBack)
		}
		p.Deliverables = append(p.Deliverables, x)
	}
}

// PostInterfaces says that an interface is agreed, or no longer.
func PostInterfaces(site *shell.Site) fiber.Handler {
	again := GetInterfaces(site)
	return func(c fiber.Ctx) error {
		from, to := c.FormValue("from"), c.FormValue("to")
		agreed := c.FormValue("do") != "withdraw"
		err := schedule.In(site.Office).Agree(c.Context(), shell.Actor(c), shell.Mark(c), c.FormValue("project"), from, to, agreed)
		said := fmt.Sprintf("%s to %s is agreed.", from, to)
		if !agreed {
			said = fmt.Sprintf("%s to %s is agreed no longer.", from, to)
		}
		return shell.Settle(c, err, again, shell.WithDone(shell.StateOf(c).Page("/interfaces"), said))
	}
}
