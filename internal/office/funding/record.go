package funding

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"turret/internal/book"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/record"
	"turret/internal/right"
)

// Move is money that is to be moved, as someone enters it.
type Move struct {
	Code                 string // what tells it from other transfers
	From, To             string // scopes
	FromSource, ToSource string
	FromCode, ToCode     string // cost codes, of a draw-down within a project
	Period, Amount       string
	Currency, Reason     string
}

// Move records a transfer: what one scope gives, another gets.
func (o Room) Move(ctx context.Context, a right.Actor, seen int64, x Move) error {
	if err := right.Check(a, right.Found); err != nil {
		return err
	}
	for _, f := range [...]struct{ column, text, why string }{
		{"transfer", x.Code, "it tells the transfer from others; write a short one, such as T-12"},
		{"from", x.From, "say whose money it is"},
		{"to", x.To, "say who gets it"},
		{"period", x.Period, "say from which period on"},
		{"amount", x.Amount, "say how much"},
		{"reason", x.Reason, "say why the money is moved, and who decided it"},
	} {
		if strings.TrimSpace(f.text) == "" {
			return &office.Misfit{Column: f.column, Why: f.why}
		}
	}
	same := func(a, b string) bool { return strings.EqualFold(strings.TrimSpace(a), strings.TrimSpace(b)) }
	if same(x.From, x.To) && same(x.FromSource, x.ToSource) && same(x.FromCode, x.ToCode) {
		return &office.Misfit{Column: "to", Why: "it would stay where it is; move it to another project, source or cost code"}
	}
	amount := strings.TrimSpace(x.Amount)
	if strings.HasPrefix(amount, "-") {
		return &office.Misfit{Column: "amount", Why: "write it without a sign, and the other way round"}
	}
	part := func(scope, source, code, amount string) entry.Row {
		row := entry.Row{"transfer": strings.TrimSpace(x.Code), "scope": strings.TrimSpace(scope), "period": strings.TrimSpace(x.Period), "amount": amount, "reason": strings.TrimSpace(x.Reason)}
		for column, text := range map[string]string{"source": source, "cost_code": code, "currency": x.Currency} {
			if text = strings.TrimSpace(text); text != "" {
				row[column] = text
			}
		}
		return row
	}
	rows := func(_ context.Context, s *book.Snapshot) ([]entry.Rows, error) {
		for _, r := range s.Records.Of(record.Transfers.Kind) {
			if same(record.Transfers.Transfer.Of(&r), x.Code) {
				return nil, &office.Misfit{Column: "transfer", Why: fmt.Sprintf("there is a transfer %s already; take another name", x.Code)}
			}
		}
		for _, f := range [...]struct{ column, scope string }{{"from", x.From}, {"to", x.To}} {
			if scope := strings.TrimSpace(f.scope); scope != portfolio.Everywhere && s.Project(scope) == nil && !slices.ContainsFunc(s.Office.Groups, func(g portfolio.Programme) bool { return g.Code == scope }) {
				return nil, &office.Misfit{Column: f.column, Why: fmt.Sprintf("there is no project or programme %q", scope)}
			}
		}
		return []entry.Rows{entry.Of("transfers", part(x.From, x.FromSource, x.FromCode, "-"+amount), part(x.To, x.ToSource, x.ToCode, amount))}, nil
	}
	_, err := entry.In(o.Office).Enter(ctx, a, &entry.Form{
		Origin: office.Registered, Note: "transfer " + strings.TrimSpace(x.Code), Seen: seen, Takes: right.Found, Rows: rows,
	})
	return err
}

// Grant is money that is authorised, as someone enters it.
type Grant struct{ Scope, Source, Period, Amount, Currency, Decision string }

// Authorise records money that is authorised: a scope's from a source, from a period on. What
// was recorded for the same three is changed.
func (o Room) Authorise(ctx context.Context, a right.Actor, seen int64, g Grant) error {
	if err := right.Check(a, right.Found); err != nil {
		return err
	}
	row := entry.Row{}
	for _, f := range [...]struct{ column, text, why string }{
		{"scope", g.Scope, "say whom it is for"},
		{"source", g.Source, "say where the money comes from"},
		{"period", g.Period, "say from which period on it may be spent"},
		{"amount", g.Amount, "say how much; 0 takes it back"},
		{"decision", g.Decision, "say who decided it, and when"},
		{"currency", g.Currency, ""},
	} {
		text := strings.TrimSpace(f.text)
		if text == "" && f.why != "" {
			return &office.Misfit{Column: f.column, Why: f.why}
		}
		if text != "" {
			row[f.column] = text
		}
	}
	_, err := entry.In(o.Office).Enter(ctx, a, &entry.Form{
		Origin: office.Registered, Note: fmt.Sprintf("funding of %s from %s", row["scope"], row["source"]), Seen: seen, Takes: right.Found,
		Rows: entry.These(entry.Of("funding", row)),
	})
	return err
}
