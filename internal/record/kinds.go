package record

import (
	"slices"

	"turret/internal/core/portfolio"
)

// kinds are all kinds in the order in which their tables are read, so that what a
// row refers to comes before it.
var kinds = []*Kind{
	Settings.Kind, Boundaries.Kind, Programmes.Kind, Calendars.Kind, DueDays.Kind, Rates.Kind, CostCodes.Kind,
	CostCentres.Kind, Projects.Kind, Owing.Kind, Stating.Kind, Rights.Kind, Clients.Kind, Depths.Kind, Funding.Kind, Transfers.Kind, Controls.Kind, Packs.Kind, Sections.Kind, Commentaries.Kind, Agreements.Kind, Feedback.Kind, News.Kind, FirstPages.Kind, Baselines.Kind, Shares.Kind, Activities.Kind, Links.Kind, Steps.Kind,
	Items.Kind, Progress.Kind, Costs.Kind, Postings.Kind, Risks.Kind, Narratives.Kind, Dimensions.Kind, Rules.Kind,
	Policies.Kind, Checks.Kind, ChecksOff.Kind, Answers.Kind, Overrides.Kind, Versions.Kind, LetIn.Kind, Questions.Kind, Replies.Kind,
	Periods.Kind,
}

// Kinds lists every kind in the order in which their tables are read.
func Kinds() []*Kind { return kinds }

// Named gives the kind of a table's name, or nil.
func Named(name string) *Kind {
	for _, k := range kinds {
		if k.Name == name {
			return k
		}
	}
	return nil
}

// BySQL gives the kind of records that a table of the database holds, or nil.
func BySQL(table string) *Kind {
	for _, k := range kinds {
		if k.Keep == Records && k.SQL == table {
			return k
		}
	}
	return nil
}

// OfRecords lists the kinds that are kept as records.
func OfRecords() (out []*Kind) {
	for _, k := range kinds {
		if k.Keep == Records {
			out = append(out, k)
		}
	}
	return out
}

// Place gives the place of a kind in the order of reading.
func Place(k *Kind) int { return slices.Index(kinds, k) }

// Declare adds a kind after all others, and gives how to take it away again.
func Declare(k *Kind) (remove func()) {
	kinds = append(kinds, k)
	return func() { kinds = slices.DeleteFunc(kinds, func(x *Kind) bool { return x == k }) }
}

// OfPart gives the kind whose rows a part holds; nil for one of amounts.
func OfPart(k portfolio.PartKind) *Kind {
	if k == portfolio.BaselinePart {
		return ActivityBaselines.Kind
	}
	if k.Lines() {
		return nil
	}
	return Named(k.String())
}

// Statements are the kinds of statement that can be due by a day.
var Statements = []string{"progress", "forecast", "commitment", "ledger", "risks", "narratives"}
