package costs

import (
	"cmp"
	"slices"
	"sync"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// Dimension is what rows of a table are made of.
type Dimension string

// The dimensions of rows.
const (
	ByProgramme Dimension = "programme"
	ByProject   Dimension = "project"
	ByCode      Dimension = "code"
	ByClass     Dimension = "class"
	ByFlow      Dimension = "flow"
	ByCentre    Dimension = "centre"
	ByActivity  Dimension = "activity"
	ByClient    Dimension = "client"
)

// OfProjects tells a dimension that projects have as wholes: of one project there is nothing to
// tell by it.
func (d Dimension) OfProjects() bool { return d == ByProgramme || d == ByProject || d == ByClient }

// Dimensions lists all of them.
var Dimensions = []Dimension{ByProgramme, ByProject, ByCode, ByClass, ByFlow, ByCentre, ByActivity, ByClient}

// Column is a span of periods, both ends included.
type Column struct {
	Name     string
	From, To calendar.Period
}

// Margin asks for income less cost, in place of one flow.
const Margin portfolio.Flow = "margin"

// Query says what a table has.
type Query struct {
	Rows     []Dimension
	Level    int // of cost codes and programmes that rows go down to; zero: all
	Columns  []Column
	Flow     portfolio.Flow // "": all
	Class    string         // "": all
	Code     string         // a cost code: it and those below it; "": all
	Centre   string         // a cost centre: it and those below it; "": all
	Activity string         // "": all
	Path     []string       // only the row of this path, with what is below it and above
	Outlook  bool           // lines of the kind Outlook count
	Only     Measure        // only what this measure is made of; "": everything
}

// Row is a row of a table with those below it. Sums hold each kind, of version 0
// and, where two are compared, 1: by segment while lines are added, then as sums
// of all segments before each, so that a column is the difference of two.
type Row struct {
	Dimension Dimension
	Key       string // tells the row from its siblings
	Name      string
	Parent    *Row
	Below     []*Row
	Depth     int
	Any       [2]bool // whether any line of the version is in it
	sums      [2][]int64
	done      [2]bool
	key       rowKey
	place     map[rowKey]*Row // of those below, where they are many
}

type rowKey struct {
	dimension Dimension
	id        int64
	text      string
}

// Table is money by rows and columns.
type Table struct {
	Query
	Root     *Row
	TooLarge bool         // a sum is beyond 64 bits
	Reserve  int64        // plan on management reserve in all columns, which is in no sum
	LeftOut  []*Project   // whose money is not known, with its reason
	Unstated []*Project   // of version 0 without a forecast
	Passed   []*Project   // of version 0 whose actual cost is in part a plan
	codes    [2]codeChain // chains of codes by id, of each version
	segments int          // the stretches of periods that no column parts
	made     []Row        // rows that are not handed out yet
	span     [][2]int     // of each column: its first segment, and the one after its last
}

type codeChain map[int64][]portfolio.CostCode

// New makes a table of one version of the money of projects.
func New(q Query, office *portfolio.Office, projects []*Project) *Table {
	t := &Table{Query: q, Root: &Row{Name: "All"}}
	t.fill(0, office, projects)
	return t
}

// Compare makes a table of two versions, each with the office that knows it.
func Compare(
	q Query,
	office *portfolio.Office,
	projects []*Project,
	other *portfolio.Office,
	others []*Project,
) *Table {
	second := &Table{Query: q, Root: &Row{Name: "All"}}
	var wg sync.WaitGroup
	wg.Go(func() { second.fill(1, other, others) })
	t := New(q, office, projects)
	wg.Wait()
	t.TooLarge, t.codes[1] = t.TooLarge || second.TooLarge, second.codes[1]
	t.join(t.Root, second.Root)
	return t
}

// join takes over what a row of the second version holds, and the rows below it.
func (t *Table) join(r, other *Row) {
	r.sums[1], r.Any[1] = other.sums[1], other.Any[1]
	n, at := len(r.Below), 0
	for _, c := range other.Below { // both are in the order of their keys
		for at < n && r.Below[at].Key < c.Key {
			at++
		}
		if at < n && r.Below[at].key == c.key {
			t.join(r.Below[at], c)
		} else {
			t.join(t.child(r, c.key, c.Key, c.Name), c)
		}
	}
	if len(r.Below) > n {
		r.order()
	}
}

func (r *Row) order() {
	slices.SortStableFunc(r.Below, func(a, b *Row) int { return cmp.Compare(a.Key, b.Key) })
}

func (t *Table) fill(version int, office *portfolio.Office, projects []*Project) {
	t.codes[version] = make(codeChain)
	f := &filler{t: t, version: version, office: office}
	f.columns()
	for _, p := range projects {
		if p.Why != "" {
			if version == 0 {
				t.LeftOut = append(t.LeftOut, p)
			}
			continue
		}
		if version == 0 && !p.Stated {
			t.Unstated = append(t.Unstated, p)
		}
		if version == 0 && p.Passed {
			t.Passed = append(t.Passed, p)
		}
		f.project(p)
	}
	t.sum(t.Root, version)
}

func (t *Table) plus(to *int64, v int64) {
	s, ok := money.Add(*to, v)
	if !ok {
		t.TooLarge = true
	}
	*to = s
}

// few is how many rows below another are looked through one by one; of more,
// places are kept.
const few = 40

// width is the number of sums of a row.
func (t *Table) width() int {
	n := int(kinds)
	if !t.Outlook {
		n = int(Outlook) // the last of the kinds
	}
	return n * (t.segments + 1)
}

// child finds the row of a key below another, or adds it.
func (t *Table) child(r *Row, k rowKey, key, name string) *Row {
	if r.place == nil && len(r.Below) > few {
		r.place = make(map[rowKey]*Row, 2*len(r.Below))
		for _, c := range r.Below {
			r.place[c.key] = c
		}
	}
	if r.place != nil {
		if c := r.place[k]; c != nil {
			return c
		}
	} else {
		for i := len(r.Below) - 1; i >= 0; i-- {
			if r.Below[i].key == k {
				return r.Below[i]
			}
		}
	}
	c := t.add(r, k, key, name)
	if r.place != nil {
		r.place[k] = c
	}
	return c
}

// last gives the row of a key below another, where it can only be the last that
// was added, or adds it.
func (t *Table) last(r *Row, k rowKey, key, name string) *Row {
	if n := len(r.Below); n > 0 && r.Below[n-1].key == k {
		return r.Below[n-1]
	}
	return t.add(r, k, key, name)
}

func (t *Table) add(r *Row, k rowKey, key, name string) *Row {
	if len(t.made) == 0 {
		t.made = make([]Row, many)
	}
	c := &t.made[0]
	t.made = t.made[1:]
	*c = Row{Dimension: k.dimension, Key: key, Name: name, Parent: r, Depth: r.Depth + 1, key: k}
	r.Below = append(r.Below, c)
	return c
}

// sum adds what is below a row to it, and orders its rows.
func (t *Table) sum(r *Row, version int) {
	for _, c := range r.Below {
		t.sum(c, version)
		if c.sums[version] == nil {
			continue
		}
		if r.sums[version] == nil {
			r.sums[version] = make([]int64, t.width())
		}
		r.Any[version] = true
		for i, v := range c.sums[version] {
			if v != 0 {
				t.plus(&r.sums[version][i], v)
			}
		}
	}
	r.order()
}

// accumulate makes the sums of a row those of all segments before each, once it
// is asked for.
func (t *Table) accumulate(r *Row, version int) []int64 {
	if sums := r.sums[version]; !r.done[version] {
		r.done[version] = true
		for k := range sums {
			if k%(t.segments+1) != 0 {
				t.plus(&sums[k], sums[k-1])
			}
		}
	}
	return r.sums[version]
}

// Value gives a measure of a row in a column, in minor units. It is not known of
// a version that the table does not have; InPercent has no amount, see Percent.
func (t *Table) Value(r *Row, version int, m Measure, column int) (int64, bool) {
	if t.codes[version] == nil || made[m] == nil || m == Expected && !t.Outlook {
		return 0, false
	}
	var sum int64
	if r.sums[version] != nil {
		span := t.span[column]
		sums := t.accumulate(r, version)
		for _, x := range made[m] {
			of := sums[int(x.kind)*(t.segments+1):]
			t.plus(&sum, x.sign*(of[span[1]]-of[span[0]]))
		}
	}
	return sum, true
}

// Percent gives the variance in a column over its plan; ok is false without a
// plan.
func (t *Table) Percent(r *Row, version, column int) (num, den int64, ok bool) {
	den, _ = t.Value(r, version, Planned, column)
	num, known := t.Value(r, version, Variance, column)
	return num, den, known && den != 0
}

// Compared tells whether the table has a second version.
func (t *Table) Compared() bool { return t.codes[1] != nil }

// Differs tells whether the two versions of a row say other amounts of one of
// some measures in one of the columns.
func (t *Table) Differs(r *Row, list []Measure) bool {
	if !t.Compared() {
		return false
	}
	if !r.done[0] && !r.done[1] { // of a row that no one has asked for, the segments tell
		return slices.ContainsFunc(list, func(m Measure) bool { return t.differs(r, m) })
	}
	for _, m := range list {
		for c := range t.Columns {
			a, _ := t.Value(r, 0, m, c)
			if b, known := t.Value(r, 1, m, c); known && a != b {
				return true
			}
		}
	}
	return false
}

// differs is Differs of a row whose sums are still by segment.
func (t *Table) differs(r *Row, m Measure) bool {
	if m == Expected && !t.Outlook {
		return false
	}
	for _, span := range t.span {
		var by int64
		for _, x := range made[m] {
			from, to := int(x.kind)*(t.segments+1)+1+span[0], int(x.kind)*(t.segments+1)+1+span[1]
			for version, sign := range [...]int64{x.sign, -x.sign} {
				if sums := r.sums[version]; sums != nil {
					for _, n := range sums[from:to] {
						by += sign * n
					}
				}
			}
		}
		if by != 0 {
			return true
		}
	}
	return false
}

// Path names a row by the keys of those above it and its own.
func (r *Row) Path() (path []string) {
	for ; r.Parent != nil; r = r.Parent {
		path = append(path, r.Key)
	}
	slices.Reverse(path)
	return path
}
