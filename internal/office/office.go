// Package office holds the use cases: gather a batch, close a period, read a
// scope, export, back up. Each takes the actor first and asks whether they may.
package office

import (
	"context"
	"fmt"
	"strconv"
	"time"

	"turret/internal/book"
	"turret/internal/book/cache"
	"turret/internal/change"
	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/right"
	"turret/internal/store"
)

// Office is an open database with its use cases.
type Office struct {
	store  *store.Store
	book   *book.Book
	clock  func() time.Time
	writer *change.Writer

	kept *cache.Cache
}

// Settings of a new office.
type Settings struct {
	Name        string
	Reporting   string // ISO 4217
	FiscalStart int    // 1 to 12
}

// Open opens a database; with make it is made where absent, reporting in EUR
// until set otherwise.
func Open(ctx context.Context, a right.Actor, path string, make bool) (*Office, error) {
	return open(ctx, a, path, func() (*store.Store, error) { return store.Open(ctx, path, make) })
}

// OpenToRead opens a database that may be one that nobody can write to: then all that
// would write is refused.
func OpenToRead(ctx context.Context, a right.Actor, path string) (*Office, error) {
	return open(ctx, a, path, func() (*store.Store, error) { return store.OpenToRead(ctx, path) })
}

func open(ctx context.Context, a right.Actor, path string, how func() (*store.Store, error)) (*Office, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	st, err := how()
	if err != nil {
		return nil, fmt.Errorf("open the database: %w", err)
	}
	b, err := book.Open(ctx, st)
	if err != nil {
		st.Close()
		return nil, fmt.Errorf("load %s: %w", path, err)
	}
	return &Office{store: st, book: b, clock: time.Now, writer: change.New(st, b), kept: cache.New(mostKept)}, nil
}

// mostKept is how many derived things an office keeps beside its readings.
const mostKept = 64

// Init makes a new database with its settings. It fails where the file exists.
func Init(ctx context.Context, a right.Actor, path string, s Settings) (*Office, error) {
	if err := right.Check(a, right.Install); err != nil {
		return nil, err
	}
	cur, ok := money.ParseCurrency(s.Reporting)
	if !ok {
		return nil, fmt.Errorf("%q is not a currency of ISO 4217, such as EUR", s.Reporting)
	}
	if s.FiscalStart < 1 || s.FiscalStart > 12 {
		return nil, fmt.Errorf("the fiscal year begins in a month from 1 to 12, not %d", s.FiscalStart)
	}
	if store.Exists(path) {
		return nil, fmt.Errorf("%s exists already; name another file, or use it with the other commands", path)
	}
	o, err := Open(ctx, a, path, true)
	if err != nil {
		return nil, err
	}
	b := &store.Batch{Origin: "init"}
	for i, kv := range [][2]string{{"name", s.Name}, {"reporting_currency", string(cur)}, {"fiscal_start", strconv.Itoa(s.FiscalStart)}} {
		row := portfolio.Row{
			ID:     int64(i + 1),
			Fields: []portfolio.Field{{Said: portfolio.Value, Text: kv[0]}, {Said: portfolio.Value, Text: kv[1]}},
		}
		b.Records = append(b.Records, store.RecordChange{Table: record.Settings.Kind, After: row})
	}
	if _, err := o.Write(ctx, a, func(context.Context, *book.Snapshot) (*store.Batch, error) { return b, nil }); err != nil {
		o.Close()
		return nil, fmt.Errorf("make %s: %w", path, err)
	}
	return o, nil
}

// Close closes the database.
func (o *Office) Close() error { return o.store.Close() }

// SetClock replaces the clock, so that demonstrations are the same every day.
func (o *Office) SetClock(now func() time.Time) { o.clock = now }

// LastChange tells when the office was changed last; the zero time where it never was.
func (o *Office) LastChange(ctx context.Context) (time.Time, error) {
	list, err := o.store.Batches(ctx, store.HistoryFilter{Most: 1})
	if err != nil || len(list) == 0 {
		return time.Time{}, err
	}
	return time.UnixMilli(list[0].At).UTC(), nil
}

// Clock tells the moment by the office's clock.
func (o *Office) Clock() time.Time { return o.clock() }

// Store is the database, Book what is read of it, and Kept what is derived beside
// its readings: for the rooms of the office, whose use cases ask for rights. No edge
// has a use for them.
func (o *Office) Store() *store.Store { return o.store }

// Book gives the readings; see Store.
func (o *Office) Book() *book.Book { return o.book }

// Kept gives the cache of what is derived; see Store.
func (o *Office) Kept() *cache.Cache { return o.kept }

// Now is the moment as batches keep it, in milliseconds.
func (o *Office) Now() int64 { return o.clock().UnixMilli() }

// ParsePeriod reads the code of a period.
func (o *Office) ParsePeriod(ctx context.Context, a right.Actor, code string) (calendar.Period, error) {
	if err := right.Check(a, right.Read); err != nil {
		return 0, err
	}
	s, err := o.book.Snapshot(ctx)
	if err != nil {
		return 0, err
	}
	p, err := s.Office.Periods.Parse(code)
	if err != nil {
		return 0, fmt.Errorf("%w: %w", ErrUnknownPeriod, err)
	}
	return p, nil
}

// Healthy tells whether the database answers.
func (o *Office) Healthy(ctx context.Context) error {
	_, err := o.store.Revision(ctx)
	return err
}

// Revision is the last batch's id.
func (o *Office) Revision(ctx context.Context, a Actor) (int64, error) {
	if err := right.Check(a, right.Read); err != nil {
		return 0, err
	}
	return o.store.Revision(ctx)
}
