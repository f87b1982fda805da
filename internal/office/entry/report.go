package entry

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/gather"
	"turret/internal/record"
	"turret/internal/store"
)

// Tally counts what became of the rows of a table.
type Tally struct {
	Table     string `json:"table"`
	New       int    `json:"new"`
	Changed   int    `json:"changed"`
	Unchanged int    `json:"unchanged"`
}

// SheetReport tells how a sheet was understood, and what its rows become.
type SheetReport struct {
	*gather.Understanding
	Tallies  []Tally          `json:"tables"`
	Parts    []gather.Part    `json:"parts,omitempty"`       // the first rows as they were sent
	Counts   map[string]int   `json:"part_counts,omitempty"` // rows of each part in all
	Passed   bool             `json:"passed_over,omitempty"` // it holds no table, or sums up others, and others of its file are read
	Refused  int              `json:"refused"`
	Changes  []KeyChange      `json:"changes,omitempty"`
	Refusals []gather.Refusal `json:"-"`
}

// mostParts is the number of rows of a sheet that are shown as they were sent.
const mostParts = 80

// Sum adds up the tallies of a sheet.
func (s *SheetReport) Sum() (t Tally) {
	for _, x := range s.Tallies {
		t.New, t.Changed, t.Unchanged = t.New+x.New, t.Changed+x.Changed, t.Unchanged+x.Unchanged
	}
	return t
}

// PassedWhy is why a sheet was passed over, shortly.
func (s *SheetReport) PassedWhy() string {
	why, _, _ := strings.Cut(s.Skipped, ":")
	return why
}

// Report tells what a gather took, what it refused and why.
type Report struct {
	Files    int              `json:"files"`
	Sheets   []SheetReport    `json:"sheets"`
	Tallies  []Tally          `json:"tables"`
	Dropped  int              `json:"dropped"` // cells that a whole statement no longer names
	Refusals []gather.Refusal `json:"refusals"`
	Effects  []Effect         `json:"effects,omitempty"`
	At       calendar.Period  `json:"-"` // the period that effects are told for; zero: none
	Notes    []string         `json:"notes"`
	Written  bool             `json:"written"`
	Stopped  bool             `json:"-"` // a refusal made that nothing was taken, and nothing kept
	Revision int64            `json:"revision"`
	Held     time.Duration    `json:"-"` // how long the write lock was held
	Planned  *store.Batch     `json:"-"` // of a dry run that tells its effects
	Rules    *book.Rules      `json:"-"` // as it would leave them

	names   map[int32]string
	counts  map[countKey]*Tally
	changes map[string][]KeyChange // by sheet; nil where they are not told
}

type countKey struct{ table, file string }

// count adds to the tally of a table and sheet, and tells whether there is
// something to write.
func (r *Report) count(table, file string, isNew, changed bool) bool {
	k := countKey{table, file}
	t := r.counts[k]
	if t == nil {
		t = &Tally{Table: table}
		r.counts[k] = t
	}
	switch {
	case isNew:
		t.New++
	case changed:
		t.Changed++
	default:
		t.Unchanged++
	}
	return isNew || changed
}

func (r *Report) note(format string, args ...any) {
	r.Notes = append(r.Notes, fmt.Sprintf(format, args...))
}

// Changes is the number of keys that are new or changed, and cells dropped.
func (r *Report) Changes() (n int) {
	for _, t := range r.Tallies {
		n += t.New + t.Changed
	}
	return n + r.Dropped
}

// tally sorts the counts by table and by sheet.
func (r *Report) tally(in *intake, refused map[string]int) {
	for _, t := range record.Kinds() {
		sum := Tally{Table: t.Name}
		for k, n := range r.counts {
			if k.table == t.Name {
				sum.New, sum.Changed, sum.Unchanged = sum.New+n.New, sum.Changed+n.Changed, sum.Unchanged+n.Unchanged
			}
		}
		if sum != (Tally{Table: t.Name}) {
			r.Tallies = append(r.Tallies, sum)
		}
	}
	slices.SortStableFunc(r.Refusals, func(a, b gather.Refusal) int {
		return cmp.Or(cmp.Compare(a.File, b.File), cmp.Compare(a.Row, b.Row))
	})
	for i := range in.sheets {
		label := in.sheets[i].Label
		s := SheetReport{
			Understanding: in.sheets[i].Read,
			Passed:        in.sheets[i].passed,
			Refused:       refused[label],
			Tallies:       []Tally{},
			Changes:       r.changes[label],
		}
		if r.changes != nil && in.sheets[i].sheet != nil {
			s.Parts, s.Counts = s.Anatomy(in.reading, mostParts)
		}
		for _, t := range record.Kinds() {
			if n := r.counts[countKey{t.Name, label}]; n != nil {
				s.Tallies = append(s.Tallies, *n)
			}
		}
		slices.SortStableFunc(
			s.Changes,
			func(a, b KeyChange) int { return cmp.Or(cmp.Compare(a.Row, b.Row), cmp.Compare(a.Key, b.Key)) },
		)
		for _, x := range r.Refusals {
			if x.File == label && r.changes != nil && len(s.Refusals) < mostChanges {
				s.Refusals = append(s.Refusals, x)
			}
		}
		r.Sheets = append(r.Sheets, s)
	}
}
