package gather

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// AsScore is a column of risks that states likelihood and impact in one: 4x3.
const AsScore = "likelihood x impact"

var (
	scoreHead = regexp.MustCompile(`(?i)^\s*(l|p|likelihood|probability|prob|i|c|s|impact|consequence|severity)\s*[x×*/+&-]\s*(l|p|likelihood|probability|prob|i|c|s|impact|consequence|severity)\s*$`)
	scoreCell = regexp.MustCompile(`^\s*([1-5])\s*[x×*/,;|-]\s*([1-5])\s*(?:=.*)?$`)
)

// scoreOrder tells whether a head names likelihood and impact, and which comes first.
func scoreOrder(head string) (likelihoodFirst, ok bool) {
	m := scoreHead.FindStringSubmatch(head)
	if m == nil {
		return false, false
	}
	likely := func(s string) bool { return strings.ContainsAny(strings.ToLower(s[:1]), "lp") }
	return likely(m[1]), likely(m[1]) != likely(m[2])
}

// scores takes a column that states likelihood and impact in one, where none states either.
func (f *finder) scores() {
	i, _ := f.statesBoth(scoreCell, func(head string) bool { _, ok := scoreOrder(head); return ok })
	if i >= 0 {
		f.u.Uses[i].As, f.u.Columns[i].As = AsScore, AsScore
		f.u.Columns[i].Certainty, f.u.Columns[i].Why = Likely, "its cells state both, as 4x3"
	}
}

// statesBoth finds a column, in a register that states neither likelihood nor impact, all of whose
// cells are of a form; as is one of them. -1 where there is none.
func (f *finder) statesBoth(form *regexp.Regexp, may func(head string) bool) (column int, as string) {
	u := f.u
	if f.t != record.Risks.Kind || f.uses("likelihood") || f.uses("impact") {
		return -1, ""
	}
	for i, x := range u.Uses {
		if x.As != AsExtra && x.As != AsNone || f.m.Columns[u.Heads[i]] != "" || !may(u.Columns[i].Head) {
			continue
		}
		said, all, as := 0, 0, ""
		u.data(f.s, func(l *Line) bool {
			if text := l.At(i).Text; !isBlank(text) {
				all++
				if form.MatchString(text) {
					said++
					as = strings.Clone(strings.TrimFunc(text, isSpace))
				}
			}
			return all < sampled
		})
		if said > 0 && said == all {
			return i, as
		}
	}
	return -1, ""
}

// gridCell is a place in a matrix of risks, by the letter of one side and the number of the
// other: D4.
var gridCell = regexp.MustCompile(`^\s*(?:[A-Ea-e][ -]?[1-5]|[1-5][ -]?[A-Ea-e])\s*$`)

// grid asks about a column that states likelihood and impact by a letter and a number: which
// of the two the letter is, and which way it counts, nothing tells.
func (f *finder) grid() {
	i, as := f.statesBoth(gridCell, func(string) bool { return true })
	if i >= 0 {
		f.u.ask(i, "columns", fmt.Sprintf(
			"%q states likelihood and impact as %s, and nothing tells which side the letter is of; keep it beside, or send the two as numbers from 1 to 5",
			f.u.Columns[i].Head, as,
		), AsExtra, AsNone)
	}
}

// scoreWords are heads of columns that state the product of likelihood and impact, or a class
// of it.
var scoreWords = phrases(`score|risk score|rating|risk rating|risk level|level|exposure score|severity score|risikowert|risikozahl|risikoklasse|risikoverdi|risikoniva|
cotation|criticite|note|nivel de riesgo|livello di rischio|risicoscore|riskvarde|riskniva`)

// onlyScore asks about a register that states no likelihood and no impact, but a score: that
// cannot be taken apart.
func (f *finder) onlyScore() {
	u := f.u
	if f.t != record.Risks.Kind || f.uses("likelihood") || f.uses("impact") || f.uses(AsScore) {
		return
	}
	for i, x := range u.Uses {
		if x.As != AsExtra && x.As != AsNone || f.m.Columns[u.Heads[i]] != "" || !scoreWords[Normal(u.Columns[i].Head)] || !f.anyCell(i) {
			continue
		}
		if slices.ContainsFunc(u.Questions, func(q Question) bool { return q.Column == i }) {
			return
		}
		u.ask(i, "columns", fmt.Sprintf(
			"%q is made of likelihood and impact, and no column states them; keep it beside, or send the two as numbers from 1 to 5",
			u.Columns[i].Head,
		), AsExtra, AsNone)
		return
	}
}

// anyCell tells whether a column says anything.
func (f *finder) anyCell(i int) bool {
	return slices.ContainsFunc(f.rows[f.at+1:], func(r sample) bool { return i < len(r.cells) && !isBlank(r.cells[i].Text) })
}

// moneyImpact takes an impact whose head names a currency for its cost.
func (f *finder) moneyImpact() {
	u := f.u
	at := u.column("impact")
	if f.t != record.Risks.Kind || at < 0 || f.uses("cost_impact") || f.m.Columns[u.Heads[at]] != "" {
		return
	}
	_, said := unitOf(u.Columns[at].Head)
	x, ok := unitIn(said)
	if _, sign := signs[strings.ToLower(said)]; !sign && (!ok || !x.any()) {
		return
	}
	u.Uses[at].As, u.Columns[at].As = "cost_impact", "cost_impact"
	u.Columns[at].Certainty, u.Columns[at].Why = Likely, "its head names a currency"
}

// scored takes likelihood and impact from one cell.
func (r *reader) scored(i int, text string) {
	m := scoreCell.FindStringSubmatch(text)
	if m == nil {
		return
	}
	first, _ := scoreOrder(r.Heads[i])
	l, p := m[1], m[2]
	if !first {
		l, p = p, l
	}
	for name, n := range map[string]string{"likelihood": l, "impact": p} {
		at := r.t.Index(name)
		if parseCell(&r.t.Columns[at], n, &r.out.Fields[at], r.o) != "" {
			r.out.Fields[at] = portfolio.Field{}
		}
	}
}
