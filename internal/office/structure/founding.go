package structure

import (
	"context"
	"fmt"
	"strconv"
	"strings"

	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/access"
	"turret/internal/office/entry"
	"turret/internal/record"
	"turret/internal/right"
)

// Founding is what an office begins with.
type Founding struct {
	Name      string
	Reporting money.Currency
	Fiscal    int               // the month in which its fiscal year begins
	Drawn     bool              // its periods are drawn, and are no calendar months
	Reads     map[string]string // by role that can be limited: all, or own
	Rate      string            // the yearly rate of present values, in percent; "" where none is set
	Stated    bool              // something is stated, so that currency and fiscal year stay
	May       bool              // the actor may change it
	Steps     []Step
}

// Limited are the roles of which the office can say that they read no more than what they
// state for and are let read.
var Limited = []string{string(right.Lead), string(right.Executive), string(right.Analyst)}

// Step is something that an office needs before it can read, in the order in which it is
// done.
type Step struct {
	What  string // office, periods, accounts, codes, programmes, projects, statements
	Count int    // of what is there, where it is counted
	Done  bool
	May   bool // the actor may do it
}

// Founding reads what the office begins with.
func (o Room) Founding(ctx context.Context, a right.Actor) (*Founding, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	s, err := o.Book().Snapshot(ctx)
	if err != nil {
		return nil, err
	}
	count := func(k *record.Kind) int { return len(s.Records.Of(k)) }
	out := &Founding{
		Name:      s.Office.Name,
		Reporting: s.Office.Reporting,
		Fiscal:    s.Office.Periods.FiscalStart(),
		Drawn:     count(record.Boundaries.Kind) > 0,
		Reads:     make(map[string]string),
		Stated:    len(s.Stated) > 0,
		May:       right.May(a, right.Found),
	}
	if s.Office.Discount >= 0 {
		out.Rate = money.FormatShort(s.Office.Discount, portfolio.QuantityScale)
	}
	for _, role := range Limited {
		out.Reads[role] = record.ReadAll
		if s.Office.ReadOwn[role] {
			out.Reads[role] = record.ReadOwn
		}
	}
	step := func(what string, n int, done bool, needs right.Action) {
		out.Steps = append(out.Steps, Step{what, n, done, right.May(a, needs)})
	}
	counted := func(what string, k *record.Kind, needs right.Action) { step(what, count(k), count(k) > 0, needs) }
	step("office", 0, count(record.Settings.Kind) > 0, right.Found)
	step("periods", 0, out.Drawn, right.Draw)
	step("accounts", 0, false, right.Admit)
	counted("codes", record.CostCodes.Kind, right.Gather)
	counted("programmes", record.Programmes.Kind, right.Found)
	counted("projects", record.Projects.Kind, right.Found)
	step("statements", 0, out.Stated, right.Gather)
	return out, nil
}

// Typed is what someone types of an office: its name, its reporting currency, the month in which
// its fiscal year begins, the yearly rate of present values, and what those of some roles read.
type Typed struct {
	Name, Currency, Month, Rate string
	Reads                       map[string]string
}

// Found keeps what is typed of the office. What stays as it is says nothing. Seen is the
// revision that the page showed.
func (o Room) Found(ctx context.Context, a right.Actor, seen int64, x Typed) error {
	if err := right.Check(a, right.Found); err != nil {
		return err
	}
	was, err := o.Founding(ctx, a)
	if err != nil {
		return err
	}
	name, currency, month, reads := strings.TrimSpace(x.Name), strings.ToUpper(strings.TrimSpace(x.Currency)), strings.TrimSpace(x.Month), x.Reads
	if name == "" {
		return &office.Misfit{Column: "name", Why: "write what the office is called"}
	}
	if _, ok := money.ParseCurrency(currency); !ok {
		return &office.Misfit{Column: "currency", Why: "write a currency of ISO 4217, such as EUR"}
	}
	type said struct{ setting, was, is string }
	list := []said{
		{"name", was.Name, name},
		{"reporting_currency", string(was.Reporting), currency},
		{"fiscal_start", strconv.Itoa(was.Fiscal), month},
	}
	for _, role := range Limited {
		list = append(list, said{record.ReadSetting(role), was.Reads[role], reads[role]})
	}
	var rows []entry.Row
	for _, x := range list {
		if x.was != x.is && x.is != "" {
			rows = append(rows, entry.Row{"setting": x.setting, "value": x.is})
		}
	}
	if rate := strings.TrimSuffix(strings.TrimSpace(x.Rate), "%"); rate != was.Rate {
		rows = append(rows, entry.Row{"setting": record.DiscountRate, "value": record.OrClear(rate)})
	}
	if len(rows) == 0 {
		return nil
	}
	if _, err = entry.In(o.Office).Enter(ctx, a, &entry.Form{
		Origin: office.Structured, Note: "the office", Seen: seen, Takes: right.Found,
		Rows: entry.These(entry.Of(record.Settings.Name, rows...)),
	}); err != nil {
		return err
	}
	for _, role := range Limited {
		if is := reads[role]; is != "" && is != was.Reads[role] {
			access.In(o.Office).Note(ctx, a, access.Rights, fmt.Sprintf("each %s reads: %s", role, is))
		}
	}
	return nil
}
