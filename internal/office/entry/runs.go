package entry

import (
	"context"
	"encoding/json"
	"fmt"
	"strconv"
	"time"

	"turret/internal/right"
	"turret/internal/store"
	"turret/internal/tell"
)

// RunSheet is what a run made of one sheet.
type RunSheet struct {
	File      string `json:"file"`
	Sheet     string `json:"sheet,omitempty"`
	Table     string `json:"table"`
	Mapping   string `json:"mapping,omitempty"`
	New       int    `json:"new"`
	Changed   int    `json:"changed"`
	Unchanged int    `json:"unchanged"`
	Refused   int    `json:"refused"`
	Totals    int    `json:"totals,omitempty"` // sums that agree
	Wrong     int    `json:"wrong,omitempty"`  // and that do not
}

// Run is a gather as a list shows it.
type Run struct {
	Batch   int64
	At      time.Time
	Actor   string
	Origin  string
	Note    string
	Sheets  []RunSheet
	Undone  int64 // the batch that undid it, or zero
	Kept    int   // projects that it was not undone of
	Waiting int   // rows of it that still wait for someone
}

// Taken is the number of rows that the run made or changed, and Refused of
// those that it refused.
func (r *Run) Taken() (taken, refused int) {
	for _, s := range r.Sheets {
		taken, refused = taken+s.New+s.Changed, refused+s.Refused
	}
	return taken, refused
}

// runOf writes what a report made of each sheet.
func runOf(r *Report) ([]byte, error) {
	list := []RunSheet{}
	for _, s := range r.Sheets {
		t := s.Sum()
		x := RunSheet{
			File:      s.File,
			Sheet:     s.Sheet,
			Table:     s.Table,
			Mapping:   s.From,
			New:       t.New,
			Changed:   t.Changed,
			Unchanged: t.Unchanged,
			Refused:   s.Refused,
		}
		if s.NoTable && s.Refused == 0 {
			continue
		}
		for _, sum := range s.Sums {
			if sum.Agrees {
				x.Totals++
			} else {
				x.Wrong++
			}
		}
		list = append(list, x)
	}
	return json.Marshal(list)
}

func RunFrom(r store.Run) (Run, error) {
	out := Run{
		Batch:   r.Batch,
		At:      time.UnixMilli(r.At).UTC(),
		Actor:   r.Actor,
		Origin:  r.Origin,
		Note:    r.Note,
		Undone:  r.Undone,
		Kept:    r.Kept,
		Waiting: r.Waiting,
	}
	if err := json.Unmarshal([]byte(r.Sheets), &out.Sheets); err != nil {
		return out, fmt.Errorf("run %d: %w", r.Batch, err)
	}
	return out, nil
}

// Runs lists the last gathers, latest first.
func (o Room) Runs(ctx context.Context, a right.Actor, most int) ([]Run, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	list, err := o.Store().Runs(ctx, most)
	if err != nil {
		return nil, err
	}
	out := make([]Run, len(list))
	for i := range list {
		if out[i], err = RunFrom(list[i]); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// RunOf gives a gather by its batch; nil where there is none.
func (o Room) RunOf(ctx context.Context, a right.Actor, batch int64) (*Run, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	r, err := o.Store().RunOf(ctx, batch)
	if err != nil || r == nil {
		return nil, err
	}
	out, err := RunFrom(*r)
	return &out, err
}

// Line says what a run did, in few words.
func (r *Run) Line() []string {
	var taken, same, refused, totals, wrong int
	for _, s := range r.Sheets {
		taken, same, refused, totals, wrong = taken+s.New+s.Changed, same+s.Unchanged, refused+s.Refused, totals+s.Totals, wrong+s.Wrong
	}
	count := func(n int) string { return tell.Amount(strconv.Itoa(n), 0) }
	out := []string{count(taken) + " taken"}
	for _, x := range []struct {
		n    int
		text string
	}{{same, "%s unchanged"}, {refused, "%s refused"}, {r.Waiting, "%s still wait"}, {wrong, "totals that do not agree: %s"}} {
		if x.n > 0 {
			out = append(out, fmt.Sprintf(x.text, count(x.n)))
		}
	}
	if totals > 0 && wrong == 0 {
		out = append(out, "totals agree")
	}
	return out
}

// Source says how a statement came: the file and sheet of its table.
func (r *Run) Source(table string) string {
	for _, s := range r.Sheets {
		if s.Table == table && s.Sheet != "" {
			return s.File + ", sheet " + s.Sheet
		} else if s.Table == table {
			return s.File
		}
	}
	return r.Origin
}
