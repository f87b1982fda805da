package money

import (
	"cmp"
	"fmt"
	"html/template"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/costs"
	"turret/internal/core/figure"
	"turret/internal/office"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// BridgePage shows how a sum came to be another.
type BridgePage struct {
	shell.Frame
	Missing  string
	Bridge   *office.MoneyBridge
	Sentence []shell.Phrase
	Chart    template.HTML
	Steps    []StepRow
	Parts    []PartRow
	Choices  []Menu
	Back     string
	Scale    tell.Scale
}

// StepRow is a step as written.
type StepRow struct {
	Title, Amount, Exact, Link, Class string
	On, End                           bool
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
		p := &BridgePage{Frame: f, Back: s.With("cause", "").With("group", "").With("row", "").MoneyPage(), Scale: tell.Thousands}
		if scale := tell.Scale(s.Get("unit")); slices.Contains(tell.Scales, scale) {
			p.Scale = scale
		}
		if f.Moment.Empty {
			p.Missing = "Nothing is stated yet, so there is nothing to compare."
			return shell.Render(c, BridgeTemplate, p)
		}
		measure := costs.Running
		if s.Get("amounts") == string(costs.Planned) {
			measure = costs.Planned
		}
		key := s.Get("row")
		if key == "all" {
			key = ""
		}
		p.Bridge, err = site.Office.MoneyBridge(c.Context(), p.Actor, f.Moment, ask(s.With("amounts", "")), key, measure, s.Get("cause"), s.Get("group"))
		if shell.Refused(err) {
			p.Missing = err.Error()
			c.Status(fiber.StatusNotFound)
			p.choices()
			return shell.Render(c, BridgeTemplate, p)
		}
		if err != nil {
			return err
		}
		p.Moment.Notes = append(p.Moment.Notes, p.Bridge.Table.Asked...)
		p.fill()
		p.choices()
		return shell.Render(c, BridgeTemplate, p)
	}
}

func (p *BridgePage) exact(n int64) string {
	return tell.Units.Write(n, p.Bridge.Table.Currency) + " " + string(p.Bridge.Table.Currency)
}

func (p *BridgePage) class(n int64) string {
	return bad(p.Scale.Round(n, p.Bridge.Table.Currency) > 0 && p.Bridge.Measure == costs.Running)
}

// Version names the ends: what it said, and what it says.
func (p *BridgePage) Version(version int) string {
	t := p.Bridge.Table
	if version == 1 && p.State.Get("beside") == "" {
		return t.VersionName(1) + " said"
	}
	return tell.Capital(t.VersionName(version))
}

func (p *BridgePage) fill() {
	b, s := p.Bridge, p.State
	t := b.Table
	drawn := chart.Bridge{Title: "Bridge from " + p.Version(1) + " to " + p.Version(0), Desc: "each cause with what it adds; the ends begin at the left edge, which is not zero"}
	million := func(n int64) float64 {
		v, _ := tell.InMillions(figure.Whole(figure.Money, n), t.Currency)
		return v
	}
	end := func(version int, n int64) {
		text := p.Scale.Write(n, t.Currency)
		p.Steps = append(p.Steps, StepRow{Title: p.Version(version), Amount: text, Exact: p.exact(n), End: true})
		drawn.Steps = append(drawn.Steps, chart.Step{Name: p.Version(version), Text: text, Value: million(n), End: true})
	}
	end(1, b.From)
	for _, x := range b.Steps {
		if x.Amount == 0 {
			continue
		}
		row := StepRow{Title: tell.Capital(x.Title), Amount: p.Scale.Change(x.Amount, t.Currency), Exact: p.exact(x.Amount), Class: p.class(x.Amount), On: b.Cause == x.Code, Link: p.Turn("cause", x.Code)}
		if row.On {
			row.Link = p.Turn("cause", "")
		}
		p.Steps = append(p.Steps, row)
		drawn.Steps = append(drawn.Steps, chart.Step{Name: row.Title, Text: row.Amount, Value: million(x.Amount), Link: row.Link, Class: row.Class})
	}
	end(0, b.To)
	p.Chart = chart.Fit(680, drawn.Draw)
	for _, x := range b.Parts {
		row := PartRow{Project: x.Project, Code: x.Code, Name: x.Name, Amount: p.Scale.Change(x.Amount, t.Currency), Exact: p.exact(x.Amount), Class: p.class(x.Amount)}
		to := s.With("cause", "").With("group", "").With("fold", "").With("open", "").With("each", "was").With("only", "differs").With("row", "")
		if x.Project != "" {
			row.ProjectLink = s.Moment().Project(x.Project)
			to = to.With("of", x.Project).With("rows", "code")
		}
		if x.Code != "" {
			to = to.With("code", x.Code)
		}
		row.Link = to.MoneyPage()
		p.Parts = append(p.Parts, row)
	}
	p.Sentence = p.say()
}

// Named is the cause whose parts are listed, or "".
func (p *BridgePage) Named() string {
	for _, x := range p.Bridge.Steps {
		if x.Code == p.Bridge.Cause {
			return tell.Capital(x.Title)
		}
	}
	return ""
}

// Left is what the parts that are not listed add.
func (p *BridgePage) Left() string { return p.exact(p.Bridge.Rest) }

// choices are what the bridge is of, and how its parts are listed.
func (p *BridgePage) choices() {
	s := p.State
	item := func(text, part, value string) Item {
		return Item{text, p.With(s.With(part, value).With("cause", "")), s.Get(part) == value}
	}
	of := Menu{Name: "Of", Now: "spent, then forecast", Items: []Item{item("spent, then forecast", "amounts", ""), item("plan", "amounts", "plan")}}
	if s.Get("amounts") == "plan" {
		of.Now = "plan"
	}
	over := Menu{Name: "Over", Now: "everything", Items: []Item{{"this fiscal year", p.With(s.With("span", "").With("per", "").With("cause", "")), s.Get("span") == "" && s.Get("per") != "completion"}, {"everything", p.With(s.With("span", "").With("per", "completion").With("cause", "")), s.Get("per") == "completion"}}}
	beside := Menu{Name: "From", Now: "choose"}
	if before := p.Moment.Before; before.Code != "" {
		beside.Items = append(beside.Items, Item{"as stated in " + before.Name, p.With(s.With("vs", before.Code).With("beside", "").With("cause", "")), s.Get("vs") == before.Code && s.Get("beside") == ""})
	}
	if y := p.YearBefore(); y != nil {
		beside.Items = append(beside.Items, Item{"as stated in " + y.Name, p.With(s.With("vs", y.Code).With("beside", "").With("cause", "")), s.Get("vs") == y.Code && s.Get("beside") == ""})
	}
	beside.Items = append(beside.Items, item("the original plan", "beside", "original"))
	if b := p.Bridge; b != nil {
		beside.Now = b.Table.VersionName(1)
		if b.Table.Per != costs.ToDate {
			over.Now = b.Table.Span
		}
		for _, y := range b.Table.Years {
			over.Items = append(over.Items, Item{y, p.With(s.With("span", y).With("per", "").With("cause", "")), s.Get("span") == y})
		}
	}
	by := Menu{Name: "Within a cause by", Now: cmp.Or(s.Get("group"), "project")}
	for _, x := range office.BridgeBys {
		name := map[string]string{"code": "cost code"}[x]
		by.Items = append(by.Items, Item{cmp.Or(name, x), p.Turn("group", x), by.Now == x})
	}
	p.Choices = []Menu{of, beside, over, by}
}

// say tells the change and its two largest causes.
func (p *BridgePage) say() []shell.Phrase {
	b := p.Bridge
	t := b.Table
	money := func(n int64) string { return tell.Millions(figure.Whole(figure.Money, n), t.Currency) }
	var out []shell.Phrase
	text := func(format string, args ...any) { out = append(out, shell.Phrase{Text: fmt.Sprintf(format, args...)}) }
	who := "The portfolio"
	switch {
	case b.Row.Parent != nil:
		who = b.Row.Name
	case t.Project != nil:
		who = t.Project.Name
	case p.Moment.Scope.Code != "":
		who = p.Moment.Scope.Name
	}
	span := " in " + t.Span
	if t.Per == costs.ToDate {
		span = " in all"
	}
	what := map[costs.Measure]string{costs.Running: "will have spent", costs.Planned: "is planned at"}[b.Measure]
	text("%s %s ", who, what)
	out = append(out, shell.Phrase{Text: money(b.To), Tone: "ink"})
	text("%s", span)
	d := b.To - b.From
	if d == 0 {
		text(", as %s.", lower(p.Version(1)))
		return out
	}
	tone := bad(d > 0)
	text(", ")
	out = append(out, shell.Phrase{Text: money(abs(d)), Tone: tone})
	text(" %s than %s", map[bool]string{true: "more", false: "less"}[d > 0], lower(p.Version(1)))
	steps := slices.Clone(b.Steps)
	slices.SortStableFunc(steps, func(x, y office.BridgeStep) int { return cmp.Compare(abs(y.Amount), abs(x.Amount)) })
	sep := ": "
	for _, x := range steps[:min(3, len(steps))] {
		if x.Amount == 0 {
			break
		}
		sign := map[bool]string{true: "+", false: ""}[x.Amount > 0]
		text("%s%s ", sep, x.Title)
		out = append(out, shell.Phrase{Text: sign + money(x.Amount), Link: p.Turn("cause", x.Code)})
		sep = ", "
	}
	text(".")
	return out
}

// lower begins a name within a sentence: months keep their capital.
func lower(s string) string {
	if rest, ok := strings.CutPrefix(s, "The "); ok {
		return "the " + rest
	}
	return s
}
