// Package stating is where people state a month: the desk, which tells what is owed,
// and the pages of a project's statement, walked one after the other.
package stating

import (
	"fmt"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/office/asking"
	"turret/internal/office/history"
	"turret/internal/office/stating"
	"turret/internal/office/typing"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// Template is the page of a statement.
var Template = shell.Parse(files, "stating.html")

// sending is the last part, in which all is looked over and sent.
const sending = "send"

// Page is what the template shows.
type Page struct {
	shell.Frame
	Code, Name string
	Parts      []Part
	At         string // the part that is shown
	Before     *Part  // the part before it, and after; nil at the ends
	After      *Part
	Sheet      *stating.Sheet // nil: all is looked over
	Groups     []Group
	TooMany    int // rows, where they are more than one page can be typed on
	Summary    *stating.Summary
	Says       Says
	Shut       string // why nothing can be stated, or ""
	Repeats    bool   // what is owed can be confirmed as it was
	Missing    []string
	Facts      *Facts           // beside the words; nil elsewhere
	Matrix     []tell.MatrixRow // of the risks as they are typed; nil elsewhere
}

// Facts are what the words of a project stand beside.
type Facts struct {
	Computed chart.Glyph
	Is       string // the computed standing, as a word
	Since    string // the period that moves are told since
	Moved    []string
	Figures  []string
}

// told are the figures that words are read against.
var told = []figure.ID{figure.EACStated, figure.EACComputed, figure.CPI, figure.SPIT, figure.FinishSlip, figure.RiskExposure}

func (p *Page) facts() *Facts {
	r := p.Project
	is := r.Standing[standing.Overall]
	out := &Facts{
		Computed: chart.Glyph{Standing: is, Overall: true, What: "Overall"}, Is: is.String(), Since: p.Moment.Since.Name,
	}
	if x, ok := p.Moment.MovedOf(p.Code); ok {
		out.Moved = x.Lines()
	}
	for _, id := range told {
		f, v := figure.Get(id), r.Value(id)
		if !v.Known {
			continue
		}
		text := fmt.Sprintf("%s %s", f.Title, tell.Figure(id, v, r.Currency, false).Text)
		if f.Unit == figure.Money {
			text += " " + tell.Unit(figure.Money, r.Currency)
		}
		out.Figures = append(out.Figures, text)
	}
	return out
}

// Part is a part of the statement, with its address.
type Part struct {
	Name, Title, Link string
	On                bool
	Note              string // how it stands, in a word
}

// Group is a table of rows.
type Group struct {
	Title   string
	Rows    []stating.Row
	Folded  bool
	Changes int
}

// Says is what sending would do, in words.
type Says struct {
	shell.Effect
	Changes int
	Wrong   int
	Clashes int
	Why     string
	Brings  []finding.Finding
	Settles int
	Nothing bool     // no figure would move
	Outlook []string // the outlook, and what it asks of the work that is left
}

const mostMoves = 8

// Get answers /state/{project}/{part}.
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
	code := shell.Param(c, "project")
	f, err := shell.NewFrame(c, site, "State "+code, code)
	if err != nil {
		return nil, err
	}
	p := &Page{Frame: f, Code: code, At: shell.Param(c, "part")}
	p.Step = ""
	if f.Project == nil {
		return nil, fiber.ErrNotFound
	}
	ctx, room := c.Context(), stating.In(site.Office)
	if p.Summary, err = room.Summary(ctx, p.Actor, f.Moment, code); err != nil {
		return nil, err
	}
	for _, s := range p.Summary.Sheets {
		p.Parts = append(p.Parts, Part{Name: s.Section.Name, Title: s.Title, Link: p.link(s.Section.Name), Note: note(s)})
		p.Name = s.Name
		if s.Owed && !s.Stated {
			p.Missing = append(p.Missing, strings.ToLower(s.Title))
		}
	}
	p.Parts = append(p.Parts, Part{Name: sending, Title: "Send", Link: p.link(sending)})
	at := slices.IndexFunc(p.Parts, func(x Part) bool { return x.Name == p.At })
	if at < 0 {
		return nil, fiber.ErrNotFound
	}
	p.Parts[at].On = true
	if at > 0 {
		p.Before = &p.Parts[at-1]
	}
	if at+1 < len(p.Parts) {
		p.After = &p.Parts[at+1]
		p.Sheet = p.Summary.Sheets[at]
		if n := len(p.Sheet.Grid.Rows); n > shell.MostTyped {
			p.TooMany = n
		} else {
			p.Groups = groups(p.Sheet)
		}
		if p.Sheet.Kind == portfolio.NarrativePart {
			p.Facts = p.facts()
		}
		if p.Sheet.Kind == portfolio.RiskPart {
			p.Matrix = tell.Matrix(placed(p.Sheet))
		}
	}
	if err := stating.Open(p.Actor, f.Moment, code); err != nil {
		p.Shut = err.Error()
	}
	p.Says = says(p.Summary)
	return p, nil
}

func (p *Page) link(part string) string {
	return p.State.To("/state/" + url.PathEscape(p.Code) + "/" + part)
}

// placed are the risks that are open, as they are typed.
func placed(s *stating.Sheet) (out []tell.Placed) {
	for _, r := range s.Grid.Rows {
		x := tell.Placed{Code: r.Code}
		open := true
		for j := range r.Cells {
			text := r.Cells[j].Value()
			n, err := strconv.ParseInt(text, 10, 64)
			switch s.Grid.Columns[j].Name {
			case "likelihood":
				x.Likelihood = n
			case "impact":
				x.Impact = n
			case "state":
				open = text != "closed"
				continue
			default:
				continue
			}
			open = open && (err == nil || text == "")
		}
		if open {
			out = append(out, x)
		}
	}
	return out
}

// AskAbout is where a question on the part is asked.
func (p *Page) AskAbout() string {
	if p.Sheet == nil {
		return p.State.AskPage(p.Code, "")
	}
	if p.Sheet.Kind == portfolio.StepPart { // which are progress
		return p.State.AskPage(p.Code, portfolio.ProgressPart.String())
	}
	return p.State.AskPage(p.Code, p.Sheet.Section.Name)
}

// note tells how a part stands.
func note(s *stating.Sheet) string {
	switch n := s.Grid.Changes(); {
	case s.Grid.Clashing() > 0:
		return "to choose"
	case n > 0:
		return fmt.Sprintf("%d typed", n)
	case s.Stated:
		return "stated"
	case s.Owed:
		return "owed"
	}
	return ""
}

// groups makes a table of each stretch of rows that is folded, and one of those before.
func groups(s *stating.Sheet) (out []Group) {
	for _, r := range s.Grid.Rows {
		if len(out) == 0 || r.Group != "" {
			out = append(out, Group{Title: r.Group, Folded: r.Folded})
		}
		g := &out[len(out)-1]
		g.Rows = append(g.Rows, r)
		for i := range r.Cells {
			if r.Cells[i].Typed != nil {
				g.Changes++
			}
		}
	}
	return out
}

func says(s *stating.Summary) Says {
	out := Says{Changes: s.Changes(), Wrong: s.Wrong, Clashes: s.Clashing(), Why: s.Why}
	if s.Effect == nil {
		out.Nothing = out.Changes > 0 && out.Wrong == 0 && out.Why == ""
		return out
	}
	out.Effect = shell.EffectOf(s.Effect, mostMoves)
	r := s.Effect.After
	write := func(id figure.ID) string { return tell.Figure(id, r.Value(id), r.Currency, false).Text }
	if r.Value(figure.EACStated).Known {
		out.Outlook = []string{
			fmt.Sprintf("Outlook %s, computed %s %s", write(figure.EACStated), write(figure.EACComputed), tell.Unit(figure.Money, r.Currency)),
			fmt.Sprintf("It needs a CPI of %s for what is left; so far it was %s", write(figure.TCPIEAC), write(figure.CPI)),
		}
	}
	settled, brought := s.Effect.Settles()
	out.Settles, out.Brings = len(settled), brought
	return out
}

// Long tells when the draft was begun.
func (p *Page) Long() string {
	if p.Sheet == nil || p.Sheet.Since.IsZero() {
		return ""
	}
	return p.Sheet.Since.Format("2 Jan 15:04")
}

// Grouped writes a number in groups of three, for reading.
func (p *Page) Grouped(text string) string { return tell.Amount(text, -1) }

// DueWord tells by when the part is due.
func (p *Page) DueWord() string {
	if p.Sheet == nil || p.Sheet.Due == 0 || p.Sheet.Stated {
		return ""
	}
	return "due " + p.Sheet.Due.Time().Format("2 Jan")
}

// Post keeps what is typed, settles what two stated, sends, and confirms.
func Post(site *shell.Site) fiber.Handler {
	again := Get(site)
	return func(c fiber.Ctx) error {
		ctx, a, s := c.Context(), shell.Actor(c), shell.StateOf(c)
		room, project, part := stating.In(site.Office), shell.Param(c, "project"), shell.Param(c, "part")
		m, err := site.Office.Moment(ctx, a, s.Ask())
		if err != nil {
			return err
		}
		to := s.To(c.Path())
		do, field, _ := strings.Cut(c.FormValue("do"), " ")
		if part != sending && do != "drop" {
			if err := room.Keep(ctx, a, m, project, part, shell.Fields(c)); err != nil {
				return shell.Settle(c, err, again, to)
			}
		}
		switch do {
		case "keep":
			if shell.Wants(c, "effect") {
				p, err := page(c, site)
				if err != nil {
					return err
				}
				return shell.RenderPart(c, Template, "effect", p)
			}
		case "own", "theirs":
			err = room.Choose(ctx, a, m, project, part, field, do == "own")
		case "drop":
			err = room.Drop(ctx, a, m, project, part)
			to = shell.WithDone(to, "What was typed here is dropped; what was stated before holds.")
		case "send":
			_, err = room.Send(ctx, a, m, project)
			to = shell.WithDone(to, fmt.Sprintf("Sent: %s is stated for %s. A later correction is a new statement.", project, m.Asked.Name))
		case "confirm":
			err = room.Confirm(ctx, a, m, project, strings.Fields(field)...)
			to = shell.WithDone(to, fmt.Sprintf("Confirmed: what was stated before holds for %s too.", m.Asked.Name))
		default:
			err = shell.Unclear()
		}
		return shell.Settle(c, err, again, to)
	}
}

// DeskTemplate is the desk.
var DeskTemplate = shell.Parse(files, "desk.html")

// DeskPage is what its template shows.
type DeskPage struct {
	shell.Frame
	Desk     *stating.Desk
	Sections []stating.Section
	Sentence []shell.Phrase
	Shut     string
	Threads  []asking.Thread // that wait for who reads
	Since    time.Time       // when they were here before
	Changed  []history.Touched
	Unsent   []typing.Form // that they typed into and did not send
}

// GetDesk answers /desk.
func GetDesk(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Desk", "")
		if err != nil {
			return err
		}
		p := &DeskPage{Frame: f, Sections: stating.Sections}
		p.Step = "desk"
		if p.Desk, err = stating.In(site.Office).Desk(c.Context(), p.Actor, f.Moment); err != nil {
			return err
		}
		if p.Threads, err = asking.In(site.Office).Threads(c.Context(), p.Actor, asking.Which{Mine: true}); err != nil {
			return err
		}
		if p.Unsent, err = typing.In(site.Office).Of(c.Context(), p.Actor); err != nil {
			return err
		}
		if p.Leads() && !f.Moment.Empty {
			if err := p.changed(c, site); err != nil {
				return err
			}
		}
		if !f.Moment.Empty {
			if err := stating.Open(p.Actor, f.Moment, ""); err != nil {
				p.Shut = p.closed(err)
			}
			p.Sentence = p.say()
		}
		return shell.Render(c, DeskTemplate, p)
	}
}

// changed tells what others changed on the projects since who reads was here before.
func (p *DeskPage) changed(c fiber.Ctx, site *shell.Site) (err error) {
	if p.Since, err = stating.In(site.Office).Visit(c.Context(), p.Actor); err != nil || p.Since.IsZero() {
		return err
	}
	var codes []string
	for _, x := range p.Desk.Projects {
		codes = append(codes, x.Code)
	}
	p.Changed, err = history.In(site.Office).Since(c.Context(), p.Actor, p.Moment, codes, p.Since)
	return err
}

// closed tells why nothing can be stated, and of which projects it can all the same.
func (p *DeskPage) closed(why error) string {
	var open []string
	for _, x := range p.Desk.Projects {
		if !x.Shut {
			open = append(open, x.Code)
		}
	}
	switch len(open) {
	case 0:
		return why.Error()
	case len(p.Desk.Projects):
		return p.Moment.Asked.Name + " is in checking, and what you state for is let in again."
	case 1:
		return why.Error() + " " + open[0] + " is let in again."
	default:
		return why.Error() + " Let in again are " + strings.Join(tell.Few(open), ", ") + "."
	}
}

// BatchAt is the address of what a batch changed of a project.
func (p *DeskPage) BatchAt(x history.Touched) string {
	return fmt.Sprintf("/history/%d?project=%s", x.ID, url.QueryEscape(x.Project))
}

// say tells what is owed.
func (p *DeskPage) say() []shell.Phrase {
	d, name := p.Desk, p.Moment.Asked.Name
	out := []shell.Phrase{}
	text := func(tone, format string, args ...any) {
		out = append(out, shell.Phrase{Text: fmt.Sprintf(format, args...), Tone: tone})
	}
	switch {
	case len(d.Projects) == 0:
		return nil
	case d.Missing == 0:
		text("", "You have stated all that is owed for %s", name)
	case d.Early:
		text("", "%s will be owed for %s", tell.Capital(tell.Plural(d.Missing, "statement", "statements")), name)
	default:
		tone := ""
		if d.Late > 0 {
			tone = "watch"
		}
		text("", "You owe ")
		text(tone, "%s", tell.Plural(d.Missing, "statement", "statements"))
		text("", " for %s", name)
		if d.Late > 0 {
			text("", ", %s of them late", tell.Number(d.Late))
		}
	}
	if d.Drafts > 0 {
		text("", "; %s typed and not sent", tell.Plural(d.Drafts, "part is", "parts are"))
	}
	text("", ".")
	return out
}

// Link is the address of a part of a project's statement.
func (p *DeskPage) Link(project, part string) string {
	return p.State.To("/state/" + url.PathEscape(project) + "/" + part)
}

// First is the part of a project's statement to begin with.
func (p *DeskPage) First(x stating.Owes) string {
	first := ""
	for i, y := range x.Parts {
		if y.Mine && (first == "" || y.State == stating.PartMissing) {
			first = p.Sections[i].Name
			if y.State == stating.PartMissing {
				break
			}
		}
	}
	return p.Link(x.Code, first)
}

// Was tells when a part was stated last.
func (p *DeskPage) Was(y stating.Part) string {
	if y.Last == 0 {
		return "never stated"
	}
	return "last for " + p.Moment.Info(y.Last).Name
}

// PostDesk confirms that nothing has changed.
func PostDesk(site *shell.Site) fiber.Handler {
	again := GetDesk(site)
	return func(c fiber.Ctx) error {
		ctx, a, s := c.Context(), shell.Actor(c), shell.StateOf(c)
		m, err := site.Office.Moment(ctx, a, s.Ask())
		if err != nil {
			return err
		}
		project, to := c.FormValue("project"), s.To("/desk")
		if c.FormValue("do") == "confirm" {
			err = stating.In(site.Office).Confirm(ctx, a, m, project)
			to = shell.WithDone(to, fmt.Sprintf("Confirmed: what %s stated before holds for %s too.", project, m.Asked.Name))
		} else {
			err = shell.Unclear()
		}
		return shell.Settle(c, err, again, to)
	}
}
