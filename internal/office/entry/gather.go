package entry

import (
	"context"
	"maps"
	"slices"

	"turret/internal/book"
	"turret/internal/change"
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/gather"
	"turret/internal/office"
	"turret/internal/office/closing"
	"turret/internal/record"
	"turret/internal/right"
	"turret/internal/store"
	"turret/internal/store/format"
	"turret/internal/tell"
)

// beside is the size in bytes from which files are first planned beside other
// writers: what is smaller queues, as it takes less time than planning twice.
const beside = 1 << 17

// besideFiles is how many files others may send while one that is planned beside them is.
const besideFiles = 1000

// Options say how files are taken.
type Options struct {
	Period       calendar.Period // of rows that state none; zero: none
	Table        *record.Kind    // what every file is; nil: told by name or header
	AllOrNothing bool            // one refused row refuses everything
	Trust        bool            // what looks unlikely is right
	Whole        bool            // each file is the whole of the statements it names
	DryRun       bool
	Limits       gather.Limits
	Say          gather.Mapping    // about every sheet
	Map          string            // a named mapping that every sheet is read by
	Answers      map[string]Answer // about one sheet, by its label
	Offer        bool              // sheets of a known look are read by their mapping
	Effect       bool              // tell changes, and what they do to readings
	Watch                          // is told how far it is

	Sheets  []Sheet                  // sheets in hand, beside the files
	Layouts map[string]gather.Layout // how files are read that were read before, by label
	Settle  []int64                  // refused rows that this gather settles where they are taken
	Settled bool                     // a sheet that asks something refuses everything
	Note    string
	origin  string         // of the batch, where it is not a gather; such a batch is no run
	takes   right.Action   // what the actor must be allowed to do; "": to gather
	form    *Form          // rows that are entered, beside the files; nil: none
	ledger  **store.Ledger // what an earlier try knew of all postings; nil: nothing is kept
}

// Watch is told how far a gather is; each of it may be nil.
type Watch struct {
	Tick func(file string, rows int) // now and then, of the rows that were read
	Met  func(Met)                   // of each sheet, once it is understood
}

// Met is a sheet as it was understood, before its rows were compared with what is known.
type Met struct {
	Label, Table, Certainty string
	Skipped                 string
	Columns                 []gather.Column
	Asks                    []string
}

// met tells a watcher of a sheet.
func (in *intake) met(s *Sheet) {
	if in.opts.Met == nil {
		return
	}
	m := Met{Label: s.Label, Table: s.Read.Table, Certainty: s.Read.Certainty, Skipped: s.Read.Skipped, Columns: slices.Clone(s.Read.Columns)}
	for _, q := range s.Read.Questions {
		m.Asks = append(m.Asks, q.Text)
	}
	in.opts.Met(m)
}

// Answer is what someone said about one sheet of a draft.
type Answer struct {
	gather.Mapping
	Named string `json:"named,omitempty"` // a mapping by name; "-" for none
}

// checked tells that whoever entered the rows was found to be allowed to when they were made.
func (o *Options) checked() bool { return o.form != nil && o.form.Checked }

// Gather takes files: all of them in one batch and one transaction, tables in
// the order in which they refer to each other. What cannot be taken is kept
// with its reason. Where nothing changes, nothing is written.
func (o Room) Gather(
	ctx context.Context,
	a right.Actor,
	files []gather.File,
	refused []gather.Refusal,
	opts Options,
) (*Report, error) {
	if opts.takes == "" {
		opts.takes = right.Gather
	}
	if !opts.checked() && a.Role != right.Lead && (opts.form == nil || len(a.Administers) == 0) { // whose batch is looked at once it is planned
		if err := right.Check(a, opts.takes); err != nil {
			return nil, err
		}
	}
	opts.ledger = new(*store.Ledger) // of a try before
	var g *gathering
	size := 0
	for i := range files {
		size += len(files[i].Body)
	}
	plan := func(ctx context.Context, s *book.Snapshot) (*store.Batch, error) {
		g = &gathering{o: o, snap: s, by: a, opts: opts, files: slices.Clone(files)}
		err := g.plan(ctx, refused)
		return g.batch, err
	}
	if opts.DryRun {
		s, err := o.Book().Snapshot(ctx)
		if err == nil {
			_, err = plan(ctx, s)
		}
		if err != nil {
			return nil, err
		}
		return g.report, nil
	}
	var opt []change.Option
	if size > beside {
		opt = append(opt, change.Beside())
	}
	id, err := o.Write(ctx, a, plan, opt...)
	if err != nil {
		return nil, err
	}
	report, closes := g.report, g.closing
	if report.Stopped {
		return report, nil
	}
	report.Revision = id
	if g.batch != nil {
		report.Written, report.Held = true, g.batch.Held
	} else if report.Written = len(closes) > 0; !report.Written {
		return report, nil
	}
	slices.Sort(closes)
	for _, p := range slices.Compact(closes) {
		if _, err := closing.In(o.Office).CloseWith(ctx, a, p, closing.OverNothing); err != nil {
			return report, err
		}
	}
	return report, nil
}

// gathering is one gather as it is planned on one snapshot.
type gathering struct {
	o       Room
	snap    *book.Snapshot
	by      right.Actor
	opts    Options
	files   []gather.File
	report  *Report
	batch   *store.Batch // nil: nothing is written
	closing []calendar.Period

	kept    map[string]*received // sheets, by their labels
	refused map[string]int       // rows, by file
}

// enterRows takes the rows that a form makes as files of their own.
func (g *gathering) enterRows(ctx context.Context) error {
	f := g.opts.form
	if f == nil {
		return nil
	}
	list, err := f.Rows(ctx, g.snap)
	if err != nil {
		return err
	}
	for i := range list {
		file, err := list[i].file(g.by, g.o.Clock())
		if err != nil {
			return err
		}
		g.files = append(g.files, file)
	}
	if len(list) == 1 {
		g.opts.Table = record.Named(list[0].table)
	}
	g.opts.Note = f.Note
	return nil
}

// plan works out what the files would change: the batch, and the periods that they
// close.
func (g *gathering) plan(ctx context.Context, refused []gather.Refusal) error {
	if err := g.enterRows(ctx); err != nil {
		return err
	}
	g.report = &Report{
		Files:    len(g.files),
		Refusals: slices.Clone(refused),
		Notes:    []string{},
		counts:   make(map[countKey]*Tally),
		names:    make(map[int32]string),
	}
	if g.opts.Effect {
		g.report.changes = make(map[string][]KeyChange)
	}
	if g.opts.Limits == (gather.Limits{}) {
		g.opts.Limits = gather.DefaultLimits
	}
	g.refused = make(map[string]int)
	p, b, in, err := g.read(ctx)
	refusedAll := err == office.ErrRefused //nolint:errorlint // the sum that is too large, and no other refusal
	if err != nil && !refusedAll {
		return err
	}
	if !g.opts.checked() {
		if err := mayState(g.by, g.opts.takes, g.snap, b, g.closing); err != nil {
			return err
		}
	}
	g.report.tally(in, g.refused)
	if refusedAll || g.opts.AllOrNothing && len(g.report.Refusals) > 0 {
		g.report.note("Nothing was taken: %d refusals.", len(g.report.Refusals))
		g.report.Stopped, g.closing = true, nil
		return nil
	}
	if g.opts.DryRun {
		if g.opts.Effect {
			g.report.Planned = b
			if b != nil {
				g.report.At = statedFor(g.snap, b)
			}
			g.report.Effects, g.report.Rules, err = g.o.effects(ctx, g.snap, b, g.report.At, p.unnamed())
		}
		return err
	}
	if err := g.o.keepRefusals(ctx, b, g.kept, g.report, g.opts.Settle); err != nil || b.Empty() {
		return err
	}
	b.Rests = g.rests(p, in, b)
	return g.fill(b)
}

// read reads all sheets and makes the batch of what they change, without what it
// came from. Where everything is refused the error is ErrRefused.
func (g *gathering) read(ctx context.Context) (p *plan, b *store.Batch, in *intake, err error) {
	p = newPlan(g.snap, g.o.Store(), g.opts, g.report)
	p.by = office.By(g.by)
	if p.accounts, err = g.o.Store().Accounts(ctx); err != nil {
		return nil, nil, nil, err
	}
	p.refuse = func(r gather.Refusal) {
		if g.refused[r.File]++; g.refused[r.File] <= g.opts.Limits.RefusalMax {
			g.report.Refusals = append(g.report.Refusals, r)
		}
	}
	in = &intake{o: g.o, snap: g.snap, opts: g.opts, report: g.report, refuse: p.refuse}
	if err := in.open(ctx, g.files); err != nil {
		return nil, nil, nil, err
	}
	if err := in.doubt(ctx, p); err != nil {
		return nil, nil, nil, err
	}
	if g.opts.Settled {
		if err := in.settled(); err != nil {
			return nil, nil, nil, err
		}
	}
	if g.kept, err = g.o.receive(ctx, g.by, g.files, in.sheets, g.report); err != nil {
		return nil, nil, nil, err
	}
	if err := p.read(ctx, in, g.kept); err != nil {
		return nil, nil, nil, err
	}
	if p.stopped(ctx) {
		return nil, nil, nil, p.broken
	}
	g.notes(p)
	if err := p.compare(ctx); err != nil {
		return nil, nil, nil, err
	}
	b, err = p.batch(ctx)
	g.closing = p.toClose
	return p, b, in, err
}

// notes tells what of the files was not kept as it stood there.
func (g *gathering) notes(p *plan) {
	for _, name := range slices.Sorted(maps.Keys(g.refused)) {
		if over := g.refused[name] - g.opts.Limits.RefusalMax; over > 0 {
			g.report.note("%s: %d more rows were refused than are kept; mend the file and gather it again", name, over)
		}
	}
	for _, name := range slices.Sorted(maps.Keys(p.again)) {
		g.report.note(
			"%s: %d rows state a booking once more, with its number and all that it says; each counts once.",
			name, p.again[name],
		)
	}
	for _, name := range slices.Sorted(maps.Keys(p.rounded)) {
		g.report.note(
			"%s: %d amounts that a spreadsheet computed had more decimals than their currency; each was rounded to it, half to even.",
			name,
			p.rounded[name],
		)
	}
}

// fill gives the batch its files and what was made of them.
func (g *gathering) fill(b *store.Batch) (err error) {
	if b.Note = g.opts.Note; b.Note == "" {
		b.Note = tell.Plural(len(g.files), "file", "files")
	}
	packed := make(map[[32]byte]bool)
	for _, label := range slices.Sorted(maps.Keys(g.kept)) {
		k := g.kept[label]
		if !k.fresh {
			continue
		}
		if !packed[k.Hash] {
			k.Body = format.Compress(k.body)
			packed[k.Hash] = true
		}
		b.Files = append(b.Files, k.File)
	}
	if g.opts.origin != "" {
		b.Origin = g.opts.origin
	}
	if g.opts.origin == "" || g.opts.origin == office.Corrected {
		b.Run, err = runOf(g.report)
	}
	g.batch = b
	return err
}

// stating gives the kind of statement that a part is of; false for what leads do not
// state, such as plans.
func stating(k portfolio.PartKind) (portfolio.PartKind, bool) {
	if k == portfolio.StepPart || k == portfolio.ItemPart {
		return portfolio.ProgressPart, true
	}
	return k, slices.Contains(portfolio.OwedKinds[:], k)
}

// mayWrite refuses records of kinds whose forms need more than the actor may, by whatever
// way they come; those of what the actor administers they may write. Given tells that a
// batch holds nothing else than such.
func mayWrite(a right.Actor, s *book.Snapshot, b *store.Batch) (given bool, err error) {
	if b == nil {
		return false, nil
	}
	given = len(b.Records) > 0 && len(b.Parts)+len(b.Postings)+len(b.Refusals) == 0
	for i := range b.Records {
		x := &b.Records[i]
		f := x.Table.Form
		if f == nil || f.Needs == "" {
			given = false
			continue
		}
		if Administers(a, s, x.Table, &x.After) && (x.Before == nil || Administers(a, s, x.Table, x.Before)) {
			continue
		}
		if given = false; !right.May(a, right.Action(f.Needs)) {
			return false, &right.Denied{Actor: a, Action: right.Action(f.Needs)}
		}
	}
	return given, nil
}

// Administers tells whether a record is of a project or programme whose rights the actor
// gives; who administers is said by the office's administrators alone.
func Administers(a right.Actor, s *book.Snapshot, k *record.Kind, r *portfolio.Row) bool {
	if len(a.Administers) == 0 || k.Form == nil || k.Form.Scope == "" ||
		k == record.Rights.Kind && record.Rights.Right.Of(r) == record.Administering {
		return false
	}
	programme := func(project string) string {
		for _, p := range s.Everyone() {
			if p.Code == project {
				return p.Programme
			}
		}
		return ""
	}
	return s.Office.Within(r.Fields[k.Index(k.Form.Scope)].Text, programme, a.Administers)
}

// mayState lets a lead state for their own projects, and change nothing else:
// no master data, no postings, no other project, and nothing for a period that
// is in checking.
func mayState(a right.Actor, takes right.Action, s *book.Snapshot, b *store.Batch, closing []calendar.Period) error {
	given, err := mayWrite(a, s, b)
	if err != nil || given && len(closing) == 0 || right.May(a, takes) {
		return err
	}
	if b != nil && len(b.Records)+len(b.Postings) > 0 || len(closing) > 0 {
		return &right.Denied{Actor: a, Action: right.Gather}
	}
	for i := 0; b != nil && i < len(b.Parts); i++ {
		part, at := b.Parts[i].Part, s.Current()
		if part.Kind.Dated() {
			at = calendar.Period(part.Version)
		}
		kind, stated := stating(part.Kind)
		if !stated {
			return &right.Denied{Actor: a, Action: right.Gather}
		}
		if err := right.CheckState(a, part.Project, kind.String(), int(at)); err != nil {
			return err
		}
		if s.Checking[at] && !s.LetIn(part.Project, at) {
			return office.Refusef(
				"%s is in checking, so leads state no more for it; send what is missing to an analyst of the office, or state it in the next period.",
				s.Office.Periods.Name(at),
			)
		}
	}
	return nil
}
