package portfolio

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func TestKindsNamed(t *testing.T) {
	for text, want := range map[string]Kinds{
		"": AllKinds, " ": AllKinds, "dates": Dates, "Money, risks": Money | Risks, "words;dates": Words | Dates, "dates money risks words": AllKinds,
	} {
		k, unknown := KindsNamed(text)
		require.Empty(t, unknown, text)
		require.Equal(t, want, k, text)
	}
	_, unknown := KindsNamed("dates, costs")
	require.Equal(t, "costs", unknown)
	require.Equal(t, Kinds(1<<len(KindNames)-1), AllKinds, "each kind has a name")
}

// TestKindsOfParts writes out what each part is read as.
func TestKindsOfParts(t *testing.T) {
	for kind, want := range map[PartKind]Kinds{
		ActivityPart: Dates, BaselinePart: Dates, LinkPart: Dates, StepPart: Dates, ItemPart: Dates, ProgressPart: Dates,
		PlanPart: Money, ForecastPart: Money, CommitmentPart: Money, AccrualPart: Money, ActualPart: Money, LedgerPart: Money,
		RiskPart: Risks, NarrativePart: Words,
	} {
		require.Equal(t, want, kind.Kinds(), kind.String())
	}
}

func TestSight(t *testing.T) {
	var all Sight
	require.True(t, all.Reads(7) && all.ReadsKinds(7, AllKinds))
	require.Empty(t, all.Key())
	s := make(Sight)
	require.False(t, s.Reads(7) || s.ReadsKinds(7, Dates))
	require.NotEqual(t, all.Key(), s.Key())
	s.Let(7, Dates)
	require.True(t, s.Reads(7) && s.ReadsKinds(7, Dates))
	require.False(t, s.ReadsKinds(7, Dates|Money))
	was := s.Key()
	s.Let(7, Money)
	require.True(t, s.ReadsKinds(7, Dates|Money))
	require.NotEqual(t, was, s.Key())
}

func TestCovers(t *testing.T) {
	o := &Office{Groups: []Programme{{Code: "G"}, {Code: "H", Parent: "G"}}}
	p := &Project{Code: "P", Programme: "H"}
	for scope, want := range map[string]bool{"*": true, "P": true, "H": true, "G": true, "Q": false, "": false} {
		require.Equal(t, want, o.Covers(&Grant{Scope: scope}, p), scope)
	}
}
