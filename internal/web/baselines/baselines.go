// Package baselines has the pages of Weigh about the plans of projects: how each
// came to be what it is, and those that are proposed.
package baselines

import (
	"embed"
	"fmt"
	"net/url"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"turret/internal/core/calendar"
	"turret/internal/core/costs"
	"turret/internal/office"
	"turret/internal/office/baseline"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

//go:embed list.html project.html change.html versions.html
var files embed.FS

// The templates of the pages.
var (
	ListTemplate     = shell.Parse(files, "list.html")
	ProjectTemplate  = shell.Parse(files, "project.html")
	ChangeTemplate   = shell.Parse(files, "change.html")
	VersionsTemplate = shell.Parse(files, "versions.html")
)

// ProjectPage shows how the plan of a project came to be what it is, and takes
// proposals.
type ProjectPage struct {
	shell.Frame
	Missing   string
	Baselines *baseline.Baselines
	Sentence  []shell.Phrase
	Bridge    string // address of the bridge from the original plan
}

// Get answers /baselines: of a project, or the list of all.
func Get(site *shell.Site) fiber.Handler {
	list := getList(site)
	return func(c fiber.Ctx) error {
		of := shell.StateOf(c).Get("of")
		if of == "" {
			return list(c)
		}
		f, err := shell.NewFrame(c, site, "Baselines", of)
		if err != nil {
			return err
		}
		p := &ProjectPage{Frame: f}
		if f.Moment.Empty {
			p.Missing = "Nothing is stated yet, so there is no plan."
			return shell.Render(c, ProjectTemplate, p)
		}
		if p.Baselines, err = baseline.In(site.Office).Baselines(c.Context(), p.Actor, f.Moment, of); err != nil {
			return err
		}
		if p.Baselines == nil {
			p.Missing = fmt.Sprintf(
				"There is no project %q in %s; open its sheet from the board.",
				of,
				f.Moment.Period.Name,
			)
			c.Status(fiber.StatusNotFound)
			return shell.Render(c, ProjectTemplate, p)
		}
		p.Bridge = f.State.Moment().
			With("of", of).
			With("against", "").
			With("beside", "original").
			With("per", "completion").
			With("amounts", string(costs.Planned)).
			BridgePage()
		p.Sentence = p.say()
		return shell.Render(c, ProjectTemplate, p)
	}
}

// Post takes a proposal.
func Post(site *shell.Site) fiber.Handler {
	again := Get(site)
	return func(c fiber.Ctx) error {
		ctx, a, s := c.Context(), shell.Actor(c), shell.StateOf(c)
		m, err := site.Office.Moment(ctx, a, s.Ask())
		if err != nil {
			return err
		}
		p := baseline.Proposal{
			Project: s.Get("of"),
			Money:   c.FormValue("money"),
			Dates:   c.FormValue("dates"),
			Reason:  c.FormValue("reason"),
		}
		n, err := baseline.In(site.Office).Propose(ctx, a, m, shell.Mark(c), p)
		to := s.BaselinePage(p.Project, n)
		if p.Money == baseline.ToType {
			to = s.Moment().To("/amounts/" + url.PathEscape(p.Project) + "/plan")
		}
		return shell.Settle(c, err, again, shell.WithDone(to, "It is proposed, and counts nowhere until someone else approves it."))
	}
}

// say tells how often the plan was changed, and by how much.
func (p *ProjectPage) say() []shell.Phrase {
	b := p.Baselines
	var last baseline.BaselineRow
	changes := 0
	var open []baseline.BaselineRow
	for _, x := range b.List {
		if x.Open() {
			open = append(open, x)
		}
		if x.Later || !x.Counts() {
			continue
		}
		last = x
		if x.Number > 1 {
			changes++
		}
	}
	out := []shell.Phrase{
		{Text: b.Project.Name + " is planned at "},
		{Text: p.Amount(last.Plan) + " " + string(b.Currency), Tone: "ink"},
	}
	d := last.Plan - b.List[0].Plan
	switch {
	case changes == 0:
		out = append(out, shell.Phrase{Text: ", as it was at first."})
	case d == 0:
		out = append(
			out,
			shell.Phrase{
				Text: fmt.Sprintf(
					" after %s, as at first.",
					tell.Plural(changes, "approved change", "approved changes"),
				),
			},
		)
	default:
		out = append(
			out,
			shell.Phrase{Text: fmt.Sprintf(" after %s: ", tell.Plural(changes, "approved change", "approved changes"))},
			shell.Phrase{Text: p.Change(d), Link: p.Bridge, Tone: bad(d > 0)},
			shell.Phrase{Text: " since the original."},
		)
	}
	for _, x := range open {
		out = append(
			out,
			shell.Phrase{Text: " "},
			shell.Phrase{Text: fmt.Sprintf("Baseline %d", x.Number), Link: p.Link(x), Tone: "watch"},
			shell.Phrase{Text: " is proposed and waits for a decision."},
		)
	}
	return out
}

func bad(is bool) string {
	if is {
		return "act"
	}
	return ""
}

// Proposes tells whether the actor can propose a baseline now.
func (p *ProjectPage) Proposes() bool {
	return office.MayPropose(p.Actor) && !p.Moment.Period.Closed
}

// Amount writes an amount to its last decimal.
func (p *ProjectPage) Amount(n int64) string { return tell.Units.Write(n, p.Baselines.Currency) }

// Change writes a change with its sign.
func (p *ProjectPage) Change(n int64) string { return tell.Units.Change(n, p.Baselines.Currency) }

// Link is the address of what a baseline changes.
func (p *ProjectPage) Link(b baseline.BaselineRow) string {
	return p.State.BaselinePage(p.Baselines.Project.Code, b.Number)
}

// Day writes a day, or a dash.
func (p *ProjectPage) Day(d calendar.Date) string { return tell.Date(d) }

// Columns are the places of the baselines that the table line by line leads
// through: those that count.
func (p *ProjectPage) Columns() (out []int) {
	for i := range p.Baselines.List {
		if p.Baselines.List[i].Counts() {
			out = append(out, i)
		}
	}
	return out
}

// ChangeOf is the change of a cost code by the baseline at a place: of the
// original, its plan.
func (p *ProjectPage) ChangeOf(c baseline.BaselineCode, place int) int64 {
	before := int64(0)
	for _, i := range p.Columns() {
		if i == place {
			break
		}
		before = c.Plans[i]
	}
	return c.Plans[place] - before
}

// Latest is the place of the baseline in force.
func (p *ProjectPage) Latest() int {
	for i, x := range p.Baselines.List {
		if x.InForce {
			return i
		}
	}
	return 0
}

// listPage shows the baselines of all projects in scope.
type listPage struct {
	shell.Frame
	List     []baseline.BaselineEntry
	Open     int
	Sentence []shell.Phrase
}

func getList(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Baselines", "")
		if err != nil {
			return err
		}
		p := &listPage{Frame: f}
		if f.Moment.Empty {
			p.Sentence = []shell.Phrase{{Text: "Nothing is stated yet, so there is no plan."}}
			return shell.Render(c, ListTemplate, p)
		}
		if p.List, err = baseline.In(site.Office).AllBaselines(c.Context(), p.Actor, f.Moment); err != nil {
			return err
		}
		approved := 0
		for i := range p.List {
			switch {
			case p.List[i].Open():
				p.Open++
			case p.List[i].Counts():
				approved++
			}
		}
		say := func(tone, format string, args ...any) {
			p.Sentence = append(p.Sentence, shell.Phrase{Text: fmt.Sprintf(format, args...), Tone: tone})
		}
		if p.Open == 0 {
			say("", "No baseline waits for a decision")
		} else {
			say("watch", "%s", tell.Capital(tell.Plural(p.Open, "baseline", "baselines")))
			say("", " %s for a decision", map[bool]string{true: "waits", false: "wait"}[p.Open == 1])
		}
		say("", "; %s changed a plan so far.", tell.Plural(approved, "approved one", "approved ones"))
		return shell.Render(c, ListTemplate, p)
	}
}

// Link is the address of what a baseline changes.
func (p *listPage) Link(b baseline.BaselineEntry) string {
	return p.State.BaselinePage(b.Project, b.Number)
}

// Day writes a day, or a dash.
func (p *listPage) Day(d calendar.Date) string { return tell.Date(d) }

// Change writes a change of a project's plan in thousands.
func (p *listPage) Change(b baseline.BaselineEntry) string {
	if !b.Known {
		return "—"
	}
	return tell.Thousands.Change(b.BaselineRow.Change, b.Currency)
}

// number reads which baseline an address is about; zero where it says none.
func number(s shell.State) int {
	n, err := strconv.Atoi(s.Get("version"))
	if err != nil || n < 1 || n > 9999 {
		return 0
	}
	return n
}
