package portfolio

// Part names one part: what is stated about one project, of one kind, for one
// version. The version is a baseline number, a period ordinal, or zero.
type Part struct {
	Project int64
	Kind    PartKind
	Version int32
}

// PartKind is what a part holds. The numbers are kept in databases.
type PartKind uint8

// The kinds of parts.
const (
	ActivityPart PartKind = iota + 1
	BaselinePart
	LinkPart
	StepPart
	ItemPart
	ProgressPart
	PlanPart
	ForecastPart
	CommitmentPart
	AccrualPart
	ActualPart
	LedgerPart
	RiskPart
	NarrativePart
)

var partNames = [...]string{
	"",
	"activities",
	"activity_baselines",
	"links",
	"steps",
	"items",
	"progress",
	"plan",
	"forecast",
	"commitment",
	"accrual",
	"actual",
	"ledger",
	"risks",
	"narratives",
}

func (k PartKind) String() string { return partNames[k] }

// PartKindNamed gives the kind of a name.
func PartKindNamed(name string) (PartKind, bool) {
	for i, n := range partNames {
		if n == name && i > 0 {
			return PartKind(i), true
		}
	}
	return 0, false
}

// Lines tells whether a part of this kind holds time-phased amounts.
func (k PartKind) Lines() bool { return k >= PlanPart && k <= LedgerPart }

// Dated tells whether the version is a period: such a part cannot change once
// the period is closed.
func (k PartKind) Dated() bool { return k == ProgressPart || k >= ForecastPart }

// Sent names the table that people send for what parts of this kind hold.
func (k PartKind) Sent() string {
	switch {
	case k == BaselinePart:
		return "activities"
	case k == LedgerPart:
		return "postings"
	case k.Lines():
		return "costs"
	}
	return k.String()
}
