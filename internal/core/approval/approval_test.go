package approval

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/portfolio"
)

func TestRefuse(t *testing.T) {
	const proposed, approved, rejected = portfolio.PlanProposed, portfolio.PlanApproved, portfolio.PlanRejected
	waits := &Row{Number: 2, State: proposed, Proposer: "Ines"}
	stands := &Row{Number: 2, State: approved, Dated: true, Approver: "Tor"}
	for _, c := range []struct {
		name    string
		was     *Row
		is      Row
		decided bool
		column  string
		says    string
	}{
		{"proposed", nil, Row{2, proposed, false, "", "Ines"}, false, "", ""},
		{"the original", nil, Row{1, proposed, false, "", "Ines"}, false, "state", "baseline 1 is the original"},
		{"proposed with a day", nil, Row{2, proposed, true, "", "Ines"}, false, "approved", "no day from which it is in force"},
		{"approved at once by its proposer", nil, Row{2, approved, true, " INES", "Ines "}, false, "approver", "Ines proposed it"},
		{"approved by its proposer", waits, Row{2, approved, true, "ines", "Ines"}, true, "approver", "Ines proposed it"},
		{"approved by nobody", waits, Row{2, approved, true, " ", "Ines"}, true, "approved", "by someone, from a day on"},
		{"approved from no day", waits, Row{2, approved, false, "Tor", "Ines"}, true, "approved", "by someone, from a day on"},
		{"approved", waits, Row{2, approved, true, "Tor", "Ines"}, true, "", ""},
		{"rejected", waits, Row{2, rejected, false, "Tor", "Ines"}, true, "", ""},
		{"rejected with a day", waits, Row{2, rejected, true, "Tor", "Ines"}, true, "approved", "no day"},
		{"approved by a file", waits, Row{2, approved, true, "Tor", "Ines"}, false, "state", "waits for a decision"},
		{"rejected by a file", waits, Row{2, rejected, false, "Tor", "Ines"}, false, "state", "waits for a decision"},
		{"proposed anew by a file", waits, Row{2, proposed, false, "", "Ines"}, false, "", ""},
		{"approved no more", stands, Row{2, proposed, false, "", ""}, false, "state", "stays so"},
		{"rejected after all", stands, Row{2, rejected, false, "Tor", ""}, true, "state", "stays so"},
		{"changed once approved", stands, Row{2, approved, true, "Tor", "Ines"}, false, "", ""},
		{"in the name of one who signs in", nil, Row{2, approved, true, "Edda", ""}, false, "approver", "Edda can sign in"},
		{"the approver replaced", stands, Row{2, approved, true, "Edda", ""}, false, "approver", "Edda can sign in"},
		{"the same approver again", &Row{Number: 2, State: approved, Dated: true, Approver: "Edda"}, Row{2, approved, true, "Edda", "x"}, false, "", ""},
		{"approved elsewhere, long ago", nil, Row{2, approved, true, "The board", ""}, false, "", ""},
	} {
		column, why := Refuse(c.was, c.is, c.decided, func(name string) bool { return name == "Edda" })
		require.Equal(t, c.column, column, c.name)
		if c.says == "" {
			require.Empty(t, why, c.name)
		} else {
			require.Contains(t, why, c.says, c.name)
		}
	}
}
