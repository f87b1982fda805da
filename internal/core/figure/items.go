package figure

import (
	"turret/internal/core/backlog"
	"turret/internal/core/calendar"
	"turret/internal/core/exact"
	"turret/internal/core/portfolio"
)

// NoItems is why a project without a backlog knows nothing of it.
const NoItems = "it has no backlog items"

// Items gives the project's backlog; nil where it has none.
func (s *Project) Items() *backlog.Backlog {
	if s.items == nil {
		s.items = backlog.Of(s.View)
	}
	return s.items
}

// backlog gives the entries that backlog items tell.
func (s *Project) backlog(id ID) Value {
	b := s.Items()
	if b == nil {
		return Value{Why: NoItems}
	}
	switch id {
	case Pace, NetPace, FinishPace, FinishNetPace, NotReady:
		if why := s.early(); why != "" {
			return Value{Why: why}
		}
	}
	switch id {
	case Scope:
		return ratio(b.Scope(s.Day))
	case Accepted:
		return ratio(b.Accepted(s.Day))
	case AddedShare:
		added, ok := b.Added(s.Day)
		scope := b.Scope(s.Day)
		switch {
		case !ok:
			return Value{Why: noStart}
		case scope.Sign() == 0:
			return Value{Why: "nothing is in its scope"}
		}
		return ratio(added.Quo(scope))
	case Pace:
		return ratio(b.Pace())
	case NetPace:
		n, ok := b.NetPace()
		if !ok {
			return Value{Why: noStart}
		}
		return ratio(n)
	case FinishPace:
		return day(b.Finish(b.Pace()))
	case FinishNetPace:
		n, ok := b.NetPace()
		if !ok {
			return Value{Why: noStart}
		}
		return day(b.Finish(n))
	case NotReady:
		share, why := b.NotReady(b.Pace())
		return Value{Known: why == "", R: share, Why: why}
	case Blocked:
		return Value{Known: true, N: int64(len(b.Blocked()))}
	default: // BlockedAge
		list := b.Blocked()
		if len(list) == 0 {
			return Value{Why: "nothing is blocked"}
		}
		return Value{Known: true, N: int64(s.Cal.Slip(list[0].Blocked, s.Day))}
	}
}

// slipPace is how far the finish at pace lies behind the planned one. Where it never comes
// its reason says so.
func slipPace(e *Eval, _ calendar.Period) Value {
	p, ok := e.Subject.(*Project)
	if !ok {
		return Value{Why: "it belongs to projects"}
	}
	finish, planned := e.Get(FinishPace), e.Get(FinishPlanned)
	switch {
	case !finish.Known:
		return Value{Why: finish.Why}
	case !planned.Known:
		return Value{Why: planned.Why}
	}
	return Value{Known: true, N: int64(p.Cal.Slip(calendar.Date(planned.N), calendar.Date(finish.N)))}
}

const noStart = "no baseline start tells what was added later"

func ratio(r exact.Ratio) Value { return Value{Known: true, R: r} }

// itemFacts lists the items that an entry of the backlog counts.
func (s *Project) itemFacts(id ID) (out []Fact) {
	b := s.Items()
	if b == nil {
		return nil
	}
	add := func(it *portfolio.Item, detail string, d calendar.Date) {
		if d != 0 {
			detail += " " + on(d)
		}
		out = append(out, Fact{
			What: it.Code + " " + it.Name, Detail: detail, Source: it.Source,
			Value: Exact(Size, exact.Of(it.Size, portfolio.Quantity)),
		})
	}
	if id == Blocked || id == BlockedAge {
		for _, it := range b.Blocked() {
			add(it, "blocked since", it.Blocked)
		}
		return out
	}
	for _, it := range b.Items() {
		switch {
		case !it.InScope(s.Day):
		case id == Scope:
			add(it, "created", it.Created)
		case id == AddedShare:
			if b.WasAdded(it) {
				add(it, "added", it.Created)
			}
		case id == Accepted && it.Done(s.Day):
			add(it, "accepted", it.Accepted)
		case id == Pace || id == NetPace:
			if b.InPace(it) {
				add(it, "accepted", it.Accepted)
			}
			if id == NetPace && b.AddedInPace(it) {
				add(it, "added", it.Created)
			}
		case id == FinishPace && !it.Done(s.Day):
			add(it, "left", 0)
		}
	}
	return out
}
