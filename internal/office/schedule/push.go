package schedule

import (
	"context"
	"crypto/sha256"
	"fmt"
	"strings"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/network"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/right"
)

// Move is an activity that is given other stated dates. Days are ISO days; an empty one
// stays as it is, or is moved by a number of days.
type Move struct {
	Project, Activity, Start, Finish string
	By                               int  // days, where no date is given
	Stretch                          bool // by which its finish alone moves
}

// Push is what a move would do, before anything is kept.
type Push struct {
	Move   Move
	Rows   []Pushed // the activity itself first, then what it pushes
	Ends   []PushedEnd
	Effect []entry.Effect // what the statement of those that are taken would change
	Period string
	Nobody string // why nothing can be stated, or ""
}

// Pushed is an activity whose dates a move changes.
type Pushed struct {
	End
	Was, Is   [2]calendar.Date
	Days      int
	Milestone bool
	Raised    bool
	Own       bool // it is the one that is moved
	May       bool // the actor may state its dates
	Hidden    bool // it is of a project that the actor does not read
}

// Key names the row in a form: its activity, and the dates that it would be given.
func (p *Pushed) Key() string {
	return strings.Join([]string{p.Project, p.Code, p.Is[0].String(), p.Is[1].String()}, "|")
}

// PushedEnd is a project whose end a move changes.
type PushedEnd struct {
	Project, Name string
	Was, Is       calendar.Date
	Days          int // working days
}

// Push tells what a move would do to the dates of all projects, as they are known now. A
// misfit says which of the fields is wrong.
func (o Room) Push(ctx context.Context, a right.Actor, m *office.Moment, move Move) (*Push, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	return o.push(ctx, a, m, m.Snapshot(), move)
}

// push tells it on a snapshot.
func (o Room) push(ctx context.Context, a right.Actor, m *office.Moment, s *book.Snapshot, move Move) (*Push, error) {
	out := &Push{Move: move, Period: m.Period.Name, Nobody: nobody(m)}
	w, err := s.Web(ctx, move.Project, m.Period.Number)
	if err != nil {
		return nil, err
	}
	if w == nil || s.Project(move.Project) == nil {
		return nil, &office.Misfit{Column: "activity", Why: fmt.Sprintf("there is no project %s", move.Project)}
	}
	net := w.Net()
	at := int32(-1)
	for i := range net.Places {
		if p := net.Places[i]; p.View == w.View && net.Views[p.View].Activities[p.Activity].Code == move.Activity {
			at = int32(i)
		}
	}
	if at < 0 || net.Dates[at].Outside {
		return nil, &office.Misfit{Column: "activity", Why: fmt.Sprintf("%s/%s stands outside the network, so nothing waits for it", move.Project, move.Activity)}
	}
	c, err := changeOf(net, at, move)
	if err != nil {
		return nil, err
	}
	moved, ends := net.Push([]network.Change{c})
	row := rowsOf(s, net, func(v *portfolio.View) bool {
		return out.Nobody == "" && right.CheckState(a, v.ID, "progress", int(m.Period.Number)) == nil
	})
	own := row(at)
	own.Own, own.Was, own.Is = true, [2]calendar.Date{net.Activities[at].Start, net.Activities[at].Finish}, [2]calendar.Date{c.Start, c.Finish}
	own.Days = net.Activities[at].Calendar.Slip(net.Activities[at].Finish, c.Finish)
	out.Rows = append(out.Rows, own)
	for _, p := range moved {
		if p.Activity == at || p.Was == p.Is {
			continue
		}
		x := row(p.Activity)
		x.Was, x.Is, x.Days = p.Was, p.Is, p.Days
		out.Rows = append(out.Rows, x)
	}
	out.Ends = endsOf(s, net, ends)
	return out, nil
}

// nobody says why nothing can be stated at a moment, or "".
func nobody(m *office.Moment) string {
	switch m.Period.State {
	case office.PeriodClosed:
		return m.Period.Name + " is closed: its dates stay as they were stated."
	case office.PeriodAhead:
		return m.Period.Name + " is still to come."
	}
	return ""
}

// rowsOf makes the row of an activity of a network; may tells of which projects dates may be
// stated.
func rowsOf(s *book.Snapshot, net *network.Portfolio, may func(*portfolio.View) bool) func(int32) Pushed {
	shown := &Schedule{inputs: s}
	return func(i int32) Pushed {
		place := net.Places[i]
		v := net.Views[place.View]
		act := &v.Activities[place.Activity]
		return Pushed{
			End: shown.end(net, place), Milestone: act.Kind == portfolio.Milestone, Raised: act.Raised(),
			May: may(v), Hidden: s.Project(v.Code) == nil,
		}
	}
}

// endsOf are the ends of projects that the reader sees.
func endsOf(s *book.Snapshot, net *network.Portfolio, ends []network.End) (out []PushedEnd) {
	for _, e := range ends {
		if v := net.Views[e.Project]; s.Project(v.Code) != nil {
			out = append(out, PushedEnd{v.Code, v.Name, e.Was, e.Is, v.Cal.Slip(e.Was, e.Is)})
		}
	}
	return out
}

// MostListed is how many rows of a push are taken one by one; those after them are taken
// together.
const MostListed = 400

// Rest names, in a form, the rows after those that are taken one by one; "" where there are
// none that the actor may state.
func (p *Push) Rest() string {
	if len(p.Rows) <= MostListed {
		return ""
	}
	h := sha256.New()
	n := 0
	for i := range p.Rows[MostListed:] {
		if x := &p.Rows[MostListed+i]; x.May {
			n++
			fmt.Fprintln(h, x.Key())
		}
	}
	if n == 0 {
		return ""
	}
	return fmt.Sprintf("rest|%d|%x", n, h.Sum(nil)[:8])
}

// taken are the dates of the rows that were taken, by their keys, as they are stated.
func (p *Push) taken(keys []string, period string) (list []entry.Row, err error) {
	want := make(map[string]bool, len(keys))
	for _, k := range keys {
		want[k] = true
	}
	rest := p.Rest()
	found := 0
	for i := range p.Rows {
		x := &p.Rows[i]
		switch {
		case want[x.Key()]:
			found++
		case rest == "" || !want[rest] || i < MostListed || !x.May:
			continue
		}
		row := entry.Row{"project": x.Project, "activity": x.Code, "period": period, "start": x.Is[0].String(), "finish": x.Is[1].String()}
		if x.Milestone { // it has one day
			row["start"] = row["finish"]
		}
		list = append(list, row)
	}
	if want[rest] {
		found++
	}
	if found != len(want) {
		return nil, office.Refusef("Dates have moved since this was shown, so it would do something else now. Look at it again.")
	}
	return list, nil
}

// changeOf reads the dates of a move.
func changeOf(net *network.Portfolio, at int32, move Move) (c network.Change, err error) {
	a := &net.Activities[at]
	c = network.Change{Activity: at, Start: a.Start, Finish: a.Finish}
	if a.Progress == network.Finished {
		return c, &office.Misfit{Column: "finish", Why: "it is finished, so its dates are facts"}
	}
	read := func(column, text string, to *calendar.Date) error {
		if text == "" {
			return nil
		}
		d, err := calendar.ParseDate(text)
		if err != nil {
			return &office.Misfit{Column: column, Why: err.Error()}
		}
		*to = d
		return nil
	}
	if move.Start == "" && move.Finish == "" && move.By != 0 {
		if c.Finish += calendar.Date(move.By); !move.Stretch && a.Progress == network.Waiting {
			c.Start += calendar.Date(move.By)
		}
	}
	if err := read("start", move.Start, &c.Start); err != nil {
		return c, err
	}
	if err := read("finish", move.Finish, &c.Finish); err != nil {
		return c, err
	}
	switch {
	case c.Finish < calendar.Earliest || c.Finish > calendar.Latest || c.Start < calendar.Earliest:
		return c, &office.Misfit{Column: "finish", Why: "that lies outside the years that there are, 1900 to 2199"}
	case a.Milestone:
		c.Start = c.Finish
	case a.Progress == network.Started && move.Start != "" && c.Start != a.Start:
		return c, &office.Misfit{Column: "start", Why: "it was started on " + a.Start.String() + ", which is a fact; give it another finish"}
	case c.Finish < c.Start:
		return c, &office.Misfit{Column: "finish", Why: fmt.Sprintf("it lies before the start, %s", c.Start)}
	}
	return c, nil
}

// Keep states the dates of what is taken of a push, as its keys showed them: one batch, in
// the moment's period. Where the network has moved since, nothing is kept. Dry tells the
// effects and keeps nothing.
func (o Room) Keep(ctx context.Context, a right.Actor, m *office.Moment, move Move, taken []string, seen int64, dry bool) (*entry.Report, error) {
	if len(taken) == 0 {
		return nil, office.Refusef("Nothing is taken: tick what is to be stated.")
	}
	period := m.Period.Code
	rows := func(ctx context.Context, s *book.Snapshot) ([]entry.Rows, error) {
		asked := make(map[string]bool)
		for _, key := range taken {
			code, _, _ := strings.Cut(key, "|")
			if x := s.Project(code); x != nil && !asked[code] {
				asked[code] = true
				if err := right.CheckState(a, x.ID, "progress", int(m.Period.Number)); err != nil {
					return nil, err
				}
			}
		}
		p, err := o.push(ctx, a, m, s, move)
		if err != nil {
			return nil, err
		}
		if p.Nobody != "" {
			return nil, office.Refusef("%s", p.Nobody)
		}
		list, err := p.taken(taken, period)
		if err != nil {
			return nil, err
		}
		return []entry.Rows{entry.Of("progress", list...)}, nil
	}
	return entry.In(o.Office).Enter(ctx, a, &entry.Form{
		Origin: office.Stated, Note: fmt.Sprintf("%s/%s moved, with what it pushes", move.Project, move.Activity),
		Seen: seen, Dry: dry, Takes: right.State, Rows: rows,
	})
}
