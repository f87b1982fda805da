// Package sheet is the page of one project: why it stands where it does, its
// money and dates over time, its activities, risks and words.
package sheet

import (
	"embed"
	"html/template"
	"net/url"
	"slices"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/core/money"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/asking"
	"turret/internal/office/board"
	"turret/internal/office/sheet"
	"turret/internal/tell"
	"turret/internal/web/schedule"
	"turret/internal/web/shell"
	"turret/internal/web/trail"
)

//go:embed sheet.html sheet.css
var files embed.FS

// Template is the page.
var Template = trail.Parse(files, "sheet.html")

// Style is the page's style sheet.
var Style = shell.File(files, "sheet.css")

// Page is what the template shows. Sheet is nil where there is no such project.
type Page struct {
	trail.Frame
	Code       string
	Measures   Measures
	Sheet      *sheet.Sheet
	Overall    chart.Glyph
	Stated     *chart.Glyph // where it differs
	Facts      string       // code, programme, stage and people
	Sentence   []shell.Phrase
	Currencies string // what amounts are in, where the project's own is not the reporting one
	Own        money.Currency
	Index      []Part
	Reasons    []Reason
	Overrides  []string
	Moved      []string
	Money      Chart
	Passed     string // how much of the actual cost is a plan
	Dates      Chart
	Codes      []CodeRow
	CodeTotal  *CodeRow
	Activities []ActivityRow
	Left       int           // activities that are not listed
	Line       *schedule.Own // nil where no activity has a date
	Milestones []Milestone
	Risks      []Risk
	Matrix     []tell.MatrixRow
	Figures    []Section
	Found      []Found
	Unlisted   int // findings that are not listed
	Prev, Next *Beside
	Threads    []asking.Thread

	among *office.Moment // of the list that one came from
}

// Part is a section in the index, with the standing it is about.
type Part struct {
	ID, Title string
	Glyph     *chart.Glyph
}

// Found is a finding of the project.
type Found struct {
	Severity, Text, Link, Since, Said string
	Due                               bool
}

// mostFound is how many findings the sheet lists; Check has all.
const mostFound = 200

// found lists what was found in the project's data.
func (p *Page) found() {
	for i := range p.Sheet.Findings {
		if i == mostFound {
			p.Unlisted = len(p.Sheet.Findings) - i
			break
		}
		f := &p.Sheet.Findings[i]
		x := Found{
			Severity: string(f.Severity),
			Text:     f.Text,
			Since:    p.Moment.PeriodName(f.Since),
			Link:     p.State.Finding(p.Code, f.Check, f.Record),
		}
		switch {
		case f.State == finding.Open:
			x.Said, x.Due = "none", true
		case f.State == finding.Back:
			x.Said, x.Due = "came back", true
		case f.Answer != nil:
			x.Said = string(f.State) + ": " + f.Answer.Reason
		}
		p.Found = append(p.Found, x)
	}
}

// Beside is a project before or after in the list that one came from.
type Beside struct{ Code, Link string }

// Chart is a picture, and the same as a table.
type Chart struct {
	Picture template.HTML
	Unit    string
	Head    []string
	Rows    [][]string
}

// Get answers /project/{code}.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		code := shell.Param(c, "code")
		f, answered, err := trail.Open(c, site, Template, code, code)
		if err != nil || answered {
			return err
		}
		p := &Page{Frame: f, Code: code, among: f.Moment}
		if p.Moment, err = site.Office.OfOne(c.Context(), f.Moment); err != nil {
			return err
		}
		if p.Sheet, err = sheet.In(site.Office).Sheet(c.Context(), p.Actor, p.Moment, code); err != nil {
			return err
		}
		if p.Threads, err = asking.In(site.Office).Threads(c.Context(), p.Actor, asking.Which{Project: code}); err != nil {
			return err
		}
		if p.Sheet == nil {
			c.Status(fiber.StatusNotFound)
			return shell.Render(c, Template, p)
		}
		if err := p.beside(c); err != nil {
			return err
		}
		p.fill()
		if p.Line, err = schedule.OwnLine(c, site, p.Frame.Frame, code); err != nil {
			return err
		}
		return shell.Render(c, Template, p)
	}
}

// beside finds the projects before and after in the list that one came from.
func (p *Page) beside(c fiber.Ctx) error {
	list, err := board.In(p.Site.Office).List(c.Context(), p.Actor, p.among, p.State.Order())
	if err != nil {
		return err
	}
	codes := list.Codes
	i := slices.Index(codes, p.Code)
	to := func(code string) *Beside { return &Beside{code, p.State.Project(code)} }
	if i > 0 {
		p.Prev = to(codes[i-1])
	}
	if i >= 0 && i+1 < len(codes) {
		p.Next = to(codes[i+1])
	}
	return nil
}

// fill makes what the page shows of the sheet.
func (p *Page) fill() {
	n := p.Sheet.Now
	p.Title = n.Code + " " + n.Name
	p.Overall = chart.Glyph{Standing: n.Standing[standing.Overall], Overall: true, What: "Overall", Why: n.Why}
	if n.HasSaid && n.Stated != n.Standing[standing.Overall] {
		p.Stated = &chart.Glyph{Standing: n.Stated, Small: true, What: "Stated"}
	}
	p.Facts = p.Moment.Facts(n)
	p.Sentence = p.say()
	p.currencies()
	p.reasons()
	p.moved()
	p.Money, p.Dates = p.curve(), p.dateLines()
	p.Passed = tell.Passed(n.Value(figure.ACFromPlan), n.Currency)
	p.Measures = p.measures()
	p.codes()
	p.activities()
	p.milestones()
	p.risks()
	p.found()
	for _, x := range sections {
		if x.ids[0] == figure.IncomePlan && !p.earns() {
			continue
		}
		p.Figures = append(p.Figures, p.section(x.title, x.ids))
	}
	glyph := func(d standing.Dimension) *chart.Glyph {
		return &chart.Glyph{Standing: n.Standing[d], What: tell.Capital(d.String())}
	}
	p.Index = []Part{
		{"standing", "Standing", &p.Overall},
		{"money", "Money", glyph(standing.Cost)},
		{"dates", "Dates", glyph(standing.Dates)},
		{"measures", "Measures", nil},
		{"codes", "Cost codes", nil},
		{"activities", "Activities", glyph(standing.Progress)},
		{"milestones", "Milestones", nil},
		{"risks", "Risks", glyph(standing.Risk)},
		{"story", "Story", nil},
		{"figures", "All figures", nil},
		{"data", "Data", glyph(standing.Data)},
		{"questions", "Questions", nil},
		{"history", "History", nil},
	}
	for d := standing.Data + 1; p.Moment.HasDimension(d); d++ { // the office's own stand with the rules that rate them
		title := tell.Capital(p.Moment.DimensionTitle(d))
		p.Index = slices.Insert(p.Index, 1, Part{"standing", title, &chart.Glyph{Standing: n.Standing[d], What: title}})
	}
}

// currencies says which currency amounts are in, with those of the other that are
// compared.
func (p *Page) currencies() {
	s := p.Sheet
	switch p.Own = p.Moment.OwnCurrency(p.Code); {
	case s.Shown == nil:
	case p.Moment.InProject:
		p.Currencies = tell.InOwn(p.Own, p.Moment.Reporting, s.Shown.Value)
	default:
		p.Currencies = tell.InReporting(p.Own, p.Moment.Reporting)
	}
}

// write writes a figure of the sheet and links it to its trail.
func (p *Page) write(id figure.ID, r *office.Reading, exact bool) (tell.Cell, string) {
	cell := tell.Figure(id, r.Value(id), r.Currency, exact)
	if !cell.Known {
		return cell, ""
	}
	return cell, p.Figure(p.Code, figure.Get(id).Name)
}

// Section is a table of figures.
type Section struct {
	Title string
	Money bool
	Lines []Line
}

// Line is a figure now and in the compared period.
type Line struct {
	Title, Symbol, Link string
	Now                 tell.Cell
	Was                 *tell.Cell
	Differs             bool
}

var sections = []struct {
	title string
	ids   []figure.ID
}{
	{
		"Money",
		[]figure.ID{
			figure.BAC,
			figure.PV,
			figure.EV,
			figure.AC,
			figure.ACFromPlan,
			figure.SV,
			figure.CV,
			figure.OnOrder,
			figure.BeyondOrders,
			figure.PVPeriod,
			figure.EVPeriod,
			figure.ACPeriod,
			figure.Burn,
			figure.MonthsLeft,
		},
	},
	{
		"Outlook",
		[]figure.ID{
			figure.EACComputed,
			figure.EACStated,
			figure.VAC,
			figure.AtStake,
			figure.EACPlan,
			figure.EACCPI,
			figure.EACCPI3,
			figure.EACCPISPI,
			figure.ComputedOver,
			figure.StatedOver,
			figure.EACSpread,
			figure.ETCComputed,
			figure.ETCStated,
		},
	},
	{
		"Income and margin",
		[]figure.ID{
			figure.IncomePlan,
			figure.Income,
			figure.IncomeStated,
			figure.MarginPlan,
			figure.MarginBooked,
			figure.Margin,
			figure.MarginShare,
		},
	},
	{
		"Indices and shares",
		[]figure.ID{
			figure.CPI,
			figure.SPI,
			figure.SPIT,
			figure.TCPIBAC,
			figure.TCPIEAC,
			figure.CPIPeriod,
			figure.CPI3,
			figure.SPIPeriod,
			figure.EarnedShare,
			figure.PlannedShare,
			figure.SpentShare,
			figure.ElapsedShare,
			figure.LateShare,
		},
	},
	{
		"Dates",
		[]figure.ID{
			figure.FinishPlanned,
			figure.FinishStated,
			figure.FinishComputed,
			figure.FinishSlip,
			figure.MilestoneSlip,
			figure.ES,
			figure.AT,
			figure.SVT,
			figure.StatementAge,
			figure.ForecastAge,
			figure.RiskExposure,
		},
	},
}

// earns tells whether the project has any income, now or in the compared period.
func (p *Page) earns() bool {
	return p.Sheet.Now.Value(figure.Income).Known || p.Sheet.Before != nil && p.Sheet.Before.Value(figure.Income).Known
}

func (p *Page) section(title string, ids []figure.ID) Section {
	out := Section{Title: title, Money: figure.Get(ids[0]).Unit == figure.Money}
	for _, id := range ids {
		if id == figure.ACFromPlan && !p.Sheet.Now.Value(id).Known {
			continue // it is of few projects
		}
		e := figure.Get(id)
		l := Line{Title: e.Title, Symbol: e.Symbol}
		l.Now, l.Link = p.write(id, p.Sheet.Now, e.Unit == figure.Money)
		if b := p.Sheet.Before; b != nil {
			was, _ := p.write(id, b, e.Unit == figure.Money)
			l.Was, l.Differs = &was, !b.Value(id).Equal(p.Sheet.Now.Value(id))
		}
		out.Lines = append(out.Lines, l)
	}
	return out
}

// MoneyTable is the address of the project's money table.
func (p *Page) MoneyTable() string {
	return p.State.Moment().With("of", p.Sheet.Now.Code).MoneyPage()
}

// Proposed counts the project's baselines that wait for a decision.
func (p *Page) Proposed() int { return p.Moment.ProposedBaselines(p.Sheet.Now.Code) }

// TypeIt is where the project's money is typed; "" for who may not.
func (p *Page) TypeIt() string {
	return p.State.AmountsPage(p.Moment, p.Actor, p.Code)
}

// BaselineList is the address of the project's baselines.
func (p *Page) BaselineList() string {
	return p.State.BaselinesPage(p.Sheet.Now.Code)
}

// Curved tells whether the curve shows periods by themselves.
func (p *Page) Curved() bool { return p.State.Get("curve") == "period" }

// BatchAt is the address of a batch, with what it changed of the project.
func (p *Page) BatchAt(id int64) string {
	return "/history/" + strconv.FormatInt(id, 10) + "?project=" + url.QueryEscape(p.Code)
}

// HistoryAt is the address of all of the project's history.
func (p *Page) HistoryAt() string { return "/history?project=" + url.QueryEscape(p.Code) }
