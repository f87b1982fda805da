package gather

import (
	"fmt"
	"strings"

	"turret/internal/office/intake"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// say tells what came in for the period: who has stated, who owes what, what
// waits for someone.
func (p *Page) say() []shell.Phrase {
	var out []shell.Phrase
	text := func(format string, args ...any) { out = append(out, shell.Phrase{Text: fmt.Sprintf(format, args...)}) }
	link := func(to, tone, format string, args ...any) {
		out = append(out, shell.Phrase{Text: fmt.Sprintf(format, args...), Link: to, Tone: tone})
	}
	in := p.Intake
	if p.Moment.Empty {
		text("Nothing is stated yet.")
		return out
	}
	if in.Early {
		text("%s Nothing is stated for it yet, and nothing is owed before it ends on %s.", p.Moment.Period.Being(), tell.Date(p.Moment.Period.Last))
	} else {
		text("For %s ", p.Moment.Period.Name)
	}
	switch owing := in.Owing - in.Stated; {
	case in.Early:
	case in.Owing == 0:
		text("no project owes a statement.")
	case owing == 0:
		link(p.Turn("show", ""), "", "all %d projects", in.Owing)
		text(" have stated all they owe.")
	default:
		link(p.Turn("show", ""), "", "%d of %d", in.Stated, in.Owing)
		text(" projects have stated all they owe. ")
		verb := "owe"
		if owing == 1 {
			verb = "owes"
		}
		link(p.Turn("show", "owing"), "act", "%s %s something", tell.Capital(tell.Number(owing)), verb)
		if r := p.most(); r != nil {
			lead := ", most of all"
			if owing == 1 {
				lead = ":"
			}
			text("%s %s, its %s.", lead, r.Name, strings.Join(r.Owes, " and "))
		}
	}
	if len(p.Codes) > 0 {
		rows := 0
		for _, w := range p.Codes {
			rows += w.Rows
		}
		text(" ")
		link(p.State.To("/gather/codes"), "watch", "%s", tell.Plural(rows, "row waits", "rows wait"))
		text(" for a code.")
		p.Waiting = max(p.Waiting-rows, 0)
	}
	if p.Waiting > 0 {
		text(" ")
		more := ""
		if p.Waiting >= mostRefused {
			more = "At least "
		}
		link(
			p.State.To("/gather/refused"),
			"watch",
			"%s%s",
			more,
			tell.Plural(p.Waiting, "refused row", "refused rows"),
		)
		text(" %s to be dealt with.", map[bool]string{true: "is", false: "are"}[p.Waiting == 1])
	}
	return out
}

// most is the project that owes most.
func (p *Page) most() *intake.Row {
	var out *intake.Row
	for i := range p.Intake.Groups {
		for j := range p.Intake.Groups[i].Rows {
			if r := &p.Intake.Groups[i].Rows[j]; len(r.Owes) > 0 && (out == nil || len(r.Owes) > len(out.Owes)) {
				out = r
			}
		}
	}
	return out
}
