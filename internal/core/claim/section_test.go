package claim

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
)

func TestNeeded(t *testing.T) {
	for name, c := range map[string]struct {
		of    portfolio.Section
		stage string
		at    standing.Standing
		want  bool
	}{
		"nothing is said of it":            {portfolio.Section{}, "design", standing.Act, false},
		"never":                            {portfolio.Section{Wanted: portfolio.Never}, "design", standing.Act, false},
		"always":                           {portfolio.Section{Wanted: portfolio.Always}, "", standing.Steady, true},
		"always, unrated":                  {portfolio.Section{Wanted: portfolio.Always}, "", standing.Unrated, true},
		"at watch, steady":                 {portfolio.Section{Wanted: portfolio.AtWatch}, "", standing.Steady, false},
		"at watch, watch":                  {portfolio.Section{Wanted: portfolio.AtWatch}, "", standing.Watch, true},
		"at watch, act":                    {portfolio.Section{Wanted: portfolio.AtWatch}, "", standing.Act, true},
		"at watch, unrated":                {portfolio.Section{Wanted: portfolio.AtWatch}, "", standing.Unrated, false},
		"at act, watch":                    {portfolio.Section{Wanted: portfolio.AtAct}, "", standing.Watch, false},
		"at act, act":                      {portfolio.Section{Wanted: portfolio.AtAct}, "", standing.Act, true},
		"in its stage":                     {portfolio.Section{Wanted: portfolio.Always, Stages: []string{"idea", "design"}}, "design", standing.Steady, true},
		"in another stage":                 {portfolio.Section{Wanted: portfolio.Always, Stages: []string{"idea", "design"}}, "build", standing.Act, false},
		"in a stage, of one that has none": {portfolio.Section{Wanted: portfolio.Always, Stages: []string{"design"}}, "", standing.Act, false},
	} {
		t.Run(name, func(t *testing.T) { require.Equal(t, c.want, Needed(c.of, c.stage, c.at)) })
	}
}

func TestMissing(t *testing.T) {
	all := []portfolio.Section{{Code: "summary", Wanted: portfolio.Always}, {Code: "done"}, {Code: "help", Wanted: portfolio.AtAct}}
	codes := func(list []portfolio.Section) (out []string) {
		for _, s := range list {
			out = append(out, s.Code)
		}
		return out
	}
	require.Equal(t, []string{"summary", "help"}, codes(Missing(all, "", standing.Act, nil)))
	require.Equal(t, []string{"help"}, codes(Missing(all, "", standing.Act, map[string]string{"summary": "Late.", "help": " \n"})), "blanks say nothing")
	require.Empty(t, Missing(all, "", standing.Watch, map[string]string{"summary": "Late."}))
}

func TestDigest(t *testing.T) {
	said := map[string]string{"summary": "Late.", "help": "A crane."}
	require.Len(t, Digest(said), 32)
	require.Equal(t, Digest(said), Digest(map[string]string{"help": "A crane.", "summary": "Late.", "done": " "}), "what is blank says nothing")
	require.NotEqual(t, Digest(said), Digest(map[string]string{"summary": "Late. ", "help": "A crane."}))
	require.NotEqual(t, Digest(said), Digest(map[string]string{"help": "Late.", "summary": "A crane."}), "which section says it counts")
	require.Empty(t, Digest(nil))
	require.Empty(t, Digest(map[string]string{"summary": ""}))
}
