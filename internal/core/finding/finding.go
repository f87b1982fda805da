// Package finding holds what checks find in the data: a code, a severity and a
// sentence that a person can act on.
package finding

import "turret/internal/core/portfolio"

// Severity of a finding.
type Severity string

// The severities: an error makes figures wrong, a warning doubtful; a note is
// good to know.
const (
	Error   Severity = "error"
	Warning Severity = "warning"
	Note    Severity = "note"
)

// Finding is the result of a check on a record.
type Finding struct {
	Code     string
	Severity Severity
	Text     string
	Source   portfolio.Source
}
