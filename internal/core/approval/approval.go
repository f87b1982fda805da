// Package approval says what may become of a baseline: proposed by one, approved
// or rejected by another, and then for good.
package approval

import (
	"fmt"
	"strings"

	"turret/internal/core/portfolio"
)

// Row is what is said of a baseline.
type Row struct {
	Number             int
	State              portfolio.Approval
	Dated              bool // it has a day from which it is in force
	Approver, Proposer string
}

// Refuse gives the column and the reason why a baseline may not become a row, or
// nothing. Was is nil for a new one. Decided tells that someone decides on it;
// else a file says so: that decides nothing that waits. Other tells whether an
// approver is someone else who can sign in, in whose name no file approves.
func Refuse(was *Row, is Row, decided bool, other func(approver string) bool) (column, why string) {
	before := portfolio.Approval("")
	if was != nil {
		before = was.State
	}
	approved, approver := is.State == portfolio.PlanApproved, strings.TrimSpace(is.Approver)
	switch {
	case !decided && before == portfolio.PlanProposed && is.State != portfolio.PlanProposed:
		return "state", fmt.Sprintf(
			"baseline %d waits for a decision, which someone else than who proposed it makes on its page",
			is.Number,
		)
	case !decided && is.State != portfolio.PlanProposed && approver != "" && (was == nil || was.Approver != is.Approver) && other(approver):
		return "approver", fmt.Sprintf(
			"%s can sign in, and approves on the baseline's page; a file does not do it for them",
			approver,
		)
	case !approved && is.Number == 1:
		return "state", "baseline 1 is the original, which is always in force; propose another number"
	case !approved && before == portfolio.PlanApproved:
		return "state", fmt.Sprintf("baseline %d is approved and stays so; propose another number", is.Number)
	case !approved && is.Dated:
		return "approved", "a baseline that is not approved has no day from which it is in force; leave it empty"
	case approved && before != portfolio.PlanApproved && strings.TrimSpace(is.Proposer) != "" && strings.EqualFold(approver, strings.TrimSpace(is.Proposer)):
		return "approver", fmt.Sprintf("%s proposed it, so someone else approves it", strings.TrimSpace(is.Proposer))
	case approved && before == portfolio.PlanProposed && (approver == "" || !is.Dated):
		return "approved", "a proposal is approved by someone, from a day on; state both"
	}
	return "", ""
}
