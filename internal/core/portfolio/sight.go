package portfolio

import (
	"fmt"
	"maps"
	"slices"
	"strings"
)

// Kinds are kinds of what is stated about a project, together.
type Kinds uint8

// The kinds, as they are let to be read.
const (
	Dates    Kinds = 1 << iota // schedule, baseline dates, links, steps, items and progress
	Money                      // plan, forecast, commitments, accruals, actual costs and postings
	Risks                      // risks
	Words                      // narratives
	AllKinds Kinds = 1<<iota - 1
)

// KindNames are what people call the kinds, in the order of their bits.
var KindNames = []string{"dates", "money", "risks", "words"}

// KindsNamed reads kinds with commas or blanks between them; none is all of them. Unknown
// is the first word that is none.
func KindsNamed(text string) (k Kinds, unknown string) {
	for _, word := range strings.FieldsFunc(strings.ToLower(text), func(r rune) bool { return r == ',' || r == ';' || r == ' ' }) {
		i := slices.Index(KindNames, word)
		if i < 0 {
			return 0, word
		}
		k |= 1 << i
	}
	if k == 0 {
		return AllKinds, ""
	}
	return k, ""
}

// Kinds tells of what kind a part is.
func (k PartKind) Kinds() Kinds {
	switch k {
	case PlanPart, ForecastPart, CommitmentPart, AccrualPart, ActualPart, LedgerPart:
		return Money
	case RiskPart:
		return Risks
	case NarrativePart:
		return Words
	}
	return Dates
}

// Sight is what somebody reads who does not read everything: of which projects, by id, what
// kinds. Nil is everything.
type Sight map[int64]Kinds

// Reads tells whether something of a project is read.
func (s Sight) Reads(project int64) bool { return s == nil || s[project] != 0 }

// ReadsKinds tells whether all of some kinds are read of a project.
func (s Sight) ReadsKinds(project int64, k Kinds) bool { return s == nil || s[project]&k == k }

// Let adds kinds of a project.
func (s Sight) Let(project int64, k Kinds) { s[project] |= k }

// Grant lets an account do something for a project, a programme or everything.
type Grant struct {
	Account string // the sign-in name; * for everybody
	Lets    Lets
	Scope   string // code, or Everywhere
	Kinds   Kinds  // that are read
}

// Lets is what a grant lets do.
type Lets uint8

// A grant lets read, approve baselines, or say who does and who states.
const (
	LetsRead Lets = iota
	LetsApprove
	LetsAdminister
)

// Within tells whether a scope lies in one of others: a project in its programme, a
// programme in those above it, all of it everywhere.
func (o *Office) Within(scope string, programme func(project string) string, others []string) bool {
	return slices.ContainsFunc(others, func(other string) bool {
		return other == Everywhere || scope == other || scope != Everywhere && scope != "" &&
			(o.Under(scope, other) || o.Under(programme(scope), other))
	})
}

// Covers tells whether a grant is of a project.
func (o *Office) Covers(g *Grant, p *Project) bool {
	return g.Scope == Everywhere || g.Scope == p.Code || g.Scope != "" && o.Under(p.Programme, g.Scope)
}

// Key tells sights apart, as text; "" is that of who reads everything.
func (s Sight) Key() string {
	if s == nil {
		return ""
	}
	var b strings.Builder
	b.WriteByte('!')
	for _, id := range slices.Sorted(maps.Keys(s)) {
		fmt.Fprintf(&b, "%d:%d ", id, s[id])
	}
	return b.String()
}
