package sheet

import (
	"fmt"
	"html/template"
	"math"
	"math/big"
	"strconv"
	"strings"

	"turret/internal/chart"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/web/shell"
)

// coins says an index as money earned for each unit spent, where people say it
// so.
var coins = map[string][2]string{"EUR": {"cents", "euro"}, "GBP": {"pence", "pound"}, "USD": {"cents", "dollar"}, "NOK": {"øre", "krone"}, "DKK": {"øre", "krone"}, "SEK": {"öre", "krona"}, "CHF": {"rappen", "franc"}}

var low = big.NewRat(95, 100)

// speech is a sentence being said of a project.
type speech struct {
	p   *Page
	out []shell.Phrase
}

func (s *speech) text(format string, args ...any) {
	s.out = append(s.out, shell.Phrase{Text: fmt.Sprintf(format, args...)})
}

func (s *speech) figure(id figure.ID, text, tone string) {
	s.out = append(s.out, shell.Phrase{Text: text, Link: s.p.Figure(s.p.Code, figure.Get(id).Name), Tone: tone})
}

// say says the project in words: what it earns for what it spends, what it is
// computed to cost and when to finish, and what its lead states.
func (p *Page) say() []shell.Phrase {
	s, n := &speech{p: p}, p.Sheet.Now
	money := func(id figure.ID) string { return shell.Millions(n.Value(id), n.Currency) }
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
			s.text(", %s", shell.OverUnder(over))
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
		s.figure(figure.FinishComputed, shell.Format(d, n.Currency, false).Text, tone)
	}
	s.text(". ")
	s.lead()
	return s.out
}

func (s *speech) plan() {
	n := s.p.Sheet.Now
	if v := n.Value(figure.BAC); v.Known {
		s.text(", against a plan of ")
		s.figure(figure.BAC, shell.Millions(v, n.Currency), "")
	}
	s.text(".")
}

func (s *speech) earning() {
	n := s.p.Sheet.Now
	cpi := n.Value(figure.CPI)
	if !cpi.Known {
		s.text("Computed to finish at ")
		return
	}
	tone := ""
	if cpi.R.Cmp(low) < 0 && n.Standing[standing.Cost] != standing.Steady {
		tone = n.Standing[standing.Cost].Code()
	}
	said := figure.Decimals(cpi.R, 2) + " for each " + string(n.Currency) + " spent"
	if c, ok := coins[string(n.Currency)]; ok {
		hundred := figure.Decimals(new(big.Rat).Mul(cpi.R, big.NewRat(100, 1)), 0)
		said = fmt.Sprintf("%s %s per %s spent", hundred, c[0], c[1])
	}
	s.text("Earning ")
	s.figure(figure.CPI, said, tone)
	s.text("; computed to finish at ")
}

func (s *speech) lead() {
	n := s.p.Sheet.Now
	st := n.Value(figure.EACStated)
	switch {
	case st.Known && n.HasSaid:
		s.text("Its lead states ")
		s.figure(figure.EACStated, shell.Millions(st, n.Currency), "")
		s.text(" and %s.", n.Stated)
	case st.Known:
		s.text("Its lead states ")
		s.figure(figure.EACStated, shell.Millions(st, n.Currency), "")
		s.text(".")
	case n.HasSaid:
		s.text("Its lead states %s, and no forecast.", n.Stated)
	default:
		s.text("Its lead has stated no forecast.")
	}
	if age := n.Value(figure.ForecastAge); age.Known && age.N > 0 && n.State == portfolio.Active {
		s.text(" That forecast is ")
		s.figure(figure.ForecastAge, shell.Plural(int(age.N), "period", "periods")+" old", "watch")
		s.text(".")
	}
}

// Decides says which dimensions make the overall standing what it is.
func (p *Page) Decides() string {
	n := p.Sheet.Now
	overall := n.Standing[standing.Overall]
	if n.Why != "" {
		return n.Why
	}
	if overall == standing.Steady {
		return "no dimension asks for attention"
	}
	var names []string
	worst := standing.Watch
	for _, d := range [...]standing.Dimension{standing.Dates, standing.Cost, standing.Progress, standing.Risk, standing.Crew} {
		if n.Standing[d] == overall || overall == standing.Watch && n.Standing[d] == standing.Act {
			names = append(names, d.String())
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

// Reason is a rule: what it read, its limits, and what it said, or why it was
// silent.
type Reason struct {
	Glyph  chart.Glyph
	Name   string
	Value  shell.Cell
	Link   string
	Scale  template.HTML
	Limits string
	Silent string
	Was    string // of the compared period, where it differs
}

func (p *Page) reasons() {
	n, before := p.Sheet.Now, p.Sheet.Before
	for _, r := range n.Reasons {
		e := figure.Get(r.Reading)
		x := Reason{Glyph: chart.Glyph{Standing: r.Standing, What: shell.Capital(r.Dimension.String())}, Name: e.Title, Silent: r.Silent, Limits: limits(r)}
		x.Value = shell.Figure(r.Reading, r.Value, n.Currency, true)
		if r.Value.Known {
			x.Link = p.Figure(p.Code, e.Name)
			if own := n.Value(r.Reading); !own.Equal(r.Value) { // the rule read the project's own currency
				x.Link = p.State.With("in", "project").Trail(p.Code, e.Name)
			}
		}
		if r.Silent == "" {
			x.Scale = chart.Scale(shell.Float(r.Value), parsed(r.Watch), parsed(r.Act), r.Direction == standing.Below).SVG()
		}
		if before != nil && !before.Value(r.Reading).Equal(n.Value(r.Reading)) {
			x.Was = shell.Figure(r.Reading, before.Value(r.Reading), before.Currency, true).Text
		}
		p.Reasons = append(p.Reasons, x)
	}
	for _, o := range n.Override {
		p.Overrides = append(p.Overrides, fmt.Sprintf("%s set to %s until %s: %s", shell.Capital(o.Dimension), shell.Capital(o.Standing), p.Moment.PeriodName(o.Until), o.Reason))
	}
}

func parsed(limit string) float64 {
	f, err := strconv.ParseFloat(limit, 64)
	if err != nil {
		return math.NaN()
	}
	return f
}

// limits writes the limits of a rule as its reading is written.
func limits(r standing.Reason) string {
	write := func(s string) string {
		v, ok := new(big.Rat).SetString(s)
		if !ok {
			return s
		}
		switch figure.Get(r.Reading).Unit {
		case figure.Ratio:
			cell := shell.Figure(r.Reading, figure.Exact(figure.Ratio, v), "", false)
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

// moved says which standings changed since the compared period, or the last
// closed one.
func (p *Page) moved() {
	if p.Sheet.Moved == nil {
		return
	}
	for _, c := range p.Sheet.Moved.Changes {
		p.Moved = append(p.Moved, fmt.Sprintf("%s %s → %s", strings.ToLower(c.Dimension.String()), c.Was, c.Is))
	}
}
