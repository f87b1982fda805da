package check

import (
	"fmt"

	"turret/internal/tell"
	"turret/internal/web/shell"
)

// say tells what was found: how much is open, how it changed, and what nobody
// has explained.
func (p *Page) say() []shell.Phrase {
	var out []shell.Phrase
	text := func(format string, args ...any) { out = append(out, shell.Phrase{Text: fmt.Sprintf(format, args...)}) }
	link := func(to, tone, format string, args ...any) {
		out = append(out, shell.Phrase{Text: fmt.Sprintf(format, args...), Link: to, Tone: tone})
	}
	c := p.Checking
	open := c.Counts.Open()
	switch {
	case !c.Kept:
		text("%s was closed before findings were kept.", p.Moment.Period.Name)
	case open == 0 && c.Counts[3] == 0:
		text("Nothing was found in the data of %s.", p.Moment.Period.Name)
	case open == 0:
		text("Nothing is open for %s; ", p.Moment.Period.Name)
		link(
			p.With(p.State.With("said", "accepted").With("cause", "").With("show", "all")),
			"",
			"%s",
			tell.Plural(c.Counts[3], "finding is accepted", "findings are accepted"),
		)
		text(".")
	default:
		text("For %s ", p.Moment.Period.Name)
		link(p.With(p.State.With("severity", "").With("cause", "").With("show", "all")), "", "%s", counted(c.Counts))
		text(" %s open", map[bool]string{true: "is", false: "are"}[open == 1])
		if c.Since.Code != "" {
			was := c.Was.Open()
			switch by := open - was; {
			case by > 0:
				text(", %d more than in %s", by, c.Since.Name)
			case by < 0:
				text(", %d fewer than in %s", -by, c.Since.Name)
			default:
				text(", as many as in %s", c.Since.Name)
			}
		}
		text(". ")
		if c.Waits > 0 {
			verb := "have"
			if c.Waits == 1 {
				verb = "has"
			}
			link(
				p.With(p.State.With("said", "unexplained").With("cause", "").With("show", "all")),
				"watch",
				"%s %s no answer yet",
				tell.Capital(tell.Number(c.Waits)),
				verb,
			)
			text(". ")
		} else {
			text("All errors and warnings have an answer. ")
		}
		if len(c.Causes) > 0 {
			first := c.Causes[0]
			for _, x := range c.Causes { // the cause that touches most money
				if x.Worth > first.Worth {
					first = x
				}
			}
			if first.Worth > 0 {
				text("Most money hangs on ")
				link(p.Turn("cause", first.Check), "", "%s", tell.Lower(first.Title))
				text(": %s.", worth(first.Worth, p.Moment.Reporting))
			}
		}
	}
	if c.Rows > 0 {
		text(" ")
		link(p.State.To("/gather/refused"), "watch", "%s", tell.Plural(c.Rows, "refused row", "refused rows"))
		if len(c.Codes) > 0 {
			text(" %s out, ", map[bool]string{true: "stays", false: "stay"}[c.Rows == 1])
			link(
				p.State.To("/gather/codes"),
				"",
				"%s",
				tell.Plural(len(c.Codes), "code that nothing matches", "codes that nothing matches"),
			)
			text(".")
		} else {
			text(" %s out.", map[bool]string{true: "stays", false: "stay"}[c.Rows == 1])
		}
	}
	return out
}
