package office

import "turret/internal/core/portfolio"

// row reads the fields of a record by name.
type row struct {
	t *portfolio.Table
	*portfolio.Row
}

func (r row) text(name string) string { return r.Fields[r.t.Index(name)].Text }
func (r row) int(name string) int64   { return r.Fields[r.t.Index(name)].Int }
func (r row) said(name string) bool   { return r.Fields[r.t.Index(name)].Said == portfolio.Value }

func (r row) or(name string) string {
	if s := r.text(name); s != "" {
		return s
	}
	return r.t.Columns[r.t.Index(name)].Default
}
