package money

import (
	"fmt"

	"github.com/gofiber/fiber/v3"

	"turret/internal/core/calendar"
	"turret/internal/core/costs"
	"turret/internal/office"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// BaselinesPage shows how the plan of a project came to be what it is.
type BaselinesPage struct {
	shell.Frame
	Missing   string
	Baselines *office.Baselines
	Sentence  []shell.Phrase
	Bridge    string // address of the bridge from the original plan
}

// GetBaselines answers /baselines.
func GetBaselines(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Baselines", shell.StateOf(c).Get("of"))
		if err != nil {
			return err
		}
		f.Step = "weigh"
		p := &BaselinesPage{Frame: f}
		if f.Moment.Empty {
			p.Missing = "Nothing is stated yet, so there is no plan."
			return shell.Render(c, BaselinesTemplate, p)
		}
		if p.Baselines, err = site.Office.Baselines(c.Context(), p.Actor, f.Moment, f.State.Get("of")); err != nil {
			return err
		}
		if p.Baselines == nil {
			p.Missing = fmt.Sprintf("There is no project %q in %s; open its sheet from the board.", f.State.Get("of"), f.Moment.Period.Name)
			c.Status(fiber.StatusNotFound)
			return shell.Render(c, BaselinesTemplate, p)
		}
		p.Bridge = f.State.Moment().With("of", f.State.Get("of")).With("against", "").With("beside", "original").With("per", "completion").With("amounts", string(costs.Planned)).BridgePage()
		p.Sentence = p.say()
		return shell.Render(c, BaselinesTemplate, p)
	}
}

// say tells how often the plan was changed, and by how much.
func (p *BaselinesPage) say() []shell.Phrase {
	b := p.Baselines
	var last office.BaselineRow
	changes := 0
	for _, x := range b.List {
		if x.Later {
			continue
		}
		last = x
		if x.Number > 1 {
			changes++
		}
	}
	out := []shell.Phrase{{Text: b.Project.Name + " is planned at "}, {Text: p.Amount(last.Plan) + " " + string(b.Currency), Tone: "ink"}}
	d := last.Plan - b.List[0].Plan
	switch {
	case changes == 0:
		return append(out, shell.Phrase{Text: ", as it was at first."})
	case d == 0:
		return append(out, shell.Phrase{Text: fmt.Sprintf(" after %s, as at first.", tell.Plural(changes, "approved change", "approved changes"))})
	}
	return append(out, shell.Phrase{Text: fmt.Sprintf(" after %s: ", tell.Plural(changes, "approved change", "approved changes"))}, shell.Phrase{Text: p.Change(d), Link: p.Bridge, Tone: bad(d > 0)}, shell.Phrase{Text: " since the original."})
}

// Amount writes an amount to its last decimal, and Change with its sign.
func (p *BaselinesPage) Amount(n int64) string { return tell.Units.Write(n, p.Baselines.Currency) }

// Change writes a change with its sign.
func (p *BaselinesPage) Change(n int64) string { return tell.Units.Change(n, p.Baselines.Currency) }

// Day writes a day, or a dash.
func (p *BaselinesPage) Day(d calendar.Date) string { return tell.Date(d) }

// ChangeOf is the change of a cost code by a baseline.
func (p *BaselinesPage) ChangeOf(c office.BaselineCode, i int) int64 {
	if i == 0 {
		return c.Plans[0]
	}
	return c.Plans[i] - c.Plans[i-1]
}

// Latest is the place of the baseline in force.
func (p *BaselinesPage) Latest() int {
	for i, x := range p.Baselines.List {
		if x.InForce {
			return i
		}
	}
	return 0
}
