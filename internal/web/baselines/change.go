package baselines

import (
	"cmp"
	"fmt"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/costs"
	"turret/internal/core/figure"
	"turret/internal/core/standing"
	"turret/internal/office/baseline"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// ChangePage shows what one baseline changes, and takes the decision on it.
type ChangePage struct {
	shell.Frame
	Missing   string
	C         *baseline.BaselineChange
	Sentence  []shell.Phrase
	Figures   []compared
	Standings []compared
	Bridge    string
	More      int // activities that are not listed
}

// compared is a figure, or a standing, against both baselines.
type compared struct {
	Name, Link string
	Was, Is    tell.Cell
	Old, New   chart.Glyph
	Same       bool
}

// shown are the figures that a page of a baseline compares.
var shown = []figure.ID{
	figure.BAC,
	figure.PV,
	figure.EV,
	figure.CPI,
	figure.SPI,
	figure.SPIT,
	figure.EACComputed,
	figure.VAC,
	figure.FinishPlanned,
	figure.FinishComputed,
	figure.FinishSlip,
}

// mostDates bounds the activities that a page lists.
const mostDates = 40

// GetChange answers /baseline.
func GetChange(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		s := shell.StateOf(c)
		of, n := s.Get("of"), number(s)
		f, err := shell.NewFrame(c, site, fmt.Sprintf("Baseline %d", n), of)
		if err != nil {
			return err
		}
		p := &ChangePage{Frame: f}
		if f.Moment.Empty {
			p.Missing = "Nothing is stated yet, so there is no plan."
			return shell.Render(c, ChangeTemplate, p)
		}
		if p.C, err = baseline.In(site.Office).BaselineChange(c.Context(), p.Actor, f.Moment, of, n); err != nil {
			return err
		}
		if p.C == nil {
			p.Missing = fmt.Sprintf(
				"Project %q has no baseline %s beside its original in %s; its baselines are listed from its sheet.",
				of,
				s.Get("version"),
				f.Moment.Period.Name,
			)
			c.Status(fiber.StatusNotFound)
			return shell.Render(c, ChangeTemplate, p)
		}
		if over := len(p.C.Dates) - mostDates; over > 0 {
			p.More, p.C.Dates = over, p.C.Dates[:mostDates]
		}
		p.Bridge = s.Moment().
			With("of", of).
			With("against", "").
			With("plan", fmt.Sprint(n)).
			With("beside", fmt.Sprintf("baseline%d", p.C.Was.Number)).
			With("per", "completion").
			With("amounts", string(costs.Planned)).
			BridgePage()
		p.compare()
		p.Sentence = p.say()
		return shell.Render(c, ChangeTemplate, p)
	}
}

// compare sets the figures of the moment side by side.
func (p *ChangePage) compare() {
	was, is := p.C.Before, p.C.After
	for _, id := range shown {
		x := compared{
			Name: figure.Get(id).Title,
			Was:  tell.Figure(id, was.Value(id), was.Currency, false),
			Is:   tell.Figure(id, is.Value(id), is.Currency, false),
		}
		x.Same = x.Was.Text == x.Is.Text
		p.Figures = append(p.Figures, x)
	}
	for _, d := range []standing.Dimension{standing.Overall, standing.Cost, standing.Dates} {
		name := tell.Capital(p.Moment.DimensionTitle(d))
		p.Standings = append(p.Standings, compared{
			Name: name, Old: chart.Glyph{Standing: was.Computed[d], Overall: d == standing.Overall, What: name}, New: chart.Glyph{Standing: is.Computed[d], Overall: d == standing.Overall, What: name}, Same: was.Computed[d] == is.Computed[d],
		})
	}
}

// say tells what the baseline changes, who proposed it, and what became of it.
func (p *ChangePage) say() []shell.Phrase {
	b := &p.C.Row
	var out []shell.Phrase
	add := func(tone, format string, args ...any) {
		out = append(out, shell.Phrase{Text: fmt.Sprintf(format, args...), Tone: tone})
	}
	would := map[bool]string{true: "would ", false: ""}[!b.Counts()]
	verb := func(plain, third string) string {
		if would != "" {
			return would + plain
		}
		return third
	}
	add("", "Baseline %d of %s ", b.Number, p.C.Project.Name)
	switch {
	case !b.Known:
		add("", "cannot be converted")
	case b.Change == 0:
		add("", "%s the plan's sum as it is", verb("leave", "leaves"))
	default:
		add("", "%s ", map[bool]string{true: verb("add", "adds"), false: verb("take", "takes")}[b.Change > 0])
		add(
			map[bool]string{true: "watch", false: "steady"}[b.Change > 0],
			"%s",
			tell.Millions(figure.Whole(figure.Money, max(b.Change, -b.Change)), p.C.Currency),
		)
		if p.C.Was.Plan != 0 {
			add("", " (%s)", tell.Share(max(b.Change, -b.Change), p.C.Was.Plan, false))
		}
		add("", "%s", map[bool]string{true: " to the plan", false: " from the plan"}[b.Change > 0])
	}
	switch {
	case b.Shift > 0:
		add("", " and %s its finish by ", verb("move", "moves"))
		add("watch", "%s", tell.Plural(b.Shift, "working day", "working days"))
		add("", ", to %s", tell.Date(b.Finish))
	case b.Shift < 0:
		add(
			"",
			" and %s its finish %s nearer, to %s",
			verb("bring", "brings"),
			tell.Plural(-b.Shift, "working day", "working days"),
			tell.Date(b.Finish),
		)
	}
	add("", ".")
	if was, is := p.C.Before.Computed[standing.Overall], p.C.After.Computed[standing.Overall]; was != is &&
		!b.Counts() {
		add("", " Counted in %s, it would stand at ", p.Moment.Period.Name)
		add(is.Code(), "%s", is)
		add("", ", not at %s.", was)
	}
	switch {
	case b.Open():
		add("", " %s proposed it", cmp.Or(b.Proposer, "Someone"))
		if b.Proposed != 0 {
			add("", " on %s", tell.Date(b.Proposed))
		}
		add("", "; nobody has decided yet.")
	case b.Counts() && b.Approver != "":
		add("", " %s approved it", b.Approver)
		if b.Approved != 0 {
			add("", ", in force from %s", tell.Date(b.Approved))
		}
		add("", ".")
	case !b.Counts():
		add("", " %s rejected it.", cmp.Or(b.Approver, "Someone"))
	}
	return out
}

// Decides tells whether the actor can decide on the baseline.
func (p *ChangePage) Decides() bool {
	return p.C.Row.Open() && !p.C.Mine && p.C.May
}

// Amount writes an amount to its last decimal.
func (p *ChangePage) Amount(n int64) string { return tell.Thousands.Write(n, p.C.Currency) }

// Change writes a change with its sign.
func (p *ChangePage) Change(n int64) string { return tell.Thousands.Change(n, p.C.Currency) }

// Day writes a day, or a dash.
func (p *ChangePage) Day(d calendar.Date) string { return tell.Date(d) }

// Slip writes working days with their sign.
func (p *ChangePage) Slip(n int) string { return tell.Signed(n) + " d" }

// From is the day that the form offers: the first that no closed period holds
// and that has come.
func (p *ChangePage) From() string { return baseline.In(p.Site.Office).FirstDay(p.Moment).String() }

// Counts says from when the baseline would count from the day that the form offers, or that
// was typed.
func (p *ChangePage) Counts() string {
	return baseline.Counting(p.Moment, p.C.Was.Number, p.Field("day", p.From()))
}

// PostChange takes the decision on a proposed baseline.
func PostChange(site *shell.Site) fiber.Handler {
	again := GetChange(site)
	return func(c fiber.Ctx) error {
		s := shell.StateOf(c)
		d := baseline.Decision{
			Project: s.Get("of"),
			Number:  number(s),
			Day:     c.FormValue("day"),
			Remark:  c.FormValue("remark"),
		}
		done := "It is rejected, and counts nowhere."
		switch c.FormValue("do") {
		case "approve":
			d.Approve, done = true, "It is approved, and counts from its day on; the periods before keep the plan that they have."
		case "reject":
		default:
			return shell.Settle(c, shell.Unclear(), again, "")
		}
		err := baseline.In(site.Office).Decide(c.Context(), shell.Actor(c), shell.Mark(c), d)
		return shell.Settle(c, err, again, shell.WithDone(s.BaselinePage(d.Project, d.Number), done))
	}
}

// changeTable is amounts before and after, with their sum.
type changeTable struct {
	*ChangePage
	Head string
	Rows []baseline.Changed
	Sum  baseline.Changed
}

// Table makes a table of changes under a head.
func (p *ChangePage) Table(head string, rows []baseline.Changed) changeTable {
	t := changeTable{ChangePage: p, Head: head, Rows: rows}
	for _, x := range rows {
		t.Sum.Was, t.Sum.Is = t.Sum.Was+x.Was, t.Sum.Is+x.Is
	}
	return t
}
