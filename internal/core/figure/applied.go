package figure

import "strings"

// Applied gives the formula of an entry as it applied to a subject: of several cases the
// one that was so, and why. Names of entries stand in braces as in Entry.Formula.
func Applied(e *Eval, id ID) string {
	switch group := e.Subject.IsGroup(); {
	case group:
	case id == EACComputed:
		return outlookApplied(e)
	case id == AtStake:
		if v := less(e.Get(EACComputed), e.Get(BAC)); v.Known && v.N < 0 {
			return "0, as {eac_computed} is not above {bac}"
		}
		return "{eac_computed} − {bac}"
	case id == CredibilityGap:
		return "|{tcpi_eac} − {cpi}|"
	case id == BAC:
		p, ok := e.Subject.(*Project)
		with, without, _ := strings.Cut(Get(id).Formula, "; without plan cells, ")
		if ok && p.View.Plan == nil {
			return without
		}
		return with
	case estimates[id] && e.Subject.Done(e):
		return "{ac_earned}, as all of it is done"
	}
	own, ofGroup, _ := strings.Cut(Get(id).Formula, "; in a group")
	switch also, more := strings.CutPrefix(ofGroup, ", "); {
	case !e.Subject.IsGroup() || ofGroup == "":
		return own
	case more: // it says what differs, and not all
		return own + "; " + also
	}
	return strings.TrimSpace(ofGroup)
}

// estimates are those that are the actual cost where all is done.
var estimates = map[ID]bool{EACPlan: true, EACCPI: true, EACCPI3: true, EACCPISPI: true}

// outlookApplied says which estimate a project's computed outlook is, and why.
func outlookApplied(e *Eval) string {
	if e.Subject.Done(e) {
		return "{ac}, as all of it is done"
	}
	method := ""
	if p, ok := e.Subject.(*Project); ok {
		method = p.Method
	}
	brace := func(id ID) string { return "{" + Get(id).Name + "}" }
	id, ok := Taken(e, method)
	chosen := Chosen(e, method)
	switch _, own := Methods[method]; {
	case !ok:
		return "the larger of {bac} and {ac}, as no estimate is known"
	case id != chosen:
		return brace(id) + ", as " + brace(chosen) + " is not known"
	case own:
		return brace(id) + ", the estimate that is set for the project"
	case id == EACCPI:
		return "{eac_cpi}, at CPI, as {earned_share} is earned, 15% or more"
	case id == EACPlan:
		return "{eac_plan}, the rest at plan, as {earned_share} is earned, less than 15%"
	}
	return brace(id) + ", as it is not known what is earned"
}
