package weigh

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"turret/internal/book"
	"turret/internal/core/costs"
	"turret/internal/core/driver"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/right"
	"turret/internal/tell"
)

// Attributes are what drivers are looked for in.
var Attributes = []Attribute{
	{
		"lead",
		"Lead",
	}, {"programme", "Programme"}, {"stage", "Stage"}, {"supplier", "Main supplier"}, {"code", "Cost code"}, {"size", "Size"}, {"age", "Age"}, {"currency", "Currency"},
}

// Attribute is what projects have values of.
type Attribute struct{ Name, Title string }

// Outcomes are the figures whose spread is explained: of cost and of dates.
var Outcomes = [...]figure.ID{figure.ComputedOver, figure.FinishSlip}

// Drivers tells which attributes of projects go with overruns and slips.
type Drivers struct {
	All      []Driver // the one that explains most first
	Now      *Driver  // that is looked at
	Value    string   // of it, whose rows are listed; "" lists none
	Rows     []*office.Reading
	Parts    []DriverPart // of a cost code in place of rows
	Projects int
	Asked    []string
}

// Driver is an attribute with what it explains of each outcome.
type Driver struct {
	Attribute
	Results [len(Outcomes)]driver.Result // of a cost code there is none of dates
	Values  []DriverValue
}

// DriverValue is a value of an attribute with the outcomes of its projects.
type DriverValue struct {
	Value  string
	Count  int
	Money  int64 // plan at completion in the reporting currency, in minor units
	Groups [len(Outcomes)]*driver.Group
}

// DriverPart is what a project plans and is to spend on a cost code.
type DriverPart struct {
	*office.Reading
	Plan, Outlook int64
}

// DriversAsk is what an address asks of drivers, as text.
type DriversAsk struct{ By, Value string }

// Drivers looks where the overruns and slips of a moment's scope and filter
// gather, in the reporting currency: projects that run, are on hold or finished.
func (o Room) Drivers(ctx context.Context, a right.Actor, m *office.Moment, ask DriversAsk) (*Drivers, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	d := &Drivers{}
	if m.Empty {
		return d, nil
	}
	now, err := o.Book().Readings(ctx, m.Snapshot(), m.Period.Number, m.Against, true)
	if err != nil {
		return nil, err
	}
	w := &driverWriter{m: m, now: now}
	for _, r := range now.Rows {
		if !r.Group && r.State != portfolio.Cancelled && r.State != portfolio.Proposed && m.InScope(r) &&
			m.Filter.Wants(r) {
			w.list, w.codes = append(w.list, r), append(w.codes, r.Code)
		}
	}
	d.Projects = len(w.list)
	if w.inputs, err = o.Book().InputsAt(ctx, m.Snapshot(), m.Period.Number); err != nil {
		return nil, err
	}
	if w.suppliers, err = w.inputs.Suppliers(ctx, w.codes, m.Period.Number); err != nil {
		return nil, err
	}
	if w.costs, err = w.inputs.Costs(ctx, w.codes, m.Period.Number, m.Against, m.Reporting, costs.Usual, false); err != nil {
		return nil, err
	}
	w.bands()
	for _, x := range Attributes {
		d.All = append(d.All, w.driver(x))
	}
	slices.SortStableFunc(
		d.All,
		func(a, b Driver) int { return cmp.Compare(b.Results[0].Explained, a.Results[0].Explained) },
	)
	by := cmp.Or(ask.By, d.All[0].Name)
	i := slices.IndexFunc(d.All, func(x Driver) bool { return x.Name == by })
	if i < 0 {
		d.Asked = append(
			d.Asked,
			fmt.Sprintf("There is no attribute %q; this is %s.", by, strings.ToLower(d.All[0].Title)),
		)
		i = 0
	}
	d.Now = &d.All[i]
	if ask.Value != "" {
		w.pick(d, ask.Value)
	}
	return d, nil
}

type driverWriter struct {
	m         *office.Moment
	now       *book.Readings
	inputs    *book.Snapshot
	list      []*office.Reading
	codes     []string
	suppliers map[string]string
	costs     []*costs.Project
	sizes     [3]int64 // where a quarter of the projects ends
}

// bands finds the quarters of projects by size.
func (w *driverWriter) bands() {
	var sizes []int64
	for _, r := range w.list {
		if v := r.Value(figure.BAC); v.Known {
			sizes = append(sizes, v.N)
		}
	}
	slices.Sort(sizes)
	for i := range w.sizes {
		if n := len(sizes); n > 0 {
			w.sizes[i] = sizes[min(n*(i+1)/4, n-1)]
		}
	}
}

// value gives a project's value of an attribute.
func (w *driverWriter) value(name string, r *office.Reading) string {
	switch name {
	case "lead":
		return cmp.Or(r.Lead, "no lead")
	case "programme":
		if g := w.now.Group(r.Parent); g != nil {
			return g.Name
		}
		return "no programme"
	case "stage":
		return cmp.Or(r.Stage, "no stage")
	case "supplier":
		return cmp.Or(w.suppliers[r.Code], "none named")
	case "currency":
		if p := w.inputs.Project(r.Code); p != nil {
			return string(p.Currency)
		}
		return string(r.Currency)
	case "size":
		return w.size(r)
	}
	at := r.Value(figure.AT)
	if !at.Known {
		return "not begun"
	}
	gone, _ := at.Rat().Float64()
	return [...]string{"first year", "second year", "third year", "later"}[min(int(math.Max(gone-1, 0))/12, 3)]
}

// size names the quarter that a project's plan lies in.
func (w *driverWriter) size(r *office.Reading) string {
	v := r.Value(figure.BAC)
	if !v.Known {
		return "no plan"
	}
	var all []figure.Value
	for _, n := range w.sizes {
		all = append(all, figure.Whole(figure.Money, n))
	}
	money := tell.AmountsOf(w.m.Reporting, all...).Of
	switch {
	case v.N < w.sizes[0]:
		return "below " + money(w.sizes[0])
	case v.N < w.sizes[1]:
		return money(w.sizes[0]) + " to " + money(w.sizes[1])
	case v.N < w.sizes[2]:
		return money(w.sizes[1]) + " to " + money(w.sizes[2])
	}
	return money(w.sizes[2]) + " and more"
}

// driver looks at an attribute.
func (w *driverWriter) driver(x Attribute) Driver {
	d := Driver{Attribute: x}
	var seen [len(Outcomes)][]driver.Observation
	if x.Name == "code" {
		for _, p := range w.parts() {
			if p.plan > 0 {
				seen[0] = append(
					seen[0],
					driver.Observation{
						Value:   p.name,
						Money:   p.plan,
						Outcome: float64(p.outlook-p.plan) / float64(p.plan),
					},
				)
			}
		}
	} else {
		for _, r := range w.list {
			value := w.value(x.Name, r)
			for i, id := range Outcomes {
				if v := r.Value(id); v.Known {
					seen[i] = append(seen[i], driver.Observation{Value: value, Money: r.Value(figure.BAC).N, Outcome: tell.Float(v)})
				}
			}
		}
	}
	values := make(map[string]*DriverValue)
	for i := range seen {
		d.Results[i] = driver.Explain(seen[i])
		for k := range d.Results[i].Groups {
			g := &d.Results[i].Groups[k]
			v := values[g.Value]
			if v == nil {
				v = &DriverValue{Value: g.Value}
				values[g.Value] = v
			}
			v.Groups[i] = g
			v.Count, v.Money = max(v.Count, g.Count), max(v.Money, g.Money)
		}
	}
	for _, name := range slices.Sorted(maps.Keys(values)) {
		d.Values = append(d.Values, *values[name])
	}
	slices.SortStableFunc(d.Values, func(a, b DriverValue) int { return cmp.Compare(b.mean(), a.mean()) })
	return d
}

// mean is the mean cost outcome of a value; one without any comes last.
func (v *DriverValue) mean() float64 {
	if v.Groups[0] == nil {
		return math.Inf(-1)
	}
	return v.Groups[0].Mean
}

// driverPart is a project's money on a cost code.
type driverPart struct {
	code, name    string // of the project; of the cost code
	plan, outlook int64
}

// parts sums the money of each project on each cost code: what is planned, and
// what is spent and stated to come. Projects that state nothing to come are left
// out, since theirs would look too little.
func (w *driverWriter) parts() (out []driverPart) {
	for _, p := range w.costs {
		if p.Why != "" || !p.Stated {
			continue
		}
		at := make(map[int64]int)
		for i := range p.Lines {
			l := &p.Lines[i]
			if l.Flow != portfolio.Cost || l.Reserve || l.CodeID == 0 {
				continue
			}
			k, ok := at[l.CodeID]
			if !ok {
				c := w.inputs.Office.Codes[l.CodeID]
				k, at[l.CodeID] = len(out), len(out)
				out = append(out, driverPart{code: p.Code, name: strings.TrimSpace(c.Code + " " + c.Name)})
			}
			n := l.Sum(l.First, l.After()-1)
			if l.Kind == costs.Plan {
				out[k].plan += n
			}
			if _, adds := costs.Running.Makes(l.Kind); adds {
				out[k].outlook += n
			}
		}
	}
	return out
}

// pick lists what has a value: projects, or their parts on a cost code.
func (w *driverWriter) pick(d *Drivers, value string) {
	if !slices.ContainsFunc(d.Now.Values, func(v DriverValue) bool { return v.Value == value }) {
		d.Asked = append(d.Asked, fmt.Sprintf("No project here has %q as its %s.", value, strings.ToLower(d.Now.Title)))
		return
	}
	d.Value = value
	if d.Now.Name == "code" {
		for _, p := range w.parts() {
			if p.name == value && p.plan > 0 {
				d.Parts = append(d.Parts, DriverPart{w.now.Project(p.code), p.plan, p.outlook})
			}
		}
		slices.SortStableFunc(d.Parts, func(a, b DriverPart) int {
			return cmp.Compare(float64(b.Outlook)/float64(b.Plan), float64(a.Outlook)/float64(a.Plan))
		})
		return
	}
	for _, r := range w.list {
		if w.value(d.Now.Name, r) == value {
			d.Rows = append(d.Rows, r)
		}
	}
	slices.SortStableFunc(
		d.Rows,
		func(a, b *office.Reading) int { return -office.Order(a, b, figure.Get(Outcomes[0]).Name) },
	)
}
