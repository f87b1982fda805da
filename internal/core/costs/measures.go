package costs

// Measure is what the cells of a table show.
type Measure string

// The measures. Spent is actual cost with accruals; Running is spent through the
// period and the stated forecast after it, Expected the same with the computed
// outlook; Variance is plan less running, and
// Percent that in parts of the plan.
const (
	Planned   Measure = "plan"
	Spent     Measure = "spent"
	Booked    Measure = "actual"
	Accrued   Measure = "accrual"
	ToGo      Measure = "forecast"
	OnOrder   Measure = "commitment"
	Running   Measure = "running"
	Variance  Measure = "variance"
	InPercent Measure = "percent"
	Expected  Measure = "outlook"
)

// Measures lists all of them.
var Measures = []Measure{Running, Planned, Spent, Booked, Accrued, ToGo, OnOrder, Expected, Variance, InPercent}

// Title is what a screen calls a measure.
func (m Measure) Title() string {
	switch m {
	case Running:
		return "spent, then forecast"
	case Spent:
		return "spent"
	case Booked:
		return "actual, booked"
	case Accrued:
		return "accruals"
	case OnOrder:
		return "on order"
	case Variance:
		return "under or over plan"
	case InPercent:
		return "under or over plan, %"
	case Expected:
		return "spent, then computed outlook"
	}
	return string(m)
}

// made says which kinds a measure adds, each with its sign.
var made = map[Measure][]struct {
	kind Kind
	sign int64
}{
	Planned: {
		{Plan, 1},
	}, Spent: {{Actual, 1}, {Accrual, 1}}, Booked: {{Actual, 1}}, Accrued: {{Accrual, 1}}, ToGo: {{Forecast, 1}}, OnOrder: {{Commitment, 1}},
	Running:  {{Actual, 1}, {Accrual, 1}, {Forecast, 1}},
	Expected: {{Actual, 1}, {Accrual, 1}, {Outlook, 1}},
	Variance: {{Plan, 1}, {Actual, -1}, {Accrual, -1}, {Forecast, -1}},
}

// Makes tells whether a measure adds cells of a kind, and with which sign.
func (m Measure) Makes(k Kind) (sign int64, ok bool) {
	for _, x := range made[m] {
		if x.kind == k {
			return x.sign, true
		}
	}
	return 0, false
}
