package shell

import (
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office"
	"turret/internal/office/amounts"
	"turret/internal/office/board"
)

// names are the parts of an address's query, in the order in which they are
// written. Those of time and money come first; lists keep theirs on the way to
// a project and back.
var names = [...]string{
	"at", "vs", "against", "in", // the moment
	"scope", "standing", "disagree", "lead", "stage", "state", "q", // what is listed
	"group", "sort", "cols", "fold", "view", // how
	"show", "curve", "shut", "of", "pages", "paper", "leaf", "cause", "severity", "said", "age", // of one page
	"rows", "level", "per", "span", "amounts", "sum", "plan", "beside", "each", "ends", "rates", "currency", "unit", "flow", "class", "code", "centre", "activity", "open", "only", "row", "column", "version", // of the money table
	"over", "under", "least", "period_index", "whole_index", "running", "worse", "idle", "idle_spent", "idle_earned", "unmoved", "moved", "after", // limits of exceptions
	"by", "value", "ahead", "x", "y", "size", "shade", "box", // of drivers and of the map
	"from", "top", "month", "start", "finish", "way", "other", "tie", "lag", "drop", // of dates
	"figure",            // of a trend
	"blocks", "arrange", // of a page that someone arranges
	"trail",
}

const (
	moments = 4
	lists   = 16
)

// State is what the address says beside the page: it goes on to every link.
type State struct {
	v    [len(names)]string
	work bool // the page prepares a period, see Screen
}

// SetWork notes that a page prepares a period.
func SetWork(c fiber.Ctx) error {
	fiber.Locals(c, workKey, true)
	return c.Next()
}

// StateOf reads the state of a request.
func StateOf(c fiber.Ctx) State {
	s := ParseState(string(c.Request().URI().QueryString()))
	s.work = fiber.Locals[bool](c, workKey)
	return s
}

// ParseState reads a query; what it does not know is left out.
func ParseState(query string) (s State) {
	values, err := url.ParseQuery(query)
	if err != nil && len(values) == 0 {
		return s
	}
	for i, n := range names {
		s.v[i] = strings.TrimSpace(values.Get(n))
	}
	return s
}

func place(name string) int {
	i := slices.Index(names[:], name)
	if i < 0 {
		panic("no part of an address is called " + name) // a slip in a template
	}
	return i
}

// Get gives one part.
func (s State) Get(name string) string { return s.v[place(name)] }

// With changes one part.
func (s State) With(name, value string) State {
	s.v[place(name)] = value
	return s
}

// WithoutMoment leaves out the parts of time and money, the scope, and what belongs to no view.
func (s State) WithoutMoment() State {
	clear(s.v[:moments])
	return s.With("scope", "").With("view", "").With("trail", "").With("show", "")
}

// AtMoment takes the parts of time and money from another.
func (s State) AtMoment(of State) State {
	copy(s.v[:moments], of.v[:moments])
	return s
}

// Moment keeps the parts of time and money only.
func (s State) Moment() State {
	clear(s.v[moments:])
	return s
}

// List keeps what a list is made of, and drops what belongs to one page.
func (s State) List() State {
	clear(s.v[lists:])
	return s
}

// Arranged tells whether the address asks for a list other than the plain one.
func (s State) Arranged() bool {
	return slices.ContainsFunc(s.v[moments:], func(x string) bool { return x != "" })
}

// Query writes the state without a question mark.
func (s State) Query() string {
	var b strings.Builder
	for i, n := range names {
		if s.v[i] != "" {
			if b.Len() > 0 {
				b.WriteByte('&')
			}
			b.WriteString(n + "=" + url.QueryEscape(s.v[i]))
		}
	}
	return b.String()
}

func (s State) query() string {
	if q := s.Query(); q != "" {
		return "?" + q
	}
	return ""
}

// Filter is what the address asks of projects.
func (s State) Filter() office.Filter {
	return office.Filter{
		Standing: s.Get("standing"),
		Disagree: s.Get("disagree") != "",
		Lead:     s.Get("lead"),
		Stage:    s.Get("stage"),
		State:    s.Get("state"),
		Text:     s.Get("q"),
	}
}

// Filtered sets the filter.
func (s State) Filtered(f office.Filter) State {
	disagree := ""
	if f.Disagree {
		disagree = "1"
	}
	return s.With("standing", f.Standing).
		With("disagree", disagree).
		With("lead", f.Lead).
		With("stage", f.Stage).
		With("state", f.State).
		With("q", f.Text)
}

// Folded lists the groups that are folded.
func (s State) Folded() []string {
	return s.Names("fold")
}

// Names reads a part that is a list of names.
func (s State) Names(part string) []string {
	if f := s.Get(part); f != "" {
		return strings.Split(f, ",")
	}
	return nil
}

// Toggle adds a name to a part that is a list, or takes it away.
func (s State) Toggle(part, name string) State {
	list := s.Names(part)
	if i := slices.Index(list, name); i >= 0 {
		list = slices.Delete(list, i, i+1)
	} else {
		list = append(list, name)
	}
	return s.With(part, strings.Join(list, ","))
}

// Order is how the address arranges a list.
func (s State) Order() board.Order {
	return board.Order{Group: s.Get("group"), Sort: s.Get("sort"), Fold: s.Folded()}
}

// Ask is the state as the office takes it.
func (s State) Ask() office.Ask {
	return office.Ask{
		At:      s.Get("at"),
		Vs:      s.Get("vs"),
		Against: s.Get("against"),
		In:      s.Get("in"),
		Scope:   s.Get("scope"),
		Filter:  s.Filter(),
		Own:     s.work,
	}
}

// Board is the address of the board in this state.
func (s State) Board() string { return "/board" + s.List().query() }

// Finding is the address of a finding of a project.
func (s State) Finding(project, check, record string) string {
	to := s.Scoped("/check/" + url.PathEscape(project) + "/" + url.PathEscape(check))
	if record == "" {
		return to
	}
	return Adding(to, "record", record)
}

// Scoped is the address of a page that shows a moment of a scope.
func (s State) Scoped(path string) string {
	return path + s.Moment().With("scope", s.Get("scope")).query()
}

// GatherPage is the address of Gather in this state.
func (s State) GatherPage() string { return "/gather" + s.query() }

// SetStanding is the address where a standing of a project is set.
func (s State) SetStanding(project string) string {
	return "/standings" + s.Moment().With("of", project).query() + "#set"
}

// Page is the address of a page in this state.
func (s State) Page(path string) string { return path + s.With("trail", "").query() }

// MoneyPage is the address of the money table in this state.
func (s State) MoneyPage() string { return s.Page("/money") }

// BridgePage is the address of the bridge in this state.
func (s State) BridgePage() string { return "/money/bridge" + s.With("trail", "").query() }

// BaselinesPage is the address of the baselines of a project.
func (s State) BaselinesPage(project string) string {
	return "/baselines" + s.Moment().With("of", project).query()
}

// BaselinePage is the address of what a baseline of a project changes.
func (s State) BaselinePage(project string, number int) string {
	return "/baseline" + s.Moment().With("of", project).With("version", strconv.Itoa(number)).query()
}

// MoneyFile is the address of the money table as a file.
func (s State) MoneyFile(form string) string {
	return "/money." + form + s.With("trail", "").query()
}

// MoneyCell is the address of what is behind a cell of the money table.
func (s State) MoneyCell() string { return "/money/cell" + s.With("trail", "").query() }

// AmountsPage is where a project's money is typed, as an actor may; "" where they may not.
func (s State) AmountsPage(m *office.Moment, a office.Actor, project string) string {
	k := amounts.KindNamed("forecast")
	if m.Empty || !amounts.May(a, m, project, k) {
		return ""
	}
	return s.Moment().To("/amounts/" + url.PathEscape(project) + "/" + k.Name)
}

// CheckPage is the address of Check in this state, with what it lists.
func (s State) CheckPage() string { return "/check" + s.query() }

// AskPage is the address where a question on a project is asked; about is what it is about, ""
// for the whole.
func (s State) AskPage(project, about string) string {
	to := s.To("/ask/" + url.PathEscape(project))
	if about == "" {
		return to
	}
	return Adding(to, "about", about)
}

// Question is the address of a question on a project.
func (s State) Question(project, question string) string {
	return s.To("/question/" + url.PathEscape(project) + "/" + url.PathEscape(question))
}

// To is the address of a page that shows a moment and no list.
func (s State) To(path string) string { return path + s.Moment().query() }

// Project is the address of a project's sheet.
func (s State) Project(code string) string {
	return "/project/" + url.PathEscape(code) + s.List().query()
}

// TrendPage is the address of how a figure of a scope moved.
func (s State) TrendPage(scope, figure string) string {
	return "/trend" + s.Moment().With("of", scope).With("figure", figure).query()
}

// Trail is the address of a figure's trail, as a page of its own.
func (s State) Trail(scope, figure string) string {
	return "/trail/" + url.PathEscape(scope) + "/" + figure + s.List().query()
}
