package schedule

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/due"
	"turret/internal/core/network"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/right"
)

// Interface is a dependency between two projects. A giver or taker that the reader does not
// see has no name.
type Interface struct {
	Giver, Taker     End
	Type             string
	Lag              int
	Promised, Needed calendar.Date
	Conflict         int  // working days of the taker
	Over             bool // it holds nothing any more: the taker has begun, or is finished
	Given            bool // the giver is finished
	Deliverable      *portfolio.Deliverable
	What             string // is handed over
	Agreed           string // by whom; "" by nobody
	StatedBy         string // the project that states it
	From, To         string // its key there
	May              bool   // the actor may say that it is agreed
}

// End is one side of an interface.
type End struct{ Project, Name, Code, Activity, Who string }

// Deliverable is something that is handed over.
type Deliverable struct {
	*Activity
	State due.Handing
}

// Interfaces are what projects give each other, and what they hand over.
type Interfaces struct {
	*Schedule
	List         []Interface // those in conflict first, then by the day they are needed
	Conflicts    int
	Deliverables []Deliverable
	Givers       []string // of the matrix, by code
	Takers       []string
	Cells        map[[2]string][2]int // interfaces and those in conflict, by giver and taker
}

// Interfaces lists what the moment's projects give and take, and their deliverables.
func (o Room) Interfaces(ctx context.Context, a right.Actor, m *office.Moment) (*Interfaces, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	s, err := o.schedule(ctx, m, nil)
	if err != nil {
		return nil, err
	}
	out := &Interfaces{Schedule: s, Cells: make(map[[2]string][2]int)}
	asked := make(map[string]bool)
	for _, r := range s.Projects {
		asked[r.Code] = true
	}
	seen := make(map[*network.Portfolio]bool)
	for _, r := range s.Projects {
		w := s.webs[r.Code]
		if w == nil || w.Plain || seen[w.Net()] {
			continue
		}
		net := w.Net()
		seen[net] = true
		for _, x := range net.Interfaces() {
			giver, taker := s.end(net, x.Ends[0]), s.end(net, x.Ends[1])
			if !asked[giver.Project] && !asked[taker.Project] {
				continue
			}
			i := Interface{
				Giver: giver, Taker: taker, Type: x.Type.String(), Lag: x.Lag, Promised: x.Promised, Needed: x.Needed, Conflict: x.Conflict,
				Over: x.Hold != network.Holds, StatedBy: x.Project, From: x.From, To: x.To,
				What: cmp.Or(x.Terms.What, giver.Activity), Agreed: x.Terms.Agreed, May: right.May(a, right.Found),
			}
			from := net.Links[x.Link].From
			i.Given = net.Activities[from].Progress == network.Finished
			if giver.Name == "" {
				i.Promised = 0
			} else {
				i.Deliverable = net.Views[x.Ends[0].View].Activities[x.Ends[0].Activity].Deliverable
			}
			out.List = append(out.List, i)
			cell := out.Cells[[2]string{giver.Project, taker.Project}]
			cell[0]++
			if i.Conflict > 0 {
				cell[1]++
				out.Conflicts++
			}
			out.Cells[[2]string{giver.Project, taker.Project}] = cell
		}
	}
	slices.SortStableFunc(out.List, func(a, b Interface) int {
		return cmp.Or(b.Conflict-a.Conflict, flag(a.Over)-flag(b.Over), cmp.Compare(a.Needed, b.Needed), cmp.Compare(a.Giver.Project, b.Giver.Project))
	})
	for k := range out.Cells {
		out.Givers, out.Takers = append(out.Givers, k[0]), append(out.Takers, k[1])
	}
	slices.Sort(out.Givers)
	slices.Sort(out.Takers)
	out.Givers, out.Takers = slices.Compact(out.Givers), slices.Compact(out.Takers)
	s.Each(func(x *Activity) {
		if x.Deliverable != nil {
			out.Deliverables = append(out.Deliverables, Deliverable{x, due.Of(x.Deliverable, x.Current[1], s.AsOf)})
		}
	})
	slices.SortStableFunc(out.Deliverables, func(a, b Deliverable) int {
		return cmp.Or(slices.Index(due.Handings, b.State)-slices.Index(due.Handings, a.State), cmp.Compare(a.Current[1], b.Current[1]))
	})
	return out, nil
}

func flag(b bool) int {
	if b {
		return 1
	}
	return 0
}

// end names one side of a link.
func (s *Schedule) end(net *network.Portfolio, at network.Place) End {
	v := net.Views[at.View]
	if s.inputs.Project(v.Code) == nil {
		return End{Project: hidden}
	}
	a := &v.Activities[at.Activity]
	return End{v.Code, v.Name, a.Code, a.Name, cmp.Or(a.Owner, v.Lead)}
}

// hidden stands for a project that is not the reader's to see.
const hidden = "—"

// Agree says that an interface is agreed by the actor, or by nobody any more.
func (o Room) Agree(ctx context.Context, a right.Actor, seen int64, project, from, to string, agreed bool) error {
	if err := right.Check(a, right.Found); err != nil {
		return err
	}
	by := "-"
	if agreed {
		by = a.Name
	}
	_, err := entry.In(o.Office).Enter(ctx, a, &entry.Form{
		Origin: office.Planned, Note: fmt.Sprintf("interface %s to %s of %s", from, to, project), Seen: seen, Takes: right.Found,
		Rows: func(ctx context.Context, s *book.Snapshot) ([]entry.Rows, error) {
			if _, err := s.Filled(ctx); err != nil {
				return nil, err
			}
			p := s.Project(project)
			if p == nil || !slices.ContainsFunc(p.Across, func(x portfolio.Across) bool { return keyed(p, x) == [2]string{from, to} }) {
				return nil, &office.Misfit{Column: "from", Why: fmt.Sprintf("%s states no link from %s to %s any more", project, from, to)}
			}
			return []entry.Rows{entry.Of("links", entry.Row{"project": project, "from": from, "to": to, "agreed_by": by})}, nil
		},
	})
	return err
}

// keyed gives the ends of a link as its project states them.
func keyed(p *portfolio.Project, x portfolio.Across) [2]string {
	here, other := p.Activities[x.Here].Code, x.Other+"/"+x.Code
	if x.Into {
		return [2]string{other, here}
	}
	return [2]string{here, other}
}
