// Package closing is the end of the month: closing a period and opening it
// again, the cuts that were made, and what two of them have differently.
package closing

import (
	"embed"
	"fmt"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/closing"
	"turret/internal/office/period"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

//go:embed closing.html cuts.html cutlist.html compare.html
var files embed.FS

// Templates of the screens.
var (
	Template        = shell.Parse(files, "closing.html", "cutlist.html")
	CutsTemplate    = shell.Parse(files, "cuts.html", "cutlist.html")
	CompareTemplate = shell.Parse(files, "compare.html")
)

// Page shows what stands in the way of a close.
type Page struct {
	shell.Frame
	Closing *closing.Closing
	Points  []Point
	Cuts    []Cut
	All     bool // the page lists the cuts of all periods
}

// Point is an open point with where it is dealt with.
type Point struct {
	closing.Point
	Link, Do string
}

// Cut is a cut in a list.
type Cut struct {
	closing.CutInfo
	Short string // of its hash
	Now   string // address of its comparison with now
	Next  string // address of its comparison with the one before of its period, or ""
}

// Get answers /close.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Close", "")
		if err != nil {
			return err
		}
		f.Step = "weigh"
		p := &Page{Frame: f}
		if f.Moment.Empty {
			return shell.Render(c, Template, p)
		}
		if p.Closing, err = closing.In(site.Office).Closing(c.Context(), p.Actor, f.Moment); err != nil {
			return err
		}
		s := p.State
		rows, answers := "See the rows", "See the findings"
		if p.May() {
			rows, answers = "Deal with the rows", "Answer them"
		}
		to := map[string][2]string{
			closing.RefusedRows: {s.To("/gather/refused"), rows},
			closing.ControlsOff: {s.To("/ledger"), "Find the difference"},
			closing.OpenErrors: {
				s.Moment().With("severity", "error").With("show", "all").CheckPage(),
				"Look at the errors",
			},
			closing.Unanswered: {
				s.Moment().With("said", "unexplained").With("show", "all").CheckPage(),
				answers,
			},
			closing.BigMoves: {s.Moment().Board() + "#moved", "See what moved"},
			closing.Owing:    {s.Moment().With("show", "owing").GatherPage(), "See who owes what"},
		}
		for _, x := range p.Closing.Points {
			p.Points = append(p.Points, Point{x, to[x.Kind][0], to[x.Kind][1]})
		}
		p.Cuts = p.cuts(p.Closing.Before)
		return shell.Render(c, Template, p)
	}
}

func (p *Page) cuts(list []closing.CutInfo) []Cut {
	const shown = 12 // characters of a hash
	var out []Cut
	for i, x := range list {
		cut := Cut{CutInfo: x, Short: x.Hash[:min(len(x.Hash), shown)], Now: p.compare(x.ID, 0, x.Period)}
		for _, y := range list[i+1:] {
			if y.Period == x.Period {
				cut.Next = p.compare(y.ID, x.ID, x.Period)
				break
			}
		}
		out = append(out, cut)
	}
	return out
}

func (p *Page) compare(a, b int64, period string) string {
	return fmt.Sprintf("/cuts/compare?a=%d&b=%d&at=%s", a, b, period)
}

// Count writes a number of things.
func (p *Page) Count(n int) string { return tell.Amount(strconv.Itoa(n), 0) }

// May tells whether the actor closes periods.
func (p *Page) May() bool { return office.MayClose(p.Actor) }

// Post closes, opens again, or makes a cut.
func Post(site *shell.Site) fiber.Handler {
	again := Get(site)
	return func(c fiber.Ctx) error {
		ctx, a, s := c.Context(), shell.Actor(c), shell.StateOf(c)
		m, err := site.Office.Moment(ctx, a, s.Ask())
		if err != nil {
			return err
		}
		done := ""
		if shown := c.FormValue("period"); shown != "" && shown != m.Period.Code {
			err := office.Refusef(
				"The form was about %s, and this page shows %s now; nothing was done. Look at it again, and choose the period on the rail.",
				shown,
				m.Period.Name,
			)
			return shell.Settle(c, err, again, "")
		}
		switch c.FormValue("do") {
		case "close":
			reasons := make(map[string]string)
			for _, k := range [...]string{closing.RefusedRows, closing.ControlsOff, closing.OpenErrors, closing.Unanswered, closing.BigMoves, closing.Owing} {
				reasons[k] = c.FormValue("reason." + k)
			}
			_, err = closing.In(site.Office).CloseOver(ctx, a, m, c.FormValue("period"), reasons)
			done = m.Period.Name + " is closed."
		case "reopen":
			err = closing.In(site.Office).ReopenCode(ctx, a, m.Period.Code, c.FormValue("why"))
			done = m.Period.Name + " is open again; its cut stays, with the reason."
		case "checking", "opening":
			err = period.In(site.Office).SetChecking(ctx, a, m, c.FormValue("do") == "checking")
			done = map[bool]string{true: m.Period.Name + " is in checking: leads state no more for it.", false: "Leads can state for " + m.Period.Name + " again."}[c.FormValue("do") == "checking"]
		case "cut":
			err = closing.In(site.Office).MakeCut(ctx, a, m, c.FormValue("name"))
			done = "The cut is made."
		default:
			err = shell.Unclear()
		}
		to := "/close?at=" + m.Period.Code
		return shell.Settle(c, err, again, shell.WithDone(to, done))
	}
}

// GetCuts answers /cuts.
func GetCuts(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Cuts", "")
		if err != nil {
			return err
		}
		f.Step = "weigh"
		p := &Page{Frame: f, All: true}
		if !f.Moment.Empty {
			list, err := closing.In(site.Office).Cuts(c.Context(), p.Actor, f.Moment)
			if err != nil {
				return err
			}
			p.Cuts = p.cuts(list)
		}
		return shell.Render(c, CutsTemplate, p)
	}
}

// ComparePage shows what two cuts have differently.
type ComparePage struct {
	shell.Frame
	Missing    string
	Difference *closing.CutDifference
	Sentence   []shell.Phrase
	Changes    []Change
	Inputs     []Input
}

// Change is a project or group that differs.
type Change struct {
	Code, Name, Link string
	Group            bool
	Was, Is          chart.Glyph
	Only             string // the side that alone has it
	Figures          []Figure
	Stands           string
	Found            string
	More             int
}

// Figure is a figure on both sides.
type Figure struct{ Title, Was, Is string }

// Input is a value that differs.
type Input struct {
	Project, Table, Key, Column, Was, Is, Link string
}

// mostFigures bounds the figures that are listed of one project.
const mostFigures = 6

// Compare answers /cuts/compare.
func Compare(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Cuts compared", "")
		if err != nil {
			return err
		}
		f.Step = "weigh"
		p := &ComparePage{Frame: f}
		a, err1 := strconv.ParseInt(c.Query("a"), 10, 64)
		b, err2 := strconv.ParseInt(c.Query("b"), 10, 64)
		if err1 != nil || err2 != nil || f.Moment.Empty {
			p.Missing = "Choose two cuts, or a cut and now."
			c.Status(fiber.StatusNotFound)
			return shell.Render(c, CompareTemplate, p)
		}
		p.Difference, err = closing.In(site.Office).CompareCuts(c.Context(), p.Actor, f.Moment, a, b)
		if shell.Refused(err) {
			p.Missing = err.Error()
			c.Status(fiber.StatusNotFound)
			return shell.Render(c, CompareTemplate, p)
		}
		if err != nil {
			return err
		}
		p.fill()
		return shell.Render(c, CompareTemplate, p)
	}
}

func (p *ComparePage) fill() {
	d := p.Difference
	projects, groups := 0, 0
	for i := range d.Changes {
		x := &d.Changes[i]
		if x.Group {
			groups++
		} else {
			projects++
		}
		p.Changes = append(p.Changes, p.change(x))
	}
	for _, x := range d.Inputs {
		in := Input{
			Project: x.Project,
			Table:   x.Table,
			Key:     x.Row(),
			Column:  x.Column,
			Was:     tell.Value(x.Was),
			Is:      tell.Value(x.Is),
		}
		if x.Source.File != 0 {
			in.Link = p.State.Trail("row", fmt.Sprintf("%d.%d", x.Source.File, x.Source.Row))
		}
		p.Inputs = append(p.Inputs, in)
	}
	text := func(format string, args ...any) {
		p.Sentence = append(p.Sentence, shell.Phrase{Text: fmt.Sprintf(format, args...)})
	}
	n := len(d.Inputs) + d.More
	switch {
	case d.SameHash && len(d.Changes) == 0:
		text("The two hold the same, to the letter.")
	case n == 0:
		text(
			"Their inputs are the same; %s differ, as they are of two periods.",
			tell.Plural(projects, "project's figures", "projects' figures"),
		)
	default:
		text(
			"%s %s %s; %s and %s move.",
			tell.Amount(strconv.Itoa(n), 0),
			map[bool]string{true: "input", false: "inputs"}[n == 1],
			map[bool]string{true: "differs", false: "differ"}[n == 1],
			tell.Plural(projects, "project", "projects"),
			tell.Plural(groups, "group", "groups"),
		)
	}
}

func (p *ComparePage) change(x *closing.CutChange) Change {
	was, is := x.Overall()
	c := Change{
		Code:  x.Code,
		Name:  x.Name,
		Group: x.Group,
		Was:   chart.Glyph{Standing: was, Overall: true, What: "Overall then"},
		Is:    chart.Glyph{Standing: is, Overall: true, What: "Overall now"},
	}
	if x.Group && x.Code == "*" {
		c.Name = "Whole portfolio"
	}
	if !x.Group {
		c.Link = p.State.Moment().Project(x.Code)
	}
	switch {
	case x.Was == nil:
		c.Only = "only in the second"
	case x.Is == nil:
		c.Only = "only in the first"
	}
	for _, id := range x.Figures {
		if len(c.Figures) == mostFigures {
			c.More++
			continue
		}
		write := func(r *office.Reading) string { return tell.Figure(id, r.Value(id), r.Currency, true).Text }
		c.Figures = append(c.Figures, Figure{figure.Get(id).Title, write(x.Was), write(x.Is)})
	}
	for _, s := range x.Stands {
		if s.Dimension == standing.Overall {
			continue
		}
		if c.Stands != "" {
			c.Stands += ", "
		}
		c.Stands += fmt.Sprintf("%s %s → %s", s.Name, tell.Capital(s.Was), tell.Capital(s.Is))
	}
	var found []string
	if x.Settled > 0 {
		found = append(found, tell.Plural(x.Settled, "finding", "findings")+" settled")
	}
	if x.Brought > 0 {
		found = append(found, tell.Plural(x.Brought, "finding", "findings")+" brought")
	}
	c.Found = strings.Join(found, ", ")
	return c
}

// Unexplained lists the projects whose words are wanted and not said; "" where there are none.
func (p *Page) Unexplained() string {
	if p.Moment.Period.Closed {
		return ""
	}
	list := p.Moment.Unexplained()
	for i := range list {
		if list[i] == portfolio.Everywhere {
			list[i] = "the whole"
		}
	}
	return strings.Join(tell.Few(list), ", ")
}
