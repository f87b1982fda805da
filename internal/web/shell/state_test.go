package shell

import (
	"net/url"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
)

func TestStateComesAndGoes(t *testing.T) {
	for _, c := range []struct{ query, want string }{
		{"", ""},
		{"at=2026-11", "at=2026-11"},
		{"vs=b&at=a", "at=a&vs=b"}, // always in the same order
		{"nope=1&q=+x+", "q=x"},
		{"q=a%26b%3Dc", "q=a%26b%3Dc"},
		{"at=1&at=2", "at=1"},
		{"q=%zz&at=2026-11", "at=2026-11"},
		{"%zz", ""},
	} {
		s := ParseState(c.query)
		require.Equal(t, c.want, s.Query(), c.query)
		require.Equal(t, s, ParseState(s.Query()), "what is written is read the same")
	}
	values := make(url.Values)
	for _, n := range names {
		values.Set(n, "ü/&=? "+n)
	}
	s := ParseState(values.Encode())
	require.Equal(t, s, ParseState(s.Query()))
	for _, n := range names {
		require.Equal(t, "ü/&=? "+n, s.Get(n))
	}
}

func TestStateGoesOn(t *testing.T) {
	s := ParseState("at=a&vs=b&in=project&against=original&scope=G&standing=act&sort=-bac&view=3&show=all&trail=x%2Fy")
	require.Equal(
		t,
		"/board?at=a&vs=b&against=original&in=project&scope=G&standing=act&sort=-bac&view=3",
		s.Board(),
		"what belongs to one page stays there",
	)
	require.Equal(t, "/project/A%2F1%20%C3%A4?at=a&vs=b&against=original&in=project", s.Moment().Project("A/1 ä"))
	require.Equal(t, "/trail/%2A/bac", State{}.Trail("*", "bac"))
	require.False(t, s.Moment().Arranged())
	require.True(t, s.Arranged())
	require.False(t, State{}.With("at", "x").Arranged(), "a period is no arrangement")
	require.Equal(
		t,
		office.Ask{
			At:      "a",
			Vs:      "b",
			Against: "original",
			In:      "project",
			Scope:   "G",
			Filter:  office.Filter{Standing: "act"},
		},
		s.Ask(),
	)
	require.Panics(t, func() { s.Get("nope") })
}

func TestStateOfFilters(t *testing.T) {
	for _, f := range []office.Filter{{}, {Standing: "act"}, {Disagree: true}, {Lead: "A B", Stage: "-", State: "on hold", Text: "x"}} {
		require.Equal(t, f, State{}.Filtered(f).Filter())
		require.Equal(t, State{}, State{}.Filtered(f).Filtered(office.Filter{}))
	}
}

func TestToggle(t *testing.T) {
	s := State{}.Toggle("fold", "A").Toggle("fold", "B")
	require.Equal(t, []string{"A", "B"}, s.Folded())
	require.Equal(t, []string{"B"}, s.Toggle("fold", "A").Names("fold"))
	require.Empty(t, s.Toggle("fold", "A").Toggle("fold", "B").Names("fold"))
	require.Equal(t, []string{"A", "B"}, s.Folded(), "a state does not change")
}

func TestPageAddresses(t *testing.T) {
	p := Page{Path: "/project/A", State: ParseState("at=a&trail=A%2Fcpi&curve=period")}
	require.Equal(t, "/project/A?at=b&curve=period", p.Turn("at", "b"), "the trail closes where the page turns")
	require.Equal(t, "/project/A?at=a&curve=period&trail=%2A%2Fbac", p.Figure("*", "bac"))
	require.Equal(t, "/project/A?at=a&curve=period&shut=10", p.Toggle("shut", "10"))
	p.Kept = url.Values{"name": {"typed"}}
	require.Equal(t, "typed", p.Field("name", "other"))
	require.Equal(t, "other", p.Field("role", "other"))
}
