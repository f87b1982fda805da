package structure

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/record"
	"turret/internal/right"
)

// Node is a cost code or cost centre in its tree.
type Node struct {
	Code, Name, Parent, Reserve string
	Depth                       int
	Below                       int // nodes right below it
}

// ShareSet is how the money of a project, or of a cost code in it, is shared out
// from a period on.
type ShareSet struct {
	Project, Code, From, FromCode string
	Shares                        []CentreShare
	InForce                       bool // now
}

// CentreShare is a centre with its percent, as written.
type CentreShare struct{ Centre, Percent string }

// Structure is the tree of cost codes, that of cost centres, and what leads from
// one to the other.
type Structure struct {
	Codes   []Node
	Centres []Node
	Shares  []ShareSet
	Levels  map[right.Role]int // of cost codes, that a role reads unless it says otherwise; zero: all
}

// Structure reads how the office's money is structured.
func (o Room) Structure(ctx context.Context, a right.Actor) (*Structure, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	s, err := o.Book().Snapshot(ctx)
	if err != nil {
		return nil, err
	}
	out := &Structure{Levels: make(map[right.Role]int)}
	for _, r := range right.Roles {
		out.Levels[r] = s.Office.CodeLevels[string(r)]
	}
	var codes, centres []Node
	for _, c := range s.Office.Codes {
		codes = append(
			codes,
			Node{Code: c.Code, Name: c.Name, Parent: s.Office.Codes[c.Parent].Code, Reserve: c.Reserve},
		)
	}
	for code, c := range s.Office.Centres {
		centres = append(centres, Node{Code: code, Name: c.Name, Parent: c.Parent})
	}
	out.Codes, out.Centres = tree(codes), tree(centres)
	at := max(s.Current(), 1)
	for _, p := range s.Projects() {
		for i := range p.Shares {
			x := &p.Shares[i]
			set := ShareSet{
				Project:  p.Code,
				Code:     s.Office.Codes[x.CodeID].Code,
				From:     s.Office.Periods.Name(x.From),
				FromCode: s.Office.Periods.Code(x.From),
				InForce:  s.Office.SharingAt(p, x.CodeID, at) == x,
			}
			for k, centre := range x.Centres {
				set.Shares = append(
					set.Shares,
					CentreShare{centre, money.FormatShort(x.Weights[k], portfolio.QuantityScale)},
				)
			}
			out.Shares = append(out.Shares, set)
		}
	}
	return out, nil
}

// tree orders nodes so that each stands above those below it.
func tree(list []Node) []Node {
	below := make(map[string][]Node)
	for _, n := range list {
		below[n.Parent] = append(below[n.Parent], n)
	}
	var out []Node
	var walk func(parent string, depth int)
	walk = func(parent string, depth int) {
		some := below[parent]
		slices.SortFunc(some, func(a, b Node) int { return strings.Compare(a.Code, b.Code) })
		for _, n := range some {
			n.Depth, n.Below = depth, len(below[n.Code])
			out = append(out, n)
			walk(n.Code, depth+1)
		}
	}
	walk("", 0)
	return out
}

// restructure takes rows of one of the structure's tables, as they were seen at a
// revision.
func (o Room) restructure(ctx context.Context, a right.Actor, seen int64, note, table string, rows ...entry.Row) error {
	if err := right.Check(a, right.Gather); err != nil {
		return err
	}
	_, err := entry.In(o.Office).
		Enter(ctx, a, &entry.Form{Origin: office.Structured, Note: note, Seen: seen, Rows: entry.These(entry.Of(table, rows...))})
	return err
}

// SaveCode adds a cost code, or changes its name, its place or what reserve it is.
func (o Room) SaveCode(ctx context.Context, a right.Actor, seen int64, n Node) error {
	if n.Code = strings.TrimSpace(n.Code); n.Code == "" {
		return refusedUnless(a, right.Gather, &office.Misfit{Column: "cost_code", Why: "write the code"})
	}
	return o.restructure(
		ctx,
		a,
		seen,
		"cost code "+n.Code,
		"cost_codes",
		entry.Row{
			"cost_code": n.Code,
			"name":      record.OrClear(n.Name),
			"parent":    record.OrClear(n.Parent),
			"reserve":   n.Reserve,
		},
	)
}

// SaveCentre adds a cost centre, or changes its name or its place.
func (o Room) SaveCentre(ctx context.Context, a right.Actor, seen int64, n Node) error {
	if n.Code = strings.TrimSpace(n.Code); n.Code == "" {
		return refusedUnless(a, right.Gather, &office.Misfit{Column: "cost_centre", Why: "write the code"})
	}
	return o.restructure(
		ctx,
		a,
		seen,
		"cost centre "+n.Code,
		"cost_centres",
		entry.Row{"cost_centre": n.Code, "name": record.OrClear(n.Name), "parent": record.OrClear(n.Parent)},
	)
}

// SaveShares shares the money of a project, or of a cost code in it, out to
// centres from an open period on: a centre and its percent a line. Without any
// line nothing is shared from then on. Centres that shared before and are not
// named share no more.
func (o Room) SaveShares(ctx context.Context, a right.Actor, seen int64, project, code, from, text string) error {
	if err := right.Check(a, right.Gather); err != nil {
		return err
	}
	shares := make(map[string]string)
	for _, line := range strings.Split(text, "\n") {
		words := strings.Fields(strings.TrimSuffix(strings.TrimSpace(line), "%"))
		if len(words) == 0 {
			continue
		}
		if len(words) < 2 {
			return &office.Misfit{
				Column: "shares",
				Why:    fmt.Sprintf("%q needs a cost centre and its percent, such as: FLEET 60", line),
			}
		}
		centre := strings.Join(words[:len(words)-1], " ")
		if shares[centre] != "" {
			return &office.Misfit{Column: "shares", Why: fmt.Sprintf("%s is there twice; write it once", centre)}
		}
		shares[centre] = words[len(words)-1]
	}
	project = strings.TrimSpace(project)
	_, err := entry.In(o.Office).
		Enter(ctx, a, &entry.Form{Origin: office.Structured, Note: "shares of " + strings.TrimSpace(project+" "+code), Seen: seen, Rows: func(_ context.Context, s *book.Snapshot) ([]entry.Rows, error) {
			return shareRows(s, project, code, from, maps.Clone(shares))
		}})
	return err
}

// shareRows are the rows that share the money of a project, or of a code in it,
// out by percent from a period on.
func shareRows(s *book.Snapshot, project, code, from string, shares map[string]string) ([]entry.Rows, error) {
	p := s.Project(project)
	if p == nil {
		return nil, &office.Misfit{Column: "project", Why: fmt.Sprintf("there is no project %q", project)}
	}
	at, err := s.Office.Periods.Parse(strings.TrimSpace(from))
	if err != nil || s.Closed[at] {
		return nil, &office.Misfit{
			Column: "from",
			Why:    "choose an open period; closed ones keep the shares that they had",
		}
	}
	for i := range p.Shares { // of this very period: the rows that go
		if x := &p.Shares[i]; x.From == at && s.Office.Codes[x.CodeID].Code == code {
			for _, c := range x.Centres {
				if shares[c] == "" {
					shares[c] = "0"
				}
			}
		}
	}
	if len(shares) == 0 { // ends what an earlier period began
		old := latestShares(s.Office, p, code, at)
		if len(old) == 0 {
			return nil, &office.Misfit{
				Column: "shares",
				Why:    "write a cost centre and its percent a line; nothing is shared yet that could end",
			}
		}
		for _, c := range old {
			shares[c] = "0"
		}
	}
	var rows []entry.Row
	for _, c := range slices.Sorted(maps.Keys(shares)) {
		rows = append(
			rows,
			entry.Row{
				"project":     p.Code,
				"cost_code":   code,
				"from":        s.Office.Periods.Code(at),
				"cost_centre": c,
				"percent":     shares[c],
			},
		)
	}
	return []entry.Rows{entry.Of("shares", rows...)}, nil
}

// latestShares gives the centres of the last set of a project and code at or
// before a period.
func latestShares(office *portfolio.Office, p *portfolio.Project, code string, at calendar.Period) (out []string) {
	var last calendar.Period
	for i := range p.Shares {
		if x := &p.Shares[i]; office.Codes[x.CodeID].Code == code && x.From <= at && x.From >= last {
			last, out = x.From, x.Centres
		}
	}
	return out
}

// SaveLevels sets down to which level of cost codes each role reads, unless it
// asks for another; "" is all of them.
func (o Room) SaveLevels(ctx context.Context, a right.Actor, seen int64, levels map[right.Role]string) error {
	if err := right.Check(a, right.Gather); err != nil {
		return err
	}
	var rows []entry.Row
	for _, r := range right.Roles {
		text := strings.TrimSpace(levels[r])
		if n, err := strconv.Atoi(text); text != "" && (err != nil || n < 1 || n > 9) {
			return &office.Misfit{
				Column: string(r),
				Why:    fmt.Sprintf("%q is no level; write 1 to 9, or nothing for all", text),
			}
		}
		rows = append(rows, entry.Row{"setting": record.CodeLevel + string(r), "value": record.OrClear(text)})
	}
	return o.restructure(ctx, a, seen, "levels of cost codes", "settings", rows...)
}

// refusedUnless gives the refusal of one who may do something, else that they may not.
func refusedUnless(a right.Actor, do right.Action, err error) error {
	if denied := right.Check(a, do); denied != nil {
		return denied
	}
	return err
}
