// Package funding is the screen of Weigh about money that is authorised: beside what is
// planned and what it comes to, when it runs out and by how much, and from where it comes.
package funding

import (
	"embed"
	"fmt"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/funding"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

//go:embed funding.html
var files embed.FS

// Template of the screen.
var Template = shell.Parse(files, "funding.html")

// Page is what it shows.
type Page struct {
	shell.Frame
	Found     *funding.Table
	Sentence  []shell.Phrase
	Rows      []Row
	Sources   []Source
	Transfers []Transfer
	Scopes    [][2]string
	From      []office.PeriodInfo
	Known     []string // names of sources
	Codes     [][2]string
	May       bool
	Unit      string
	Beyond    int  // projects that are not listed
	Moves     bool // a transfer was typed and not taken
}

// Row is a project or a group with its money.
type Row struct {
	Code, Name, Link string
	Depth            int
	Group, Total     bool
	Cells            []Cell
	RunsOut, Short   string
	Class            string
	From             []Part
	Why              string
}

// Cell is a figure with its trail.
type Cell struct {
	tell.Cell
	Link, Class string
}

// Part is what one source gives to a row.
type Part struct{ From, Money, Spent, RunsOut string }

// Source is what one gives to all.
type Source struct{ From, Money, Spent, Left, RunsOut, For string }

// Transfer is money that was moved.
type Transfer struct {
	Code, Reason, Period string
	Parts                []string
}

// mostLines is how many lines are listed.
const mostLines = 250

// shown are the figures of a row.
var shown = [...]figure.ID{figure.Funded, figure.BAC, figure.AC, outlook, figure.FundingGap}

// outlook stands for the outlook that the gap goes by: as stated, else as computed.
const outlook = figure.EACStated

// Get answers /funding.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Funding", "")
		if err != nil {
			return err
		}
		p := &Page{Frame: f, May: office.MayFound(shell.Actor(c))}
		if p.Found, err = funding.In(site.Office).Table(c.Context(), p.Actor, f.Moment); err != nil {
			return err
		}
		p.Unit, p.Moves = tell.Unit(figure.Money, f.Moment.Reporting), p.Field("do", "") == "move"
		if !f.Moment.Empty {
			p.fill()
		}
		return shell.Render(c, Template, p)
	}
}

func (p *Page) fill() {
	for i := range p.Found.Lines {
		if l := &p.Found.Lines[i]; l.Group || len(p.Rows) < mostLines {
			p.Rows = append(p.Rows, p.row(l))
		} else {
			p.Beyond++
		}
	}
	for _, s := range p.Found.Sources {
		x := Source{From: s.From, Money: write(s.Money, s.Currency), Spent: write(s.Spent, s.Currency), Left: write(s.Money-s.Spent, s.Currency), RunsOut: tell.Dash, For: strings.Join(tell.Few(s.For), ", ")}
		if s.RunsOut != 0 {
			x.RunsOut = p.Moment.PeriodName(s.RunsOut)
		}
		if len(s.Gone) > 0 {
			x.RunsOut = strings.TrimPrefix(x.RunsOut+"; gone for "+strings.Join(tell.Few(s.Gone), ", "), tell.Dash+"; ")
		}
		if s.From == "" {
			x.From = "not told"
		}
		p.Sources = append(p.Sources, x)
		p.Known = append(p.Known, s.From)
	}
	for _, t := range p.Found.Transfers {
		x := Transfer{Code: t.Code, Reason: t.Reason, Period: p.Moment.PeriodName(t.Period)}
		for _, f := range t.Parts {
			x.Parts = append(x.Parts, part(&f))
		}
		p.Transfers = append(p.Transfers, x)
	}
	p.speak()
	if !p.May {
		return
	}
	p.Scopes, p.Codes = funding.Scopes(p.Moment), funding.Codes(p.Moment)
}

// part says what of a transfer comes or goes.
func part(f *portfolio.Funding) string {
	text := f.Scope
	for _, x := range [...]string{f.From, f.Code} {
		if x != "" {
			text += ", " + x
		}
	}
	sign := "+"
	if f.Amount < 0 {
		sign = "−"
	}
	return text + " " + sign + money.Grouped(money.Format(max(f.Amount, -f.Amount), f.Currency)) + " " + string(f.Currency)
}

// write gives an amount in whole units.
func write(n int64, c money.Currency) string {
	return tell.Figure(figure.Funded, figure.Whole(figure.Money, n), c, false).Text
}

func (p *Page) row(l *funding.Line) Row {
	r := Row{
		Code: l.Code, Name: l.Name, Depth: l.Depth, Group: l.Group, Total: l.Code == portfolio.Everywhere && l.Group,
		RunsOut: tell.Dash, Short: tell.Dash, Why: l.Why,
	}
	switch {
	case r.Total:
		r.Name = p.Moment.Everything()
	case l.Group:
		r.Link = p.With(p.State.With("scope", l.Code))
	default:
		r.Link = p.State.Project(l.Code)
	}
	for _, id := range shown {
		if id == outlook && !l.Value(id).Known {
			id = figure.EACComputed
		}
		c := Cell{Cell: tell.Figure(id, l.Value(id), l.Currency, false), Link: p.Figure(l.Code, figure.Get(id).Name)}
		if id == figure.FundingGap && l.Value(id).Known && l.Value(id).N > 0 {
			c.Class = "watch"
		}
		r.Cells = append(r.Cells, c)
	}
	if v := l.Value(figure.RunsOut); v.Known {
		r.RunsOut, r.Class = tell.Date(calendar.Date(v.N)), "watch"
		if l.Gone {
			r.RunsOut, r.Class = "has run out", "act"
		}
	}
	if l.Short > 0 {
		r.Short = write(l.Short, l.Currency) + ", " + p.Moment.PeriodName(l.ShortIn)
	}
	for _, s := range l.Sources {
		x := Part{From: s.From, Money: write(s.Money, l.Currency), Spent: write(s.Spent, l.Currency), RunsOut: "some is left"}
		if s.RunsOut != 0 {
			x.RunsOut = p.Moment.PeriodName(s.RunsOut)
		}
		if x.From == "" {
			x.From = "not told"
		}
		r.From = append(r.From, x)
	}
	return r
}

// speak says what is authorised, and where it does not last.
func (p *Page) speak() {
	say := func(tone, link, format string, args ...any) {
		p.Sentence = append(p.Sentence, shell.Phrase{Text: fmt.Sprintf(format, args...), Tone: tone, Link: link})
	}
	if len(p.Rows) == 0 {
		say("", "", "No money is recorded as authorised")
		if p.Found.Unfunded > 0 {
			say("", "", " for %s", tell.Plural(p.Found.Unfunded, "project", "projects"))
		}
		say("", "", ".")
		return
	}
	var runs, gone, projects int
	for i := range p.Found.Lines {
		l := &p.Found.Lines[i]
		if l.Group {
			continue
		}
		projects++
		switch {
		case l.Gone:
			gone++
		case l.Value(figure.RunsOut).Known:
			runs++
		}
	}
	if last := &p.Found.Lines[len(p.Found.Lines)-1]; last.Group && last.Code == portfolio.Everywhere {
		say("", "", "%s is authorised", tell.Millions(last.Value(figure.Funded), last.Currency))
		gap := last.Value(figure.FundingGap)
		switch {
		case gap.Known && gap.N > 0:
			say("", "", ", and ")
			say("watch", p.Figure(portfolio.Everywhere, "funding_gap"), "%s more is needed", tell.Millions(gap, last.Currency))
		case gap.Known:
			say("", "", ", %s more than is needed", tell.Millions(figure.Whole(figure.Money, -gap.N), last.Currency))
		}
	} else {
		say("", "", "%s money of their own", tell.Plural(projects, "project has", "projects have"))
	}
	switch {
	case gone > 0:
		say("", "", "; of %s it ", tell.Plural(projects, "project", "projects"))
		say("act", "", "has run out for %s", tell.Number(gone))
		if runs > 0 {
			say("", "", " and will for %s", tell.Number(runs))
		}
	case runs > 0:
		say("", "", "; of %s it ", tell.Plural(projects, "project", "projects"))
		say("watch", "", "will run out for %s", tell.Number(runs))
	case projects > 0:
		say("", "", "; it lasts for %s", tell.Plural(projects, "project that has some", "projects that have some"))
	}
	if p.Found.Unfunded > 0 {
		say("", "", ". %s without any recorded", tell.Capital(tell.Plural(p.Found.Unfunded, "project runs", "projects run")))
	}
	say("", "", ".")
}

// Post records money that is authorised or moved.
func Post(site *shell.Site) fiber.Handler {
	again := Get(site)
	return func(c fiber.Ctx) error {
		ctx, a, room := c.Context(), shell.Actor(c), funding.In(site.Office)
		to := shell.StateOf(c).Scoped("/funding")
		var err error
		switch c.FormValue("do") {
		case "authorise":
			err = room.Authorise(ctx, a, shell.Mark(c), funding.Grant{
				Scope: c.FormValue("scope"), Source: c.FormValue("source"), Period: c.FormValue("period"),
				Amount: c.FormValue("amount"), Currency: c.FormValue("currency"), Decision: c.FormValue("decision"),
			})
			to = shell.WithDone(to, "It is recorded as authorised.")
		case "move":
			err = room.Move(ctx, a, shell.Mark(c), funding.Move{
				Code: c.FormValue("transfer"), From: c.FormValue("from"), To: c.FormValue("to"), FromSource: c.FormValue("from_source"), ToSource: c.FormValue("to_source"),
				FromCode: c.FormValue("from_code"), ToCode: c.FormValue("to_code"), Period: c.FormValue("from_period"), Amount: c.FormValue("moved"), Reason: c.FormValue("reason"),
			})
			to = shell.WithDone(to, "It is moved: what one gave, the other has.")
		default:
			err = shell.Unclear()
		}
		return shell.Settle(c, err, again, to)
	}
}
