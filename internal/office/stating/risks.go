package stating

import (
	"context"
	"fmt"
	"strconv"
	"strings"
)

// blanks are the rows for what was not stated before.
const blanks = 3

// layRisks lays out what is open, rows for new ones, and what is closed, folded.
func layRisks(ctx context.Context, s *subject) (*Grid, error) {
	g := &Grid{Columns: []Column{
		{Name: "title", Title: "Title"},
		{Name: "kind", Title: "Kind", Choices: []string{"risk", "issue"}},
		{Name: "likelihood", Title: "Likely", Number: true},
		{Name: "impact", Title: "Impact", Number: true},
		{Name: "cost_impact", Title: "Cost", Number: true},
		{Name: "owner", Title: "Owner"},
		{Name: "due", Title: "Due"},
		{Name: "response", Title: "Response"},
		{Name: "state", Title: "State", Choices: []string{"open", "closed"}},
	}}
	said, err := s.snap.InForce(ctx, s.project.ID, s.Kind, s.at)
	if err != nil {
		return nil, err
	}
	highest := 0
	var open, closed []Row
	for i := range said {
		x := &said[i]
		code := x.Cells["risk"]
		if n, err := strconv.Atoi(strings.TrimLeft(code, "Rr")); err == nil {
			highest = max(highest, n)
		}
		r := Row{Key: code, Code: code, keys: map[string]string{"risk": code}}
		g.fill(&r, usual(x.Cells), usual(x.Before))
		if x.Cells["state"] == "closed" && x.Said < s.at {
			r.Folded = true
			closed = append(closed, r)
		} else {
			open = append(open, r)
		}
	}
	var fresh []Row
	for i := range blanks {
		code := fmt.Sprintf("R%d", highest+1+i)
		r := Row{Key: code, Code: code, keys: map[string]string{"risk": code}}
		g.fill(&r, nil, nil)
		fresh = append(fresh, r)
	}
	for _, x := range []struct {
		name string
		rows []Row
	}{{"Open", open}, {"New", fresh}, {"Closed", closed}} {
		if len(x.rows) > 0 {
			x.rows[0].Group = x.name
			g.Rows = append(g.Rows, x.rows...)
		}
	}
	return g, nil
}

// usual fills in what empty cells of a risk mean.
func usual(cells map[string]string) map[string]string {
	if cells == nil {
		return nil
	}
	out := map[string]string{"kind": "risk", "state": "open"}
	merge(out, cells)
	return out
}
