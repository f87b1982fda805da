package pages

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
	"turret/internal/web/shell"
)

// TestBlocks: a page is read from its address and written as it was; what is none is told.
func TestBlocks(t *testing.T) {
	const text = "12:sum 4f:map 6:exceptions?cause=over&least=5 4:money?rows=code 8:text?q=A+word"
	list, odd := read(text)
	require.Empty(t, odd)
	require.Equal(t, text, write(list))
	require.Equal(t, "A word", list[4].Text())
	_, odd = read("5:sum 6:nothing 6 x:map 6ff:map 6:map")
	require.Equal(t, []string{"5:sum", "6:nothing", "6", "x:map", "6ff:map"}, odd)
	for _, role := range []office.Role{office.Executive, office.Analyst, office.Lead, office.Administrator} {
		list, odd := read(shipped(role))
		require.Empty(t, odd, role)
		require.Greater(t, len(list), 3)
	}
}

// TestAddress: a block asks its screen at the moment of the page and in its scope, unless it has
// one of its own.
func TestAddress(t *testing.T) {
	page := shell.ParseState("at=2026-08&vs=2026-07&scope=FR&blocks=12:sum")
	for text, want := range map[string]string{
		"6:exceptions?cause=over":    "/exceptions?at=2026-08&vs=2026-07&scope=FR&cause=over",
		"6:exceptions?scope=QS":      "/exceptions?at=2026-08&vs=2026-07&scope=QS",
		"6:exceptions?at=2020-01":    "/exceptions?at=2026-08&vs=2026-07&scope=FR",
		"6:bridge":                   "/money/bridge?at=2026-08&vs=2026-07&scope=FR&amounts=outlook",
		"6:bridge?amounts=forecast":  "/money/bridge?at=2026-08&vs=2026-07&scope=FR&amounts=forecast",
		"6:gone?nonsense=1&of=FR-01": "/dates/gone?at=2026-08&vs=2026-07&scope=FR&of=FR-01",
	} {
		list, odd := read(text)
		require.Empty(t, odd)
		require.Equal(t, want, list[0].Address(page), text)
	}
}

// TestOfScreens: each screen that can be put on a page is found by its address, without the
// moment at which it was looked at; a link leads to the web alone.
func TestOfScreens(t *testing.T) {
	b, ok := of("/exceptions?at=2026-08&scope=FR&cause=over&view=3&trail=x%2Fcpi")
	require.True(t, ok)
	require.Equal(t, "12:exceptions?cause=over", write([]Block{b}))
	b, ok = of("/board?group=lead")
	require.True(t, ok)
	require.Equal(t, "12:board?group=lead", write([]Block{b}), "the list, not the sentence above it")
	_, ok = of("/setup/rules")
	require.False(t, ok)
	for _, k := range kinds {
		require.Equal(t, k.path == "", k.part == "", k.name)
		require.NotContains(t, k.name, ":")
	}
	for at, want := range map[string]string{
		"https://office.example/a?b=c": "https://office.example/a?b=c", "javascript:alert(1)": "", "//x": "", "https:": "", "data:text/html,x": "",
	} {
		s := shell.State{}
		b := Block{kind: kinds[len(kinds)-1], query: s.With("of", at).Query()}
		require.Equal(t, "link", b.Name())
		require.Equal(t, want, b.Link(), at)
	}
	require.True(t, strings.HasPrefix(kinds[len(kinds)-2].name, "text"))
}

// TestBriefOf: blocks name the page of a brief that says the same, with what they ask.
func TestBriefOf(t *testing.T) {
	for text, want := range map[string]string{
		"12:sum": "first", "6:exceptions?cause=over&least=5": "found:cause=over&least=5", "6:money?rows=code": "money:rows=code",
		"6:trend": "trend:", "4:text?q=A+word": "text:q=A%20word", "4:map": "", "4:link?of=x": "", "6:decide": "decide:",
	} {
		list, odd := read(text)
		require.Empty(t, odd)
		require.Equal(t, want, list[0].Brief(), text)
	}
}
