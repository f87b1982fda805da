package right

import (
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"
)

// TestEveryRoleAndAction writes out who may do what.
func TestEveryRoleAndAction(t *testing.T) {
	may := map[Role][]Action{
		Analyst:       {Read, State, Gather, Map, Brief, Answer, Propose, Approve, Rule, Close, Draw, Found, Export, Keep, Share, Ask, Explain},
		Lead:          {Read, Keep, Ask},
		Executive:     {Read, Approve, Keep, Ask},
		Administrator: {Read, Map, Draw, Found, Export, Install, Admit, Keep, Share, Ask},
		Operator:      {Read, State, Gather, Map, Brief, Answer, Propose, Approve, Rule, Close, Draw, Found, Export, Install, Admit, Ask, Explain},
		"":            {},
		"king":        {},
	}
	for role, list := range may {
		for _, do := range Actions {
			err := Check(Actor{Name: "Someone", Role: role}, do)
			if contains(list, do) {
				require.NoError(t, err, "%s: %s", role, do)
				continue
			}
			require.ErrorAs(t, err, new(*Denied), "%s: %s", role, do)
			require.Contains(t, err.Error(), string(do))
		}
	}
	require.NotContains(t, Roles, Operator, "no account works on the command line")
}

func contains(list []Action, a Action) bool {
	for _, x := range list {
		if x == a {
			return true
		}
	}
	return false
}

func TestALeadStatesForTheirOwn(t *testing.T) {
	lead := Actor{Name: "Ada", Role: Lead, Projects: []int64{3, 5}}
	require.NoError(t, CheckState(lead, 5, "progress", 5))
	require.ErrorAs(t, CheckState(lead, 4, "progress", 5), new(*Denied))
	require.NoError(t, CheckState(Actor{Role: Analyst}, 4, "progress", 5))
	require.ErrorAs(
		t,
		CheckState(Actor{Role: Executive, Projects: []int64{4}}, 4, "progress", 5),
		new(*Denied),
		"projects make no lead",
	)
}

func TestPasswords(t *testing.T) {
	for password, good := range map[string]bool{
		"slack water 26": true, "ten chars!": true, "nine char": false, "": false, strings.Repeat("x", 201): false,
		"my name is INES": false, "åäöåäöåäöå": true,
	} {
		require.Equal(t, good, CheckPassword("ines", password) == nil, password)
	}
	a, err := HashPassword("slack water 26")
	require.NoError(t, err)
	b, err := HashPassword("slack water 26")
	require.NoError(t, err)
	require.NotEqual(t, a, b, "each hash has its own salt")
	require.NotContains(t, a, "slack")
	require.True(t, PasswordIs("slack water 26", a))
	for _, c := range [][2]string{{"slack water 27", a}, {"", a}, {"slack water 26", ""}, {"", ""}, {"\x00", ""}, {"x", "not a hash"}} {
		require.False(t, PasswordIs(c[0], c[1]), c)
	}
	var wg sync.WaitGroup
	for range 8 { // two at a time; the rest waits
		wg.Go(func() { PasswordIs("x", a) })
	}
	wg.Wait()
}

func TestCodes(t *testing.T) {
	seen := make(map[string]bool)
	for range 100 {
		code, hash := NewCode()
		require.False(t, seen[code])
		seen[code] = true
		require.GreaterOrEqual(t, len(code), 26)
		require.Equal(t, hash, CodeHash(" "+strings.ToLower(code)+"\n"), "as people type it")
	}
}

// A deputy states what they were let, for the periods that they were let.
func TestCheckStateOfADeputy(t *testing.T) {
	a := Actor{Role: Lead, Projects: []int64{1}, States: []Statement{
		{Project: 2, Kinds: []string{"risks", "progress"}, From: 5, Until: 7}, {Project: 3, From: 6},
	}}
	for _, c := range []struct {
		project int64
		kind    string
		period  int
		may     bool
	}{
		{1, "forecast", 1, true},
		{2, "risks", 5, true},
		{2, "progress", 7, true},
		{2, "forecast", 5, false},
		{2, "risks", 4, false},
		{2, "risks", 8, false},
		{3, "forecast", 6, true},
		{3, "forecast", 900, true},
		{3, "forecast", 5, false},
		{4, "risks", 6, false},
	} {
		require.Equal(t, c.may, CheckState(a, c.project, c.kind, c.period) == nil, "%v", c)
	}
	require.True(t, a.Concerns(1) && a.Concerns(3))
	require.False(t, a.Concerns(4))
	a.Role = Executive
	require.Error(t, CheckState(a, 2, "risks", 5), "only leads are let")
}

// TestApprove: who is let approve some approves those alone, whatever their role.
func TestApprove(t *testing.T) {
	for _, c := range []struct {
		role     Role
		approves []int64
		one, two bool
	}{
		{Executive, nil, true, true},
		{Lead, nil, false, false},
		{Executive, []int64{}, false, false},
		{Executive, []int64{1}, true, false},
		{Lead, []int64{2}, false, true},
	} {
		a := Actor{Name: "Someone", Role: c.role, Approves: c.approves}
		require.Equal(t, c.one, CheckApprove(a, 1) == nil, "%+v", c)
		require.Equal(t, c.two, CheckApprove(a, 2) == nil, "%+v", c)
		require.Equal(t, c.one || c.two, May(a, Approve), "%+v", c)
	}
}
