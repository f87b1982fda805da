package intake

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"turret/internal/change"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/record"
	"turret/internal/right"
	"turret/internal/tell"
)

// Lacking are records that refused rows refer to and that are not there: to add them by
// their codes would do.
type Lacking struct {
	Table string
	Words string // 2 programmes: FR, QS
	Codes []string
}

// LackingIn lists what refused rows lack, a table each.
func LackingIn(r *entry.Report) (out []Lacking) {
	for i := range r.Refusals {
		x := &r.Refusals[i]
		if x.Lacks == "" || x.Value == "" {
			continue
		}
		at := slices.IndexFunc(out, func(l Lacking) bool { return l.Table == x.Lacks })
		if at < 0 {
			at = len(out)
			out = append(out, Lacking{Table: x.Lacks})
		}
		if !slices.Contains(out[at].Codes, x.Value) {
			out[at].Codes = append(out[at].Codes, x.Value)
		}
	}
	for i := range out {
		l := &out[i]
		slices.Sort(l.Codes)
		k := record.Named(l.Table)
		l.Words = fmt.Sprintf(
			"%s: %s",
			tell.Plural(len(l.Codes), k.One, strings.ReplaceAll(k.Name, "_", " ")),
			strings.Join(tell.Few(l.Codes), ", "),
		)
	}
	return out
}

// AddLacking adds what the refused rows of a draft lack of a table, by their codes, each
// named as its code until someone names it.
func (o Room) AddLacking(ctx context.Context, a right.Actor, d *Draft, table string) error {
	needs := right.Gather
	if k := record.Named(table); k != nil && k.Form != nil {
		needs = right.Action(k.Form.Needs)
	}
	if err := right.Check(a, needs); err != nil {
		return err
	}
	r, err := o.Preview(ctx, a, d, entry.Watch{})
	if err != nil {
		return err
	}
	list := LackingIn(r)
	at := slices.IndexFunc(list, func(l Lacking) bool { return l.Table == table })
	if at < 0 {
		return office.Refusef("Nothing of that is lacking any more.")
	}
	var rows []entry.Row
	for _, code := range list[at].Codes {
		rows = append(rows, entry.Row{record.Named(table).Columns[0].Name: code, "name": code})
	}
	_, err = entry.In(o.Office).Enter(ctx, a, &entry.Form{
		Origin: office.Structured, Note: list[at].Words, Seen: change.Unseen, Takes: needs, Rows: entry.These(entry.Of(table, rows...)),
	})
	return err
}
