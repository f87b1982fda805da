package portfolio

import (
	"slices"

	"turret/internal/core/calendar"
)

// OwedKinds are the kinds of statement that a project can owe.
var OwedKinds = [...]PartKind{ProgressPart, ForecastPart, CommitmentPart, RiskPart, NarrativePart}

// Owing is a rule about what projects owe. Those of a project go before those of its
// programme, those before the programmes above it, and those before the whole
// portfolio's; then one for a stage before one for all, then the later one.
type Owing struct {
	Scope string // the code of a project or programme, or Everywhere
	Kind  PartKind
	Stage string // "": any
	State State  // "": active
	From  calendar.Period
	Owed  bool
	Every int // it is owed for From and for every so many periods after; 1: for each
}

// Everywhere is the scope of rules for the whole portfolio.
const Everywhere = "*"

// Owes tells whether a project owes a kind of statement for a period. Without a rule
// that holds, active projects owe progress and forecast for each.
func (o *Office) Owes(p *Project, kind PartKind, at calendar.Period) bool {
	r := o.owing(p, kind, at)
	return r.Owed && int(at-r.From)%max(1, r.Every) == 0
}

// owing gives the rule that holds for a project at a period.
func (o *Office) owing(p *Project, kind PartKind, at calendar.Period) Owing {
	state := p.StateAt(o.Periods.Last(at))
	out := Owing{Kind: kind, Owed: state == Active && (kind == ProgressPart || kind == ForecastPart)}
	best := [3]int{-1, 0, 0}
	for i := range o.Owing {
		r := &o.Owing[i]
		if r.Kind != kind || r.From > at || r.Stage != "" && r.Stage != p.Stage {
			continue
		}
		if r.State != state && (r.State != "" || state != Active) {
			continue
		}
		named := 0
		if r.Stage != "" {
			named = 1
		}
		rank := [3]int{o.nearness(r.Scope, p), named, int(r.From)}
		if rank[0] >= 0 && slices.Compare(rank[:], best[:]) > 0 {
			best, out = rank, *r
		}
	}
	return out
}

// nearness tells how near the scope of a rule is to a project: zero for the whole
// portfolio, more the nearer, below zero where the project is not in it.
func (o *Office) nearness(scope string, p *Project) int {
	if scope == Everywhere {
		return 0
	}
	most := len(o.Groups) + 1
	if scope == p.Code {
		return most
	}
	for n, code := 1, p.Programme; code != "" && n < most; n++ { // no longer than there are programmes
		if code == scope {
			return most - n
		}
		i := slices.IndexFunc(o.Groups, func(g Programme) bool { return g.Code == code })
		if i < 0 {
			break
		}
		code = o.Groups[i].Parent
	}
	return -1
}

// StatedIn gives the last period up to one in which a project stated something of a
// kind; zero where it never did.
func (p *Project) StatedIn(kind PartKind, at calendar.Period) (last calendar.Period) {
	said := func(q calendar.Period) {
		if q <= at {
			last = max(last, q)
		}
	}
	switch kind {
	case ProgressPart:
		for i := range p.Progress {
			said(p.Progress[i].Period)
		}
	case ForecastPart, CommitmentPart:
		list := p.Forecast
		if kind == CommitmentPart {
			list = p.Commitment
		}
		for i := range list {
			said(calendar.Period(list[i].Number))
		}
	case RiskPart:
		for i := range p.Risks {
			said(p.Risks[i].Period)
		}
	case NarrativePart:
		for i := range p.Narratives {
			said(p.Narratives[i].Period)
		}
	}
	return last
}

// Debt is what a project owes of a kind of statement at a period.
type Debt struct {
	Owed   bool            // a rule asks for it, though perhaps not in this very period
	Last   calendar.Period // when it was stated last; zero: never
	Behind int             // periods since Last, or, where it never was, since the first was owed, that one counted; zero: all is given
	Known  bool            // false: it was never stated, and nothing tells since when it is owed
}

// Debt tells what the project owes of a kind at the view's period.
func (v *View) Debt(kind PartKind) Debt {
	d := Debt{Owed: v.Office.owing(v.Project, kind, v.Period).Owed, Last: v.StatedIn(kind, v.Period), Known: true}
	first := d.Last + 1
	if d.Last == 0 {
		start, _ := v.BaselineSpan()
		first = v.Office.Periods.Near(start)
		d.Known = first != 0
	}
	for q := first; d.Owed && d.Known && q <= v.Period; q++ {
		if !v.Office.Owes(v.Project, kind, q) {
			continue
		}
		if d.Behind = int(v.Period - d.Last); d.Last == 0 {
			d.Behind = int(v.Period-q) + 1
		}
		break
	}
	return d
}

// Stating lets an account state for a project that is not its own.
type Stating struct {
	Project int64
	Account string     // its sign-in name
	Kinds   []PartKind // none: all
	From    calendar.Period
	Until   calendar.Period // zero: no end
}
