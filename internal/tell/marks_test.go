package tell_test

import (
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/tell"
)

func TestMarks(t *testing.T) {
	for _, c := range []struct {
		was, is string
		want    []tell.Stretch
	}{
		{"", "All new.", []tell.Stretch{{Text: "All new."}}},
		{"Gone.", "", []tell.Stretch{{}}},
		{"The quay is late.", "The quay is late.", []tell.Stretch{{Text: "The quay is late."}}},
		{
			"62% of the work is done.", "66% of the work is done now.",
			[]tell.Stretch{{Text: "62%", Gone: true}, {Text: "66%", New: true}, {Text: "of the work is"}, {Text: "done.", Gone: true}, {Text: "done now.", New: true}},
		},
		{"a b c", "x y", []tell.Stretch{{Text: "a b c", Gone: true}, {Text: "x y", New: true}}},
	} {
		require.Equal(t, c.want, tell.Marks(c.was, c.is), c.is)
	}
}

// TestMarksGiveBoth: without what is new the stretches are the text of before, and without what
// is gone the text of now.
func TestMarksGiveBoth(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 7))
	words := []string{"quay", "pier", "is", "late", "done"}
	text := func() string {
		var out []string
		for range 1 + r.IntN(12) {
			out = append(out, words[r.IntN(len(words))])
		}
		return strings.Join(out, " ")
	}
	for range 300 {
		was, is := text(), text()
		var before, now []string
		for _, s := range tell.Marks(was, is) {
			require.False(t, s.New && s.Gone)
			if !s.New {
				before = append(before, s.Text)
			}
			if !s.Gone {
				now = append(now, s.Text)
			}
		}
		require.Equal(t, was, strings.Join(before, " "))
		require.Equal(t, is, strings.Join(now, " "))
	}
}
