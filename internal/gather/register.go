package gather

import (
	"fmt"
	"slices"
	"strings"

	"turret/internal/record"
)

// Registers hold risks and issues, and often more, told apart by a word or a letter of a
// column, by the sheet or by its name.

// entries are what registers hold beside risks and issues, by their words; letters stand for
// them under heads of entries.
var (
	entries = wordsOf(`opportunity opportunities chance chancen mulighet muligheter opportunite oportunidad opportunita kans mojlighet assumption
assumptions annahme forutsetning hypothese supuesto assunzione aanname antagande dependency dependencies abhangigkeit avhengighet dependance
dependencia dipendenza afhankelijkheid action actions massnahme tiltak decision decisions entscheidung beslutning constraint lesson lessons o a d`)
	entryHeads = wordsOf("type kind category entry entries class art typ t o r i raid rai rid rio categorie kategorie kategori kategoria tipo soort slag")
)

// isEntry tells whether a text under a head is a word for what registers hold.
func isEntry(head, text string) bool {
	n := Normal(text)
	if n == "" || !entries[n] && choices["risks.kind"][n] == "" && n != "risk" && n != "issue" && n != "threat" && n != "problem" {
		return false
	}
	if len(n) > 1 {
		return true
	}
	for w := range strings.FieldsSeq(Normal(head)) {
		if !entryHeads[w] {
			return false
		}
	}
	return Normal(head) != ""
}

// sheetOfState takes the state of all risks from the name of their sheet: "Closed risks".
func (f *finder) sheetOfState() {
	if f.t.Name != "risks" || !f.lacks("state") {
		return
	}
	c := &f.t.Columns[f.t.Index("state")]
	for word := range strings.FieldsSeq(Normal(f.s.title())) {
		if state := chosen(f.t, c, word); slices.Contains(c.Domain, state) {
			f.u.Fixed["state"] = state
			f.u.note("All rows are %s: the sheet is named so.", state)
			return
		}
	}
}

// closedWords are heads of the day on which a risk was closed.
var closedWords = phrases("closed on|date closed|closed|closing date|closure date|geschlossen am|lukket|lukket dato|cloture|date de cloture|cerrado el|chiuso il|gesloten op|stangd")

// closedDays takes the day on which each was closed for its state, where no column states it:
// a risk without one is open.
func (f *finder) closedDays() {
	u := f.u
	if f.t.Name != "risks" || !f.lacks("state") {
		return
	}
	for i, x := range u.Uses {
		if x.As != AsExtra && x.As != AsNone || f.m.Columns[u.Heads[i]] != "" || !closedWords[Normal(u.Columns[i].Head)] || !f.holdsDays(f.at, i) {
			continue
		}
		u.Uses[i].Blank, u.Uses[i].As, u.Columns[i].As = "open", "state", "state"
		u.Columns[i].Certainty, u.Columns[i].Why = Likely, "a risk with a day there is closed"
		u.note("A risk with a day under %s is taken as closed, and one without as open.", f.called(i))
		return
	}
}

// besideStates are the words beside one for a state in headings between risks.
var besideStates = wordsOf("risk risks issue issues items entries and new still during this period month")

// stateHeading gives the state of risks that a row alone says: "Closed risks".
func stateHeading(line *Line) (state string) {
	const few = 5 // words
	words := strings.Fields(Normal(textOf(line)))
	if filled(line) != 1 || len(words) > few {
		return ""
	}
	at := record.Risks.Kind.Index("state")
	for _, w := range words {
		s := chosen(record.Risks.Kind, &record.Risks.Kind.Columns[at], w)
		switch known := slices.Contains(record.Risks.Kind.Columns[at].Domain, s); {
		case known && state == "":
			state = s
		case known && s != state, !known && !besideStates[w]:
			return ""
		}
	}
	return state
}

// statesBetween finds whether headings between risks tell which are open and which closed.
func (f *finder) statesBetween() {
	if f.t != record.Risks.Kind || !f.lacks("state") {
		return
	}
	for _, r := range f.rows[f.at+1:] {
		if stateHeading(&Line{N: r.n, Cells: r.cells}) != "" {
			f.u.States = true
			f.u.note("Headings between the rows tell which are open and which closed.")
			return
		}
	}
}

// openYetClosed asks about risks that say that they are open, and have a day of closing.
func (f *finder) openYetClosed() (w watcher) {
	u := f.u
	state := u.column("state")
	if f.t != record.Risks.Kind || state < 0 || u.Trusted {
		return w
	}
	at := -1
	for i, x := range u.Uses {
		if x.As == AsExtra && closedWords[Normal(u.Columns[i].Head)] && f.holdsDays(f.at, i) {
			at = i
		}
	}
	if at < 0 {
		return w
	}
	n, first := 0, 0
	column := &record.Risks.Kind.Columns[record.Risks.Kind.Index("state")]
	w.row = func(l *Line) {
		if readDay(l.At(at).Text).any() && chosen(f.t, column, strings.TrimFunc(l.At(state).Text, isSpace)) == "open" {
			if n++; n == 1 {
				first = l.N
			}
		}
	}
	w.done = func() {
		if n > 0 {
			u.ask(state, "trust", fmt.Sprintf(
				"%s that it is open and has a day under %s, as row %d; say that the states are right, or correct them",
				plural(n, "row says", "rows say"), f.called(at), first,
			), "yes")
		}
	}
	return w
}

// halfScored asks about a register that states likelihood or impact alone, where a column of
// steps from one to five stands beside: it may be the other.
func (f *finder) halfScored() {
	u := f.u
	if f.t != record.Risks.Kind || f.uses("likelihood") == f.uses("impact") || f.uses(AsScore) {
		return
	}
	other := "impact"
	if f.uses("impact") {
		other = "likelihood"
	}
	for i, x := range u.Uses {
		if x.As != AsExtra && x.As != AsNone || f.m.Columns[u.Heads[i]] != "" || scoreWords[Normal(u.Columns[i].Head)] {
			continue
		}
		steps := 0
		fits := f.allBelow(i, func(text string) bool {
			steps++
			return len(text) == 1 && text >= "1" && text <= "5"
		})
		if fits && steps > 0 {
			u.ask(i, "columns", fmt.Sprintf("%q holds steps from 1 to 5, and no column tells the %s; say whether it is that", u.Columns[i].Head, other), other, AsExtra)
			return
		}
	}
}

// Words before likelihood and impact in heads that state each more than once.
var whens = wordsOf("inherent residual gross net initial untreated treated mitigated unmitigated managed raw")

// whenBoth asks which likelihood and impact count where heads state each more than once, and
// none of them says that it is what is now.
func (f *finder) whenBoth() {
	u := f.u
	if f.t.Name != "risks" {
		return
	}
	for _, as := range [...]string{"likelihood", "impact"} {
		if f.uses(as) || f.uses(AsScore) {
			continue
		}
		var found []int
		for i, x := range u.Uses {
			rest, cut := without(u.Columns[i].Head, whens)
			if column, weight := calledSo(f.t, strings.ReplaceAll(rest, " ", ""), rest); cut && weight > 1 && column == as &&
				(x.As == AsExtra || x.As == AsNone) && f.m.Columns[u.Heads[i]] == "" {
				found = append(found, i)
			}
		}
		if len(found) > 0 {
			i := found[len(found)-1]
			u.ask(i, "columns", fmt.Sprintf("%q may be the %s that counts now; say whether it is", u.Columns[i].Head, as), as, AsExtra)
		}
	}
}

// sheetOfIssues tells risks from issues where no column does: by the head of their codes, the
// name of their sheet, titles and the name of the file, the nearest first. Where it speaks of
// both it is asked.
func (f *finder) sheetOfIssues() {
	if f.t.Name != "risks" || !f.lacks("kind") {
		return
	}
	texts := f.around()
	if at := f.u.column("risk"); at >= 0 {
		texts = append([]string{f.u.Columns[at].Head, f.s.title()}, texts...)
	}
	for _, text := range texts {
		risk, issue := false, false
		for w := range strings.FieldsSeq(strings.Map(apart, Normal(text))) {
			risk, issue = risk || riskWords[w], issue || issueWords[w]
		}
		switch {
		case risk && issue:
			f.u.ask(-1, "fixed.kind", fmt.Sprintf("%q speaks of risks and of issues, and no column tells which a row is; say which all are", strings.TrimSpace(text)), "risk", "issue")
			return
		case issue:
			f.u.Fixed["kind"] = "issue"
			f.u.note("All rows are taken as issues: %q says so.", strings.TrimSpace(text))
			return
		case risk:
			return
		}
	}
}

// Words that titles and heads call risks and issues by.
var (
	riskWords  = wordsOf("risk risks risiko risiken risikoer risque risques riesgo riesgos rischio rischi risico risicos risker threats")
	issueWords = wordsOf("issue issues problem problems probleme problemes problemas problemi problemen saker")
)
