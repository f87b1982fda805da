package thread

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func TestTurn(t *testing.T) {
	for name, c := range map[string]struct {
		of   Thread
		turn Turn
	}{
		"asked, no answer":             {Thread{By: "ines", To: "ada"}, Asked},
		"answered":                     {Thread{By: "ines", To: "ada", Spoke: []string{"ada"}}, Asker},
		"answered by a third":          {Thread{By: "ines", To: "ada", Spoke: []string{"tor"}}, Asker},
		"asked on":                     {Thread{By: "ines", To: "ada", Spoke: []string{"ada", "ines"}}, Asked},
		"the asker adds to it":         {Thread{By: "ines", To: "ada", Spoke: []string{"ines"}}, Asked},
		"asked on and answered":        {Thread{By: "ines", To: "ada", Spoke: []string{"ada", "ines", "ada"}}, Asker},
		"closed before it is answered": {Thread{By: "ines", To: "ada", Closed: true}, Nobody},
		"closed and answered":          {Thread{By: "ines", Closed: true, Spoke: []string{"ada"}}, Nobody},
	} {
		t.Run(name, func(t *testing.T) { require.Equal(t, c.turn, c.of.Turn()) })
	}
}

func TestMine(t *testing.T) {
	ines, ada := Person{Login: "ines", Office: true}, Person{Login: "ada", Leads: true}
	bo := Person{Login: "bo", Leads: true} // a deputy
	tor, olaf := Person{Login: "tor"}, Person{Login: "olaf", Office: true}
	for name, c := range map[string]struct {
		of   Thread
		mine []string
	}{
		"the leads":              {Thread{By: "ines", To: Leads}, []string{"ada", "bo"}},
		"one of the leads asks":  {Thread{By: "ada", To: Leads}, []string{"bo"}},
		"one person":             {Thread{By: "ines", To: "tor"}, []string{"tor"}},
		"the office":             {Thread{By: "ada", To: Office}, []string{"ines", "olaf"}},
		"the office asks itself": {Thread{By: "ines", To: Office}, []string{"olaf"}},
		"answered":               {Thread{By: "ines", To: Leads, Spoke: []string{"bo"}}, []string{"ines"}},
		"closed":                 {Thread{By: "ines", To: Leads, Closed: true}, nil},
	} {
		t.Run(name, func(t *testing.T) {
			var mine []string
			for _, p := range []Person{ada, bo, ines, olaf, tor} {
				if c.of.Mine(p) {
					mine = append(mine, p.Login)
				}
			}
			require.Equal(t, c.mine, mine)
		})
	}
}

func TestMayClose(t *testing.T) {
	x := Thread{By: "ada", To: "tor"}
	require.True(t, x.MayClose(Person{Login: "ada"}), "who asked")
	require.True(t, x.MayClose(Person{Login: "ines", Office: true}), "the office")
	require.False(t, x.MayClose(Person{Login: "tor"}), "who is asked")
	require.False(t, x.MayClose(Person{Login: "bo", Leads: true}), "another lead")
}
