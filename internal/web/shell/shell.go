// Package shell is the frame of every page: its bar with the find box, the rail
// of periods, the tokens and the standing glyph, and how figures are written.
package shell

import (
	"bytes"
	"cmp"
	"context"
	"embed"
	"fmt"
	"html/template"
	"net/url"
	"regexp"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/asking"
	"turret/internal/office/board"
	"turret/internal/office/feedback"
	"turret/internal/office/letters"
	"turret/internal/post"
	"turret/internal/tell"
)

//go:embed shell.html fail.html *.css *.js
var files embed.FS

// Style is the frame's style sheet, with the tokens.
var Style = File(files, "tokens.css", "shell.css", "tables.css", "controls.css", "frame.css", "charts.css")

// Scripts are the frame's modules, by name.
var Scripts = map[string]string{
	"keys.js":  File(files, "keys.js"),
	"find.js":  File(files, "find.js"),
	"page.js":  File(files, "page.js"),
	"take.js":  File(files, "take.js"),
	"grid.js":  Module(files, "steps.js", "grid.js"),
	"typed.js": File(files, "typed.js"),
}

// File reads embedded files, one after the other.
func File(fsys embed.FS, names ...string) string {
	var text strings.Builder
	for _, name := range names {
		b, err := fsys.ReadFile(name)
		if err != nil {
			panic(err) // it is embedded
		}
		text.Write(b)
	}
	return text.String()
}

// imported are the imports of a module from others of its folder, and exported what it gives
// to them.
var (
	imported = regexp.MustCompile(`(?m)^import [^;]*from "\./[^"]*";\n`)
	exported = regexp.MustCompile(`(?m)^export `)
)

// Module joins modules of a folder to one, each after those that it imports: they are served
// under names that tell what is in them, so none could name another. By themselves they are
// modules for their tests.
func Module(fsys embed.FS, names ...string) string {
	return exported.ReplaceAllString(imported.ReplaceAllString(File(fsys, names...), ""), "")
}

// Site is what all screens share.
type Site struct {
	Office     *office.Office
	Style      string   // address of the style sheet
	Library    string   // address of htmx
	Components string   // address of Bootstrap's scripts
	Scripts    []string // addresses of the modules
	Origin     string   // how the server is reached from outside; "": as asked
	Jobs       Jobs
	Post       Post
	Door       Door
	Idle       time.Duration // after which a session that nobody uses ends; zero: never

	Navigation Navigation
}

// Door counts what is tried at it, such as passwords, by whom it is tried of and from where.
type Door interface {
	May(c fiber.Ctx, of string) bool  // whether it may be tried now; then it counts
	Right(c fiber.Ctx, of string)     // what was tried was right, and does not count
	Tell(c fiber.Ctx, of string) bool // whether it is to be noted that it may not, which is once in a while
	Address(c fiber.Ctx) string       // where a request comes from
}

// Post is how letters leave the server.
type Post struct {
	Server    string               // the mail server's name; "": there is none
	Caught    func() []post.Caught // the letters of a demonstration, which keeps them; nil elsewhere
	Addresses letters.Addresses
}

// Page is what every page has, whoever reads it.
type Page struct {
	Title   string
	Step    string // of the bar: weigh, setup, or ""
	Site    *Site
	Actor   office.Actor
	Token   string // for forms
	Path    string // of this page, without its query
	State   State
	Kept    url.Values // of a form that was refused; its fields show again
	Wrong   string     // why it was refused
	WrongAt string     // the field that is wrong, or ""
	Done    string     // what was just done
	Waits   []Typed    // what its forms had typed into them before
}

// Frame is what every page says that shows a moment.
type Frame struct {
	Page
	Moment  *office.Moment
	Rail    []board.RailPeriod
	Project *office.Reading // of a project's page, else nil
	told    bool            // what others changed is told
}

// Phrase is a stretch of a sentence with its address: a figure in it leads to
// its trail. The tone is that of a standing, or "".
type Phrase struct {
	Text, Link string
	Tone       string
}

// Keys of the values that a request carries.
type localKey int

const (
	actorKey localKey = iota
	wrongKey
	sessionKey
	keepKey
	shownKey
	wrongAtKey
	workKey
	typedKey
	formKey
)

// SetActor notes who asks.
func SetActor(c fiber.Ctx, a office.Actor) { fiber.Locals(c, actorKey, a) }

// Actor is who asks; nobody where no one is signed in.
func Actor(c fiber.Ctx) office.Actor { return fiber.Locals[office.Actor](c, actorKey) }

// SetSession notes the session that a request belongs to.
func SetSession(c fiber.Ctx, id string) { fiber.Locals(c, sessionKey, id) }

// Session is the session that a request belongs to.
func Session(c fiber.Ctx) string { return fiber.Locals[string](c, sessionKey) }

// SetKey notes the key of the forms of who asks.
func SetKey(c fiber.Ctx, key string) { fiber.Locals(c, formKey, key) }

// Key is the key that forms of who asks carry; "" before there is one.
func Key(c fiber.Ctx) string { return fiber.Locals[string](c, formKey) }

// SetStale notes that a form came too late, or from elsewhere: it is shown
// again and not done.
func SetStale(c fiber.Ctx) {
	Refuse(c, "This form was open too long, so nothing was done. It is as you left it: send it again.")
}

// Refuse shows a form again, with what is wrong; passwords are not kept.
func Refuse(c fiber.Ctx, why string) {
	fiber.Locals(c, wrongKey, why)
	c.Status(fiber.StatusUnprocessableEntity)
}

// Keep shows what a form said again, though nothing is wrong with it.
func Keep(c fiber.Ctx) { fiber.Locals(c, keepKey, true) }

// Again tells that a form is shown again with what it said.
func Again(c fiber.Ctx) bool {
	return fiber.Locals[string](c, wrongKey) != "" || fiber.Locals[bool](c, keepKey)
}

// NewPage begins a page.
func NewPage(c fiber.Ctx, site *Site, title string) Page {
	p := Page{
		Title:   title,
		Site:    site,
		Actor:   Actor(c),
		Token:   Key(c),
		Path:    c.Path(),
		State:   StateOf(c),
		Wrong:   fiber.Locals[string](c, wrongKey),
		WrongAt: fiber.Locals[string](c, wrongAtKey),
	}
	if c.Method() == fiber.MethodGet {
		p.Done = c.Query("done")
		p.Waits = fiber.Locals[[]Typed](c, typedKey)
	}
	if Again(c) {
		p.Kept = make(url.Values)
		for k, v := range c.Request().PostArgs().All() {
			if key := string(k); !strings.Contains(key, "password") && key != "_csrf" {
				p.Kept.Add(key, string(v))
			}
		}
	}
	return p
}

// Field gives what a refused form said, or else a value.
func (p Page) Field(name, other string) string {
	if p.Kept.Has(name) {
		return p.Kept.Get(name)
	}
	return other
}

// Turn is the address of this page with one part of its state changed.
func (p Page) Turn(name, value string) string {
	return p.Path + p.State.With("trail", "").With(name, value).query()
}

// With is the address of this page in another state, without a trail.
func (p Page) With(s State) string { return p.Path + s.With("trail", "").query() }

// Toggle is the address of this page with a name added to a part of its state
// that is a list, or taken away.
func (p Page) Toggle(part, name string) string {
	return p.Path + p.State.With("trail", "").Toggle(part, name).query()
}

// Figure is the address of this page with the trail of a figure beside it.
func (p Page) Figure(scope, figure string) string {
	return p.Path + p.State.With("trail", scope+"/"+figure).query()
}

// Home is where an actor begins: leads at their desk, others on the board, or on the page that the
// office has set for their role.
func Home(ctx context.Context, site *Site, a office.Actor) (string, error) {
	if a.Role == office.Lead {
		return "/desk", nil
	}
	if page, err := feedback.In(site.Office).FirstPage(ctx, a.Role); err != nil || page != "" {
		return "/page", err
	}
	return "/board", nil
}

// Limited tells whether the actor reads less than everything.
func (p Page) Limited() bool { return p.Actor.Sight != nil }

// Administers tells whether the actor gives the rights of some projects.
func (p Page) Administers() bool { return len(p.Actor.Administers) > 0 }

// Leads tells whether the actor has a desk.
func (p Page) Leads() bool { return p.Actor.Role == office.Lead }

// Initials of who is signed in.
func (p Page) Initials() string {
	out := ""
	for _, w := range strings.Fields(p.Actor.Name) {
		if len(out) < 2 {
			out += strings.ToUpper(string([]rune(w)[0]))
		}
	}
	return out
}

// Admits tells whether the actor administers accounts.
func (p Page) Admits() bool { return office.MayAdmit(p.Actor) }

// Gathers tells whether the actor may gather files.
func (p Page) Gathers() bool { return office.MayGather(p.Actor) }

// Briefs tells whether the actor may make briefs.
func (p Page) Briefs() bool { return office.MayBrief(p.Actor) }

// On tells whether the page lies at a path or below it.
func (p Page) On(path string) bool { return strings.HasPrefix(p.Path, path) }

// Answers tells whether the actor may answer findings and set standings.
func (p Page) Answers() bool { return office.MayAnswer(p.Actor) }

// MayAsk tells whether the actor may ask and answer questions.
func (p Page) MayAsk() bool { return office.MayAsk(p.Actor) }

// Founds tells whether the actor may set up the office, its programmes and projects.
func (p Page) Founds() bool { return office.MayFound(p.Actor) }

// Rules tells whether the actor may change rules and checks.
func (p Page) Rules() bool { return office.MayRule(p.Actor) }

// Maps tells whether the actor may say how files are read.
func (p Page) Maps() bool { return office.MayMap(p.Actor) }

// Gathered is the live count of the step Gather; a page without a moment knows
// none.
func (p Page) Gathered() string { return "" }

// Checked is the live count of the step Check; a page without a moment knows
// none.
func (p Page) Checked() string { return "" }

// ToWrite is the live count of the step Explain; a page without a moment knows none.
func (p Page) ToWrite() string { return "" }

// Asked counts the questions that wait for the actor; a page without a moment knows none.
func (p Page) Asked() string { return "" }

// FeedbackAt is where the office is told something about the page.
func (p Page) FeedbackAt() string { return Adding("/feedback", "about", p.With(p.State)) }

// Shares tells whether the actor may share views.
func (p Page) Shares() bool { return office.MayShare(p.Actor) }

// Param reads a part of the path; a code may hold a slash, escaped.
func Param(c fiber.Ctx, name string) string {
	s := c.Params(name)
	if plain, err := url.PathUnescape(s); err == nil {
		return plain
	}
	return s
}

// NewFrame reads the moment that a request asks for. The rail shows the
// standings of the scope, or of the project given.
func NewFrame(c fiber.Ctx, site *Site, title, project string) (Frame, error) {
	f := Frame{Page: NewPage(c, site, title), told: fiber.Locals[bool](c, shownKey)}
	f.Step = "weigh"
	var err error
	if f.Moment, err = site.Office.Moment(c.Context(), f.Actor, f.State.Ask()); err != nil {
		return f, err
	}
	if f.Rail, err = board.In(site.Office).Rail(c.Context(), f.Actor, f.Moment, cmp.Or(project, f.Moment.Scope.Code, "*")); err != nil {
		return f, err
	}
	if project != "" {
		f.Project, _ = f.Moment.Find(project)
	}
	return f, nil
}

// Mark is the revision that a form of this page is shown at. One that is shown
// again keeps its own, until what others changed meanwhile has been told.
func (f Frame) Mark() string {
	if f.Kept.Has("mark") && !f.told {
		return f.Kept.Get("mark")
	}
	return strconv.FormatInt(f.Moment.Revision(), 10)
}

// Gathered counts the projects that have stated all they owe.
func (f Frame) Gathered() string {
	stated, owes := f.Moment.Owing()
	if owes == 0 || f.Moment.Waits() {
		return ""
	}
	return fmt.Sprintf("%d/%d", stated, owes)
}

// Checked counts the errors and warnings that nobody has explained.
func (f Frame) Checked() string {
	if n := f.Moment.Waiting(); n > 0 && !f.Moment.Waits() {
		return strconv.Itoa(n)
	}
	return ""
}

// ToWrite counts the projects whose words are wanted and not written.
func (f Frame) ToWrite() string {
	if n := f.Moment.ToWrite(); n > 0 {
		return strconv.Itoa(n)
	}
	return ""
}

// News are what the office tells everyone today.
func (f Frame) News() []string {
	return feedback.News(f.Moment, calendar.DateIn(f.Site.Office.Clock()))
}

// Asked counts the questions that wait for the actor.
func (f Frame) Asked() string {
	if n := asking.In(f.Site.Office).Waiting(f.Actor, f.Moment); n > 0 {
		return strconv.Itoa(n)
	}
	return ""
}

// Original tells that figures are against the first baseline.
func (f Frame) Original() bool { return f.Moment.Against == portfolio.Original }

// Stack draws a period of the rail.
func (f Frame) Stack(p board.RailPeriod) template.HTML {
	return chart.Stack(p.Counts, p.Rated).SVG()
}

// RailTitle says a period of the rail in words.
func (f Frame) RailTitle(p board.RailPeriod) string {
	out := p.Name + ", " + string(p.State)
	if p.Rated {
		out += ": " + tell.CountsInWords(p.Counts)
	}
	if p.Compared {
		out += "; compared with"
	}
	return out
}

// StateWord is the state of the shown period, as a word of its own.
func (f Frame) StateWord() string { return tell.Capital(string(f.Moment.Asked.State)) }

// DueLine tells by when statements are due for the shown period; "" where no
// days are set, or it is closed.
func (f Frame) DueLine() string {
	if f.Moment.Asked.Closed {
		return ""
	}
	var out []string
	for _, d := range f.Moment.Due() {
		out = append(out, fmt.Sprintf("%s %s", strings.ToLower(d.Title), d.Day.Time().Format("2 Jan")))
	}
	if len(out) == 0 {
		return ""
	}
	return "Due: " + strings.Join(out, ", ") + "."
}

// YearName is what the rail calls a fiscal year.
func (f Frame) YearName(year int) string { return fmt.Sprintf("FY%02d", year%100) }

// YearBefore is the same period a year before; nil where nothing is stated
// for it.
func (f Frame) YearBefore() *office.PeriodInfo { return f.Moment.YearBefore() }

// ScopeName is what the page is about.
func (f Frame) ScopeName() string {
	switch {
	case f.Project != nil:
		return f.Project.Code + " " + f.Project.Name
	case f.Moment.Scope.Code != "":
		return f.Moment.Scope.Name
	}
	return f.Moment.Name
}

// ScopeKind says what that is.
func (f Frame) ScopeKind() string {
	switch {
	case f.Project != nil:
		return "Project"
	case f.Moment.Scope.Code != "":
		return "Programme"
	}
	return f.Moment.Everything()
}

// ScopeLink is the address of the board of a scope.
func (f Frame) ScopeLink(code string) string { return f.State.Moment().With("scope", code).Board() }

// Templates are a screen's, parsed when they are first asked for: the command
// line does without.
type Templates func() *template.Template

// Parse reads a screen's templates together with the frame's.
func Parse(fsys embed.FS, names ...string) Templates {
	return sync.OnceValue(func() *template.Template {
		return template.Must(
			template.Must(template.New("shell.html").Funcs(functions).ParseFS(files, "shell.html")).
				ParseFS(fsys, names...),
		)
	})
}

// functions are what templates can call beside the methods of their pages.
var functions = template.FuncMap{"add": func(a, b int) int { return a + b }}

// And adds templates to those of a screen.
func (t Templates) And(fsys embed.FS, names ...string) Templates {
	return sync.OnceValue(func() *template.Template {
		return template.Must(template.Must(t().Clone()).ParseFS(fsys, names...))
	})
}

// Render writes a whole page, or nothing but the error.
func Render(c fiber.Ctx, t Templates, page any) error {
	return RenderPart(c, t, "page", page)
}

// RenderPart writes one named template.
func RenderPart(c fiber.Ctx, t Templates, part string, page any) error {
	var b bytes.Buffer
	if err := t().ExecuteTemplate(&b, part, page); err != nil {
		return err
	}
	c.Type("html", "utf-8")
	return c.Send(b.Bytes())
}

// Wants tells whether the browser asks for one part of the page only.
func Wants(c fiber.Ctx, part string) bool {
	return c.Get("HX-Target") == part && c.Get("HX-History-Restore-Request") == ""
}
