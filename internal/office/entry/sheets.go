package entry

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/gather"
	"turret/internal/office"
	"turret/internal/record"
)

// Sheet is a sheet that a gather reads.
type Sheet struct {
	Label  string
	Read   *gather.Understanding
	sheet  *gather.Sheet // nil where it is in hand already
	passed bool          // it holds no table, and others of its file do
	file   int           // that it came in, counted from 1; zero where it is in hand
	beside bool          // another one holds it: what is said of that one holds for it
	File   int32         // of the file, where it is kept already
}

func (s *Sheet) table() *record.Kind { return record.Named(s.Read.Table) }

// intake opens what was sent and finds how each sheet is to be read.
type intake struct {
	o       Room
	snap    *book.Snapshot
	opts    Options
	report  *Report
	refuse  func(gather.Refusal)
	reading *gather.Options
	named   []NamedMapping
	sheets  []Sheet
}

// open understands every sheet of every file.
func (in *intake) open(ctx context.Context, files []gather.File) error {
	var err error
	if in.named, err = in.o.KnownMappings(ctx); err != nil {
		return err
	}
	if in.reading, err = in.o.readingOptions(ctx, in.snap, in.opts, in.named); err != nil {
		return err
	}
	by := gather.Mapping{}
	if in.opts.Map != "" {
		i := slices.IndexFunc(in.named, func(m NamedMapping) bool { return strings.EqualFold(m.Name, in.opts.Map) })
		if i < 0 {
			return office.Refusef("There is no mapping called %q; Setup lists them.", in.opts.Map)
		}
		by = in.named[i].Mapping
	}
	in.sheets = append(in.sheets, in.opts.Sheets...)
	for i := range files {
		sheets, refused := gather.Sheets(&files[i], in.opts.Limits)
		for _, r := range refused {
			in.refuse(r)
		}
		for _, s := range sheets {
			for _, part := range s.SplitAt(in.opts.Answers[s.Label()].Split) {
				for _, x := range in.grown(part, by, i+1) {
					in.sheets = append(in.sheets, x)
					in.met(&x)
				}
			}
		}
	}
	if err := in.readCalendar(ctx, by); err != nil {
		return err
	}
	for from, to := 0, 0; from < len(in.sheets); from = to {
		for to = from; to < len(in.sheets) && in.sheets[to].file == in.sheets[from].file; {
			to++
		}
		if in.sheets[from].file > 0 {
			in.passOver(in.sheets[from:to])
		}
	}
	return nil
}

// grown understands a sheet of a file, counted from 1, and what it holds beside: the links
// of activities, and how far they are.
func (in *intake) grown(s *gather.Sheet, by gather.Mapping, file int) []Sheet {
	first := in.understand(s, by)
	out := []Sheet{first}
	if first.Read.Linked && first.Read.Ready() {
		links := first.Read.Links()
		out = append(out, Sheet{Label: links.Label(), Read: links, sheet: s.Beside(links.Table), beside: true})
	}
	if first.Read.Beside != "" && first.Read.Ready() && in.opts.Table == nil {
		second := in.understand(s.Beside(first.Read.Beside), in.beside(s, first.Read, by))
		second.beside = true
		second.Read.MatchedAs(first.Read)
		out = append(out, second)
	}
	for i := range out {
		out[i].file = file
	}
	return out
}

// beside is how what a sheet holds beside is read: what the sheet itself takes is not kept
// there, and what was said of it holds.
func (in *intake) beside(s *gather.Sheet, first *gather.Understanding, by gather.Mapping) gather.Mapping {
	own := func(m map[string]string) map[string]string {
		if m == nil {
			return make(map[string]string)
		}
		return maps.Clone(m)
	}
	by.Table, by.Columns = first.Beside, own(by.Columns)
	for i := range first.Uses {
		if head := first.Heads[i]; by.Columns[head] == "" && first.Alone(i) {
			by.Columns[head] = gather.AsNone
		}
	}
	if d := first.Duration; first.Missing != "" && first.Uses[d-1].Form != "" {
		by.Forms = own(by.Forms)
		by.Forms[first.Heads[d-1]] = first.Uses[d-1].Form
	}
	by.Match = cmp.Or(in.opts.Answers[s.Label()].Match, in.opts.Say.Match)
	return by
}

// readCalendar looks whether the sheets draw another reporting calendar; the
// others are then understood by it.
func (in *intake) readCalendar(ctx context.Context, by gather.Mapping) error {
	var drawing []*Sheet
	for i := range in.sheets {
		if s := &in.sheets[i]; s.Read.Ready() && slices.Contains(CalendarTables, s.Read.Table) {
			drawing = append(drawing, s)
		}
	}
	if len(drawing) == 0 {
		return nil
	}
	p := newPlan(in.snap, in.o.Store(), in.opts, &Report{})
	p.refuse = func(gather.Refusal) {} // told when they are read for good
	p.readSheets(ctx, in, drawing, nil)
	if err := p.settlePeriods(ctx); err != nil {
		return err
	}
	if p.snap == in.snap {
		return nil
	}
	in.reading.Periods = p.snap.Office.Periods
	before := in.sheets
	in.sheets = nil
	for _, s := range before {
		switch {
		case s.sheet == nil || slices.Contains(CalendarTables, s.Read.Table):
			in.sheets = append(in.sheets, s)
		case !s.beside:
			in.sheets = append(in.sheets, in.grown(s.sheet, by, s.file)...)
		}
	}
	return nil
}

// settled refuses where a sheet still asks how it is meant.
func (in *intake) settled() error {
	for _, s := range in.sheets {
		if s.Read.Skipped == "" && len(s.Read.Questions) > 0 {
			return office.Refusef(
				"%s still asks: %s. Answer it, or leave the sheet out; the files wait.",
				s.Label,
				s.Read.Questions[0].Text,
			)
		}
	}
	return nil
}

// understand reads a sheet by what was said about it, or by the mapping of its
// look.
func (in *intake) understand(s *gather.Sheet, by gather.Mapping) Sheet {
	if l, known := in.opts.Layouts[s.Label()]; known {
		u := gather.By(s, l)
		return Sheet{Label: u.Label(), Read: u, sheet: s}
	}
	answer := in.opts.Answers[s.Label()]
	said := answer.Over(in.opts.Say.Over(by))
	u := gather.Understand(s, in.reading, said)
	u.From = in.opts.Map
	if answer.Named != "-" && in.opts.Map == "" && !u.Canonical {
		place := gather.PlaceOf(s.File, s.Name)
		for _, m := range nearestFirst(in.named, place) {
			if !strings.EqualFold(m.Name, answer.Named) &&
				(m.Place != "" && m.Place != place || !gather.HasLook(s, m.Look, in.reading.Periods)) {
				continue
			}
			if m.Mapping.Empty() {
				break // of such a sheet it was said that none of them reads it
			}
			if !in.opts.Offer && answer.Named == "" {
				in.report.note("%s looks like what the mapping %q reads; --map %q uses it.", u.Label(), m.Name, m.Name)
				break
			}
			u = gather.Understand(s, in.reading, said.Recalling(m.Mapping, m.Look))
			u.From = m.Name
			break
		}
	}
	return Sheet{Label: u.Label(), Read: u, sheet: s}
}

// nearestFirst sorts mappings: those of a place before those of any.
func nearestFirst(list []NamedMapping, place string) []NamedMapping {
	out := slices.Clone(list)
	slices.SortStableFunc(out, func(a, b NamedMapping) int {
		rank := func(m NamedMapping) int {
			if m.Place == place {
				return 0
			}
			return 1
		}
		return rank(a) - rank(b)
	})
	return out
}

// passOver leaves out the sheets of a file that hold no table, where another
// does: instructions, notes.
func (in *intake) passOver(sheets []Sheet) {
	found := slices.ContainsFunc(sheets, func(s Sheet) bool { return !s.Read.NoTable })
	for i := range sheets {
		s := &sheets[i]
		if s.Read.NoTable && found {
			s.passed = true
			in.report.note("%s was passed over: no table was found in it.", s.Label)
		}
		if s.Read.Skipped == leftOut {
			s.passed = true
		}
		for _, n := range s.Read.Notes {
			in.report.note("%s: %s", s.Label, n)
		}
		if s.Read.Canonical {
			var extra []string
			for _, c := range s.Read.Columns {
				if c.As == gather.AsExtra {
					extra = append(extra, c.Head)
				}
			}
			if len(extra) > 0 {
				in.report.note("%s: columns that %s does not list were kept as extra: %v", s.Label, s.Read.Table, extra)
			}
		}
	}
}

// sums tells the totals of a sheet that are not the sum of their rows.
func (in *intake) sums(s *Sheet) {
	const most = 5
	bad := 0
	for _, x := range s.Read.Sums {
		if x.Agrees {
			continue
		}
		if bad++; bad <= most {
			in.report.note(
				"%s, row %d: the total %s under %q is not the sum of its rows, %s.",
				s.Label,
				x.Row,
				x.Stated,
				x.Head,
				x.Found,
			)
		}
	}
	if bad > most {
		in.report.note("%s: %d more totals are not the sum of their rows.", s.Label, bad-most)
	}
}

// leftOut is why a sheet that someone left out is not read.
const leftOut = "it is left out"

// namesOf are the codes and names of what the office has.
func namesOf(s *book.Snapshot) []gather.Name {
	var names []gather.Name
	for _, k := range []*record.Kind{record.Projects.Kind, record.CostCodes.Kind, record.Programmes.Kind, record.CostCentres.Kind} {
		name := k.Index("name")
		for i := range s.Records[k.Name] {
			f := s.Records[k.Name][i].Fields
			x := gather.Name{Column: k.Columns[0].Name, Code: f[0].Text, Name: f[name].Text}
			if k == record.CostCodes.Kind {
				x.Parent = record.CostCodes.Parent.Code(&s.Records[k.Name][i])
			}
			names = append(names, x)
		}
	}
	for i := range s.Records[record.Sections.Name] {
		r := &s.Records[record.Sections.Name][i]
		if code := record.Sections.Section.Of(r); !slices.Contains(record.UsualSections, code) {
			names = append(names, gather.Name{Column: "section", Code: code, Name: record.Sections.Title.Of(r)})
		}
	}
	return names
}

// readingOptions are what the office knows that helps to read files.
func (o Room) readingOptions(
	ctx context.Context,
	s *book.Snapshot,
	opts Options,
	named []NamedMapping,
) (*gather.Options, error) {
	out := &gather.Options{
		Limits:  opts.Limits,
		Periods: s.Office.Periods,
		Period:  opts.Period,
		Latest:  s.Current(),
		Table:   opts.Table,
		Trust:   opts.Trust,
		Words:   make(map[string]string),
		Currency: func(project string) money.Currency {
			if p := s.Project(project); p != nil {
				return p.Currency
			}
			return ""
		},
		Stated: func(project string) bool {
			p := s.Project(project)
			if p != nil {
				for _, part := range s.Stated[p.ID] {
					if part.Kind == portfolio.ProgressPart {
						return true
					}
				}
			}
			return false
		},
		Works: func(project string) *calendar.Calendar {
			if p := s.Project(project); p != nil {
				return s.Office.CalendarOf(p.Calendar)
			}
			return nil
		},
		Reporting: s.Office.Reporting,
		Names:     gather.NewNames(namesOf(s)),
	}
	out.Booked = booked(ctx, s)
	out.Called, out.Coded, out.Activity, out.Placed = o.activityNames(ctx, s)
	words, err := o.Store().Words(ctx)
	if err != nil {
		return nil, err
	}
	for _, w := range words {
		out.Words[w.Word] = w.Col
	}
	for _, m := range named {
		if m.Look == "" {
			out.Every = append(out.Every, m.Codes...)
		}
	}
	return out, nil
}

// layoutText keeps a layout with its file.
func layoutText(u *gather.Understanding) string {
	if !u.Ready() {
		return ""
	}
	l := u.Layout
	l.Source = u.From
	b, err := json.Marshal(l)
	if err != nil {
		return "" // texts and numbers always encode
	}
	return string(b)
}

// LayoutOf is how a kept file was read.
func LayoutOf(text string) (*gather.Layout, error) {
	if text == "" {
		return &gather.Layout{Canonical: true, Head: 1}, nil
	}
	var l gather.Layout
	if err := json.Unmarshal([]byte(text), &l); err != nil {
		return nil, fmt.Errorf("the layout of a file: %w", err)
	}
	return &l, nil
}
