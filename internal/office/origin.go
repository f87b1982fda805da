package office

// Origins of batches: what they were written by.
const (
	corrected    = "correct"   // a finding was mended at its cell
	answered     = "answer"    // something was said about findings
	overrode     = "override"  // a standing was set
	ruled        = "rules"     // rules or checks were changed
	drawn        = "calendar"  // periods, calendars or due days were changed
	proposed     = "propose"   // a baseline was proposed
	decided      = "approve"   // a baseline was approved or rejected
	registered   = "record"    // a record of a kind with a form made from it
	checking     = "checking"  // a period's state was set
	priced       = "rates"     // rates were stated on a screen
	structured   = "structure" // cost codes, centres, shares or levels were changed
	namedVersion = "version"   // a version was named
)
