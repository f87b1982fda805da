package chart

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/standing"
)

func TestGlyph(t *testing.T) {
	for st, filled := range map[standing.Standing]int{standing.Unrated: 0, standing.Steady: 1, standing.Watch: 2, standing.Act: 3} {
		s := string(Glyph{Standing: st, What: "Cost"}.SVG())
		require.Equal(t, filled, strings.Count(s, `class="on"`), st)
		require.Equal(t, 3-filled, strings.Count(s, `class="off"`), st)
		require.Contains(t, s, `aria-label="Cost: `+st.String()+`"`)
		require.NotContains(t, s, "style=")
	}
	s := string(Glyph{Standing: standing.Act, Overall: true, What: `<b>"x"`, Why: "a & b"}.SVG())
	require.Contains(t, s, "foot")
	require.Contains(t, s, "&lt;b&gt;&#34;x&#34;: Act, a &amp; b")
}
