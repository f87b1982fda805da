// Package sheet is the page of one project: why it stands where it does, its
// figures, milestones, risks and words.
package sheet

import (
	"embed"
	"fmt"
	"math/big"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/figure"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/web/shell"
)

//go:embed sheet.html sheet.css
var files embed.FS

// Template is the page.
var Template = shell.Parse(files, "sheet.html")

// Style is the page's style sheet.
var Style = func() string {
	b, err := files.ReadFile("sheet.css")
	if err != nil {
		panic(err) // it is embedded
	}
	return string(b)
}()

// Page is what the template shows. Sheet is nil where there is no such project.
type Page struct {
	shell.Frame
	Code       string
	Sheet      *office.Sheet
	Overall    chart.Glyph
	Stated     *chart.Glyph
	Facts      string // code, programme, stage and people
	Sentence   []shell.Phrase
	Reasons    []Reason
	Silent     []Silent
	Overrides  []string
	Sections   []Section
	Milestones []Milestone
	Risks      []Risk
	Prev, Next string
}

// Reason is a rule that spoke.
type Reason struct {
	Glyph        chart.Glyph
	Name, Limits string
	Value        shell.Cell
	Link         string
}

// Silent is a rule that said nothing, and why.
type Silent struct{ Name, Why string }

// Section is a table of figures.
type Section struct {
	Title string
	Lines []Line
}

// Line is a figure now and in the compared period.
type Line struct {
	Title, Symbol, Link string
	Now                 shell.Cell
	Was                 *shell.Cell
	Differs             bool
}

// Milestone is a milestone as it stands.
type Milestone struct {
	Code, Name, Level, Baseline, Current, Slip string
	State                                      string
	Raised                                     bool
}

// Risk is a risk or issue in force.
type Risk struct{ Code, Title, Kind, State, Score, Owner, Response string }

var sections = []struct {
	title string
	ids   []figure.ID
}{
	{"Money", []figure.ID{figure.BAC, figure.PV, figure.EV, figure.AC, figure.SV, figure.CV, figure.OnOrder, figure.BeyondOrders, figure.PVPeriod, figure.EVPeriod, figure.ACPeriod}},
	{"Outlook", []figure.ID{figure.EACComputed, figure.EACStated, figure.VAC, figure.AtStake, figure.EACPlan, figure.EACCPI, figure.EACCPI3, figure.EACCPISPI, figure.ComputedOver, figure.StatedOver, figure.ETCComputed, figure.ETCStated}},
	{"Indices and shares", []figure.ID{figure.CPI, figure.SPI, figure.SPIT, figure.TCPIBAC, figure.TCPIEAC, figure.CPIPeriod, figure.SPIPeriod, figure.EarnedShare, figure.PlannedShare, figure.SpentShare, figure.ElapsedShare, figure.LateShare}},
	{"Dates", []figure.ID{figure.FinishPlanned, figure.FinishStated, figure.FinishComputed, figure.FinishSlip, figure.MilestoneSlip, figure.ES, figure.AT, figure.SVT, figure.StatementAge, figure.ForecastAge, figure.RiskExposure}},
}

// Get answers /project/{code}.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		code := shell.Param(c, "code")
		f, err := shell.NewFrame(c, site, code)
		if err != nil {
			return err
		}
		s, err := site.Office.Sheet(c.Context(), site.Actor, f.Moment, code)
		if err != nil {
			return err
		}
		if s == nil {
			c.Status(fiber.StatusNotFound)
		}
		return shell.Render(c, Template, New(f, code, s))
	}
}

// New builds the page.
func New(f shell.Frame, code string, s *office.Sheet) *Page {
	p := &Page{Frame: f, Code: code, Sheet: s}
	if s == nil {
		return p
	}
	n := s.Now
	p.Title = n.Code + " " + n.Name
	p.Overall = chart.Glyph{Standing: n.Standing[standing.Overall], Overall: true, What: "Overall", Why: n.Why}
	if n.HasSaid {
		p.Stated = &chart.Glyph{Standing: n.Stated, Small: true, What: "Stated"}
	}
	p.Facts = facts(f, n)
	p.Sentence = sentence(f, s)
	p.reasons(s)
	for _, x := range sections {
		p.Sections = append(p.Sections, section(f, s, x.title, x.ids))
	}
	for _, m := range s.Milestones {
		p.Milestones = append(p.Milestones, Milestone{m.Code, m.Name, m.Level, shell.Date(m.Baseline), shell.Date(m.Current), shell.Signed(m.Slip) + " d", string(m.State), m.Level == "programme" || m.Level == "portfolio"})
	}
	for _, r := range s.Risks {
		p.Risks = append(p.Risks, Risk{r.Code, r.Title, r.Kind, r.State, fmt.Sprintf("%d × %d", r.Likelihood, r.Impact), r.Owner, r.Response})
	}
	if s.Prev != "" {
		p.Prev = f.State.Project(s.Prev)
	}
	if s.Next != "" {
		p.Next = f.State.Project(s.Next)
	}
	return p
}

func facts(f shell.Frame, n *office.Reading) string {
	programme := n.Parent
	if g, _ := f.Moment.Find(n.Parent); g != nil && g.Group {
		programme = g.Name
	}
	var out []string
	for _, x := range [][2]string{{"", n.Code}, {"", programme}, {"", n.Stage + suffix(n.Stage)}, {"lead ", n.Lead}, {"sponsor ", n.Sponsor}, {"", string(n.State)}} {
		if x[1] != "" {
			out = append(out, x[0]+x[1])
		}
	}
	return strings.Join(out, " · ")
}

func suffix(stage string) string {
	if stage == "" {
		return ""
	}
	return " stage"
}

var low = big.NewRat(95, 100)

// sentence says the project in words.
func sentence(f shell.Frame, s *office.Sheet) []shell.Phrase {
	n := s.Now
	say := func(id figure.ID, text string, bad bool) shell.Phrase {
		return shell.Phrase{Text: text, Link: f.State.Trail(n.Code, figure.Get(id).Name), Bad: bad}
	}
	var out []shell.Phrase
	text := func(t string) { out = append(out, shell.Phrase{Text: t}) }
	if cpi := n.Value(figure.CPI); cpi.Known {
		text("Earning ")
		out = append(out, say(figure.CPI, figure.Decimals(cpi.R, 2)+" for each "+string(n.Currency)+" spent", cpi.R.Cmp(low) < 0))
		text("; computed")
	} else {
		text("Computed")
	}
	text(" to finish at ")
	over := n.Value(figure.ComputedOver)
	out = append(out, say(figure.EACComputed, shell.Millions(n.Value(figure.EACComputed), n.Currency), over.Known && over.R.Sign() > 0))
	if over.Known {
		text(", " + shell.OverUnder(over))
	}
	if d := n.Value(figure.FinishComputed); d.Known {
		text(", on ")
		out = append(out, say(figure.FinishComputed, shell.Format(d, n.Currency, false).Text, false))
	}
	text(". ")
	if st := n.Value(figure.EACStated); st.Known {
		text("Its lead states ")
		out = append(out, say(figure.EACStated, shell.Millions(st, n.Currency), false))
		if n.HasSaid {
			text(" and " + n.Stated.String())
		}
		text(".")
	} else {
		text("Its lead has stated no forecast.")
	}
	return out
}

func (p *Page) reasons(s *office.Sheet) {
	n := s.Now
	for _, r := range n.Reasons {
		e := figure.Get(r.Reading)
		name := shell.Capital(r.Dimension.String())
		if r.Silent != "" {
			p.Silent = append(p.Silent, Silent{name + ": " + e.Title, r.Silent})
			continue
		}
		x := Reason{Glyph: chart.Glyph{Standing: r.Standing, What: name}, Name: e.Title, Limits: limits(r), Link: p.State.Trail(n.Code, e.Name)}
		x.Value = shell.Format(r.Value, n.Currency, figure.Get(r.Reading).Unit == figure.Ratio)
		if share(r.Reading) {
			x.Value = shell.Percent(r.Value)
		}
		p.Reasons = append(p.Reasons, x)
	}
	for _, o := range n.Override {
		p.Overrides = append(p.Overrides, fmt.Sprintf("%s set to %s until %s: %s", shell.Capital(o.Dimension), shell.Capital(o.Standing), p.Moment.PeriodName(o.Until), o.Reason))
	}
}

func limits(r standing.Reason) string {
	pct := func(s string) string {
		v, ok := new(big.Rat).SetString(s)
		if !ok || figure.Get(r.Reading).Unit != figure.Ratio {
			return s
		}
		if !share(r.Reading) {
			return figure.Decimals(v, 2)
		}
		return figure.TrimDecimals(figure.Decimals(v.Mul(v, big.NewRat(100, 1)), 2)) + "%"
	}
	var out []string
	if r.Watch != "" {
		out = append(out, fmt.Sprintf("watch %s %s", r.Direction, pct(r.Watch)))
	}
	if r.Act != "" {
		out = append(out, fmt.Sprintf("act %s %s", r.Direction, pct(r.Act)))
	}
	return strings.Join(out, ", ")
}

// share tells the figures that read best as percentages.
func share(id figure.ID) bool {
	switch id {
	case figure.ComputedOver, figure.StatedOver, figure.LateShare, figure.EarnedShare, figure.PlannedShare, figure.SpentShare, figure.ElapsedShare:
		return true
	}
	return false
}

func section(f shell.Frame, s *office.Sheet, title string, ids []figure.ID) Section {
	out := Section{Title: title}
	write := func(n *office.Reading, id figure.ID) shell.Cell {
		if share(id) {
			return shell.Percent(n.Value(id))
		}
		return shell.Format(n.Value(id), n.Currency, figure.Get(id).Unit == figure.Money)
	}
	for _, id := range ids {
		e := figure.Get(id)
		l := Line{Title: e.Title, Symbol: e.Symbol, Now: write(s.Now, id)}
		if l.Now.Known {
			l.Link = f.State.Trail(s.Now.Code, e.Name)
		}
		if s.Before != nil {
			was := write(s.Before, id)
			l.Was, l.Differs = &was, !s.Before.Value(id).Equal(s.Now.Value(id))
		}
		out.Lines = append(out.Lines, l)
	}
	return out
}
