package network

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"slices"
	"strings"
	"text/tabwriter"

	"turret/internal/core/calendar"
	"turret/internal/core/network"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/right"
	"turret/internal/tell"
)

// Activity is what both passes give of one activity. Dates are ISO days. Late dates and
// floats are nil where it is finished, the late start also where it was started.
type Activity struct {
	Project     string  `json:"project"`
	Activity    string  `json:"activity"`
	EarlyStart  string  `json:"early_start"`
	EarlyFinish string  `json:"early_finish"`
	LateStart   *string `json:"late_start"`
	LateFinish  *string `json:"late_finish"`
	TotalFloat  *int    `json:"total_float"` // working days of its own
	FreeFloat   *int    `json:"free_float"`
	Critical    bool    `json:"critical"`
	DrivenBy    *string `json:"driven_by"` // PROJECT/ACTIVITY whose link holds its early dates; nil: its own dates do
}

// Link is a link as it is stated. BrokenBy is nil where it holds nothing.
type Link struct {
	Project  string `json:"project"`
	From     string `json:"from"`
	To       string `json:"to"`
	Type     string `json:"type"`
	Lag      int    `json:"lag"`
	BrokenBy *int   `json:"broken_by"` // working days of the successor
}

// Network is the network of a scope, as it is known at the end of a period.
type Network struct {
	Activities []Activity `json:"activities"`
	Links      []Link     `json:"links"`
	Loops      []string   `json:"loops"` // PROJECT/ACTIVITY that wait for themselves

	left, dateless int // activities outside: without a working day, without a date
}

// Network computes the network of the whole portfolio at the end of a period, and gives
// what of it is of a scope: a project, a programme with all below it, or "" or * for all.
func (o Room) Network(ctx context.Context, a right.Actor, p calendar.Period, scope string) (*Network, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	s, err := o.Sees(ctx, a)
	if err != nil {
		return nil, err
	}
	inputs, err := o.Book().InputsAt(ctx, s, p)
	if err != nil {
		return nil, err
	}
	projects, err := inputs.Filled(ctx)
	if err != nil {
		return nil, err
	}
	if scope == portfolio.Everywhere {
		scope = ""
	}
	var views []*portfolio.View
	in := make(map[string]bool)
	for _, pr := range projects {
		v, err := inputs.View(ctx, pr.Code, p, portfolio.Latest)
		if err != nil {
			return nil, err
		}
		views = append(views, v)
		in[pr.Code] = scope == "" || pr.Code == scope || inputs.Office.Under(pr.Programme, scope)
	}
	known := scope == "" || in[scope] || slices.ContainsFunc(inputs.Office.Groups, func(g portfolio.Programme) bool { return g.Code == scope })
	if !known {
		return nil, fmt.Errorf("%w %q: it is neither a project nor a programme; * is the whole portfolio", office.ErrUnknownScope, scope)
	}
	return told(network.Of(views), in), nil
}

// told writes what of a network is of some projects.
func told(n *network.Portfolio, in map[string]bool) *Network {
	out := &Network{Activities: []Activity{}, Links: []Link{}, Loops: []string{}}
	for i, place := range n.Places {
		v := n.Views[place.View]
		d := &n.Dates[i]
		if !in[v.Code] || d.Outside {
			continue
		}
		a := Activity{
			Project: v.Code, Activity: v.Activities[place.Activity].Code,
			EarlyStart: d.EarlyStart.String(), EarlyFinish: d.EarlyFinish.String(), Critical: n.Critical(i),
		}
		if n.Network.Activities[i].Progress != network.Finished {
			a.LateStart, a.LateFinish = day(d.LateStart), day(d.LateFinish)
			a.TotalFloat, a.FreeFloat = &d.Total, &d.Free
		}
		if d.Driver >= 0 {
			name := n.Name(int(n.Network.Links[d.Driver].From))
			a.DrivenBy = &name
		}
		out.Activities = append(out.Activities, a)
	}
	for _, l := range n.Stated {
		if !in[l.Project] {
			continue
		}
		x := Link{Project: l.Project, From: l.From, To: l.To, Type: l.Type.String(), Lag: l.Lag}
		if l.Link >= 0 {
			if by, ok := n.Broken(l.Link); ok {
				x.BrokenBy = &by
			}
		}
		out.Links = append(out.Links, x)
	}
	for _, loop := range n.Loops {
		for _, i := range loop {
			if in[n.Views[n.Places[i].View].Code] {
				out.Loops = append(out.Loops, n.Name(int(i)))
			}
		}
	}
	slices.Sort(out.Loops)
	for _, l := range n.Left {
		if !in[n.Views[l.View].Code] {
			continue
		}
		if l.Dateless {
			out.dateless++
		} else {
			out.left++
		}
	}
	return out
}

// day is a date as text, or nil.
func day(d calendar.Date) *string {
	if d == 0 {
		return nil
	}
	s := d.String()
	return &s
}

// WriteJSON writes the network as one object.
func (n *Network) WriteJSON(w io.Writer) error {
	e := json.NewEncoder(w)
	e.SetIndent("", "  ")
	return e.Encode(n)
}

// WriteTable writes the activities as a table for people, critical ones marked, and below it
// what does not hold.
func (n *Network) WriteTable(w io.Writer) error {
	t := tabwriter.NewWriter(w, 0, 0, 2, ' ', 0)
	fmt.Fprintln(t, "project\tactivity\tearly start\tearly finish\tlate start\tlate finish\tfloat\tfree\t\tdriven by")
	text := func(s *string) string {
		if s == nil {
			return ""
		}
		return *s
	}
	number := func(n *int) string {
		if n == nil {
			return ""
		}
		return fmt.Sprint(*n)
	}
	for _, a := range n.Activities {
		critical := ""
		if a.Critical {
			critical = "critical"
		}
		fmt.Fprintf(t, "%s\t%s\t%s\t%s\t%s\t%s\t%s\t%s\t%s\t%s\n", a.Project, a.Activity, a.EarlyStart, a.EarlyFinish, text(a.LateStart), text(a.LateFinish), number(a.TotalFloat), number(a.FreeFloat), critical, text(a.DrivenBy))
	}
	if err := t.Flush(); err != nil {
		return err
	}
	for _, l := range n.Links {
		if l.BrokenBy != nil && *l.BrokenBy > 0 {
			if _, err := fmt.Fprintf(w, "broken: %s, %s to %s (%s%+d) by %d working days\n", l.Project, l.From, l.To, l.Type, l.Lag, *l.BrokenBy); err != nil {
				return err
			}
		}
	}
	for _, name := range n.Loops {
		if _, err := fmt.Fprintf(w, "loop: %s waits for itself\n", name); err != nil {
			return err
		}
	}
	return nil
}

// Outside tells in words of activities that have no dates to compute with; "" where there
// are none.
func (n *Network) Outside() string {
	var said []string
	if n.dateless > 0 {
		said = append(said, tell.Plural(n.dateless, "activity has", "activities have")+" no date")
	}
	if n.left > 0 {
		said = append(said, tell.Plural(n.left, "activity has", "activities have")+" a calendar without a working day")
	}
	if len(said) == 0 {
		return ""
	}
	return "Outside the network: " + strings.Join(said, ", ")
}
