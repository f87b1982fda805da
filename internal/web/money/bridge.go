package money

import (
	"cmp"
	"context"
	"html/template"
	"slices"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/costs"
	"turret/internal/core/figure"
	"turret/internal/office"
	"turret/internal/office/brief"
	"turret/internal/office/money"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// BridgePage shows how a sum came to be another.
type BridgePage struct {
	shell.Frame
	Missing  string
	Bridge   *money.Bridge
	Table    *money.Table // of a bridge of amounts, else nil
	Sentence []shell.Phrase
	Chart    template.HTML
	Steps    []StepRow
	Parts    []PartRow
	Made     []MadeOf
	Choices  []Menu
	Back     string
	Scale    tell.Scale
}

// MadeOf is a figure behind a project's outlook, at both periods.
type MadeOf struct {
	Name, Link string
	Was, Is    tell.Cell
}

// StepRow is a step as written.
type StepRow struct {
	Title, Exact, Link, Class string
	On, End                   bool
}

// PartRow is a part of a step as written.
type PartRow struct{ Project, ProjectLink, Code, Name, Amount, Exact, Link, Class string }

// GetBridge answers /money/bridge.
func GetBridge(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Bridge", shell.StateOf(c).Get("of"))
		if err != nil {
			return err
		}
		f.Step = "weigh"
		s := f.State
		p := &BridgePage{
			Frame: f,
			Back:  s.With("cause", "").With("group", "").With("row", "").MoneyPage(),
			Scale: tell.Thousands,
		}
		if scale := tell.Scale(s.Get("unit")); slices.Contains(tell.Scales, scale) {
			p.Scale = scale
		}
		if f.Moment.Empty {
			p.Missing = "Nothing is stated yet, so there is nothing to compare."
			return shell.Render(c, BridgeTemplate, p)
		}
		if s.Get("amounts") == outlookAmounts {
			var b *money.OutlookBridge
			if b, err = money.In(site.Office).OutlookBridge(c.Context(), p.Actor, f.Moment, s.Get("of"), s.Get("cause")); err == nil {
				p.Bridge = b.Bridge
				p.made(b)
			}
		} else {
			err = p.ofMoney(c.Context(), site)
		}
		if shell.Refused(err) {
			p.Missing = err.Error()
			c.Status(fiber.StatusNotFound)
			p.choices()
			return shell.Render(c, BridgeTemplate, p)
		}
		if err != nil {
			return err
		}
		p.fill()
		p.choices()
		return shell.Render(c, BridgeTemplate, p)
	}
}

// outlookAmounts asks for the bridge of the computed outlook.
const outlookAmounts = "outlook"

// ofMoney reads the bridge of amounts.
func (p *BridgePage) ofMoney(ctx context.Context, site *shell.Site) error {
	s := p.State
	measure := costs.Running
	if s.Get("amounts") == string(costs.Planned) {
		measure = costs.Planned
	}
	key := s.Get("row")
	if key == "all" {
		key = ""
	}
	b, err := money.In(site.Office).
		Bridge(ctx, p.Actor, p.Moment, ask(s.With("amounts", "")), key, measure, s.Get("cause"), s.Get("group"))
	if err != nil {
		return err
	}
	p.Bridge, p.Table = b.Bridge, b.Table
	p.Moment.Notes = append(p.Moment.Notes, b.Table.Asked...)
	return nil
}

// made lists the figures that a project's outlook is made of, at both periods.
func (p *BridgePage) made(b *money.OutlookBridge) {
	if b.Was == nil || b.Is == nil {
		return
	}
	for _, id := range []figure.ID{figure.BAC, figure.EarnedShare, figure.EV, figure.AC, figure.CPI, figure.EACPlan, figure.EACCPI, figure.EACStated, figure.EACComputed} {
		e := figure.Get(id)
		write := func(r *office.Reading) tell.Cell { return tell.Figure(id, r.Value(id), r.Currency, false) }
		p.Made = append(
			p.Made,
			MadeOf{Name: e.Title, Link: p.State.Trail(b.Is.Code, e.Name), Was: write(b.Was), Is: write(b.Is)},
		)
	}
}

func (p *BridgePage) exact(n int64) string {
	return tell.Units.Write(n, p.Bridge.Currency) + " " + string(p.Bridge.Currency)
}

func (p *BridgePage) class(n int64) string { return bad(p.Bridge.Bad(n, p.Scale)) }

func (p *BridgePage) fill() {
	b := p.Bridge
	link := func(code string) string {
		if b.Cause == code {
			return p.Turn("cause", "")
		}
		return p.Turn("cause", code)
	}
	p.Steps = append(p.Steps, StepRow{Title: b.Ends[1], Exact: p.exact(b.From), End: true})
	for _, x := range b.Steps {
		if x.Amount != 0 {
			p.Steps = append(
				p.Steps,
				StepRow{
					Title: tell.Capital(x.Title),
					Exact: p.exact(x.Amount),
					Class: p.class(x.Amount),
					On:    b.Cause == x.Code,
					Link:  link(x.Code),
				},
			)
		}
	}
	p.Steps = append(p.Steps, StepRow{Title: b.Ends[0], Exact: p.exact(b.To), End: true})
	p.Chart = chart.Fit(680, b.Draw(p.Scale, link).Draw)
	for _, x := range b.Parts {
		row := PartRow{
			Project: x.Project,
			Code:    x.Code,
			Name:    x.Name,
			Amount:  p.Scale.Change(x.Amount, b.Currency),
			Exact:   p.exact(x.Amount),
			Class:   p.class(x.Amount),
			Link:    p.behind(x),
		}
		if x.Project != "" {
			row.ProjectLink = p.State.Moment().Project(x.Project)
		}
		p.Parts = append(p.Parts, row)
	}
	for _, x := range b.Say() {
		y := shell.Phrase{Text: x.Text, Tone: x.Tone}
		if x.To != "" {
			y.Link = p.Turn("cause", x.To)
		}
		p.Sentence = append(p.Sentence, y)
	}
}

// behind is the address of what a part is made of: the cells of both versions;
// of an outlook, what moved the project's own, and of that, by cause, the plan,
// the money, or the figure.
func (p *BridgePage) behind(x money.BridgePart) string {
	s := p.State.With("cause", "").With("group", "").With("fold", "").With("open", "").With("row", "")
	if p.Table == nil {
		m := s.Moment().With("of", x.Project)
		switch {
		case x.Code != "" || p.Bridge.By == "code":
			return m.With("rows", "code").
				With("per", "completion").
				With("amounts", string(costs.Spent)).
				With("each", "change").
				With("code", x.Code).
				MoneyPage()
		case p.State.Get("of") == "":
			return s.With("of", x.Project).With("cause", p.Bridge.Cause).BridgePage()
		}
		return p.State.Moment().Trail(x.Project, figure.Get(figure.EACComputed).Name)
	}
	s = s.With("each", "was").With("only", "differs")
	if x.Project != "" {
		s = s.With("of", x.Project).With("rows", "code")
	}
	if x.Code != "" {
		s = s.With("code", x.Code)
	}
	return s.MoneyPage()
}

// Left is what the parts that are not listed add.
func (p *BridgePage) Left() string { return p.exact(p.Bridge.Rest) }

// Take is the address of the brief with this bridge in it.
func (p *BridgePage) Take() string {
	s := p.State
	asked := map[string]string{"vs": p.Moment.Vs.Code}
	for _, name := range []string{"of", "against", "plan", "beside", "per", "span", "amounts", "rows", "row", "flow", "class", "code", "centre", "activity", "rates", "currency", "scope"} {
		asked[name] = s.Get(name)
	}
	return p.IntoBrief(brief.BridgePart(asked), s.Get("of"))
}

// choices are what the bridge is of, and how its parts are listed.
func (p *BridgePage) choices() {
	of, beside := p.ofMenu(), p.besideMenu()
	if p.State.Get("amounts") == outlookAmounts {
		if p.Moment.Vs.Code != "" {
			beside.Now = p.Moment.Vs.Name
		}
		p.Choices = []Menu{of, beside}
		return
	}
	beside.Items = append(beside.Items, p.item("the original plan", "beside", "original"))
	if p.Table != nil {
		beside.Now = p.Table.VersionName(1)
	}
	by := Menu{Name: "Within a cause by", Now: cmp.Or(p.State.Get("group"), "project")}
	for _, x := range money.BridgeBys {
		name := map[string]string{"code": "cost code"}[x]
		by.Items = append(by.Items, Item{cmp.Or(name, x), p.Turn("group", x), by.Now == x})
	}
	p.Choices = []Menu{of, beside, p.overMenu(), by}
}

func (p *BridgePage) item(text, part, value string) Item {
	return Item{text, p.With(p.State.With(part, value).With("cause", "")), p.State.Get(part) == value}
}

// ofMenu chooses what the bridge is of.
func (p *BridgePage) ofMenu() Menu {
	of := Menu{
		Name: "Of",
		Now:  "spent, then forecast",
		Items: []Item{
			p.item("spent, then forecast", "amounts", ""),
			p.item("the computed outlook", "amounts", outlookAmounts),
			p.item("plan", "amounts", "plan"),
		},
	}
	for _, x := range of.Items {
		if x.On {
			of.Now = x.Text
		}
	}
	return of
}

// overMenu chooses the time that the bridge takes in.
func (p *BridgePage) overMenu() Menu {
	s := p.State
	span := func(text, year, per string, on bool) Item {
		return Item{text, p.With(s.With("span", year).With("per", per).With("cause", "")), on}
	}
	over := Menu{
		Name: "Over",
		Now:  "everything",
		Items: []Item{
			span("this fiscal year", "", "", s.Get("span") == "" && s.Get("per") != "completion"),
			span("everything", "", "completion", s.Get("per") == "completion"),
		},
	}
	if t := p.Table; t != nil {
		if t.Per != costs.ToDate {
			over.Now = t.Span
		}
		for _, y := range t.Years {
			over.Items = append(over.Items, span(y, y, "", s.Get("span") == y))
		}
	}
	return over
}

// besideMenu chooses the statement that the bridge begins at.
func (p *BridgePage) besideMenu() Menu {
	s := p.State
	beside := Menu{Name: "From", Now: "choose"}
	add := func(name, code string) {
		beside.Items = append(beside.Items, Item{
			"as stated in " + name,
			p.With(s.With("vs", code).With("beside", "").With("cause", "")),
			s.Get("vs") == code && s.Get("beside") == "",
		})
	}
	if before := p.Moment.Before; before.Code != "" {
		add(before.Name, before.Code)
	}
	if y := p.YearBefore(); y != nil {
		add(y.Name, y.Code)
	}
	return beside
}
