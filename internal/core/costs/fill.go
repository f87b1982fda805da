package costs

import (
	"cmp"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
)

// filler adds the lines of one version.
type filler struct {
	t         *Table
	version   int
	office    *portfolio.Office
	stretches []stretch // the segments that a column holds
	sums      []int64   // made and not yet handed out
	codeSteps map[int64][]step
	ofProject []step // of its programmes
}

// stretch is a segment of periods, both ends included, with its place.
type stretch struct {
	from, to calendar.Period
	place    int
}

// columns cuts the periods of all columns into segments.
func (f *filler) columns() {
	t := f.t
	var bounds []calendar.Period // where segments begin
	for _, c := range t.Columns {
		bounds = append(bounds, c.From, c.To+1)
	}
	slices.Sort(bounds)
	bounds = slices.Compact(bounds)
	t.segments, t.span = len(bounds), make([][2]int, len(t.Columns))
	for i, c := range t.Columns {
		from, _ := slices.BinarySearch(bounds, c.From)
		to, _ := slices.BinarySearch(bounds, c.To+1)
		t.span[i] = [2]int{from, max(from, to)}
	}
	if len(bounds) == 0 {
		return
	}
	held := make([]bool, len(bounds))
	for _, s := range t.span {
		for k := s[0]; k < s[1]; k++ {
			held[k] = true
		}
	}
	for k := range len(bounds) - 1 {
		if held[k] {
			f.stretches = append(f.stretches, stretch{bounds[k], bounds[k+1] - 1, k})
		}
	}
}

func (f *filler) project(p *Project) {
	t := f.t
	f.ofProject = nil
	above := t.Root
	steps := 0 // dimensions that are the same for all lines of a project
	for _, d := range t.Rows {
		if d != ByProgramme && d != ByProject {
			break
		}
		if above = f.below(above, d, p, nil); above == nil {
			return
		}
		steps++
	}
	var row *Row // of the line before, which often has the same key
	for i := range p.Lines {
		l := &p.Lines[i]
		if l.Kind == Outlook && !t.Outlook {
			break // it is the last line
		}
		if !l.again {
			if row = nil; f.wants(&l.Key) {
				row = above
				for _, d := range t.Rows[steps:] {
					if row = f.below(row, d, p, &l.Key); row == nil {
						break
					}
				}
			}
		}
		if row != nil && (f.t.Only == "" || f.makes(l.Kind)) {
			f.add(row, l)
		}
	}
}

// add adds a line to a row: of each stretch the difference of two of its sums.
func (f *filler) add(row *Row, l *Line) {
	t, sign, after := f.t, f.t.Sign(l.Flow), l.After()
	var sums []int64
	for _, s := range f.stretches {
		if s.to < l.First || s.from >= after {
			continue
		}
		if sums == nil {
			if row.sums[f.version] == nil {
				row.sums[f.version] = f.make()
			}
			row.Any[f.version] = true
			sums = row.sums[f.version][int(l.Kind)*(t.segments+1)+1:]
		}
		v := l.Sum(s.from, s.to)
		switch {
		case v == 0:
		case l.Reserve:
			t.plus(&t.Reserve, v)
		case !l.Reserve:
			t.plus(&sums[s.place], sign*v)
		}
	}
}

// many is how many rows and sums are made at once.
const many = 64

// make gives the sums of a row.
func (f *filler) make() []int64 {
	n := f.t.width()
	if len(f.sums) < n {
		f.sums = make([]int64, many*n)
	}
	out := f.sums[:n:n]
	f.sums = f.sums[n:]
	return out
}

// step is a row below another on the way to where a line belongs.
type step struct {
	id        int64
	key, name string
}

// steps gives the rows of a dimension that a line belongs to: of cost codes, cost
// centres and programmes one for each level down to the query's.
func (f *filler) steps(d Dimension, p *portfolio.Project, l *Key) (out []step) {
	switch d {
	case ByProgramme:
		chain := f.office.Chain(p.Programme)
		if len(chain) == 0 {
			return []step{{0, "", "No programme"}}
		}
		slices.Reverse(chain)
		for _, code := range chain {
			out = append(out, step{0, code, f.programme(code)})
		}
		return f.down(out)
	case ByProject:
		return []step{{p.ID, p.Code, p.Name}}
	case ByClient:
		return []step{{0, p.Client, cmp.Or(f.office.Clients[p.Client], p.Client, "No client")}}
	case ByCode:
		chain := f.chain(l.CodeID)
		if len(chain) == 0 {
			return []step{{0, l.Code, cmp.Or(l.Code, "No cost code")}}
		}
		for _, c := range chain {
			out = append(out, step{0, c.Code, c.Name})
		}
		return f.down(out)
	case ByClass:
		return []step{{0, l.Class, cmp.Or(l.Class, "No class")}}
	case ByFlow:
		return []step{{0, string(l.Flow), string(l.Flow)}}
	case ByCentre:
		for at := l.Centre; at != "" && len(out) <= len(f.office.Centres); at = f.office.Centres[at].Parent {
			out = append(out, step{0, at, cmp.Or(f.office.Centres[at].Name, at)})
		}
		if len(out) == 0 {
			return []step{{0, "", "No cost centre"}}
		}
		slices.Reverse(out)
		return f.down(out)
	}
	return []step{{0, l.Activity, cmp.Or(l.Activity, "No activity")}}
}

// down leaves out the levels below the query's.
func (f *filler) down(list []step) []step {
	if f.t.Level > 0 && len(list) > f.t.Level {
		return list[:f.t.Level]
	}
	return list
}

func (f *filler) makes(k Kind) bool {
	_, ok := f.t.Only.Makes(k)
	return ok
}

// child finds a row below another, or adds it; nil where it is off the path that
// is asked for.
func (f *filler) child(row *Row, k rowKey, key, name string) *Row {
	if row == nil || row.Depth < len(f.t.Path) && f.t.Path[row.Depth] != key {
		return nil
	}
	if k.dimension == ByProject { // projects are added one after the other
		return f.t.last(row, k, key, name)
	}
	return f.t.child(row, k, key, name)
}

// below finds the row of a dimension below another where a line belongs.
func (f *filler) below(row *Row, d Dimension, p *Project, l *Key) *Row {
	switch d {
	case ByProgramme:
		if f.ofProject == nil {
			f.ofProject = f.steps(d, p.Project, l)
		}
		for _, s := range f.ofProject {
			row = f.child(row, rowKey{d, s.id, s.key}, s.key, s.name)
		}
		return row
	case ByCode:
		list, known := f.codeSteps[l.CodeID]
		if !known {
			list = f.steps(d, p.Project, l)
			if f.codeSteps == nil {
				f.codeSteps = make(map[int64][]step)
			}
			if len(f.chain(l.CodeID)) > 0 { // without a code of the office, it goes by the text
				f.codeSteps[l.CodeID] = list
			}
		}
		for _, s := range list {
			row = f.child(row, rowKey{d, s.id, s.key}, s.key, s.name)
		}
		return row
	case ByProject:
		return f.child(row, rowKey{d, p.ID, p.Code}, p.Code, p.Name)
	case ByClass:
		return f.child(row, rowKey{d, 0, l.Class}, l.Class, cmp.Or(l.Class, "No class"))
	}
	for _, s := range f.steps(d, p.Project, l) {
		row = f.child(row, rowKey{d, s.id, s.key}, s.key, s.name)
	}
	return row
}

// wants tells whether the query's filters let a line in.
func (f *filler) wants(l *Key) bool {
	return f.t.Sign(l.Flow) != 0 && (f.t.Class == "" || l.Class == f.t.Class) &&
		(f.t.Activity == "" || l.Activity == f.t.Activity) &&
		(f.t.Code == "" || f.under(l)) &&
		(f.t.Centre == "" || f.at(l))
}

// Sign tells with which sign a table counts lines of a flow; zero: not at all.
func (q *Query) Sign(f portfolio.Flow) int64 {
	switch {
	case q.Flow == "" || f == q.Flow, q.Flow == Margin && f == portfolio.Income:
		return 1
	case q.Flow == Margin && f == portfolio.Cost:
		return -1
	}
	return 0
}

// Holder gives a function that tells whether a line of a project is in the row
// of a path, or in one below it, as an office knows its codes and programmes. The
// function is for one goroutine.
func (t *Table) Holder(office *portfolio.Office, path []string) func(*portfolio.Project, *Key) bool {
	f := &filler{t: &Table{Query: t.Query, codes: [2]codeChain{make(codeChain)}}, office: office}
	return func(p *portfolio.Project, l *Key) bool {
		if wanted := f.wants(l); !wanted || len(path) == 0 {
			return wanted
		}
		rest := path
		for _, d := range t.Rows {
			for _, s := range f.steps(d, p, l) {
				if len(rest) == 0 {
					return true
				}
				if s.key != rest[0] {
					return false
				}
				rest = rest[1:]
			}
		}
		return len(rest) == 0
	}
}

// under tells whether a line is on the query's cost code, or below it.
func (f *filler) under(l *Key) bool {
	return slices.ContainsFunc(f.chain(l.CodeID), func(c portfolio.CostCode) bool { return c.Code == f.t.Code })
}

// at tells whether a line is on the query's cost centre, or below it.
func (f *filler) at(l *Key) bool {
	centre := l.Centre
	for range len(f.office.Centres) + 1 {
		if centre == f.t.Centre || centre == "" {
			break
		}
		centre = f.office.Centres[centre].Parent
	}
	return centre == f.t.Centre
}

func (f *filler) programme(code string) string {
	if i, ok := slices.BinarySearchFunc(f.office.Groups, code, func(g portfolio.Programme, c string) int { return cmp.Compare(g.Code, c) }); ok {
		return f.office.Groups[i].Name
	}
	return code
}

// chain lists a cost code and those above it, the highest first.
func (f *filler) chain(id int64) []portfolio.CostCode {
	known := f.t.codes[f.version]
	if list, ok := known[id]; ok {
		return list
	}
	var list []portfolio.CostCode
	for at := id; len(list) <= len(f.office.Codes); {
		c, ok := f.office.Codes[at]
		if !ok {
			break
		}
		list = append(list, c)
		at = c.Parent
	}
	slices.Reverse(list)
	known[id] = list
	return list
}
