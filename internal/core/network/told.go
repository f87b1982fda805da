package network

import (
	"cmp"
	"fmt"
	"hash/fnv"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
)

// Told is what the network tells of one project, in values that compare.
type Told struct {
	Finish     calendar.Date // its latest early finish; zero where nothing of it stands inside
	Stretched  calendar.Date // the same with remaining durations stretched
	Unfinished int
	Float      int // the least total float of what is unfinished, in its own working days; 0 where nothing is
	Critical   int
	Near       int // within the limit, and not critical
	Broken     int // links into it that stated dates break
	Conflicts  int // those from other projects
	troubles   uint64
}

// Tell gives what the network tells of each view. Near is the limit of near-critical, in
// working days. Stretched are the finishes with stretched durations, or nil.
func (p *Portfolio) Tell(near int, stretched []calendar.Date) []Told {
	out := make([]Told, len(p.Views))
	for i := range p.Places {
		d, t := &p.Dates[i], &out[p.Places[i].View]
		if d.Outside {
			continue
		}
		t.Finish = max(t.Finish, d.EarlyFinish)
		if p.Activities[i].Progress == Finished {
			continue
		}
		t.count(d.Total, near)
	}
	for i := range stretched {
		out[i].Stretched = stretched[i]
	}
	for i := range p.Stated {
		s := &p.Stated[i]
		if s.Link < 0 {
			continue
		}
		if days, ok := p.Broken(s.Link); ok && days > 0 {
			t := &out[s.Ends[1].View]
			t.Broken++
			if s.Ends[0].View != s.Ends[1].View {
				t.Conflicts++
			}
		}
	}
	for i, list := range p.allTroubles() {
		if len(list) == 0 {
			continue
		}
		h := fnv.New64a()
		for _, x := range list {
			fmt.Fprintln(h, x.Kind, x.Link, x.Activity, x.Days, x.Day, x.Loop, x.Why)
			if x.Link >= 0 {
				s := &p.Stated[x.Link]
				fmt.Fprintln(h, s.From, s.To, s.Type, s.Lag, s.Source)
			}
		}
		out[i].troubles = h.Sum64()
	}
	return out
}

// count takes the total float of something unfinished.
func (t *Told) count(float, near int) {
	if t.Unfinished == 0 || float < t.Float {
		t.Float = float
	}
	t.Unfinished++
	switch {
	case float <= 0:
		t.Critical++
	case float <= near:
		t.Near++
	}
}

// Kind is what is wrong.
type Kind uint8

// What can be wrong: stated dates break a link; a link that was overtaken would not hold; a
// link holds nothing, since one of its ends is no activity of the network; activities wait
// for themselves; an activity has no date, or no working day; it ends later than it may, or
// stays on its day though links hold it later; a constraint lacks its kind or its day.
const (
	LinkBroken Kind = iota
	LinkOvertaken
	LinkIdle
	Loop
	NoDate
	NoWorkday
	TooLate
	Overruled
	HalfBound
)

// Trouble is something wrong in the network, of one project.
type Trouble struct {
	Kind     Kind
	Link     int // its place in Stated, or -1
	Activity int // its place in the project's view, or -1
	Days     int // working days of the activity, or of the link's successor
	Day      calendar.Date
	Loop     []string // activities in their order, PROJECT/ACTIVITY
	Why      string
}

// Troubles lists what is wrong in the network with the activities and links that a project
// states, by the place of its view.
func (p *Portfolio) Troubles(view int) []Trouble { return p.allTroubles()[view] }

func (p *Portfolio) allTroubles() [][]Trouble {
	p.once.Do(func() { p.troubles = p.findTroubles() })
	return p.troubles
}

func (p *Portfolio) findTroubles() [][]Trouble {
	out := make([][]Trouble, len(p.Views))
	at := make(map[string]int, len(p.Views))
	for i, v := range p.Views {
		at[v.Code] = i
		for k := range v.Activities {
			if b := v.Activities[k].Bound; b != nil && (b.Constraint == "") != (b.Day == 0) && p.inside(i) {
				out[i] = append(out[i], Trouble{Kind: HalfBound, Link: -1, Activity: k, Why: b.Constraint, Day: b.Day})
			}
		}
	}
	for i := range p.Places {
		p.bound(out, i)
	}
	for _, l := range p.Left {
		kind := NoWorkday
		if l.Dateless {
			kind = NoDate
		}
		out[l.View] = append(out[l.View], Trouble{Kind: kind, Link: -1, Activity: l.Activity})
	}
	for _, loop := range p.Loops {
		names := make([]string, len(loop))
		for k, i := range p.round(loop) {
			names[k] = p.Name(int(i))
		}
		told := make(map[int]bool)
		for _, i := range loop {
			if v := p.Places[i].View; !told[v] {
				told[v] = true
				out[v] = append(out[v], Trouble{Kind: Loop, Link: -1, Activity: p.Places[i].Activity, Loop: names})
			}
		}
	}
	for i := range p.Stated {
		s := &p.Stated[i]
		v := at[s.Project]
		if x, ok := p.wrongLink(s); ok && p.inside(v) {
			x.Link, x.Activity = i, -1
			out[v] = append(out[v], x)
		}
	}
	return out
}

// inside tells whether the activities of a project stand in the network.
func (p *Portfolio) inside(view int) bool {
	s := p.Views[view].StateAt(p.Views[view].Day)
	return s == portfolio.Active || s == portfolio.OnHold
}

// bound tells where a constraint of an unfinished activity is not kept.
func (p *Portfolio) bound(out [][]Trouble, i int) {
	a, d, place := &p.Activities[i], &p.Dates[i], p.Places[i]
	if a.Constraint == Free || a.Progress == Finished || d.Outside {
		return
	}
	t := Trouble{Kind: TooLate, Link: -1, Activity: place.Activity, Day: a.Bound}
	switch {
	case a.Constraint == NotAfter:
		t.Days = p.at[i].f - a.Calendar.Instant(a.Bound)
	case a.Constraint == On && a.Progress == Waiting:
		t.Kind = Overruled
		t.Days = p.overruledBy(int32(i))
	}
	if t.Days > 0 {
		out[place.View] = append(out[place.View], t)
	}
}

// overruledBy gives by how many working days links would hold a waiting activity later than the
// day it is on.
func (p *Portfolio) overruledBy(i int32) int {
	days := 0
	if s, by := p.held(i, true); by >= 0 {
		days = max(days, s-p.at[i].s)
	}
	if f, by := p.held(i, false); by >= 0 {
		days = max(days, f-p.at[i].f)
	}
	return days
}

func (p *Portfolio) wrongLink(s *Stated) (t Trouble, wrong bool) {
	if s.Link < 0 {
		return Trouble{Kind: LinkIdle, Why: p.idle(s)}, true
	}
	switch p.Hold[s.Link] {
	case Holds:
		days, _ := p.Broken(s.Link)
		return Trouble{Kind: LinkBroken, Days: days}, days > 0
	case Overtaken:
		l := &p.Links[s.Link]
		days := p.missed(l)
		return Trouble{Kind: LinkOvertaken, Days: days}, days > 0
	}
	return t, false
}

// missed gives by how many working days the early dates of a link's successor miss it.
func (p *Portfolio) missed(l *Link) int {
	is := p.at[l.To].f
	if l.Type.toStart() {
		is = p.at[l.To].s
	}
	return max(0, p.asks(l, &p.at[l.From])-is)
}

// idle tells why a link holds nothing: which of its ends is no activity of the network.
func (p *Portfolio) idle(s *Stated) string {
	for k, end := range s.Ends {
		name := s.From
		if k == 1 {
			name = s.To
		}
		if end == nowhere {
			return name + " is not there any more"
		}
		v := p.Views[end.View]
		a := &v.Activities[end.Activity]
		switch {
		case !p.inside(end.View):
			return name + " is of a project that is " + string(v.StateAt(v.Day))
		case !a.Leaf && a.Kind != portfolio.Milestone:
			return name + " is a summary"
		}
	}
	return "one of its ends has no date to count by"
}

// round puts the activities of a loop in an order in which each waits for the one before,
// as far as one way round tells it.
func (n *Network) round(loop []int32) []int32 {
	in := make(map[int32]bool, len(loop))
	for _, i := range loop {
		in[i] = true
	}
	out := []int32{loop[0]}
	delete(in, loop[0])
	for len(in) > 0 {
		next := int32(-1)
		for _, x := range n.outof.of(out[len(out)-1]) {
			if to := n.Links[x].To; in[to] {
				next = to
				break
			}
		}
		if next < 0 { // several ways round: the rest follows as it is
			for _, i := range loop {
				if in[i] {
					next = i
					break
				}
			}
		}
		out = append(out, next)
		delete(in, next)
	}
	return out
}

// Step is an activity on the way back to what drives another.
type Step struct {
	Activity int32
	Cause    Cause
	Link     int32 // that holds it, or -1
}

// Chain tells why an activity has its early dates: itself, what holds it, what holds that,
// and so on to what no link holds.
func (n *Network) Chain(i int32) []Step {
	var out []Step
	for len(out) <= len(n.Activities) && !n.Dates[i].Outside {
		d := &n.Dates[i]
		out = append(out, Step{i, d.Cause, d.Driver})
		if d.Driver < 0 {
			break
		}
		i = n.Links[d.Driver].From
	}
	return out
}

// Last gives the activity of a view with its latest early finish; -1 where there is none.
func (p *Portfolio) Last(view int) int32 {
	last := int32(-1)
	for i := range p.Places {
		if p.Places[i].View != view || p.Dates[i].Outside {
			continue
		}
		if last < 0 || p.Dates[i].EarlyFinish > p.Dates[last].EarlyFinish {
			last = int32(i)
		}
	}
	return last
}

// Unfinished lists the unfinished activities of a view, those with the least float first.
func (p *Portfolio) Unfinished(view int) (out []int32) {
	for i := range p.Places {
		if p.Places[i].View == view && !p.Dates[i].Outside && p.Activities[i].Progress != Finished {
			out = append(out, int32(i))
		}
	}
	slices.SortStableFunc(out, func(a, b int32) int { return cmp.Compare(p.Dates[a].Total, p.Dates[b].Total) })
	return out
}

// Interface is a link between two projects. Days are zero, and Conflict 0, where the link
// holds nothing.
type Interface struct {
	*Stated
	Promised calendar.Date // when the giver says it gives
	Needed   calendar.Date // the latest day on which the taker keeps its stated date
	Conflict int           // working days of the taker from needed to promised
	Hold     Hold
}

// Interfaces lists the links between projects, in their order.
func (p *Portfolio) Interfaces() (out []Interface) {
	for i := range p.Stated {
		s := &p.Stated[i]
		if s.Link < 0 || s.Ends[0].View == s.Ends[1].View {
			continue
		}
		x := Interface{Stated: s, Hold: p.Hold[s.Link]}
		l := &p.Links[s.Link]
		from, to := &p.Activities[l.From], &p.Activities[l.To]
		x.Promised = from.Finish
		if l.Type.fromStart() {
			x.Promised = from.Start
		}
		if x.Hold == Holds {
			t := p.stated(l.To)
			k := t.f - int(l.Lag)
			if l.Type.toStart() {
				k = t.s - int(l.Lag)
			}
			day := to.Calendar.Day(k+1) - 1
			if l.Type.fromStart() && !from.Milestone {
				day++
			}
			x.Needed = from.Calendar.Day(from.Calendar.Instant(day))
			x.Conflict = max(0, to.Calendar.Slip(x.Needed, x.Promised))
		}
		out = append(out, x)
	}
	return out
}
