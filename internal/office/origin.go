package office

// Origins of batches: what they were written by.
const (
	Corrected    = "correct"   // a finding was mended at its cell
	Answered     = "answer"    // something was said about findings
	Overrode     = "override"  // a standing was set
	Ruled        = "rules"     // rules or checks were changed
	Drawn        = "calendar"  // periods, calendars or due days were changed
	Proposed     = "propose"   // a baseline was proposed
	Decided      = "approve"   // a baseline was approved or rejected
	Registered   = "record"    // a record of a kind with a form made from it
	Checking     = "checking"  // a period's state was set
	Priced       = "rates"     // rates were stated on a screen
	Structured   = "structure" // cost codes, centres, shares or levels were changed
	Stated       = "state"     // a statement was made on its screen
	Confirmed    = "confirm"   // a statement before was said to hold still
	Planned      = "plan"      // a project was begun, or its activities or plan typed
	Talked       = "talk"      // a question was asked, answered or closed
	NamedVersion = "version"   // a version was named
)
