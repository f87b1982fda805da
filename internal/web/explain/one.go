package explain

import (
	"fmt"
	"html/template"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/claim"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/explain"
	"turret/internal/office/stating"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// One is the page of a project's words: what the figures say, what was said last, and the pen.
type One struct {
	shell.Frame
	Code    string
	Found   *explain.One
	Missing bool
	Is, Was template.HTML
	Stands  string
	Moved   []string
	Figures []Figured
	Causes  [][2]string
	Slipped []string
	Said    []Said
	Pen     []Section
	Doubts  []Doubt     // of all sections
	Alive   [][2]string // sections with living figures, as they read now
	Shut    string
	Before  string // addresses of the text before and after in the list; "" at its ends
	After   string
	Place   string // which of how many
	First   bool   // the pen holds a first text that nobody has touched
}

// Figured is a figure, now and then.
type Figured struct{ Title, Was, Is, Link string }

// Section is one that is written, with what it showed.
type Section struct {
	Name, Title string
	*stating.Cell
	Standing *stating.Cell // of the summary
	Note     string        // what belongs there
	Long     string        // that it is longer than wanted, or ""
}

// Doubt is a place of a text that says otherwise than the figures.
type Doubt struct{ Section, Said, Is, Link string }

// titles of sections, as stories name them.
var titles = map[string]string{"summary": "Summary", "done": "Done since", "next": "What comes next", "help": "Help needed"}

// Called is what a section is called.
func (*One) Called(name string) string { return titles[name] }

// GetOne answers /explain/{project}.
func GetOne(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		p, err := one(c, site)
		if err != nil {
			return err
		}
		return shell.Render(c, OneTemplate, p)
	}
}

func one(c fiber.Ctx, site *shell.Site) (*One, error) {
	code := shell.Param(c, "project")
	f, err := shell.NewFrame(c, site, "Explain "+code, "")
	if err != nil {
		return nil, err
	}
	p := &One{Frame: f, Code: code}
	p.Step = "explain"
	room := explain.In(site.Office)
	if p.Found, err = room.One(c.Context(), p.Actor, f.Moment, code); err != nil {
		return nil, err
	}
	if p.Found == nil {
		p.Missing = true
		c.Status(fiber.StatusNotFound)
		return p, nil
	}
	list, err := room.Texts(c.Context(), p.Actor, f.Moment)
	if err != nil {
		return nil, err
	}
	p.walk(list)
	p.tell()
	p.write()
	if err := stating.Open(p.Actor, f.Moment, code); err != nil {
		p.Shut = err.Error()
	}
	return p, nil
}

// walk finds the neighbours in the list.
func (p *One) walk(list *explain.Texts) {
	for i := range list.List {
		if list.List[i].Code != p.Code {
			continue
		}
		p.Place = fmt.Sprintf("%d of %d, %s", i+1, len(list.List), list.List[i].State)
		if i > 0 {
			p.Before = oneOf(p.State, list.List[i-1].Code)
		}
		if i+1 < len(list.List) {
			p.After = oneOf(p.State, list.List[i+1].Code)
		}
	}
}

// tell puts what the figures say into words.
func (p *One) tell() {
	x := p.Found
	overall := x.Now.Standing[standing.Overall]
	p.Is, p.Stands = chart.Glyph{Standing: overall, Overall: true, What: "Overall", Why: x.Now.Why}.SVG(), overall.String()
	if x.Moved != nil {
		p.Moved = x.Moved.Lines()
	}
	for _, f := range x.Facts {
		y := Figured{Title: figure.Get(f.ID).Title, Is: figureOf(f.ID, f.Is, x), Link: p.State.Trail(p.Code, figure.Get(f.ID).Name)}
		if f.Was.Known && !f.Was.Equal(f.Is) {
			y.Was = figureOf(f.ID, f.Was, x)
		}
		p.Figures = append(p.Figures, y)
	}
	for _, c := range x.Causes {
		p.Causes = append(p.Causes, [2]string{c.Title, signed(c.Amount, x.Now.Currency)})
	}
	for _, s := range x.Slipped {
		p.Slipped = append(p.Slipped, fmt.Sprintf("%s: %s → %s", s.Name, tell.Date(s.Was), tell.Date(s.Is)))
	}
	for _, s := range x.Story {
		if len(s.Words) == 0 {
			continue
		}
		said := Said{Title: p.Called(s.Name), Period: s.Words[0].Period}
		if len(s.Words) > 1 {
			said.Before = s.Words[1].Period
			said.Marks = tell.Marks(s.Words[1].Text, s.Words[0].Text)
		} else {
			said.Marks = tell.Marks("", s.Words[0].Text)
		}
		p.Said = append(p.Said, said)
	}
}

// Said is what was said last of a section, beside what was said before.
type Said struct {
	Title, Period, Before string
	Marks                 []tell.Stretch
}

func signed(n int64, c money.Currency) string {
	return moved(figure.Whole(figure.Money, n), c).Text + " " + tell.Unit(figure.Money, c)
}

// write lays out the pen, and holds what is in it against the figures.
func (p *One) write() {
	s := p.Found.Pen
	if s == nil {
		return
	}
	for i := range s.Grid.Rows {
		r := &s.Grid.Rows[i]
		x := Section{Name: r.Key, Title: r.Title, Cell: &r.Cells[0]}
		if len(r.Cells) > 1 {
			x.Standing = &r.Cells[1]
		}
		for _, w := range p.Found.Wanted {
			if w.Section != r.Key {
				continue
			}
			x.Note = w.Note
			if n := len(strings.Fields(x.Value())); w.Words > 0 && n > w.Words {
				x.Long = fmt.Sprintf("%d words, wanted are %d at most", n, w.Words)
			}
		}
		p.Pen = append(p.Pen, x)
		text := p.Found.Alive(x.Value())
		if claim.Lives(x.Value()) {
			p.Alive = append(p.Alive, [2]string{r.Title, text})
		}
		for _, name := range claim.Unknown(text) {
			p.Doubts = append(p.Doubts, Doubt{Section: r.Title, Said: "{" + name + "}", Is: "no figure is called so; it stays as it stands"})
		}
		for _, d := range p.Found.Doubts(text) {
			p.Doubts = append(p.Doubts, p.doubt(r.Title, text[d.From:d.To], d))
		}
		p.First = p.First || r.Key == "summary" && x.Changed() && x.Value() == p.Found.First()
	}
}

// doubt says of a place what the figures say.
func (p *One) doubt(section, said string, d claim.Doubt) Doubt {
	out := Doubt{Section: section, Said: said}
	says := func() string { return figure.Get(d.ID).Title + " " + figureOf(d.ID, d.Is, p.Found) }
	switch d.Kind {
	case claim.Amount:
		out.Is = "no figure of the project is this amount"
		return out
	case claim.Standing:
		out.Is = "it stands at " + d.Stands.String()
		return out
	case claim.Finish:
		out.Is = "no finish or milestone is on that day; " + strings.ToLower(says()[:1]) + says()[1:]
	default:
		out.Is = says()
	}
	out.Link = p.State.Trail(p.Code, figure.Get(d.ID).Name)
	return out
}

// Living are the names that a text can have in braces, with what they are now.
func (p *One) Living() (out [][2]string) {
	add := func(name, title string) {
		out = append(out, [2]string{"{" + name + "}", title + ": " + p.Found.Alive("{"+name+"}")})
	}
	add("standing", "Standing")
	add("next", "Next milestone")
	for i := range figure.Len() {
		if id := figure.ID(i); p.Found.Now.Value(id).Known {
			add(figure.Get(id).Name, figure.Get(id).Title)
		}
	}
	return out
}

// Choices are the standings that a lead can state.
func (*One) Choices() []string { return []string{"steady", "watch", "act", "unrated"} }

// Ask is where its lead is asked about the words.
func (p *One) Ask() string { return p.State.AskPage(p.Code, "narratives") }

// All is the list.
func (p *One) All() string { return p.State.Scoped("/explain") }

// PostOne keeps what is typed, begins a text from the figures, and sends it.
func PostOne(site *shell.Site) fiber.Handler {
	again := GetOne(site)
	const section = "narratives"
	return func(c fiber.Ctx) error {
		ctx, a, s := c.Context(), shell.Actor(c), shell.StateOf(c)
		room, project := stating.In(site.Office), shell.Param(c, "project")
		m, err := site.Office.Moment(ctx, a, s.Ask())
		if err != nil {
			return err
		}
		to := s.Page(c.Path())
		do, field, _ := strings.Cut(c.FormValue("do"), " ")
		if do != "drop" {
			if err := room.Keep(ctx, a, m, project, section, shell.Fields(c)); err != nil {
				return shell.Settle(c, err, again, to)
			}
		}
		switch do {
		case "keep":
			if shell.Wants(c, "effect") {
				p, err := one(c, site)
				if err != nil {
					return err
				}
				return shell.RenderPart(c, OneTemplate, "effect", p)
			}
		case "drop":
			err = room.Drop(ctx, a, m, project, section)
			to = shell.WithDone(to, "What was typed here is dropped.")
		case "own", "theirs":
			err = room.Choose(ctx, a, m, project, section, field, do == "own")
		case "first":
			if err = begin(c, site); err == nil {
				to = shell.WithDone(to, "A first text stands in the summary. It is made from the figures, and yours to change.")
			}
		case "send":
			if p, wrong := one(c, site); wrong != nil {
				err = wrong
			} else if p.First {
				err = office.Refusef("The summary is still the first text, as the figures made it. Say it in words of your own first.")
			} else if _, err = room.Send(ctx, a, m, project, section); err == nil {
				if p.After != "" {
					to = p.After
				}
				to = shell.WithDone(to, "The words of "+project+" are stated.")
			}
		default:
			err = shell.Unclear()
		}
		return shell.Settle(c, err, again, to)
	}
}

// begin puts a first text into an empty summary.
func begin(c fiber.Ctx, site *shell.Site) error {
	p, err := one(c, site)
	if err != nil {
		return err
	}
	if p.Found == nil || len(p.Pen) == 0 {
		return shell.Unclear()
	}
	cell := p.Pen[0].Cell
	if cell.Value() != "" {
		return office.Refusef("The summary holds words already; a first text is for an empty one.")
	}
	return stating.In(site.Office).Keep(c.Context(), p.Actor, p.Moment, p.Code, "narratives", map[string]stating.Typed{
		cell.Name: {Was: cell.Shown(), Text: p.Found.First()},
	})
}
