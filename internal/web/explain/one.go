package explain

import (
	"cmp"
	"fmt"
	"html/template"
	"net/url"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/claim"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
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
	Code    string // of a project or programme, or *
	Name    string
	Group   bool
	Found   *explain.One
	Missing bool
	Is, Was template.HTML
	Stands  string
	Moved   []string
	Figures []Figured
	Causes  [][2]string
	Slipped []string
	Said    []*Said
	Pen     []Section
	Doubts  []Doubt     // of all sections
	Alive   [][2]string // sections with living figures, as they read now
	Shut    string
	Before  string // addresses of the text before and after in the list; "" at its ends
	After   string
	Then    string // of what is written once this is sent: the next that waits, or the list
	Place   string // which of how many
	First   bool   // the pen holds a first text that nobody has touched
	Movers  []Mover
	Asked   []Asked
	Digest  string // of the words as they are; "" where nothing is said
	Stated  string // who stated them, or since when they are typed
	Typed   bool   // there is a draft
}

// Mover is a project of a group whose standings moved.
type Mover struct{ Name, Link, Text string }

// Asked is an open question about the words.
type Asked struct{ By, Text, Link, Waits string }

// Figured is a figure, now and then.
type Figured struct{ Title, Was, Is, Link string }

// Section is one that is written, with what it showed.
type Section struct {
	Name, Title      string
	Field            string // its name in the form
	Is, Shown, Value string // what is said; what was when it was begun; what the field shows
	Changed, Clashes bool
	Standing         *stating.Cell // of a project's summary
	Note             string        // what belongs there
	Long             string        // that it is longer than wanted, or ""
	Missing          bool          // it must be said, and is not
}

// Doubt is a place of a text that says otherwise than the figures.
type Doubt struct{ Section, Said, Is, Link string }

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
	p.Name = p.Found.Now.Name
	p.walk(list)
	p.tell()
	p.write()
	if err := stating.Open(p.Actor, f.Moment, code); err != nil {
		p.Shut = err.Error()
	}
	return p, nil
}

// GetGroup answers /words/{group}: the words on a programme, or with * on the whole.
func GetGroup(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		p, err := group(c, site)
		if err != nil {
			return err
		}
		return shell.Render(c, OneTemplate, p)
	}
}

// groupAsk is the moment of a group's page: of that group, whatever the list is of.
func groupAsk(c fiber.Ctx, s shell.State) office.Ask {
	ask := s.Ask()
	if ask.Scope = shell.Param(c, "group"); ask.Scope == portfolio.Everywhere {
		ask.Scope = ""
	}
	return ask
}

func group(c fiber.Ctx, site *shell.Site) (*One, error) {
	f, err := shell.NewFrame(c, site, "Explain", "")
	if err != nil {
		return nil, err
	}
	p := &One{Frame: f, Group: true, Code: shell.Param(c, "group")}
	p.Step = "explain"
	room := explain.In(site.Office)
	m, err := site.Office.Moment(c.Context(), p.Actor, groupAsk(c, p.State))
	if err != nil {
		return nil, err
	}
	if p.Code == portfolio.Everywhere || m.Scope.Code == p.Code {
		if p.Found, err = room.Group(c.Context(), p.Actor, m); err != nil {
			return nil, err
		}
	}
	if p.Found == nil {
		p.Missing = true
		if !m.Empty {
			c.Status(fiber.StatusNotFound)
		}
		return p, nil
	}
	p.Code, p.Name = p.Found.Now.Code, p.Found.Now.Name
	if p.Code == portfolio.Everywhere {
		p.Name = f.Moment.Everything()
	}
	list, err := room.Texts(c.Context(), p.Actor, f.Moment)
	if err != nil {
		return nil, err
	}
	p.walk(list)
	p.tell()
	p.write()
	if f.Moment.Asked.Closed {
		p.Shut = f.Moment.Asked.Name + " is closed: its words stay as they are."
	}
	return p, nil
}

// walk finds the neighbours in the list.
func (p *One) walk(list *explain.Texts) {
	p.Then = p.All()
	if x := list.After(p.Code, p.Group); x != nil {
		p.Then = oneOf(p.State, x)
	}
	for i := range list.List {
		if list.List[i].Code != p.Code || list.List[i].Group != p.Group {
			continue
		}
		p.Place = fmt.Sprintf("%d of %d, %s", i+1, len(list.List), list.List[i].State)
		if i > 0 {
			p.Before = oneOf(p.State, &list.List[i-1])
		}
		if i+1 < len(list.List) {
			p.After = oneOf(p.State, &list.List[i+1])
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
		y := Figured{Title: figure.Get(f.ID).Title, Is: figureOf(f.ID, f.Is, x.Now.Currency), Link: p.trail(f.ID)}
		if f.Was.Known && !f.Was.Equal(f.Is) {
			y.Was = figureOf(f.ID, f.Was, x.Now.Currency)
		}
		p.Figures = append(p.Figures, y)
	}
	for _, c := range x.Causes {
		p.Causes = append(p.Causes, [2]string{c.Title, signed(c.Amount, x.Now.Currency)})
	}
	for _, s := range x.Slipped {
		p.Slipped = append(p.Slipped, fmt.Sprintf("%s: %s → %s", s.Name, tell.Date(s.Was), tell.Date(s.Is)))
	}
	for i := range x.Movers {
		m := &x.Movers[i]
		p.Movers = append(p.Movers, Mover{m.Now.Name, p.State.Scoped("/explain/" + url.PathEscape(m.Now.Code)), strings.Join(m.Lines(), "; ")})
	}
	for _, q := range x.Questions {
		p.Asked = append(p.Asked, Asked{q.Said[0].By, q.Said[len(q.Said)-1].Text, p.State.Question(q.Project, q.Question), q.WaitsFor})
	}
	p.Digest = claim.Digest(x.Words.Text)
	for _, s := range x.Story {
		if len(s.Words) == 0 {
			continue
		}
		said := &Said{Title: s.Title, Period: s.Words[0].Period}
		if len(s.Words) > 1 {
			before := s.Words[1]
			for _, w := range s.Words[1:] {
				if w.Period == p.Moment.Vs.Name { // what is compared with is told beside it
					before = w
				}
			}
			said.Before, said.Marks = before.Period, tell.Marks(before.Text, s.Words[0].Text)
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

// Same tells that the words are those of before.
func (s *Said) Same() bool {
	return !slices.ContainsFunc(s.Marks, func(x tell.Stretch) bool { return x.New || x.Gone })
}

func signed(n int64, c money.Currency) string {
	return moved(figure.Whole(figure.Money, n), c).Text + " " + tell.Unit(figure.Money, c)
}

// trail is the address of a figure's trail.
func (p *One) trail(id figure.ID) string { return p.State.Trail(p.Code, figure.Get(id).Name) }

// write lays out the pen, and holds what is in it against the figures.
func (p *One) write() {
	p.Pen = p.pen()
	for i := range p.Pen {
		x := &p.Pen[i]
		for _, s := range p.Found.Sections {
			if s.Code != x.Name {
				continue
			}
			x.Note = s.Note
			if n := len(strings.Fields(x.Value)); s.Most > 0 && n > s.Most {
				x.Long = fmt.Sprintf("%d words, wanted are %d at most", n, s.Most)
			}
		}
		x.Missing = x.Value == "" && slices.ContainsFunc(p.Found.Words.Missing, func(s portfolio.Section) bool { return s.Code == x.Name })
		text := p.Found.Alive(x.Value)
		if claim.Lives(x.Value) {
			p.Alive = append(p.Alive, [2]string{x.Title, text})
		}
		for _, name := range claim.Unknown(text) {
			p.Doubts = append(p.Doubts, Doubt{Section: x.Title, Said: "{" + name + "}", Is: "no figure is called so; it stays as it stands"})
		}
		for _, d := range p.Found.Doubts(text) {
			p.Doubts = append(p.Doubts, p.doubt(x.Title, text[d.From:d.To], d))
		}
		p.First = p.First || x.Name == "summary" && x.Changed && x.Value == p.Found.First()
	}
}

// pen are the sections as who writes them sees them; none to who does not.
func (p *One) pen() (out []Section) {
	if d := p.Found.Draft; d != nil {
		p.Typed = !d.Since.IsZero()
		if p.Typed {
			p.Stated = "Typed since " + d.Since.Format("2 Jan 15:04") + ", and not sent yet."
		}
		for _, s := range p.Found.Sections {
			out = append(out, Section{
				Name: s.Code, Title: s.Title, Field: s.Code, Is: d.Said[s.Code], Shown: d.Shown(s.Code), Value: d.Value(s.Code),
				Changed: d.Changed(s.Code), Clashes: d.Clashes(s.Code),
			})
		}
		return out
	}
	s := p.Found.Pen
	if s == nil {
		return nil
	}
	switch p.Typed = !s.Since.IsZero(); {
	case p.Typed:
		p.Stated = "Typed since " + s.Since.Format("2 Jan 15:04") + ", and not sent yet."
	case s.Stated && s.By != "":
		p.Stated = "Stated by " + s.By
		if lead := p.Found.Now.Lead; lead != "" && lead != s.By {
			p.Stated += ", whose words stand for " + lead
		}
		p.Stated += "."
	case s.Stated:
		p.Stated = "Stated."
	}
	for i := range s.Grid.Rows {
		r := &s.Grid.Rows[i]
		c := &r.Cells[0]
		x := Section{Name: r.Key, Title: r.Title, Field: c.Name, Is: c.Is, Shown: c.Shown(), Value: c.Value(), Changed: c.Changed(), Clashes: c.Clashes()}
		if len(r.Cells) > 1 {
			x.Standing = &r.Cells[1]
		}
		out = append(out, x)
	}
	return out
}

// doubt says of a place what the figures say.
func (p *One) doubt(section, said string, d claim.Doubt) Doubt {
	out := Doubt{Section: section, Said: said}
	says := func() string {
		return figure.Get(d.ID).Title + " " + figureOf(d.ID, d.Is, cmp.Or(d.In, p.Found.Now.Currency))
	}
	switch d.Kind {
	case claim.Amount:
		out.Is = "no figure of the project is this amount"
		return out
	case claim.Standing:
		out.Is = "it stands at " + d.Stands.String()
		if d.Of != standing.Overall {
			out.Is = d.Of.String() + " stands at " + d.Stands.String()
		}
		return out
	case claim.Met:
		out.Is = d.Name + " is on " + tell.Date(calendar.Date(d.Is.N))
		return out
	case claim.Finish:
		out.Is = "no finish or milestone is on that day; " + strings.ToLower(says()[:1]) + says()[1:]
	default:
		out.Is = says()
	}
	out.Link = p.trail(d.ID)
	return out
}

// Living are the names that a text can have in braces, with what they are now.
func (p *One) Living() (out [][2]string) {
	add := func(name, title string) {
		out = append(out, [2]string{"{" + name + "}", title + ": " + p.Found.Alive("{"+name+"}")})
	}
	add("standing", "Standing")
	for _, d := range standing.Dimensions {
		if d != standing.Overall && d != standing.Data {
			add("standing_"+d.String(), "Standing of "+d.String())
		}
	}
	add("next", "Next milestone")
	for _, m := range p.Found.Milestones {
		add("milestone "+m.Code, "Milestone "+m.Name)
	}
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

// MayAgree tells whether the reader agrees to words, and there are some.
func (p *One) MayAgree() bool {
	return office.MayExplain(p.Actor) && p.Digest != "" && !p.Moment.Asked.Closed
}

// Agreed tells who agreed to the words as they are, and when; "" where nobody did.
func (p *One) Agreed() string {
	w := p.Found.Words
	if w.Agreed == "" {
		return ""
	}
	if w.On == 0 {
		return "Agreed by " + w.Agreed
	}
	return "Agreed by " + w.Agreed + " on " + tell.Date(w.On)
}

// All is the list.
func (p *One) All() string { return p.State.Scoped("/explain") }
