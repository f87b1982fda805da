package tell

import (
	"cmp"
	"fmt"
	"math/big"
	"strings"

	"turret/internal/core/exact"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
)

// Project is what is told of one project.
type Project struct {
	Value    func(figure.ID) figure.Value
	Currency money.Currency // of the amounts
	OwnMoney money.Currency // the project's own, of which its indices are; "": that of the amounts
	State    portfolio.State
	Standing standing.Table // by dimension
	Why      string         // why overall is Unrated
	Set      bool           // overall is set by an override
	HasSaid  bool
	Stated   standing.Standing
	Own      map[standing.Dimension]string // titles of the office's own dimensions that were rated
}

// coins says an index as money earned for each unit spent, where people say it
// so.
var coins = map[string][2]string{
	"EUR": {"cents", "euro"},
	"GBP": {"pence", "pound"},
	"USD": {"cents", "dollar"},
	"NOK": {"øre", "krone"},
	"DKK": {"øre", "krone"},
	"SEK": {"öre", "krona"},
	"CHF": {"rappen", "franc"},
}

var low = exact.Of(95, 100)

// projectSpeech is a sentence being said of a project.
type projectSpeech struct {
	speech
	n       *Project
	amounts Amounts
}

// Say says the project in words: what it earns for what it spends, what it is
// computed to cost and when to finish, and what its lead states.
func (n *Project) Say() []Phrase {
	s := &projectSpeech{n: n}
	s.amounts = AmountsOf(n.Currency, n.Value(figure.EACComputed), n.Value(figure.EACStated))
	if n.State == portfolio.Finished || n.State == portfolio.Cancelled || n.State == portfolio.Proposed {
		s.amounts = AmountsOf(n.Currency, n.Value(figure.AC), n.Value(figure.BAC))
	}
	money := func(id figure.ID) string { return s.amounts.Write(n.Value(id)) }
	switch n.State {
	case portfolio.Finished:
		s.text("Finished at ")
		s.figure(figure.AC, money(figure.AC), "")
		s.plan()
		return s.out
	case portfolio.Cancelled, portfolio.Proposed:
		s.text("It is %s", n.State)
		if n.Value(figure.BAC).Known {
			s.plan()
		} else {
			s.text(".")
		}
		return s.out
	case portfolio.OnHold:
		s.text("On hold. ")
	}
	s.earning()
	eac, over := n.Value(figure.EACComputed), n.Value(figure.ComputedOver)
	if eac.Known {
		tone := ""
		if n.Standing[standing.Cost] == standing.Act && over.Known && over.R.Sign() > 0 {
			tone = "act"
		}
		s.figure(figure.EACComputed, money(figure.EACComputed), tone)
		if over.Known {
			s.text(", %s", OverUnder(over))
		}
	} else {
		s.text("a cost that is not known yet")
	}
	if d := n.Value(figure.FinishComputed); d.Known {
		tone := ""
		if n.Standing[standing.Dates] == standing.Act {
			tone = "act"
		}
		s.text(", on ")
		s.figure(figure.FinishComputed, Format(d, n.Currency, false).Text, tone)
	}
	s.text(". ")
	s.lead()
	return s.out
}

func (s *projectSpeech) plan() {
	n := s.n
	if v := n.Value(figure.BAC); v.Known {
		s.text(", against a plan of ")
		s.figure(figure.BAC, s.amounts.Write(v), "")
	}
	s.text(".")
}

func (s *projectSpeech) earning() {
	n := s.n
	cpi := n.Value(figure.CPI)
	if !cpi.Known {
		s.text("Computed to finish at ")
		return
	}
	tone := ""
	if cpi.R.Cmp(low) < 0 && n.Standing[standing.Cost] != standing.Steady {
		tone = n.Standing[standing.Cost].Code()
	}
	own := cmp.Or(n.OwnMoney, n.Currency)
	said := figure.Decimals(cpi.R, 2) + " for each " + string(own) + " spent"
	if c, ok := coins[string(own)]; ok {
		hundred := figure.Decimals(cpi.R.Mul(exact.Whole(100)), 0)
		said = fmt.Sprintf("%s %s per %s spent", hundred, c[0], c[1])
	}
	s.text("Earning ")
	s.figure(figure.CPI, said, tone)
	s.text("; computed to finish at ")
}

func (s *projectSpeech) lead() {
	n := s.n
	st := n.Value(figure.EACStated)
	switch {
	case st.Known && n.HasSaid:
		s.text("Its lead states ")
		s.figure(figure.EACStated, s.amounts.Write(st), "")
		s.text(" and %s.", n.Stated)
	case st.Known:
		s.text("Its lead states ")
		s.figure(figure.EACStated, s.amounts.Write(st), "")
		s.text(".")
	case n.HasSaid:
		s.text("Its lead states %s, and no forecast.", n.Stated)
	default:
		s.text("Its lead has stated no forecast.")
	}
	if age := n.Value(figure.ForecastAge); age.Known && age.N > 0 && n.State == portfolio.Active {
		s.text(" That forecast is ")
		s.figure(figure.ForecastAge, Plural(int(age.N), "period", "periods")+" old", "watch")
		s.text(".")
	}
}

// Decides says which dimensions make the overall standing what it is.
func (n *Project) Decides() string {
	overall := n.Standing[standing.Overall]
	if n.Why != "" {
		return n.Why
	}
	if n.Set {
		return "set by an override"
	}
	if overall == standing.Steady {
		return "no dimension asks for attention"
	}
	var names []string
	worst := standing.Watch
	for d := standing.Dates; d < standing.Most; d++ {
		if d == standing.Data {
			continue
		}
		if n.Standing[d] == overall || overall == standing.Watch && n.Standing[d] == standing.Act {
			names = append(names, cmp.Or(n.Own[d], d.String()))
			worst = max(worst, n.Standing[d])
		}
	}
	switch len(names) {
	case 0:
		return "set by an override"
	case 1:
		return fmt.Sprintf("%s at %s decides", names[0], worst)
	}
	last := len(names) - 1
	return fmt.Sprintf("%s and %s decide", strings.Join(names[:last], ", "), names[last])
}

// Limits writes the limits of a rule as its reading is written.
func Limits(r standing.Reason) string {
	write := func(s string) string {
		v, ok := new(big.Rat).SetString(s)
		if !ok {
			return s
		}
		if r.Own != "" {
			return s
		}
		switch figure.Get(r.Reading).Unit {
		case figure.Ratio:
			cell := Figure(r.Reading, figure.Exact(figure.Ratio, exact.FromRat(v)), "", false)
			return strings.TrimPrefix(strings.Replace(cell.Text, ".0%", "%", 1), "+")
		case figure.Workdays:
			return s + " d"
		}
		return s
	}
	switch {
	case r.Watch == "":
		return fmt.Sprintf("act %s %s", r.Direction, write(r.Act))
	case r.Act == "":
		return fmt.Sprintf("watch %s %s", r.Direction, write(r.Watch))
	}
	return fmt.Sprintf("watch %s %s, act %s", r.Direction, write(r.Watch), write(r.Act))
}

// Reading writes what a rule read.
func Reading(r *standing.Reason, c money.Currency, exact bool) Cell {
	if r.Own != "" {
		return Format(r.Value, c, exact)
	}
	return Figure(r.Reading, r.Value, c, exact)
}
