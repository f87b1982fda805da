// Package rules are the pages of Setup about how an office judges: the rules of
// standing, and the checks of the data.
package rules

import (
	"embed"
	"fmt"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/judge"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

//go:embed rules.html checks.html preview.html
var files embed.FS

// Templates of the screens.
var (
	Template       = shell.Parse(files, "rules.html", "preview.html")
	ChecksTemplate = shell.Parse(files, "checks.html", "preview.html")
)

// Page shows the rules of standing.
type Page struct {
	shell.Frame
	Book       *judge.RuleBook
	InForce    []Rule
	Form       map[string]string // of the rule that is being changed
	Changing   string            // its title, or "" for a new one
	Figures    [][3]string
	Dimensions []judge.DimensionRow
	From       []office.PeriodInfo
	Scopes     []Scope
	Projects   [][2]string
	Preview    *Preview
	Overall    string // how dimensions combine, in words
	Groups     string
}

// Scope is what a rule can hold for.
type Scope struct{ Code, Name string }

// Rule is a rule in force, as written.
type Rule struct {
	judge.RuleRow
	First  bool // of its dimension
	Limits string
	Link   string // to change it
}

// Preview tells what a change would do.
type Preview struct {
	*judge.RulePreview
	Open, Closed []Move
	More         int
}

// Move is a project whose standings a change moves.
type Move struct {
	Code, Name, Link string
	Changes          []Change
}

// Change is a standing before and after.
type Change struct {
	Name    string
	Was, Is chart.Glyph
}

// mostMoved bounds what a preview lists.
const mostMoved = 40

// ends are the periods from which a change can hold.
func ends(m *office.Moment) []office.PeriodInfo { return m.Open() }

// Get answers /setup/rules.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		p, err := page(c, site)
		if err != nil {
			return err
		}
		return shell.Render(c, Template, p)
	}
}

func page(c fiber.Ctx, site *shell.Site) (*Page, error) {
	f, err := shell.NewFrame(c, site, "Rules of standing", "")
	if err != nil {
		return nil, err
	}
	f.Step = "setup"
	p := &Page{Frame: f, Form: map[string]string{"direction": "above"}}
	if f.Moment.Empty {
		return p, nil
	}
	if p.Book, err = judge.In(site.Office).RuleBook(c.Context(), p.Actor, f.Moment); err != nil {
		return nil, err
	}
	p.Dimensions = p.Book.Dimensions
	last := ""
	for _, r := range p.Book.Rules {
		x := Rule{RuleRow: r, First: r.Dimension != last, Limits: limits(r)}
		last = r.Dimension
		x.Link = p.Turn("cause", r.Code+"|"+r.Reading+"|"+r.Scope)
		if p.State.Get("cause") == r.Code+"|"+r.Reading+"|"+r.Scope {
			p.Changing = r.Title
			p.Form = map[string]string{
				"dimension": r.Code,
				"reading":   r.Reading,
				"scope":     r.Scope,
				"direction": string(r.Direction),
				"watch":     judge.WriteLimit(r.Reading, r.Watch),
				"act":       judge.WriteLimit(r.Reading, r.Act),
				"title":     "",
			}
			if r.Own {
				p.Form["reading"], p.Form["expression"], p.Form["title"] = "", r.Reading, r.Title
			}
		}
		p.InForce = append(p.InForce, x)
	}
	for _, x := range judge.FigureNames() {
		if judge.Rateable(x[0]) {
			p.Figures = append(p.Figures, x)
		}
	}
	p.From = ends(f.Moment)
	for _, g := range f.Moment.Programmes() {
		p.Scopes = append(p.Scopes, Scope{g.Code, g.Code + " " + g.Name})
	}
	p.Projects = f.Moment.ProjectNames()
	for _, x := range p.Projects {
		p.Scopes = append(p.Scopes, Scope{x[0], x[0] + " " + x[1]})
	}
	p.Overall, p.Groups = combined(p.Book.Overall, "dimensions"), combined(p.Book.Groups, "plan")
	return p, nil
}

// limits writes the limits of a rule.
func limits(r judge.RuleRow) string {
	if r.Off {
		return "off"
	}
	if id, ok := figure.Lookup(r.Reading); ok {
		return tell.Limits(standing.Reason{Reading: id, Direction: r.Direction, Watch: r.Watch, Act: r.Act})
	}
	return tell.Limits(standing.Reason{Own: r.Title, Direction: r.Direction, Watch: r.Watch, Act: r.Act})
}

// combined says a policy in words.
func combined(p standing.Policy, of string) string {
	switch p.How {
	case standing.Worst:
		return "the worst of them"
	case standing.Larger:
		if of == "plan" {
			return "where the larger part of the plan stands, the worse at a tie"
		}
		return "where the larger part of the weight stands, the worse at a tie"
	case standing.Share:
		if of == "plan" {
			return fmt.Sprintf(
				"Act where projects at Act hold %d%% of the plan; Watch where any is at Act, or Watch and Act hold %d%%",
				p.Act,
				p.Watch,
			)
		}
		return fmt.Sprintf(
			"Act where dimensions at Act hold %d%% of the weight rated; Watch where any is at Act, or Watch and Act hold %d%%",
			p.Act,
			p.Watch,
		)
	}
	return "Act where dates or cost is at Act, or two dimensions are; Watch where any is at Watch or Act"
}

// Typed gives what a form said, else what the rule that is changed says.
func (p *Page) Typed(name string) string { return p.Field(name, p.Form[name]) }

// Shown tells whether the form of a table shows what it would do: only then it
// can be kept.
func (p *Page) Shown(table string) bool {
	return p.Preview != nil && p.Field("table", "") == table
}

// row reads the form of one table.
func row(c fiber.Ctx, table string) map[string]string {
	out := make(map[string]string)
	take := func(names ...string) {
		for _, n := range names {
			out[n] = strings.TrimSpace(c.FormValue(n))
		}
	}
	clear := func(names ...string) { // an emptied cell is cleared
		for _, n := range names {
			if out[n] == "" {
				out[n] = "-"
			}
		}
	}
	switch table {
	case "rules":
		take("dimension", "reading", "from", "direction", "watch", "act", "scope", "title")
		if x := strings.TrimSpace(c.FormValue("expression")); x != "" {
			out["reading"] = x
		}
		clear("watch", "act")
	case "policies":
		take("policy", "from", "how", "act_share", "watch_share")
	case "dimensions":
		take("dimension", "title", "apart", "weight")
	case "projects":
		take("project", "too_early")
	case "checks":
		take("check", "from", "severity", "limit")
		clear("severity", "limit")
		if c.FormValue("expression") != "" || c.FormValue("own") != "" {
			take("over", "expression", "title", "says")
		}
	}
	return out
}

// Post keeps a change, or tells what it would do.
func Post(site *shell.Site) fiber.Handler {
	again := Get(site)
	return func(c fiber.Ctx) error {
		table := c.FormValue("table")
		if c.FormValue("do") == "preview" {
			r, err := judge.In(site.Office).PreviewRule(c.Context(), shell.Actor(c), table, row(c, table))
			if err != nil {
				return shell.Settle(c, err, again, "")
			}
			shell.Keep(c)
			p, err := page(c, site)
			if err != nil {
				return err
			}
			p.Preview = preview(r, p.State)
			return shell.Render(c, Template, p)
		}
		err := judge.In(site.Office).SaveRule(c.Context(), shell.Actor(c), shell.Mark(c), table, row(c, table))
		return shell.Settle(
			c,
			err,
			again,
			shell.WithDone(shell.StateOf(c).To("/setup/rules"), "The change is kept, and the standings follow it."),
		)
	}
}

func preview(r *judge.RulePreview, s shell.State) *Preview {
	p := &Preview{RulePreview: r}
	group := func(list []judge.RuleMove) []Move {
		var out []Move
		for _, x := range list {
			i := slices.IndexFunc(out, func(m Move) bool { return m.Code == x.Code })
			if i < 0 {
				if len(out) == mostMoved {
					p.More++
					continue
				}
				i = len(out)
				out = append(out, Move{Code: x.Code, Name: x.Name, Link: s.Moment().Project(x.Code)})
			}
			out[i].Changes = append(
				out[i].Changes,
				Change{
					x.Dimension,
					chart.Glyph{Standing: x.Was, Overall: x.Overall, What: x.Dimension},
					chart.Glyph{Standing: x.Is, Overall: x.Overall, What: x.Dimension},
				},
			)
		}
		return out
	}
	p.Open, p.Closed = group(r.Open), group(r.Closed)
	return p
}

// ChecksPage shows the checks.
type ChecksPage struct {
	shell.Frame
	Checks     []Check
	Off        []judge.OffRow
	Form       map[string]string
	Changing   string
	Own        bool // the form is of an own check
	From       []office.PeriodInfo
	Severities []finding.Severity
	Over       []string
	Names      []Names
	Preview    *Preview
}

// Names are what an own check over a kind of record can use.
type Names struct {
	Over string
	List [][2]string
}

// Check is a check with the address that changes it.
type Check struct {
	judge.CheckRow
	Link, Found string
}

// GetChecks answers /setup/checks.
func GetChecks(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		p, err := checksPage(c, site)
		if err != nil {
			return err
		}
		return shell.Render(c, ChecksTemplate, p)
	}
}

func checksPage(c fiber.Ctx, site *shell.Site) (*ChecksPage, error) {
	f, err := shell.NewFrame(c, site, "Checks of the data", "")
	if err != nil {
		return nil, err
	}
	f.Step = "setup"
	p := &ChecksPage{
		Frame:      f,
		Form:       map[string]string{"severity": "warning", "over": "project"},
		Severities: append(slices.Clone(finding.Severities), finding.Off),
		Over:       judge.RecordKinds,
		Own:        true,
	}
	if f.Moment.Empty {
		return p, nil
	}
	list, off, err := judge.In(site.Office).CheckBook(c.Context(), p.Actor, f.Moment)
	if err != nil {
		return nil, err
	}
	p.Off = off
	at := p.State.Get("cause")
	for _, x := range list {
		p.Checks = append(
			p.Checks,
			Check{
				CheckRow: x,
				Link:     p.Turn("cause", x.Code),
				Found:    p.State.Moment().With("cause", x.Code).CheckPage(),
			},
		)
		if x.Code == at {
			p.Changing, p.Own = x.Title, x.Own
			p.Form = map[string]string{
				"check":      x.Code,
				"severity":   string(x.Severity),
				"limit":      x.Limit,
				"over":       x.Over,
				"expression": x.Expression,
				"title":      x.Title,
				"says":       x.Says,
				"unit":       x.Unit,
			}
			if x.Bare {
				p.Form["bare"] = "1"
			}
		}
	}
	p.From = ends(f.Moment)
	for _, over := range judge.RecordKinds {
		p.Names = append(p.Names, Names{over, judge.NamesOver(over)})
	}
	return p, nil
}

// Typed gives what a form said, else what the check that is changed says.
func (p *ChecksPage) Typed(name string) string { return p.Field(name, p.Form[name]) }

// PostChecks keeps a change of a check, or tells what it would find.
func PostChecks(site *shell.Site) fiber.Handler {
	again := GetChecks(site)
	return func(c fiber.Ctx) error {
		if c.FormValue("do") == "preview" {
			r, err := judge.In(site.Office).PreviewRule(c.Context(), shell.Actor(c), "checks", row(c, "checks"))
			if err != nil {
				return shell.Settle(c, err, again, "")
			}
			shell.Keep(c)
			p, err := checksPage(c, site)
			if err != nil {
				return err
			}
			p.Preview = preview(r, p.State)
			return shell.Render(c, ChecksTemplate, p)
		}
		err := judge.In(site.Office).SaveRule(c.Context(), shell.Actor(c), shell.Mark(c), "checks", row(c, "checks"))
		return shell.Settle(
			c,
			err,
			again,
			shell.WithDone(shell.StateOf(c).To("/setup/checks"), "The change is kept, and the data are checked by it."),
		)
	}
}
