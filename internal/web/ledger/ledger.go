// Package ledger is the screen of Check that holds what sources of postings say they handed
// over against what was taken, each difference down to its rows.
package ledger

import (
	"embed"
	"fmt"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/core/money"
	"turret/internal/office"
	"turret/internal/office/ledger"
	"turret/internal/office/structure"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

//go:embed ledger.html
var files embed.FS

// Template of the screen.
var Template = shell.Parse(files, "ledger.html")

// Page is what it shows.
type Page struct {
	shell.Frame
	Found    *ledger.Reconciled
	Sentence []shell.Phrase
	Lines    []Line
	One      *One // the line that is looked into
	Totals   []Total
	May      bool
}

// Line is a source's total, as written.
type Line struct {
	Source, Code, Currency, Link   string
	Control, Taken, Waits, Refused string
	Difference, Class, Why         string
	On                             bool
}

// One is what is behind a line.
type One struct {
	Title, Close string
	Says         string
	Files        []File
	Left         []Left
	More         int // rows that are not listed
}

// File is a file that was taken, or some of it.
type File struct{ Name, Link, Rows, Amount string }

// Left is a row that was not taken.
type Left struct{ File, Row, Value, Reason, Amount, Is, Link string }

// Total is what a lead states beside the ledger, as written.
type Total struct{ Project, Name, Link, Code, Lead, Ledger, Difference, Both, Currency string }

// mostLeft is how many rows that were not taken are listed.
const mostLeft = 200

// Get answers /ledger.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Ledger", "")
		if err != nil {
			return err
		}
		f.Step = "check"
		p := &Page{Frame: f, May: office.MayGather(f.Actor)}
		if !f.Moment.Empty {
			if p.Found, err = ledger.In(site.Office).Reconcile(c.Context(), p.Actor, f.Moment); err != nil {
				return err
			}
			p.fill()
		}
		return shell.Render(c, Template, p)
	}
}

// exact writes an amount to the cent.
func exact(n int64, c money.Currency) string { return money.Grouped(money.Format(n, c)) }

// signed writes a difference with its sign.
func signed(n int64, c money.Currency) string {
	switch {
	case n > 0:
		return "+" + exact(n, c)
	case n < 0:
		return strings.Replace(exact(n, c), "-", "−", 1)
	}
	return exact(0, c)
}

// of is what the address calls a line.
func of(l *ledger.Line) string { return l.Source + "|" + l.Code + "|" + string(l.Currency) }

func (p *Page) fill() {
	for i := range p.Found.Lines {
		l := &p.Found.Lines[i]
		x := Line{
			Source: l.Source, Code: strings.TrimSpace(l.Code + " " + l.CodeName), Currency: string(l.Currency), Why: l.Why, On: p.State.Get("of") == of(l),
			Link:    p.Turn("of", of(l)) + "#one",
			Control: tell.Dash, Difference: tell.Dash, Taken: exact(l.Taken, l.Currency), Waits: tell.Dash, Refused: tell.Dash,
		}
		if l.Waits != 0 {
			x.Waits = exact(l.Waits, l.Currency)
		}
		if l.Refused != 0 {
			x.Refused = exact(l.Refused, l.Currency)
		}
		if l.Told {
			x.Control, x.Difference = exact(l.Control, l.Currency), signed(l.Difference(), l.Currency)
			if l.Off() {
				x.Class = "act"
			}
		}
		p.Lines = append(p.Lines, x)
		if x.On {
			p.one(l)
		}
	}
	for _, t := range p.Found.Totals {
		x := Total{
			Project: t.Project, Name: t.Name, Link: p.State.Project(t.Project), Code: t.Code + " " + t.CodeName, Currency: string(t.Currency),
			Lead: exact(t.Lead, t.Currency), Ledger: exact(t.Ledger, t.Currency), Difference: signed(t.Lead-t.Ledger, t.Currency), Both: tell.Dash,
		}
		if len(t.Both) > 0 {
			var names []string
			for _, q := range t.Both {
				names = append(names, p.Moment.PeriodName(q))
			}
			x.Both = strings.Join(tell.Few(names), ", ")
		}
		p.Totals = append(p.Totals, x)
	}
	p.speak()
}

// one lists the rows behind a line.
func (p *Page) one(l *ledger.Line) {
	o := &One{Title: strings.TrimSpace(l.Source + " " + l.Code), Close: p.Turn("of", "")}
	switch rest := l.Unexplained(); {
	case !l.Told:
		o.Says = "The source has told no total of it, so it is held against nothing."
	case !l.Off():
		o.Says = "What was taken is what the source told, to the cent."
	case rest == 0:
		o.Says = "All of the difference are rows that were not taken: they are below."
	case rest == l.Difference():
		o.Says = fmt.Sprintf("No row that was refused tells of %s %s: a row never came, came twice, or the total is another.", signed(rest, l.Currency), l.Currency)
	default:
		o.Says = fmt.Sprintf("The rows below are not taken. Of the rest, %s %s, nothing here tells: a row never came, came twice, or the total is another.", signed(rest, l.Currency), l.Currency)
	}
	for _, f := range l.Files {
		o.Files = append(o.Files, File{f.Name, fmt.Sprintf("/history/%d", f.Batch), tell.Plural(f.Rows, "row", "rows"), exact(f.Amount, l.Currency)})
	}
	for i, x := range l.Left {
		if i == mostLeft {
			o.More = len(l.Left) - i
			break
		}
		y := Left{File: x.File, Row: fmt.Sprint(x.Line), Value: x.Value, Reason: x.Reason, Amount: exact(x.Amount, l.Currency), Link: fmt.Sprintf("/gather/run/%d", x.Run)}
		switch {
		case x.Code:
			y.Is = "waits for a code"
		case x.Waiting:
			y.Is = "refused"
		default:
			y.Is = "dropped"
			if x.Why != "" {
				y.Is += ": " + x.Why
			}
		}
		o.Left = append(o.Left, y)
	}
	p.One = o
}

// speak says how many totals differ.
func (p *Page) speak() {
	say := func(tone, format string, args ...any) {
		p.Sentence = append(p.Sentence, shell.Phrase{Text: fmt.Sprintf(format, args...), Tone: tone})
	}
	told, waits := 0, 0
	for i := range p.Found.Lines {
		l := &p.Found.Lines[i]
		if l.Told {
			told++
		}
		if l.Off() && l.Unexplained() == 0 {
			waits++
		}
	}
	name := p.Found.Period.Name
	switch {
	case len(p.Found.Lines) == 0:
		say("", "No posting was sent for %s, and no source has told a total.", name)
	case told == 0:
		say("", "No source has told a total for %s, so what was taken is held against nothing.", name)
	case p.Found.Off == 0 && p.Found.Untold == 0:
		say("", "The ledger of %s is what its sources told, to the cent.", name)
	case p.Found.Off == 0:
		say("", "The ledger of %s is what its sources told, to the cent; %s told no total.", name, tell.Plural(p.Found.Untold, "source has", "sources have"))
	default:
		say("act", "%s", tell.Capital(tell.Plural(p.Found.Off, "control total differs", "control totals differ")))
		say("", " from the ledger of %s", name)
		switch {
		case waits == p.Found.Off:
			say("", ", by rows that were not taken")
		case waits > 0:
			say("", ", %s of them by rows that were not taken", tell.Number(waits))
		}
		if p.Found.Untold > 0 {
			say("", "; %s told no total", tell.Plural(p.Found.Untold, "source has", "sources have"))
		}
		say("", ".")
	}
}

// Post records a control total.
func Post(site *shell.Site) fiber.Handler {
	again := Get(site)
	return func(c fiber.Ctx) error {
		s := shell.StateOf(c)
		source, code := strings.TrimSpace(c.FormValue("source")), strings.TrimSpace(c.FormValue("cost_code"))
		err := structure.In(site.Office).SaveRecord(c.Context(), shell.Actor(c), shell.Mark(c), "controls", map[string]string{
			"source": source, "period": c.FormValue("period"), "cost_code": code, "amount": c.FormValue("amount"), "currency": c.FormValue("currency"),
		})
		to := shell.WithDone(s.To("/ledger"), fmt.Sprintf("The total of %s is recorded.", strings.TrimSpace(source+" "+code)))
		return shell.Settle(c, err, again, to)
	}
}

// Export is where the totals that are recorded are listed.
func (p *Page) Export() string { return "/setup/records/" + url.PathEscape("controls") }
