package check

import (
	"fmt"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/check"
	"turret/internal/office/entry"
	"turret/internal/office/trail"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// FindingPage shows one finding; Finding is nil where it is gone.
type FindingPage struct {
	shell.Frame
	Finding      *office.Finding
	Row          Row
	Title        string
	About        string
	Sources      []Source
	Cells        []check.Mendable
	Table        string
	Effect       *Effect // of the cells as typed, or nil
	Until        []office.PeriodInfo
	AnswerUntil  string
	AnswerFrom   string
	Back         string
	Prev, Next   string
	Record       string
	Overall, Dat chart.Glyph
	Reason       string // of an override that the finding may end in
}

// Source is a row that a finding rests on, or that contradicts it.
type Source struct {
	What, Place, Sender, Link string
	Head, Cells               []string
}

// Effect is what a correction would do to the readings.
type Effect struct {
	Stands           []Stand
	Moves            []Move
	Settled, Brought []finding.Finding
	More             int // moves that are not listed
}

// Stand is a standing before and after.
type Stand struct {
	Name    string
	Was, Is chart.Glyph
}

// Move is a figure before and after.
type Move struct{ Title, Was, Is string }

// mostMoves is the number of figures that an effect lists.
const mostMoves = 8

// GetFinding answers /check/{project}/{check}?record=.
func GetFinding(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		p, err := findingPage(c, site)
		if err != nil {
			return err
		}
		return shell.Render(c, FindingTemplate, p)
	}
}

func findingPage(c fiber.Ctx, site *shell.Site) (*FindingPage, error) {
	f, err := shell.NewFrame(c, site, "Finding", shell.Param(c, "project"))
	if err != nil {
		return nil, err
	}
	f.Step = "check"
	p := &FindingPage{Frame: f, Record: c.Query("record")}
	k := office.FindingKey{Project: shell.Param(c, "project"), Check: shell.Param(c, "check"), Record: p.Record}
	p.Finding = f.Moment.Finding(k)
	p.Back = f.State.Moment().With("scope", f.State.Get("scope")).With("cause", k.Check).CheckPage()
	if p.Finding == nil {
		c.Status(fiber.StatusNotFound)
		return p, nil
	}
	x := p.Finding
	p.Page.Title, p.Title, p.About = x.Title+", "+x.Project, x.Title, f.Moment.AboutCheck(x.Check)
	p.Row = (&Page{Frame: f}).row(*x)
	if r := f.Project; r != nil {
		p.Overall = chart.Glyph{Standing: r.Standing[standing.Overall], Overall: true, What: "Overall", Why: r.Why}
		p.Dat = chart.Glyph{Standing: r.Standing[standing.Data], What: "Data"}
	}
	if x.Answer != nil {
		if x.Answer.Until != 0 {
			p.AnswerUntil = f.Moment.PeriodName(x.Answer.Until)
		}
		p.AnswerFrom = f.Moment.PeriodName(x.Answer.From)
	}
	for _, s := range [...]struct {
		what string
		at   portfolio.Source
	}{{"The row it rests on", x.Source}, {"What contradicts it", x.Against}} {
		if err := p.source(c, s.what, s.at); err != nil {
			return nil, err
		}
	}
	if p.Gathers() {
		if p.Cells, err = check.In(site.Office).Mendable(c.Context(), p.Actor, f.Moment, x); err != nil {
			return nil, err
		}
		p.Table = strings.ReplaceAll(x.Place.Table, "_", " ")
	}
	p.Until = f.Moment.Ends()
	p.beside()
	return p, nil
}

// beside finds the findings before and after among those without an answer.
func (p *FindingPage) beside() {
	var before *office.Finding
	passed := false
	all := p.Moment.Findings()
	for i := range all {
		f := &all[i]
		here := f.Project == p.Finding.Project && f.Check == p.Finding.Check && f.Record == p.Finding.Record
		switch {
		case here:
			passed = true
			if before != nil {
				p.Prev = p.State.Finding(before.Project, before.Check, before.Record)
			}
		case f.Unexplained() && passed:
			p.Next = p.State.Finding(f.Project, f.Check, f.Record)
			return
		case f.Unexplained():
			before = f
		}
	}
}

func (p *FindingPage) source(c fiber.Ctx, what string, at portfolio.Source) error {
	if at.File == 0 {
		return nil
	}
	x, err := trail.In(p.Site.Office).SourceRow(c.Context(), p.Actor, at.File, at.Row)
	if err != nil || x == nil {
		return err
	}
	s := Source{
		What:   what,
		Place:  fmt.Sprintf("%s, row %d", x.File, x.Row),
		Sender: x.Sender + ", " + x.At.Format("2 Jan 2006 15:04"),
		Link:   p.State.Trail("row", fmt.Sprintf("%d.%d", at.File, at.Row)),
	}
	for i, cell := range x.Cells {
		if i < len(x.Head) && cell != "" {
			s.Head, s.Cells = append(s.Head, x.Head[i]), append(s.Cells, cell)
		}
	}
	p.Sources = append(p.Sources, s)
	return nil
}

// Typed gives what a refused or previewed form said in a cell, else what stands
// there.
func (p *FindingPage) Typed(m check.Mendable) string { return p.Field("cell."+m.Column, m.Value) }

// Outdone tells that what the form says is not what stands there.
func (p *FindingPage) Outdone(m check.Mendable) bool { return p.Typed(m) != m.Value }

// Named writes the name of a column for people.
func (p *FindingPage) Named(column string) string {
	return tell.Capital(strings.ReplaceAll(column, "_", " "))
}

// PostFinding corrects or answers a finding.
func PostFinding(site *shell.Site) fiber.Handler {
	again := GetFinding(site)
	return func(c fiber.Ctx) error {
		ctx, a, s := c.Context(), shell.Actor(c), shell.StateOf(c)
		m, err := site.Office.Moment(ctx, a, s.Ask())
		if err != nil {
			return err
		}
		k := office.FindingKey{
			Project: shell.Param(c, "project"),
			Check:   shell.Param(c, "check"),
			Record:  c.Query("record"),
		}
		waiting, title := waitingAfter(m, k), ""
		if f := m.Finding(k); f != nil {
			title = f.Title
		}
		cells, seen := make(map[string]string), make(map[string]string)
		for name, v := range c.Request().PostArgs().All() {
			if column, ok := strings.CutPrefix(string(name), "cell."); ok {
				cells[column] = string(v)
			} else if column, ok := strings.CutPrefix(string(name), "seen."); ok {
				seen[column] = string(v)
			}
		}
		switch c.FormValue("do") {
		case "preview":
			r, err := check.In(site.Office).Correct(ctx, a, m, k, cells, seen, true)
			if err != nil {
				return shell.Settle(c, err, again, "")
			}
			return preview(c, site, r, k.Project)
		case "correct":
			_, err := check.In(site.Office).Correct(ctx, a, m, k, cells, seen, false)
			if err != nil {
				return shell.Settle(c, err, again, "")
			}
			m, err = site.Office.Moment(ctx, a, s.Ask())
			if err != nil {
				return err
			}
			if m.Finding(k) == nil { // it is gone, and so is its page
				return shell.Settle(c, nil, again, next(
					s, m, waiting, k, "The finding is corrected: the change is one run, under Gather, and can be undone.",
				))
			}
			return shell.Settle(
				c,
				nil,
				again,
				shell.WithDone(
					s.Finding(k.Project, k.Check, k.Record),
					"The change is kept; the finding is still there, with other values.",
				),
			)
		case "off":
			err := check.In(site.Office).
				LeaveOut(ctx, a, m, shell.Mark(c), k.Project, k.Check, c.FormValue("until"), c.FormValue("reason"))
			if err != nil {
				return shell.Settle(c, err, again, "")
			}
			if m, err = site.Office.Moment(ctx, a, s.Ask()); err != nil {
				return err
			}
			return shell.Settle(c, nil, again, next(s, m, waiting, k, "The check is off for "+k.Project+"."))
		}
		_, done, err := answer(c, site, m, []office.FindingKey{k})
		if err != nil || c.FormValue("do") == "withdraw" {
			return shell.Settle(
				c,
				err,
				again,
				shell.WithDone(s.Finding(k.Project, k.Check, k.Record), "The finding is "+done+"."),
			)
		}
		if m, err = site.Office.Moment(ctx, a, s.Ask()); err != nil {
			return err
		}
		return shell.Settle(c, nil, again, next(s, m, waiting, k, fmt.Sprintf("%s of %s is %s.", title, k.Project, done)))
	}
}

// waitingAfter lists the findings that wait for an answer: those after one, then those
// before it.
func waitingAfter(m *office.Moment, k office.FindingKey) (out []office.FindingKey) {
	var before []office.FindingKey
	passed := false
	for _, f := range m.Findings() {
		switch key := (office.FindingKey{Project: f.Project, Check: f.Check, Record: f.Record}); {
		case key == k:
			passed = true
		case !f.Waits():
		case passed:
			out = append(out, key)
		default:
			before = append(before, key)
		}
	}
	return append(out, before...)
}

// next is the address of the first of the findings that still waits once another is
// dealt with, in a later moment, else of the check page; it says what was done.
func next(s shell.State, m *office.Moment, waiting []office.FindingKey, dealt office.FindingKey, done string) string {
	for _, k := range waiting {
		if f := m.Finding(k); k != dealt && f != nil && f.Waits() {
			return shell.WithDone(s.Finding(k.Project, k.Check, k.Record), done+" This is the next that waits for an answer.")
		}
	}
	return shell.WithDone(
		s.Moment().With("scope", s.Get("scope")).CheckPage(),
		done+" No error or warning waits for an answer any more.",
	)
}

// preview shows the page again with what the cells as typed would do.
func preview(c fiber.Ctx, site *shell.Site, r *entry.Report, project string) error {
	shell.Keep(c)
	p, err := findingPage(c, site)
	if err != nil {
		return err
	}
	p.Effect = &Effect{}
	for i := range r.Effects {
		if e := &r.Effects[i]; e.Code == project {
			p.Effect = effectOf(e, p.Moment)
		}
	}
	return shell.Render(c, FindingTemplate, p)
}

func effectOf(e *entry.Effect, m *office.Moment) *Effect {
	out := &Effect{}
	for _, x := range e.Stands {
		was, _ := standing.Parse(x.Was)
		is, _ := standing.Parse(x.Is)
		name := tell.Capital(m.DimensionTitle(x.Dimension))
		out.Stands = append(
			out.Stands,
			Stand{name, chart.Glyph{Standing: was, What: name}, chart.Glyph{Standing: is, What: name}},
		)
	}
	for _, x := range e.Moves {
		if x.ID == figure.Errors || x.ID == figure.Warnings {
			continue
		}
		if len(out.Moves) == mostMoves {
			out.More++
			continue
		}
		mv := Move{
			Title: figure.Get(x.ID).Title,
			Was:   tell.Dash,
			Is:    tell.Figure(x.ID, e.After.Value(x.ID), e.After.Currency, true).Text,
		}
		if e.Before != nil {
			mv.Was = tell.Figure(x.ID, e.Before.Value(x.ID), e.Before.Currency, true).Text
		}
		out.Moves = append(out.Moves, mv)
	}
	out.Settled, out.Brought = e.Settles()
	return out
}

// AskAbout is where a question on the finding is asked.
func (p *FindingPage) AskAbout() string {
	return p.State.AskPage(p.Finding.Project, strings.TrimSpace("finding "+p.Finding.Check+" "+p.Finding.Finding.Record))
}
