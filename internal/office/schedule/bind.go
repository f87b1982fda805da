package schedule

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"turret/internal/book"
	"turret/internal/core/network"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/right"
)

// Bind is a link that is put in between two activities, changed, or taken out.
type Bind struct {
	Project  string // that states it; "" where it is put in: that of the taker
	From, To string // PROJECT/ACTIVITY
	Type     string // FS, SS, FF or SF; "": FS
	Lag      string // working days of the taker; "": 0
	Out      bool   // it is taken out
}

// Bond is a link of an activity, on its other side.
type Bond struct {
	Bind
	Other  End
	Into   bool // the other comes first
	Lag    int
	Broken int // working days by which it does not hold with the stated dates
	Holds  bool
}

// Bonds lists the links of an activity: what comes before it first. Those of projects that
// the reader does not see are left out.
func (o Room) Bonds(ctx context.Context, m *office.Moment, project, activity string) ([]Bond, error) {
	s := m.Snapshot()
	w, err := s.Web(ctx, project, m.Period.Number)
	if err != nil || w == nil || s.Project(project) == nil {
		return nil, err
	}
	net, shown := w.Net(), &Schedule{inputs: s}
	var out []Bond
	for i := range net.Stated {
		l := &net.Stated[i]
		for side, at := range l.Ends {
			other := l.Ends[1-side]
			if at.View != w.View || at.View < 0 || other.View < 0 || net.Views[at.View].Activities[at.Activity].Code != activity {
				continue
			}
			end := shown.end(net, other)
			if end.Project == hidden {
				continue
			}
			b := Bond{Other: end, Into: side == 1, Lag: l.Lag, Bind: Bind{Project: l.Project, Type: l.Type.String(), From: project + "/" + activity, To: end.Project + "/" + end.Code}}
			if b.Into {
				b.From, b.To = b.To, b.From
			}
			if l.Link >= 0 {
				b.Broken, _ = net.Broken(l.Link)
				b.Holds = net.Hold[l.Link] == network.Holds
			}
			out = append(out, b)
		}
	}
	slices.SortStableFunc(out, func(a, b Bond) int {
		return cmp.Or(flag(b.Into)-flag(a.Into), cmp.Compare(a.Other.Project, b.Other.Project), cmp.Compare(a.Other.Code, b.Other.Code))
	})
	return out, nil
}

// Bind tells what a link that is put in or taken out would push, before anything is kept. A
// misfit says which of the fields is wrong.
func (o Room) Bind(ctx context.Context, a right.Actor, m *office.Moment, b Bind) (*Push, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	return o.bind(ctx, a, m, m.Snapshot(), b)
}

// bind tells it on a snapshot.
func (o Room) bind(ctx context.Context, a right.Actor, m *office.Moment, s *book.Snapshot, b Bind) (*Push, error) {
	out := &Push{Period: m.Period.Name, Nobody: nobody(m)}
	if !office.MayFound(a) {
		out.Nobody = "Links are put in and taken out by the portfolio office."
	}
	from, to, err := b.ends()
	if err != nil {
		return nil, err
	}
	net, err := o.netOf(ctx, s, m, from[0], to[0])
	if err != nil {
		return nil, err
	}
	var at [2]int32
	for k, e := range [...][2]string{from, to} {
		if at[k], err = placeOf(net, e[0], e[1]); err != nil {
			return nil, &office.Misfit{Column: [...]string{"from", "to"}[k], Why: err.Error()}
		}
	}
	if at[0] == at[1] {
		return nil, &office.Misfit{Column: "to", Why: "an activity does not wait for itself; name another"}
	}
	lag, err := b.lag()
	if err != nil {
		return nil, err
	}
	links := slices.Clone(net.Links)
	i := slices.IndexFunc(net.Stated, func(l network.Stated) bool {
		return l.Link >= 0 && net.Links[l.Link].From == at[0] && net.Links[l.Link].To == at[1] && (b.Project == "" || l.Project == b.Project)
	})
	link := network.Link{From: at[0], To: at[1], Type: network.TypeNamed(cmp.Or(b.Type, "FS")), Lag: int32(lag)}
	switch {
	case b.Out && i < 0:
		return nil, &office.Misfit{Column: "to", Why: fmt.Sprintf("there is no link from %s to %s any more", b.From, b.To)}
	case b.Out:
		links = slices.Delete(links, net.Stated[i].Link, net.Stated[i].Link+1)
	case i >= 0:
		if links[net.Stated[i].Link] == link {
			return nil, &office.Misfit{Column: "to", Why: fmt.Sprintf("%s is linked with %s so already", b.To, b.From)}
		}
		links[net.Stated[i].Link] = link
	default:
		links = append(links, link)
	}
	moved, ends, loops := net.Relink(links)
	for _, loop := range loops {
		if slices.Contains(loop, at[0]) && slices.Contains(loop, at[1]) && !b.Out {
			var names []string
			for _, i := range loop {
				names = append(names, net.Name(int(i)))
			}
			return nil, &office.Misfit{Column: "to", Why: fmt.Sprintf("that closes a loop, in which each waits for itself: %s", strings.Join(names, ", "))}
		}
	}
	row := rowsOf(s, net, func(v *portfolio.View) bool {
		return out.Nobody == "" && right.CheckState(a, v.ID, "progress", int(m.Period.Number)) == nil
	})
	for _, p := range moved {
		if p.Was == p.Is {
			continue
		}
		x := row(p.Activity)
		x.Was, x.Is, x.Days = p.Was, p.Is, p.Days
		out.Rows = append(out.Rows, x)
	}
	out.Ends = endsOf(s, net, ends)
	return out, nil
}

// ends reads the two sides of a link.
func (b *Bind) ends() (from, to [2]string, err error) {
	for k, text := range [...]string{b.From, b.To} {
		project, activity, ok := strings.Cut(strings.TrimSpace(text), "/")
		if !ok || project == "" || activity == "" {
			return from, to, &office.Misfit{Column: [...]string{"from", "to"}[k], Why: fmt.Sprintf("%q names no activity; write PROJECT/ACTIVITY", text)}
		}
		if k == 0 {
			from = [2]string{project, activity}
		} else {
			to = [2]string{project, activity}
		}
	}
	if b.Type != "" && !slices.Contains([]string{"FS", "SS", "FF", "SF"}, b.Type) {
		return from, to, &office.Misfit{Column: "type", Why: fmt.Sprintf("%q is no kind of link; there are FS, SS, FF and SF", b.Type)}
	}
	return from, to, nil
}

// lag reads the lag of a link.
func (b *Bind) lag() (int, error) {
	const most = 9999
	if strings.TrimSpace(b.Lag) == "" {
		return 0, nil
	}
	n, err := strconv.Atoi(strings.TrimPrefix(strings.TrimSpace(b.Lag), "+"))
	if err != nil || n < -most || n > most {
		return 0, &office.Misfit{Column: "lag", Why: fmt.Sprintf("%q is no number of working days from -%d to %d", b.Lag, most, most)}
	}
	return n, nil
}

// row is the link as its project states it.
func (b *Bind) row() (entry.Row, error) {
	from, to, err := b.ends()
	if err != nil {
		return nil, err
	}
	lag, err := b.lag()
	if err != nil {
		return nil, err
	}
	project := cmp.Or(b.Project, to[0])
	name := func(e [2]string) string {
		if e[0] == project {
			return e[1]
		}
		return e[0] + "/" + e[1]
	}
	out := entry.Row{"project": project, "from": name(from), "to": name(to), "state": "on"}
	if b.Out {
		out["state"] = "off"
		return out, nil
	}
	out["type"], out["lag"] = cmp.Or(b.Type, "FS"), strconv.Itoa(lag)
	return out, nil
}

// KeepBind states a link, and the dates of what is taken of what it pushes, as their keys
// showed them: one batch. Dry tells the effects and keeps nothing.
func (o Room) KeepBind(ctx context.Context, a right.Actor, m *office.Moment, b Bind, taken []string, seen int64, dry bool) (*entry.Report, error) {
	if err := right.Check(a, right.Found); err != nil {
		return nil, err
	}
	rows := func(ctx context.Context, s *book.Snapshot) ([]entry.Rows, error) {
		p, err := o.bind(ctx, a, m, s, b)
		if err != nil {
			return nil, err
		}
		if p.Nobody != "" && len(taken) > 0 {
			return nil, office.Refusef("%s", p.Nobody)
		}
		link, err := b.row()
		if err != nil {
			return nil, err
		}
		list, err := p.taken(taken, m.Period.Code)
		if err != nil {
			return nil, err
		}
		out := []entry.Rows{entry.Of("links", link)}
		if len(list) > 0 {
			out = append(out, entry.Of("progress", list...))
		}
		return out, nil
	}
	verb := "linked"
	if b.Out {
		verb = "no longer linked"
	}
	return entry.In(o.Office).Enter(ctx, a, &entry.Form{
		Origin: office.Planned, Note: fmt.Sprintf("%s %s with %s", b.To, verb, b.From), Seen: seen, Dry: dry, Takes: right.Found, Rows: rows,
	})
}

// netOf is the network that holds two projects, of which the reader sees both.
func (o Room) netOf(ctx context.Context, s *book.Snapshot, m *office.Moment, one, other string) (*network.Portfolio, error) {
	webs, err := s.WebsOf(ctx, []string{one, other}, m.Period.Number)
	if err != nil {
		return nil, err
	}
	for k, code := range [...]string{one, other} {
		if webs[code] == nil || s.Project(code) == nil {
			return nil, &office.Misfit{Column: [...]string{"from", "to"}[k], Why: fmt.Sprintf("there is no project %s", code)}
		}
	}
	a, b := webs[one].Net(), webs[other].Net()
	if a == b {
		return a, nil
	}
	views := slices.Clone(a.Views)
	for _, v := range b.Views {
		if !slices.ContainsFunc(views, func(x *portfolio.View) bool { return x.Code == v.Code }) {
			views = append(views, v)
		}
	}
	return network.Of(views), nil
}

// placeOf finds an activity of a network; why not, where it is not there.
func placeOf(net *network.Portfolio, project, activity string) (int32, error) {
	for i, p := range net.Places {
		if v := net.Views[p.View]; v.Code == project && v.Activities[p.Activity].Code == activity && !net.Dates[i].Outside {
			return int32(i), nil
		}
	}
	return 0, fmt.Errorf("%s/%s stands outside the network: it is not there, is a summary, has no dates, or its project does not run", project, activity)
}
