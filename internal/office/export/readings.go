package export

import (
	"context"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"io"
	"strings"
	"text/tabwriter"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/right"
	"turret/internal/tell"
)

// Query asks for readings.
type Query struct {
	Period    calendar.Period
	Scope     string // a project, a programme or "*"; "" for everything
	Against   portfolio.Against
	Reporting bool // projects in the reporting currency too
}

// Readings gives the readings of a period: projects by code, programmes by
// code, then the portfolio; or of one scope. A programme brings the projects
// and programmes below it.
func (o Room) Readings(ctx context.Context, a right.Actor, q Query) ([]*book.Reading, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	s, err := o.Sees(ctx, a)
	if err != nil {
		return nil, err
	}
	rs, err := o.Book().Readings(ctx, s, q.Period, q.Against, q.Reporting)
	if err != nil {
		return nil, err
	}
	if q.Scope == "" {
		return rs.Rows, nil
	}
	if r := rs.Project(q.Scope); r != nil {
		return []*book.Reading{r}, nil
	}
	if rs.Group(q.Scope) == nil {
		return nil, fmt.Errorf(
			"%w %q: it is neither a project nor a programme; * is the whole portfolio",
			office.ErrUnknownScope,
			q.Scope,
		)
	}
	var out []*book.Reading
	for _, r := range rs.Rows {
		if office.Within(rs, r, q.Scope) {
			out = append(out, r)
		}
	}
	return out, nil
}

// reasonJSON is a reason as readings prints it.
type reasonJSON struct {
	Dimension string  `json:"dimension"`
	Rule      string  `json:"rule"`
	Value     any     `json:"value"`
	Watch     any     `json:"watch"`
	Act       any     `json:"act"`
	Standing  *string `json:"standing"`
	Silent    string  `json:"silent,omitempty"`
	RuleSet   string  `json:"rule_set,omitempty"`
}

func number(s string) any {
	if s == "" {
		return nil
	}
	return json.Number(s)
}

// raw gives a value as JSON has it: dates as texts, the rest as numbers.
func raw(r *book.Reading, v figure.Value) any {
	switch {
	case !v.Known:
		return nil
	case v.Unit == figure.Day:
		return v.Text(r.Currency)
	}
	return number(v.Text(r.Currency))
}

// WriteJSON prints readings as an array of objects, keys in a fixed order.
func (o Room) WriteJSON(ctx context.Context, w io.Writer, period string, rows []*book.Reading) error {
	dims, err := o.rulesNow(ctx)
	if err != nil {
		return err
	}
	var b strings.Builder
	b.WriteString("[")
	for i, r := range rows {
		if i > 0 {
			b.WriteString(",")
		}
		b.WriteString("\n {")
		fields := []struct {
			name  string
			value any
		}{{"kind", r.Kind()}, {"code", r.Code}, {"name", r.Name}, {"period", period}, {"currency", string(r.Currency)}}
		for _, id := range figure.Readings {
			fields = append(fields, struct {
				name  string
				value any
			}{figure.Get(id).Name, raw(r, r.Value(id))})
		}
		standings := make(map[string]string)
		for _, d := range dims.Dimensions() {
			standings[dims.Code(d)] = r.Standing[d].Code()
		}
		var stated any
		if r.HasSaid {
			stated = r.Stated.Code()
		}
		for _, f := range append(fields, []struct {
			name  string
			value any
		}{{"standings", standings}, {"stated_standing", stated}, {"reasons", reasons(r)}}...) {
			v, err := json.Marshal(f.value)
			if err != nil {
				return err
			}
			if f.name != "kind" {
				b.WriteString(",")
			}
			fmt.Fprintf(&b, "\n  %q: %s", f.name, v)
		}
		b.WriteString("\n }")
	}
	b.WriteString("\n]\n")
	_, err = io.WriteString(w, b.String())
	return err
}

func reasons(r *book.Reading) []reasonJSON {
	out := []reasonJSON{}
	for _, x := range r.Reasons {
		j := reasonJSON{
			Dimension: x.Rates,
			Rule:      x.Name(),
			Value:     raw(r, x.Value),
			Watch:     number(x.Watch),
			Act:       number(x.Act),
			Silent:    x.Silent,
			RuleSet:   r.Version,
		}
		if x.Silent == "" {
			code := x.Standing.Code()
			j.Standing = &code
		}
		out = append(out, j)
	}
	return out
}

// rulesNow gives the rules as they stand, for the names of dimensions.
func (o Room) rulesNow(ctx context.Context) (*book.Rules, error) {
	s, err := o.Book().Snapshot(ctx)
	if err != nil {
		return nil, err
	}
	return s.Rules, nil
}

// header and cells are the columns of readings as CSV.
func header(dims *book.Rules) []string {
	out := []string{"kind", "code", "name", "period", "currency"}
	for _, id := range figure.Readings {
		out = append(out, figure.Get(id).Name)
	}
	for _, d := range dims.Dimensions() {
		out = append(out, dims.Code(d))
	}
	return append(out, "stated_standing")
}

func cells(dims *book.Rules, period string, r *book.Reading) []string {
	out := []string{r.Kind(), tell.Neutral(r.Code), tell.Neutral(r.Name), period, string(r.Currency)}
	for _, id := range figure.Readings {
		out = append(out, r.Value(id).Text(r.Currency))
	}
	for _, d := range dims.Dimensions() {
		out = append(out, r.Standing[d].Code())
	}
	if r.HasSaid {
		return append(out, r.Stated.Code())
	}
	return append(out, "")
}

// WriteCSV prints readings as a table for machines.
func (o Room) WriteCSV(ctx context.Context, w io.Writer, period string, rows []*book.Reading) error {
	dims, err := o.rulesNow(ctx)
	if err != nil {
		return err
	}
	c := csv.NewWriter(w)
	if err := c.Write(header(dims)); err != nil {
		return err
	}
	for _, r := range rows {
		if err := c.Write(cells(dims, period, r)); err != nil {
			return err
		}
	}
	c.Flush()
	return c.Error()
}

// WriteTable prints readings as a table for people: what fits a wide terminal.
func (o Room) WriteTable(_ context.Context, w io.Writer, _ string, rows []*book.Reading) error {
	t := tabwriter.NewWriter(w, 0, 0, 2, ' ', tabwriter.AlignRight)
	ids := []figure.ID{
		figure.BAC,
		figure.EV,
		figure.AC,
		figure.EACComputed,
		figure.EACStated,
		figure.AtStake,
		figure.CPI,
		figure.SPIT,
		figure.FinishStated,
		figure.FinishSlip,
	}
	fmt.Fprint(t, "code\tcurrency\toverall\t")
	for _, id := range ids {
		fmt.Fprint(t, figure.Get(id).Name+"\t")
	}
	fmt.Fprintln(t)
	for _, r := range rows {
		fmt.Fprintf(t, "%s\t%s\t%s\t", r.Code, r.Currency, r.Standing[standing.Overall].Code())
		for _, id := range ids {
			s := r.Value(id).Text(r.Currency)
			if s == "" {
				s = "—"
			}
			fmt.Fprint(t, s+"\t")
		}
		fmt.Fprintln(t)
	}
	return t.Flush()
}
