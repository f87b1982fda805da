package finding

import (
	"cmp"
	"fmt"
	"maps"
	"math/big"
	"regexp"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/exact"
	"turret/internal/core/expression"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
)

// Own is a check that the office wrote: an expression that holds where there
// is something to find, over each record of a kind.
type Own struct {
	Code, Title string
	Over        string // project, activity, risk or cost code
	Expr        *expression.Expr
	Says        string // the finding's sentence; {name} stands for a value
	Severity    Severity
	From        calendar.Period
}

// Over lists what own checks can look at.
var Over = []string{"project", "activity", "risk", "cost code"}

var (
	text  = expression.Text
	truth = expression.Truth
	day   = expression.Of(figure.Day)
	cash  = expression.Of(figure.Money)
	count = expression.Of(figure.Count)
	plain = expression.Number
)

// fields are what expressions may use of a record, beside the figures.
var fields = map[string]map[string]expression.Unit{
	"project": {
		"code":            text,
		"name":            text,
		"lead":            text,
		"sponsor":         text,
		"stage":           text,
		"state":           text,
		"programme":       text,
		"currency":        text,
		"planned_start":   day,
		"period_end":      day,
		"stated_standing": text,
	},
	"activity": {
		"activity": text, "activity_name": text, "kind": text, "level": text, "rule": text, "owner": text, "percent": plain, "start": day, "finish": day, "actual_start": day, "actual_finish": day,
		"baseline_start": day, "baseline_finish": day, "late": truth, "budget": cash, "slip": expression.Of(figure.Workdays),
	},
	"risk": {
		"risk":       text,
		"title":      text,
		"risk_kind":  text,
		"risk_state": text,
		"risk_owner": text,
		"response":   text,
		"likelihood": count,
		"impact":     count,
	},
	"cost code": {
		"cost_code":      text,
		"cost_code_name": text,
		"plan":           cash,
		"spent":          cash,
		"ordered":        cash,
		"to_go":          cash,
	},
}

// NamesOver gives what expressions over a kind of record may use, with units:
// the catalogue, the fields of the project and those of the record.
func NamesOver(over string) map[string]expression.Unit {
	out := standing.Names()
	for _, id := range [...]figure.ID{figure.Errors, figure.Warnings} {
		delete(out, figure.Get(id).Name) // they count what checks find
	}
	maps.Copy(out, fields["project"])
	maps.Copy(out, fields[over])
	return out
}

// ParseOwn reads the expression of a check; its error is a sentence.
func ParseOwn(over, source string) (*expression.Expr, error) {
	x, err := expression.Parse(source, NamesOver(over))
	if err == nil && x.Unit != expression.Truth {
		err = fmt.Errorf("it gives %s, and a check says what holds or does not: compare it with something", x.Unit)
	}
	return x, err
}

var braces = regexp.MustCompile(`\{([a-z_0-9]+)\}`)

// CheckSays tells what is wrong with the sentence of a check, or nil.
func CheckSays(over, says string) error {
	names := NamesOver(over)
	for _, m := range braces.FindAllStringSubmatch(says, -1) {
		if _, ok := names[m[1]]; !ok {
			return fmt.Errorf("{%s} in the sentence is not known here", m[1])
		}
	}
	if strings.TrimSpace(says) == "" {
		return fmt.Errorf("a check needs a sentence that says what to do")
	}
	return nil
}

func (o *Own) check() Check {
	c := Check{Code: o.Code, Title: o.Title, Severity: o.Severity, About: o.Expr.Source}
	if c.Severity == "" {
		c.Severity = Warning
	}
	return c
}

func (o *Own) run(r *run) {
	if o.From > r.at {
		return
	}
	figures := func(name string) expression.Value {
		if id, ok := figure.Lookup(name); ok {
			return standing.Known(r.e.Get(id), r.own().Exponent())
		}
		return r.field(name)
	}
	switch o.Over {
	case "activity":
		for i := range r.Activities {
			o.try(
				r,
				Finding{
					Record: r.activity(i),
					Source: r.now(i).Source,
					Place:  r.progress(i, "percent", "start", "finish", "actual_start", "actual_finish"),
				},
				r.activityFields(i),
				figures,
			)
		}
	case "risk":
		for _, x := range figure.RisksInForce(r.View) {
			get := func(name string) expression.Value { return riskField(&x, name) }
			o.try(
				r,
				Finding{
					Record: "risk " + x.Code,
					Source: x.Source,
					Place: Place{
						Table:   "risks",
						Key:     []Cell{{"risk", x.Code}, {"kind", x.Kind}, {"period", r.code(r.at)}},
						Columns: []string{"likelihood", "impact", "owner", "state", "response"},
					},
				},
				get,
				figures,
			)
		}
	case "cost code":
		list, why := r.ByCode()
		for i := range list {
			x := &list[i]
			get := func(name string) expression.Value {
				n := map[string]int64{"plan": x.Plan, "spent": x.Spent, "ordered": x.OnOrder, "to_go": x.ToGo}
				switch v, ok := n[name]; {
				case name == "cost_code":
					return expression.Str(x.Code)
				case name == "cost_code_name":
					return expression.Str(x.Name)
				case ok && why == "":
					return standing.Known(figure.Whole(figure.Money, v), r.own().Exponent())
				}
				return expression.Unknown(why)
			}
			o.try(r, Finding{Record: "cost code " + x.Code, Money: x.Spent}, get, figures)
		}
	default:
		o.try(r, Finding{Source: first(r.Sources)}, nil, figures)
	}
}

// try adds a finding where the expression holds of a record.
func (o *Own) try(r *run, f Finding, record, project func(string) expression.Value) {
	get := func(name string) expression.Value {
		if _, own := fields[o.Over][name]; own && record != nil {
			return record(name)
		}
		return project(name)
	}
	if v := o.Expr.Eval(get); !v.Known || !v.B {
		return
	}
	names := NamesOver(o.Over)
	write := func(name string) string { return r.write(get(name), names[name]) }
	var values []string
	for _, n := range o.Expr.Names {
		values = append(values, n+" "+write(n))
	}
	f.Values = strings.Join(values, ", ")
	f.Text = braces.ReplaceAllStringFunc(o.Says, func(m string) string { return write(m[1 : len(m)-1]) })
	if f.Record != "" && !strings.Contains(f.Text, strings.TrimPrefix(f.Record, o.Over+" ")) {
		f.Text = capital(f.Record) + ": " + f.Text
	}
	r.add(f)
}

// write writes a value for a sentence.
func (r *run) write(v expression.Value, u expression.Unit) string {
	switch {
	case !v.Known:
		return "—"
	case v.R == nil:
		return cmp.Or(v.S, map[bool]string{true: "yes", false: "no"}[v.B])
	case u == day:
		return on(calendar.Date(v.R.Num().Int64()))
	case u == cash:
		n, err := money.Round(
			new(
				big.Rat,
			).Mul(v.R, new(big.Rat).SetInt(new(big.Int).Exp(big.NewInt(10), big.NewInt(int64(r.own().Exponent())), nil))),
		)
		if err != nil {
			return v.R.FloatString(2)
		}
		return amount(n, r.own())
	}
	return trim(figure.Decimals(exact.FromRat(v.R), 3))
}

func (r *run) field(name string) expression.Value {
	p := r.Project.Project
	texts := map[string]string{
		"code":      p.Code,
		"name":      p.Name,
		"lead":      p.Lead,
		"sponsor":   p.Sponsor,
		"stage":     p.Stage,
		"state":     string(r.state),
		"programme": p.Programme,
		"currency":  string(p.Currency),
	}
	if s, ok := texts[name]; ok {
		return expression.Str(s)
	}
	switch name {
	case "planned_start":
		start, _ := r.BaselineSpan()
		return date(start, "no start is planned")
	case "period_end":
		return date(r.Day, "")
	case "stated_standing":
		if res := r.rules.WithoutData().Rate(r.e); res.HasStated {
			return expression.Str(res.Stated.Code())
		}
		return expression.Unknown("no standing was stated")
	}
	return expression.Unknown(name + " is not known here")
}

func date(d calendar.Date, why string) expression.Value {
	if d == 0 {
		return expression.Unknown(why)
	}
	return expression.Num(new(big.Rat).SetInt64(int64(d)))
}

func (r *run) activityFields(i int) func(string) expression.Value {
	a, s, b := &r.Activities[i], r.now(i), r.Row(i)
	if b == nil {
		b = &portfolio.BaselineRow{}
	}
	return func(name string) expression.Value {
		switch name {
		case "activity":
			return expression.Str(a.Code)
		case "activity_name":
			return expression.Str(a.Name)
		case "kind":
			return expression.Str(string(a.Kind))
		case "level":
			return expression.Str(a.Level)
		case "rule":
			return expression.Str(a.Rule)
		case "owner":
			return expression.Str(a.Owner)
		case "percent":
			if s.Percent < 0 {
				return expression.Unknown("its progress was never said")
			}
			return expression.Num(big.NewRat(s.Percent, portfolio.Quantity))
		case "start":
			return date(s.Start, "no start was said")
		case "finish":
			return date(s.Finish, "no finish was said")
		case "actual_start":
			return date(s.Began, "it has not started")
		case "actual_finish":
			return date(s.Done, "it is not finished")
		case "baseline_start":
			return date(b.Start, "it has no baseline start")
		case "baseline_finish":
			return date(b.Finish, "it has no baseline finish")
		case "late":
			return expression.Value{Known: true, B: a.Leaf && r.Late(i)}
		case "budget":
			if !b.HasBudget {
				return expression.Unknown("it has no budget")
			}
			return standing.Known(figure.Whole(figure.Money, b.Budget), r.own().Exponent())
		case "slip":
			finish := s.Finish
			if s.Done != 0 {
				finish = s.Done
			}
			if finish == 0 || b.Finish == 0 {
				return expression.Unknown("its slip is not known")
			}
			return expression.Num(big.NewRat(int64(r.Cal.Slip(b.Finish, finish)), 1))
		}
		return expression.Unknown(name + " is not known here")
	}
}

func riskField(x *figure.Risk, name string) expression.Value {
	texts := map[string]string{
		"risk":       x.Code,
		"title":      x.Title,
		"risk_kind":  x.Kind,
		"risk_state": x.State,
		"risk_owner": x.Owner,
		"response":   x.Response,
	}
	if s, ok := texts[name]; ok {
		return expression.Str(s)
	}
	n := x.Likelihood
	if name == "impact" {
		n = x.Impact
	}
	if n == 0 {
		return expression.Unknown(name + " was not said")
	}
	return expression.Num(big.NewRat(n, 1))
}
