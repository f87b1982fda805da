package stating

import (
	"context"
	"time"

	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/right"
)

// Desk is what someone has to state for a moment's period.
type Desk struct {
	Projects []Owes
	Missing  int  // statements that are owed and not made
	Late     int  // of them, past their day
	Drafts   int  // sections that something is typed in and not sent
	Early    bool // nothing is owed yet: the period has not ended, and nothing is stated for it
}

// Owes is a project that someone states for.
type Owes struct {
	Code, Name string
	Parts      []Part // by section
	Missing    int
	Late       bool
	Errors     int64 // findings that are open
	Warnings   int64
	Minutes    int  // that its last statement took this writer; zero: not known
	Shut       bool // nothing can be stated of it any more
	Repeats    bool // something that is owed was stated before, so that it can be confirmed
}

// Part is how a section of a project stands.
type Part struct {
	State string // one of the states below
	Mine  bool   // the actor may state it
	Late  bool
	Due   calendar.Date
	Last  calendar.Period // when it was stated last; zero: never
	Draft bool            // something is typed in it and not sent
}

// minute is one in milliseconds.
const minute = 60 * 1000

// How a part of a statement stands.
const (
	PartStated  = "stated"
	PartMissing = "missing"
	PartNotOwed = "not owed"
)

// Desk reads what an actor has to state: of a lead all their projects; nothing of those
// who state for everybody, whose list is the matrix of Gather.
func (o Room) Desk(ctx context.Context, a right.Actor, m *office.Moment) (*Desk, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	d := &Desk{Early: !m.Owes()}
	if m.Empty || right.May(a, right.State) {
		return d, nil
	}
	list, err := o.Store().UnsentOf(ctx, a.Account)
	if err != nil {
		return nil, err
	}
	spent, err := o.Store().Spent(ctx, a.Account, int64(m.Asked.Number))
	if err != nil {
		return nil, err
	}
	type part struct {
		project int64
		kind    string
	}
	drafts := make(map[part]bool)
	for _, x := range list {
		if x.Period == int64(m.Asked.Number) {
			drafts[part{x.Project, x.Kind}] = true
		}
	}
	today, s, at := calendar.DateIn(o.Clock()), m.Snapshot(), m.Asked.Number
	for _, p := range s.Projects() {
		x := Owes{Code: p.Code, Name: p.Name, Minutes: int((spent[p.ID] + minute - 1) / minute), Shut: Open(a, m, p.Code) != nil}
		any := false
		for i := range Sections {
			section := &Sections[i]
			y := Part{
				State: PartNotOwed, Due: s.Office.DueOn(section.Name, at), Last: lastStated(s.Stated[p.ID], section.Kind, at),
				Mine: right.CheckState(a, p.ID, section.Name, int(at)) == nil, Draft: drafts[part{p.ID, section.Name}],
			}
			any = any || y.Mine
			switch {
			case y.Last == at:
				y.State = PartStated
			case s.Office.Owes(p, section.Kind, at):
				y.State, y.Late = PartMissing, y.Due != 0 && today > y.Due
			}
			if y.Mine {
				d.count(&x, &y)
			}
			x.Parts = append(x.Parts, y)
		}
		if !any {
			continue
		}
		if r, _ := m.Find(p.Code); r != nil {
			x.Errors, x.Warnings = r.Value(figure.Errors).N, r.Value(figure.Warnings).N
		}
		d.Projects = append(d.Projects, x)
	}
	return d, nil
}

// count counts what a part asks of its writer.
func (d *Desk) count(x *Owes, y *Part) {
	if y.Draft {
		d.Drafts++
	}
	if y.State != PartMissing {
		return
	}
	x.Missing++
	d.Missing++
	x.Repeats = x.Repeats || y.Last != 0
	if y.Late {
		x.Late = true
		d.Late++
	}
}

// Drafted tells of which projects, by code, and kinds someone has typed something for a
// moment's period and not sent it.
func (o Room) Drafted(ctx context.Context, a right.Actor, m *office.Moment) (map[string]map[portfolio.PartKind]bool, error) {
	if err := right.Check(a, right.Read); err != nil || m.Empty {
		return nil, err
	}
	list, err := o.Store().UnsentFor(ctx, int64(m.Asked.Number))
	out := make(map[string]map[portfolio.PartKind]bool)
	for _, x := range list {
		p := m.Snapshot().ByID(x.Project)
		section := sectionNamed(x.Kind)
		if p == nil || section == nil {
			continue // it is gone
		}
		if out[p.Code] == nil {
			out[p.Code] = make(map[portfolio.PartKind]bool)
		}
		out[p.Code][section.Kind] = true
	}
	return out, err
}

// away is how long someone was not at their desk when they come anew.
const away = int64(30 * minute)

// Visit notes that an actor is at their desk, and gives when they were there before; the
// zero time where they never were.
func (o Room) Visit(ctx context.Context, a right.Actor) (time.Time, error) {
	if err := right.Check(a, right.Keep); err != nil {
		return time.Time{}, err
	}
	before, err := o.Store().Visit(ctx, a.Account, o.Now(), away)
	if err != nil || before == 0 {
		return time.Time{}, err
	}
	return time.UnixMilli(before).UTC(), nil
}
