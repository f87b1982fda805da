package portfolio

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
)

const may = calendar.Period(24317) // 2026-05

// TestOwes: the rule nearest to the project holds, of those the one for its stage, of
// those the later.
func TestOwes(t *testing.T) {
	o := newOffice()
	o.Groups = []Programme{{Code: "P", Parent: "TOP"}, {Code: "TOP"}}
	p := &Project{Code: "A", Programme: "P", Stage: "design", State: Active}
	held := &Project{Code: "H", State: OnHold}
	rule := func(scope string, owed bool, every int, more ...func(*Owing)) Owing {
		r := Owing{Scope: scope, Kind: RiskPart, From: may, Owed: owed, Every: every}
		for _, f := range more {
			f(&r)
		}
		return r
	}
	from := func(p calendar.Period) func(*Owing) { return func(r *Owing) { r.From = p } }
	stage := func(s string) func(*Owing) { return func(r *Owing) { r.Stage = s } }
	state := func(s State) func(*Owing) { return func(r *Owing) { r.State = s } }
	for _, c := range []struct {
		name  string
		rules []Owing
		of    *Project
		kind  PartKind
		want  string // from two periods before May to six after: o where it is owed
	}{
		{"progress, without a rule", nil, p, ProgressPart, "ooooooooo"},
		{"forecast, without a rule", nil, p, ForecastPart, "ooooooooo"},
		{"risks, without a rule", nil, p, RiskPart, "........."},
		{"what is on hold", nil, held, ProgressPart, "........."},
		{"everywhere", []Owing{rule("*", true, 1)}, p, RiskPart, "..ooooooo"},
		{"every third", []Owing{rule("*", true, 3)}, p, RiskPart, "..o..o..o"},
		{"every one, unsaid", []Owing{rule("*", true, 0)}, p, RiskPart, "..ooooooo"},
		{"another kind", []Owing{rule("*", true, 1)}, p, NarrativePart, "........."},
		{"not of a project", []Owing{rule("*", true, 1), rule("A", false, 1, from(may+2))}, p, RiskPart, "..oo....."},
		{"the order of rules says nothing", []Owing{rule("A", false, 1, from(may+2)), rule("*", true, 1)}, p, RiskPart, "..oo....."},
		{"the programme before the portfolio", []Owing{rule("P", true, 1), rule("*", false, 1, from(may+1))}, p, RiskPart, "..ooooooo"},
		{"the programme above", []Owing{rule("TOP", true, 1)}, p, RiskPart, "..ooooooo"},
		{"the nearer programme", []Owing{rule("P", false, 1), rule("TOP", true, 1, from(may+1))}, p, RiskPart, "........."},
		{"another's programme", []Owing{rule("P", true, 1)}, &Project{Code: "B", State: Active}, RiskPart, "........."},
		{"its stage before any", []Owing{rule("*", true, 1), rule("*", false, 1, stage("design"))}, p, RiskPart, "........."},
		{"another stage", []Owing{rule("*", true, 1), rule("*", false, 1, stage("build"))}, p, RiskPart, "..ooooooo"},
		{"the later of two", []Owing{rule("*", true, 1), rule("*", false, 1, from(may+4))}, p, RiskPart, "..oooo..."},
		{"a state that is named", []Owing{rule("*", true, 1, state(OnHold))}, held, RiskPart, "..ooooooo"},
		{"and not others", []Owing{rule("*", true, 1, state(OnHold))}, p, RiskPart, "........."},
		{"active, named", []Owing{rule("*", true, 1, state(Active))}, p, RiskPart, "..ooooooo"},
	} {
		t.Run(c.name, func(t *testing.T) {
			o.Owing = c.rules
			got := ""
			for q := may - 2; q <= may+6; q++ {
				got += map[bool]string{true: "o", false: "."}[o.Owes(c.of, c.kind, q)]
			}
			require.Equal(t, c.want, got)
		})
	}
}

// TestDebt: how far behind a project is, by kind.
func TestDebt(t *testing.T) {
	o := newOffice()
	o.Owing = []Owing{{Scope: "*", Kind: RiskPart, From: may, Owed: true, Every: 3}}
	p := &Project{
		Code: "A", State: Active, Start: o.Periods.First(may - 1),
		Progress: []Progress{{Period: may}}, Forecast: []Version{{Number: int(may) - 1}, {Number: int(may) + 3}},
		Risks: []RiskStatement{{Period: may}},
	}
	for _, c := range []struct {
		name string
		kind PartKind
		at   calendar.Period
		want Debt
	}{
		{"stated for it", ProgressPart, may, Debt{true, may, 0, true}},
		{"one later", ProgressPart, may + 1, Debt{true, may, 1, true}},
		{"four later", ProgressPart, may + 4, Debt{true, may, 4, true}},
		{"what comes later is not known yet", ForecastPart, may + 2, Debt{true, may - 1, 3, true}},
		{"until it is", ForecastPart, may + 3, Debt{true, may + 3, 0, true}},
		{"before it is owed again", RiskPart, may + 2, Debt{true, may, 0, true}},
		{"once it is owed again", RiskPart, may + 3, Debt{true, may, 3, true}},
		{"and after", RiskPart, may + 4, Debt{true, may, 4, true}},
		{"never owed", NarrativePart, may, Debt{false, 0, 0, true}},
		{"before its rule", RiskPart, may - 1, Debt{false, 0, 0, true}},
	} {
		t.Run(c.name, func(t *testing.T) { require.Equal(t, c.want, At(o, p, c.at, Latest).Debt(c.kind)) })
	}
	p.Progress, p.Risks = nil, nil
	require.Equal(t, Debt{true, 0, 3, true}, At(o, p, may+1, Latest).Debt(ProgressPart), "never, and owed in April, May and June")
	require.Equal(t, Debt{true, 0, 1, true}, At(o, p, may, Latest).Debt(RiskPart), "never, and owed for the first time")
	require.Equal(t, Debt{true, 0, 0, true}, At(o, p, may-2, Latest).Debt(ProgressPart), "it had not begun")
	p.Start = 0
	require.Equal(t, Debt{true, 0, 0, false}, At(o, p, may, Latest).Debt(ProgressPart), "nothing tells since when")
}
