// Package access keeps the log of access: who signed in, was refused, and took what; on the
// command line too. Each entry is chained to the one before.
package access

import (
	"context"
	"fmt"
	"log/slog"
	"slices"
	"strings"
	"time"

	"turret/internal/core/calendar"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/record"
	"turret/internal/right"
	"turret/internal/store"
)

// Room has the room's use cases.
type Room struct{ *office.Office }

// In gives the room of an office.
func In(o *office.Office) Room { return Room{o} }

// What is logged.
const (
	SignedIn   = "signed in"
	Wrong      = "wrong password"
	HeldUp     = "held up"
	SignedOut  = "signed out"
	Passwords  = "password"
	Rights     = "rights changed"
	Forbidden  = "refused"
	Took       = "took"
	RanCommand = "ran"
)

// Kinds lists what is logged, as pages offer it.
var Kinds = []string{SignedIn, Wrong, HeldUp, SignedOut, Passwords, Rights, Forbidden, Took, RanCommand}

const longest = 300 // of a detail

// Note adds an entry: by whom, what, and of what. A log that cannot be written stops nothing:
// the program's own log says so.
func (o Room) Note(ctx context.Context, a right.Actor, what, detail string) {
	if len(detail) > longest {
		detail = detail[:longest]
	}
	ctx = context.WithoutCancel(ctx) // who goes away meanwhile was there all the same
	level := slog.LevelInfo
	if what == RanCommand {
		level = slog.LevelDebug // whoever ran it knows
	}
	slog.Log(ctx, level, "access", "what", what, "who", a.Name, "from", a.From, "detail", detail)
	if err := o.add(ctx, a, what, detail); err != nil {
		slog.Error("the log of access cannot be written", "err", err)
	}
}

func (o Room) add(ctx context.Context, a right.Actor, what, detail string) error {
	s, err := o.Book().Snapshot(ctx)
	if err != nil {
		return err
	}
	forget := int64(0)
	if days := s.Office.AccessDays; days > 0 {
		forget = o.Clock().AddDate(0, 0, -days).UnixMilli()
	}
	return o.Store().LogAccess(ctx, store.Access{At: o.Now(), Account: a.Account, Name: a.Name, Source: a.From, What: what, Detail: detail}, forget)
}

// Entry is one of the log.
type Entry struct {
	ID                               int64
	At                               time.Time
	Account                          int64
	Name, Source, What, Detail, Hash string
}

// Ask says which entries are asked for: whose person, source or detail has a text, of a kind,
// from a day on and through another, and before an entry. Days are 2026-11-30; "" asks for all.
type Ask struct {
	Text, What, From, Until string
	Before                  int64
}

// Log is what a page shows of it.
type Log struct {
	Entries  []Entry
	More     int64 // the entry that the next page goes on before; zero: there are no more
	Days     string
	Revision int64
}

const listed = 100 // at once

// Log lists entries, the last first, for those who administer accounts.
func (o Room) Log(ctx context.Context, a right.Actor, ask Ask) (*Log, error) {
	if err := right.Check(a, right.Admit); err != nil {
		return nil, err
	}
	s, err := o.Book().Snapshot(ctx)
	if err != nil {
		return nil, err
	}
	out := &Log{Revision: s.Revision}
	if s.Office.AccessDays > 0 {
		out.Days = fmt.Sprint(s.Office.AccessDays)
	}
	q := store.AccessAsk{Text: strings.TrimSpace(ask.Text), Before: ask.Before, Most: listed + 1}
	if slices.Contains(Kinds, ask.What) {
		q.What = []string{ask.What}
	}
	if q.From, err = day(ask.From, 0); err != nil {
		return out, &office.Misfit{Column: "from", Why: err.Error()}
	}
	if q.Until, err = day(ask.Until, 1); err != nil {
		return out, &office.Misfit{Column: "until", Why: err.Error()}
	}
	list, err := o.Store().AccessLog(ctx, q)
	if err != nil {
		return nil, err
	}
	if len(list) > listed {
		list = list[:listed]
		out.More = list[listed-1].ID
	}
	for _, x := range list {
		out.Entries = append(out.Entries, Entry{
			ID: x.ID, At: time.UnixMilli(x.At).UTC(), Account: x.Account, Name: x.Name, Source: x.Source, What: x.What, Detail: x.Detail,
			Hash: fmt.Sprintf("%x", x.Hash),
		})
	}
	return out, nil
}

// day gives the moment at which a day begins, so many days on; zero for none.
func day(text string, on int) (int64, error) {
	if text = strings.TrimSpace(text); text == "" {
		return 0, nil
	}
	d, err := calendar.ParseDate(text)
	if err != nil {
		return 0, fmt.Errorf("%q is no day such as 2026-11-30", text)
	}
	return d.Time().AddDate(0, 0, on).UnixMilli(), nil
}

// Keep sets for how many days the log is kept; "" for ever.
func (o Room) Keep(ctx context.Context, a right.Actor, seen int64, days string) error {
	if err := right.Check(a, right.Admit); err != nil {
		return err
	}
	_, err := entry.In(o.Office).Enter(ctx, a, &entry.Form{
		Origin: office.Structured, Note: "how long the log of access is kept", Seen: seen, Takes: right.Admit,
		Rows: entry.These(entry.Of(record.Settings.Name, entry.Row{"setting": record.AccessDays, "value": record.OrClear(strings.TrimSpace(days))})),
	})
	return err
}
