package tell

import (
	"fmt"
	"math/big"
	"strings"

	"turret/internal/core/exact"
	"turret/internal/core/exception"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/standing"
)

// Exception says why a project is found, over the subject it was found in.
func Exception(c exception.Case, s *exception.Subject, currency money.Currency) []Phrase {
	out := &exceptionSpeech{c: c, s: s, currency: currency}
	out.amounts = AmountsOf(currency, out.told()...)
	switch c.Kind {
	case exception.Over:
		out.beyond("over", "act")
	case exception.Under:
		out.beyond("under", "")
	case exception.Masked:
		out.masked()
	case exception.Worsening:
		out.worsening()
	case exception.Idle:
		out.text("In %s %s was spent and ", Plural(c.Periods, "period", "periods"), out.money(c.Amounts[0]))
		out.figure(figure.EV, out.money(c.Amounts[1]), "act")
		out.text(" earned.")
	case exception.Unmoved:
		out.unmoved()
	case exception.After:
		out.text(
			"The stated outlook rose by %s in %s running, while %s was spent beyond what was earned; the computed one is still ",
			out.money(c.Amounts[0]),
			Plural(c.Periods, "period", "periods"),
			out.money(c.Amounts[1]),
		)
		higher := out.money(c.Amounts[2]) + " higher"
		if c.Amounts[2] <= 0 { // at the rates that it is shown at
			higher = "higher in the project's own currency"
		}
		out.figure(figure.EACComputed, higher, "act")
		out.text(".")
	case exception.Hopeful:
		out.hopeful()
	case exception.Growing:
		out.text("At ")
		out.figure(figure.Pace, out.now(figure.Pace), "")
		out.text(" accepted a period the backlog grows all the same: with what is added it is ")
		out.figure(figure.NetPace, out.now(figure.NetPace), "act")
		out.text(", so it is never done.")
	}
	return out.out
}

type exceptionSpeech struct {
	speech
	c        exception.Case
	s        *exception.Subject
	currency money.Currency
	amounts  Amounts
}

// told lists the amounts that are said of the case.
func (s *exceptionSpeech) told() (out []figure.Value) {
	said := s.c.Amounts[:]
	switch s.c.Kind {
	case exception.Over, exception.Under:
		out = append(out, s.s.Now.Shown(figure.EACComputed), s.s.Now.Shown(figure.BAC))
	case exception.Hopeful:
		out = append(out, s.s.Now.Shown(figure.EACStated))
	case exception.Unmoved:
		if s.c.IDs[0] == figure.ForecastAge {
			return nil
		}
		out = append(out, s.s.Now.Shown(figure.EACStated))
		said = said[2:]
	}
	for _, n := range said {
		out = append(out, figure.Whole(figure.Money, max(n, -n)))
	}
	return out
}

func (s *exceptionSpeech) money(n int64) string {
	return s.amounts.Of(n)
}

func (s *exceptionSpeech) now(id figure.ID) string {
	return Figure(id, s.s.Now.Value(id), s.currency, false).Text
}

func (s *exceptionSpeech) beyond(way, tone string) {
	bac, over := s.s.Now.Shown(figure.BAC), s.s.Now.Value(figure.ComputedOver)
	over.R = over.R.Abs()
	share := Figure(figure.PlannedShare, over, s.currency, false).Text
	s.text("The computed outlook of ")
	s.figure(figure.EACComputed, s.amounts.Write(s.s.Now.Shown(figure.EACComputed)), "")
	if s.c.Amounts[0] <= 0 { // rates alone make it so
		s.text(" is ")
		s.figure(figure.ComputedOver, share, tone)
		s.text(" %s the plan in the project's own currency, though not at the rates of %s.", way, s.currency)
		return
	}
	s.text(" is ")
	s.figure(figure.VAC, s.money(s.c.Amounts[0]), tone)
	s.text(" (%s) %s the plan of %s.", share, way, s.amounts.Write(bac))
}

func (s *exceptionSpeech) masked() {
	for i := 0; i+1 < len(s.c.IDs); i += 2 {
		now, all := s.c.IDs[i], s.c.IDs[i+1]
		if i > 0 {
			s.text("; ")
		}
		s.text("%s of the period is ", figure.Get(all).Symbol)
		s.figure(now, s.now(now), "act")
		s.text(", and ")
		s.figure(all, s.now(all), "")
		s.text(" in all")
	}
	s.text(".")
}

func (s *exceptionSpeech) worsening() {
	for i, id := range s.c.IDs {
		was := []string{}
		for k := s.c.Periods - 1; k >= 0; k-- {
			was = append(was, Figure(id, s.s.Before[k].Value(id), s.currency, false).Text)
		}
		how := "fell"
		if id == figure.ComputedOver {
			how = "rose"
		}
		name := figure.Get(id).Symbol
		if i > 0 {
			s.text("; ")
		} else {
			name = Capital(name)
		}
		s.text("%s %s %s running: %s, ", name, how, Plural(s.c.Periods, "period", "periods"), strings.Join(was, ", "))
		s.figure(id, s.now(id), "act")
	}
	s.text(".")
}

func (s *exceptionSpeech) unmoved() {
	if s.c.IDs[0] == figure.ForecastAge {
		s.text("No forecast was stated for ")
		s.figure(figure.ForecastAge, Plural(s.c.Periods, "period", "periods"), "act")
		s.text(".")
		return
	}
	s.text("The stated outlook stays at ")
	s.figure(figure.EACStated, s.amounts.Write(s.s.Now.Shown(figure.EACStated)), "")
	how, tone, by := "higher", "act", s.c.Amounts[2]
	if by < 0 {
		how, tone, by = "lower", "", -by
	}
	s.text(" for %s running; the computed one became ", Plural(s.c.Periods, "period", "periods"))
	s.figure(figure.EACComputed, s.money(by)+" "+how, tone)
	s.text(" meanwhile.")
}

func (s *exceptionSpeech) hopeful() {
	n := s.s.Now
	result := standing.Result{HasStated: n.HasStated, Stated: n.Stated}
	result.Computed[standing.Overall] = n.Overall
	apart := result.Disagrees()
	if apart {
		s.text("The lead states %s, and the figures say ", n.Stated)
		s.link("standing", n.Overall.String(), n.Overall.Code())
	}
	if len(s.c.IDs) > 0 {
		start := "The "
		if apart {
			start = "; the "
		}
		s.text("%sstated outlook of ", start)
		s.figure(figure.EACStated, s.amounts.Write(n.Shown(figure.EACStated)), "")
		below := s.money(s.c.Amounts[0]) + " below the computed one"
		if s.c.Amounts[0] == 0 {
			below = "below the computed one in the project's own currency"
		}
		s.text(" is %s, and needs what is left to be done at ", below)
		s.figure(figure.TCPIEAC, s.now(figure.TCPIEAC), "act")
		s.text(", after %s so far", s.now(figure.CPI))
	}
	s.text(".")
}

// Looks says what a rule of exceptions looks for, with the limits that count.
func Looks(r exception.Rule, l exception.Limits) string {
	var pairs []string
	for _, x := range exception.AllLimits {
		pairs = append(pairs, "{"+x.Name+"}", LimitText(l[x.Name]))
	}
	about := r.About
	if l["least"].Sign() == 0 {
		about = strings.Replace(about, ", and by {least} thousand", "", 1)
	}
	return strings.NewReplacer(pairs...).Replace(about)
}

// LimitText writes a limit.
func LimitText(n *big.Rat) string {
	if n.IsInt() {
		return fmt.Sprint(n.Num())
	}
	return figure.TrimDecimals(figure.Decimals(exact.FromRat(n), 6))
}

// Exceptions sums up the projects that were found among those looked at: of one kind, the
// gravest first, or of all, the one with the most at stake first; stake is what that is, ""
// where nothing is at stake.
func Exceptions(looked int, found [][2]string, kind exception.Kind, stake string) []Phrase {
	s := &speech{}
	r, one := exception.Of(kind)
	switch {
	case looked == 0:
		s.text("No project is like this.")
		return s.out
	case len(found) == 0 && one:
		s.text("%s: none of %s.", r.Title, Plural(looked, "project", "projects"))
		return s.out
	case len(found) == 0:
		s.text("Nothing stands out: no project of %d is beyond the limits.", looked)
		return s.out
	}
	verb := map[bool]string{true: "stands out", false: "stand out"}[len(found) == 1]
	s.text("%d of %s %s", len(found), Plural(looked, "project", "projects"), verb)
	if one {
		s.text(" here, ")
	} else {
		s.text("; ")
	}
	s.link(found[0][0], found[0][1], "act")
	switch {
	case one:
		s.text(" first.")
	case stake == "":
		s.text(" first; nothing is at stake.")
	default:
		s.text(" has the most at stake, %s.", stake)
	}
	return s.out
}
