// Package check is the second step of the month: what in the data cannot be,
// what is unlikely, and what is missing.
package check

import (
	"embed"
	"fmt"
	"html/template"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/core/money"
	"turret/internal/office"
	"turret/internal/office/check"
	"turret/internal/office/ledger"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

//go:embed check.html finding.html
var files embed.FS

// Templates of the screens.
var (
	Template        = shell.Parse(files, "check.html")
	FindingTemplate = shell.Parse(files, "finding.html")
)

// Page lists causes, or the findings of one cause.
type Page struct {
	shell.Frame
	Checking   *check.Checking
	Sentence   []shell.Phrase
	Trend      template.HTML
	TrendRows  []TrendRow
	Causes     []CauseRow
	Cause      *CauseRow // the one that is open
	Flat       bool      // all findings in one list
	Findings   []Row
	Severities []Chip
	Said       []Chip
	Ages       []Chip
	Filters    []Chip // others that are on
	Leads      []string
	Projects   []string
	Until      []office.PeriodInfo // ends that can be chosen
	Left       int                 // findings that are not listed
	LedgerOff  int                 // control totals that differ from what was taken
}

// Chip is a filter.
type Chip struct {
	Text, Link string
	On         bool
}

// TrendRow is a period of the trend, as a table has it.
type TrendRow struct {
	Name                                string
	Errors, Warnings, Notes, WasExcused string
}

// CauseRow is a cause, as written.
type CauseRow struct {
	check.Cause
	Link, Worth, Change string
	Names, People       string
	Worse               bool
}

// Row is a finding in a list.
type Row struct {
	office.Finding
	Link, Worth, SinceName, Key string
	ProjectLink                 string
}

// most findings that a list shows at once.
const most = 300

// filterOf reads what the address asks of findings.
func filterOf(s shell.State) check.FindingFilter {
	f := check.FindingFilter{
		Check:    s.Get("cause"),
		Lead:     s.Get("lead"),
		Severity: s.Get("severity"),
		State:    s.Get("said"),
		Age:      s.Get("age"),
		Project:  s.Get("of"),
	}
	return f
}

// Get answers /check.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Check", "")
		if err != nil {
			return err
		}
		f.Step = "check"
		p := &Page{Frame: f}
		if !f.Moment.Empty {
			if err := p.fill(c); err != nil {
				return err
			}
		}
		return shell.Render(c, Template, p)
	}
}

func (p *Page) fill(c fiber.Ctx) (err error) {
	if p.Checking, err = check.In(p.Site.Office).Checking(c.Context(), p.Actor, p.Moment, filterOf(p.State)); err != nil {
		return err
	}
	off, err := ledger.In(p.Site.Office).Off(c.Context(), p.Moment)
	if err != nil {
		return err
	}
	p.LedgerOff = len(off)
	p.Sentence = p.say()
	p.trend()
	for _, x := range p.Checking.Causes {
		p.Causes = append(p.Causes, p.cause(x))
	}
	p.chips()
	p.Flat = p.State.Get("show") == "all"
	if code := p.State.Get("cause"); code != "" {
		i := slices.IndexFunc(p.Causes, func(x CauseRow) bool { return x.Check == code })
		if i < 0 {
			p.Moment.Notes = append(p.Moment.Notes, "Nothing of that cause is found here; these are all causes.")
			p.State = p.State.With("cause", "")
			return p.fill(c)
		}
		p.Cause = &p.Causes[i]
	}
	if p.Cause != nil || p.Flat {
		list := p.Checking.Found
		if len(list) > most {
			p.Left, list = len(list)-most, list[:most]
		}
		for _, x := range list {
			p.Findings = append(p.Findings, p.row(x))
		}
		p.Until = p.Moment.Ends()
	}
	return nil
}

func (p *Page) row(x office.Finding) Row {
	return Row{
		Finding: x, Link: p.link(x), Worth: worth(x.Worth, p.Moment.Reporting), SinceName: p.Moment.PeriodName(x.Since),
		Key: keyText(
			office.FindingKey{Project: x.Project, Check: x.Check, Record: x.Record},
		), ProjectLink: p.State.Moment().Project(x.Project),
	}
}

// link is the address of a finding.
func (p *Page) link(x office.Finding) string { return p.State.Finding(x.Project, x.Check, x.Record) }

// worth writes money that is touched; none is "".
func worth(n int64, c money.Currency) string {
	if n == 0 {
		return ""
	}
	return tell.Millions(figure.Whole(figure.Money, n), c)
}

// keyText writes the key of a finding for a form, and parseKey reads it.
func keyText(k office.FindingKey) string {
	return url.Values{"p": {k.Project}, "c": {k.Check}, "r": {k.Record}}.Encode()
}

func parseKey(s string) (k office.FindingKey, ok bool) {
	v, err := url.ParseQuery(s)
	return office.FindingKey{Project: v.Get("p"), Check: v.Get("c"), Record: v.Get("r")}, err == nil && v.Get("p") != ""
}

func (p *Page) cause(x check.Cause) CauseRow {
	r := CauseRow{Cause: x, Link: p.Turn("cause", x.Check), Worth: worth(x.Worth, p.Moment.Reporting)}
	if x.Compared {
		switch by := x.Counts.Open() - x.Was; {
		case by > 0:
			r.Change, r.Worse = "+"+strconv.Itoa(by), true
		case by < 0:
			r.Change = "−" + strconv.Itoa(-by)
		default:
			r.Change = "="
		}
	}
	names := func(list []string, more int) string {
		if more > 0 {
			list = list[:len(list)-more]
		}
		out := strings.Join(list, ", ")
		if more > 0 {
			out += fmt.Sprintf(" and %d more", more)
		}
		return out
	}
	r.Names, r.People = names(x.Projects, x.CodesMore), names(x.Leads, x.LeadsMore)
	return r
}

func (p *Page) trend() {
	q := chart.Quality{Title: "Open findings by period"}
	for _, t := range p.Checking.Trend {
		c := chart.QualityColumn{
			Name:     t.Short,
			Known:    t.Known,
			Selected: t.Code == p.Moment.Period.Code,
			Link:     p.Turn("at", t.Code),
			Counts:   [3]int{t.Counts[0], t.Counts[1], t.Counts[2]},
		}
		row := TrendRow{Name: t.Name, Errors: tell.Dash, Warnings: tell.Dash, Notes: tell.Dash, WasExcused: tell.Dash}
		c.Title = t.Name + ": not counted"
		if t.Known {
			c.Title = t.Name + ": " + counted(t.Counts)
			row.Errors, row.Warnings, row.Notes, row.WasExcused = strconv.Itoa(
				t.Counts[0],
			), strconv.Itoa(
				t.Counts[1],
			), strconv.Itoa(
				t.Counts[2],
			), strconv.Itoa(
				t.Counts[3],
			)
		}
		q.Columns = append(q.Columns, c)
		p.TrendRows = append(p.TrendRows, row)
	}
	p.Trend = chart.Fit(1240, q.Draw)
}

// counted says counts in words: 2 errors and 11 warnings.
func counted(n check.Counts) string {
	var out []string
	for i, x := range [...][2]string{{"error", "errors"}, {"warning", "warnings"}, {"note", "notes"}} {
		if n[i] > 0 {
			out = append(out, tell.Plural(n[i], x[0], x[1]))
		}
	}
	switch len(out) {
	case 0:
		return "none"
	case 1:
		return out[0]
	}
	return strings.Join(out[:len(out)-1], ", ") + " and " + out[len(out)-1]
}

func (p *Page) chips() {
	all := p.Checking.All
	count := func(f func(*office.Finding) bool) (n int) {
		for i := range all {
			if f(&all[i]) {
				n++
			}
		}
		return n
	}
	add := func(list *[]Chip, part, value, text string, n int) {
		on := p.State.Get(part) == value
		if n == 0 && !on && value != "" {
			return
		}
		*list = append(*list, Chip{Text: fmt.Sprintf("%s %d", text, n), Link: p.Turn(part, value), On: on})
	}
	add(&p.Severities, "severity", "", "All", len(all))
	for _, s := range finding.Severities {
		add(
			&p.Severities,
			"severity",
			string(s),
			tell.Capital(string(s)+"s"),
			count(func(f *office.Finding) bool { return f.Severity == s }),
		)
	}
	add(&p.Said, "said", "", "Any answer", len(all))
	add(&p.Said, "said", "unexplained", "No answer", count(func(f *office.Finding) bool { return f.Unexplained() }))
	for _, s := range [...]finding.State{finding.Back, finding.SentBack, finding.Accepted} {
		add(
			&p.Said,
			"said",
			string(s),
			map[finding.State]string{finding.Back: "Came back", finding.SentBack: "Sent back", finding.Accepted: "Accepted"}[s],
			count(func(f *office.Finding) bool { return f.State == s }),
		)
	}
	add(&p.Ages, "age", "", "Any age", len(all))
	add(&p.Ages, "age", "new", "New", count(func(f *office.Finding) bool { return f.Age == 1 }))
	add(&p.Ages, "age", "old", "Older", count(func(f *office.Finding) bool { return f.Age > 1 }))
	for _, x := range [...][2]string{{"of", "project"}, {"lead", "lead"}} {
		if v := p.State.Get(x[0]); v != "" {
			p.Filters = append(p.Filters, Chip{Text: x[1] + " " + v, Link: p.Turn(x[0], ""), On: true})
		}
	}
	for i := range all {
		if l := all[i].Lead; l != "" && !slices.Contains(p.Leads, l) {
			p.Leads = append(p.Leads, l)
		}
		if !slices.Contains(p.Projects, all[i].Project) {
			p.Projects = append(p.Projects, all[i].Project)
		}
	}
	slices.Sort(p.Leads)
	slices.Sort(p.Projects)
}

// Back is the address of all causes.
func (p *Page) Back() string { return p.With(p.State.With("cause", "").With("show", "")) }

// All is the address of all findings in one list.
func (p *Page) All() string { return p.Turn("show", "all") }

// Empty tells that nothing is listed because of filters.
func (p *Page) Filtered() bool {
	return filterOf(p.State) != check.FindingFilter{Check: p.State.Get("cause")}
}

// Post answers chosen findings.
func Post(site *shell.Site) fiber.Handler {
	again := Get(site)
	return func(c fiber.Ctx) error {
		ctx, a, s := c.Context(), shell.Actor(c), shell.StateOf(c)
		m, err := site.Office.Moment(ctx, a, s.Ask())
		if err != nil {
			return err
		}
		var keys []office.FindingKey
		if c.FormValue("all") != "" {
			all, err := check.In(site.Office).Checking(ctx, a, m, filterOf(s))
			if err != nil {
				return err
			}
			for _, f := range all.Found {
				keys = append(keys, office.FindingKey{Project: f.Project, Check: f.Check, Record: f.Record})
			}
		} else {
			for _, v := range c.Request().PostArgs().PeekMulti("finding") {
				if k, ok := parseKey(string(v)); ok {
					keys = append(keys, k)
				}
			}
		}
		n, done, err := answer(c, site, m, keys)
		to := s.To("/check")
		if q := s.Query(); q != "" {
			to = "/check?" + q
		}
		return shell.Settle(
			c,
			err,
			again,
			shell.WithDone(to, fmt.Sprintf("%s %s.", tell.Plural(n, "finding is", "findings are"), done)),
		)
	}
}

// answer does what a form says about findings.
func answer(c fiber.Ctx, site *shell.Site, m *office.Moment, keys []office.FindingKey) (n int, done string, err error) {
	ctx, a := c.Context(), shell.Actor(c)
	switch c.FormValue("do") {
	case "accept":
		n, err = check.In(site.Office).
			Answer(ctx, a, m, shell.Mark(c), keys, check.Accept, c.FormValue("until"), c.FormValue("reason"))
		return n, "accepted", err
	case "ask":
		n, err = check.In(site.Office).
			Answer(ctx, a, m, shell.Mark(c), keys, check.SendBack, "", c.FormValue("question"))
		return n, "sent back", err
	case "withdraw":
		n, err = check.In(site.Office).Answer(ctx, a, m, shell.Mark(c), keys, check.Withdraw, "", "")
		return n, "open again", err
	}
	return 0, "", shell.Unclear()
}
