package board

import (
	"fmt"
	"strings"

	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/web/shell"
)

// speech is a sentence being said of a group.
type speech struct {
	p   *Page
	out []shell.Phrase
}

func (s *speech) text(format string, args ...any) {
	s.out = append(s.out, shell.Phrase{Text: fmt.Sprintf(format, args...)})
}

func (s *speech) figure(id figure.ID, text, tone string) {
	s.out = append(s.out, shell.Phrase{Text: text, Link: s.p.trail(s.p.List.Total, id), Tone: tone})
}

func (s *speech) link(to, text, tone string) {
	s.out = append(s.out, shell.Phrase{Text: text, Link: to, Tone: tone})
}

// say says where the projects in scope stand: how many, against what plan, the
// outlooks, and how many need action.
func (p *Page) say() []shell.Phrase {
	s := &speech{p: p}
	r := p.List.Total.Now
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
	if p.Moment.Filter.Empty() {
		s.text("%s %s", shell.Plural(counted, "project", "projects"), verb)
	} else {
		s.text("%d of %s %s", counted, shell.Plural(p.List.All, "project", "projects"), verb)
	}
	s.money(r, many)
	if many {
		s.action(r, counted)
	} else {
		s.one(r)
	}
	if p.Moment.Since.Code != "" {
		s.news(r)
	}
	s.text(".")
	return s.out
}

func (s *speech) none() {
	switch p := s.p; {
	case p.List.All == 0:
		s.text("No project belongs here in %s.", p.Moment.Period.Name)
	case !p.Moment.Filter.Empty() && p.List.Total.Shown == 0:
		s.text("None of the %d projects is like this in %s.", p.List.All, p.Moment.Period.Name)
	case p.List.Total.Shown == 1:
		s.text("The one project here does not count toward the sums in %s.", p.Moment.Period.Name)
	default:
		s.text("None of the %d projects here counts toward the sums in %s.", p.List.Total.Shown, p.Moment.Period.Name)
	}
}

func (s *speech) money(r *office.Reading, many bool) {
	s.text(" against a plan of ")
	s.figure(figure.BAC, shell.Millions(r.Value(figure.BAC), r.Currency), "")
	computed, stated := r.Value(figure.EACComputed), r.Value(figure.EACStated)
	over := r.Value(figure.ComputedOver)
	if computed.Known {
		tone := ""
		if over.Known && over.R.Sign() > 0 && shell.OverUnder(over) != "as planned" {
			tone = "act"
		}
		s.text(". Computed outlook is ")
		s.figure(figure.EACComputed, shell.Millions(computed, r.Currency), tone)
		if over.Known {
			s.text(", %s", shell.OverUnder(over))
		}
	}
	if share := r.Value(figure.StatedShare); stated.Known && share.Known && share.R.Sign() > 0 {
		s.text("; %s ", map[bool]string{true: "leads state", false: "its lead states"}[many])
		s.figure(figure.EACStated, shell.Millions(stated, r.Currency), "")
		if whole := share.R.IsInt(); !whole {
			s.text(", for ")
			s.figure(figure.StatedShare, shell.Percent(share).Text, "")
			s.text(" of the plan")
		}
	} else {
		s.text("; %s yet", map[bool]string{true: "no lead states one", false: "its lead states none"}[many])
	}
}

func (s *speech) action(r *office.Reading, counted int) {
	acts, watches, steady := r.Counts[standing.Act], r.Counts[standing.Watch], r.Counts[standing.Steady]
	board := func(st string) string { return s.p.Turn("standing", st) }
	s.text(". ")
	switch {
	case acts == counted:
		s.link(board("act"), "All need action", "act")
	case acts == 1:
		s.link(board("act"), "One needs action", "act")
	case acts > 1:
		s.link(board("act"), shell.Capital(shell.Number(acts))+" need action", "act")
	case watches == 1:
		s.text("None needs action, ")
		s.link(board("watch"), "one is at Watch", "watch")
	case watches > 1:
		s.text("None needs action, ")
		s.link(board("watch"), shell.Number(watches)+" are at Watch", "watch")
	case steady == counted:
		s.text("All are steady")
	case steady > 0:
		s.text("None needs action")
	default:
		s.text("None is rated yet")
	}
}

// one says where a single project stands.
func (s *speech) one(r *office.Reading) {
	s.text(". ")
	switch {
	case r.Counts[standing.Act] > 0:
		s.link(s.p.Turn("standing", "act"), "It needs action", "act")
	case r.Counts[standing.Watch] > 0:
		s.link(s.p.Turn("standing", "watch"), "It is at Watch", "watch")
	case r.Counts[standing.Steady] > 0:
		s.text("It is steady")
	default:
		s.text("It is not rated yet")
	}
}

func (s *speech) news(r *office.Reading) {
	fresh, recovered := s.p.Moment.News()
	since := s.p.Moment.Since.Name
	acts := r.Counts[standing.Act]
	switch {
	case fresh == 0:
	case fresh == acts && fresh == 1:
		s.text(", and that is new since %s", since)
	case fresh == acts:
		s.text(", all of them new since %s", since)
	default:
		s.text(", %s of them new since %s", shell.Number(fresh), since)
	}
	if recovered > 0 {
		s.text("; ")
		tail := shell.Number(recovered) + " recovered"
		if fresh == 0 {
			tail += " since " + since
		}
		s.link("#moved", tail, "steady")
	}
	if fresh == 0 && recovered == 0 && acts > 0 {
		s.text(", none of them new since %s", since)
	}
}

// notCounted says which projects of the list stand outside the sums, and why.
func (p *Page) notCounted() string {
	why := make(map[string]string)
	for _, l := range p.List.Total.Now.LeftOut {
		why[l.Code] = l.Why
	}
	var out []string
	for _, code := range p.List.Codes {
		r, _ := p.Moment.Find(code)
		if r.State == portfolio.Proposed || r.State == portfolio.Cancelled {
			out = append(out, code+" is "+string(r.State))
		} else if w := why[code]; w != "" {
			out = append(out, code+": "+w)
		}
	}
	const most = 6
	if n := len(out) - most; n > 0 {
		out = append(out[:most], fmt.Sprintf("and %d more", n))
	}
	return strings.Join(out, "; ")
}
