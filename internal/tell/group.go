package tell

import (
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/standing"
)

// Group is what is told of a group of projects.
type Group struct {
	Value     func(figure.ID) figure.Value
	Currency  money.Currency
	Counts    [4]int // parts by overall standing
	All       int    // projects in scope
	Shown     int    // of them, those asked for
	Filtered  bool   // not all are asked for
	Period    string
	Since     string // the period since which news are told; "" for none
	Fresh     int    // projects that newly need action
	Recovered int
	Owing     int // of those shown, projects that owe statements for the period
	Stated    int // of them, those that have given all
}

// missing tells whether statements that are owed for the period have not come.
func (g *Group) missing() bool { return g.Stated < g.Owing }

// groupSpeech is a sentence being said of a group.
type groupSpeech struct {
	speech
	g *Group
}

// Say says where the projects of a group stand: how many, against what plan,
// the outlooks, and how many need action.
func (g *Group) Say() []Phrase {
	s := &groupSpeech{g: g}
	r := g
	counted := 0
	for _, n := range r.Counts {
		counted += n
	}
	if counted == 0 {
		s.none()
		return s.out
	}
	many := counted > 1
	verb := map[bool]string{true: "stand", false: "stands"}[many]
	if !g.Filtered {
		s.text("%s %s", Plural(counted, "project", "projects"), verb)
	} else {
		s.text("%d of %s %s", counted, Plural(g.All, "project", "projects"), verb)
	}
	s.money(r, many)
	if many {
		s.action(r, counted)
	} else {
		s.one(r)
	}
	if g.Since != "" {
		s.news(r)
	}
	s.text(".")
	return s.out
}

func (s *groupSpeech) none() {
	switch p := s.g; {
	case p.All == 0:
		s.text("No project belongs here in %s.", p.Period)
	case p.Filtered && p.Shown == 0:
		s.text("None of the %d projects is like this in %s.", p.All, p.Period)
	case p.Shown == 1:
		s.text("The one project here does not count toward the sums in %s.", p.Period)
	default:
		s.text("None of the %d projects here counts toward the sums in %s.", p.Shown, p.Period)
	}
}

func (s *groupSpeech) money(r *Group, many bool) {
	computed, stated := r.Value(figure.EACComputed), r.Value(figure.EACStated)
	over, plan := r.Value(figure.ComputedOver), r.Value(figure.BAC)
	amounts := AmountsOf(r.Currency, plan, computed, stated)
	s.text(" against a plan of ")
	s.figure(figure.BAC, amounts.Write(plan), "")
	if computed.Known {
		tone := ""
		if over.Known && over.R.Sign() > 0 && Percent(over).Text != "0.0%" {
			tone = "act"
		}
		s.text(". Computed outlook is ")
		s.figure(figure.EACComputed, amounts.Write(computed), tone)
		if over.Known {
			s.text(", %s", OverUnder(over))
		}
	}
	share := r.Value(figure.StatedShare)
	if !stated.Known || !share.Known || share.R.Sign() <= 0 {
		s.text("; %s yet", map[bool]string{true: "no lead states one", false: "its lead states none"}[many])
		return
	}
	switch {
	case r.missing():
		s.text("; the stated one is ")
	case many:
		s.text("; leads state ")
	default:
		s.text("; its lead states ")
	}
	s.figure(figure.EACStated, amounts.Write(stated), "")
	if whole := share.R.IsInt(); !whole {
		s.text(", for ")
		s.figure(figure.StatedShare, Percent(share).Text, "")
		s.text(" of the plan")
	}
	switch {
	case !r.missing():
	case !many:
		s.text(", not yet for %s", r.Period)
	case r.Stated == 0:
		s.text(", by none of %d for %s", r.Owing, r.Period)
	default:
		s.text(", by %d of %d for %s", r.Stated, r.Owing, r.Period)
	}
}

func (s *groupSpeech) action(r *Group, counted int) {
	acts, watches, steady := r.Counts[standing.Act], r.Counts[standing.Watch], r.Counts[standing.Steady]
	s.text(". ")
	switch {
	case acts == counted:
		s.link("act", "All need action", "act")
	case acts == 1:
		s.link("act", "One needs action", "act")
	case acts > 1:
		s.link("act", Capital(Number(acts))+" need action", "act")
	case watches == 1:
		s.text("None needs action, ")
		s.link("watch", "one is at Watch", "watch")
	case watches > 1:
		s.text("None needs action, ")
		s.link("watch", Number(watches)+" are at Watch", "watch")
	case steady == counted && !r.missing():
		s.text("All are steady")
	case steady > 0:
		s.text("None needs action")
	default:
		s.text("None is rated yet")
	}
}

// one says where a single project stands.
func (s *groupSpeech) one(r *Group) {
	s.text(". ")
	switch {
	case r.Counts[standing.Act] > 0:
		s.link("act", "It needs action", "act")
	case r.Counts[standing.Watch] > 0:
		s.link("watch", "It is at Watch", "watch")
	case r.Counts[standing.Steady] > 0 && r.missing():
		s.text("It needs no action")
	case r.Counts[standing.Steady] > 0:
		s.text("It is steady")
	default:
		s.text("It is not rated yet")
	}
}

func (s *groupSpeech) news(r *Group) {
	fresh, recovered := r.Fresh, r.Recovered
	since := r.Since
	acts := r.Counts[standing.Act]
	switch {
	case fresh == 0:
	case fresh == acts && fresh == 1:
		s.text(", and that is new since %s", since)
	case fresh == acts:
		s.text(", all of them new since %s", since)
	default:
		s.text(", %s of them new since %s", Number(fresh), since)
	}
	if recovered > 0 {
		s.text("; ")
		tail := Number(recovered) + " recovered"
		if fresh == 0 {
			tail += " since " + since
		}
		s.link(ToMoved, tail, "steady")
	}
	if fresh == 0 && recovered == 0 && acts > 0 {
		s.text(", none of them new since %s", since)
	}
}
