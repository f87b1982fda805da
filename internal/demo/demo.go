// Package demo makes Skerrow Sound, a made-up authority that runs ferries,
// quays and lights, through the same gather and close as anybody's files take.
// Names of people, places and firms are invented and belong to no one.
package demo

import (
	"bytes"
	"context"
	"encoding/csv"
	"fmt"
	"time"

	"turret/internal/office"
	"turret/internal/office/account"
	"turret/internal/office/closing"
	"turret/internal/office/entry"
	"turret/internal/office/letters"
)

// Analyst is who gathers and closes in the demonstration.
var Analyst = office.Actor{Name: "Ines Marlow", Role: office.Operator}

// SignIn is an account of the demonstration.
type SignIn struct {
	Role                  office.Role
	Login, Name, Password string
	Projects              []string
}

// SignIns are the accounts of the demonstration, one of each role.
var SignIns = []SignIn{
	{office.Analyst, "ines", "Ines Marlow", "tide tables 26", nil},
	{office.Lead, "ada", "Ada Brannock", "slack water 26", []string{"FR-01", "FR-02"}},
	{office.Executive, "tor", "Tor Lindqvist", "leading lights 26", nil},
	{office.Administrator, "una", "Una Calder", "harbour master 26", nil},
}

// Today is the fixed day of the demonstration.
var Today = time.Date(2026, 12, 4, 9, 30, 0, 0, time.UTC)

// Make makes a new database with the demonstration: every period is gathered
// and closed in turn, the last one left open.
func Make(ctx context.Context, path string) (*office.Office, error) {
	o, err := office.Init(ctx, Analyst, path, office.Settings{Name: "Skerrow Sound", Reporting: "EUR", FiscalStart: 4})
	if err != nil {
		return nil, err
	}
	if err := fill(ctx, o); err != nil {
		o.Close()
		return nil, fmt.Errorf("make the demonstration: %w", err)
	}
	goOn(o, Today)
	if err := admit(ctx, o); err != nil {
		o.Close()
		return nil, fmt.Errorf("make the demonstration's accounts: %w", err)
	}
	if err := talk(ctx, o); err != nil {
		o.Close()
		return nil, fmt.Errorf("make the demonstration's questions: %w", err)
	}
	return o, nil
}

// Open opens a database with the demonstration. Its day is that of the demonstration, or
// that of the last change where it was worked with longer: ages and what is due read the
// same whenever it is opened.
func Open(ctx context.Context, a office.Actor, path string) (*office.Office, error) {
	o, err := office.Open(ctx, a, path, false)
	if err != nil {
		return nil, err
	}
	last, err := o.LastChange(ctx)
	if err != nil {
		o.Close()
		return nil, err
	}
	if last.Before(Today) {
		last = Today
	}
	goOn(o, last)
	return o, nil
}

// goOn lets the clock of an office go on from a moment.
func goOn(o *office.Office, from time.Time) {
	begun := time.Now()
	o.SetClock(func() time.Time { return from.Add(time.Since(begun)) })
}

func admit(ctx context.Context, o *office.Office) error {
	for _, s := range SignIns {
		code, err := account.In(o).
			Invite(ctx, Analyst, account.Account{Login: s.Login, Name: s.Name, Role: s.Role, Projects: s.Projects})
		if err != nil {
			return err
		}
		id, err := account.In(o).Enter(ctx, code, "", "", s.Password)
		if err != nil {
			return err
		}
		a, _, err := account.In(o).ActorOf(ctx, id)
		if err != nil {
			return err
		}
		wish := letters.Wish{Address: s.Login + "@skerrow.example", Letters: letters.AtOnce}
		if err := letters.In(o).SetWish(ctx, a, wish); err != nil {
			return err
		}
	}
	return nil
}

func fill(ctx context.Context, o *office.Office) error {
	set := func(p int) { o.SetClock(func() time.Time { return moment(p) }) }
	set(-1)
	if err := take(ctx, o, masterFiles()); err != nil {
		return err
	}
	if err := templates(ctx, o); err != nil {
		return err
	}
	for p := 0; p <= openPeriod; p++ {
		set(p)
		if p == openPeriod { // what came in is still to be seen, one by one
			return takeOneByOne(ctx, o)
		}
		if err := take(ctx, o, periodFiles(p)); err != nil {
			return err
		}
		period, err := o.ParsePeriod(ctx, Analyst, code(p))
		if err != nil {
			return err
		}
		if _, err := closing.In(o).ClosePeriod(ctx, Analyst, period); err != nil {
			return err
		}
	}
	return nil
}

// takeOneByOne takes the files of the open period on the days before the last.
func takeOneByOne(ctx context.Context, o *office.Office) error {
	files := periodFiles(openPeriod)
	for i, f := range files {
		at := moment(openPeriod).Add(time.Duration(i-len(files)+1) * 19 * time.Hour)
		o.SetClock(func() time.Time { return at })
		if err := take(ctx, o, []entry.File{f}); err != nil {
			return err
		}
	}
	return nil
}

// moment is when the files of a period came in: the fourth of the next month.
func moment(p int) time.Time {
	return time.Date(firstYear, time.Month(firstMonth+p+1), 4, 9, 30, 0, 0, time.UTC)
}

func take(ctx context.Context, o *office.Office, files []entry.File) error {
	r, err := entry.In(o).Gather(ctx, Analyst, files, nil, entry.Options{})
	if err != nil {
		return err
	}
	for _, x := range r.Refusals {
		if x.Value != unmapped { // the one thing that is meant to be refused
			return fmt.Errorf("the demonstration's own files are refused: %s", x)
		}
	}
	return nil
}

// unmapped is the cost code that finance has closed.
const unmapped = "7990"

// code is the code of the p-th period.
func code(p int) string { return firstDay(p).Format("2006-01") }

func firstDay(p int) time.Time {
	return time.Date(firstYear, time.Month(firstMonth+p), 1, 0, 0, 0, 0, time.UTC)
}

func lastDay(p int) time.Time { return firstDay(p+1).AddDate(0, 0, -1) }

// sheet is a table being written.
type sheet struct {
	name string
	b    bytes.Buffer
	w    *csv.Writer
}

func newSheet(name string, columns ...string) *sheet {
	s := &sheet{name: name}
	s.w = csv.NewWriter(&s.b)
	s.row(columns...)
	return s
}

func (s *sheet) row(cells ...string) {
	if err := s.w.Write(cells); err != nil {
		panic(err) // a buffer takes everything
	}
}

func (s *sheet) file() entry.File {
	s.w.Flush()
	return entry.File{Name: s.name, Body: s.b.Bytes()}
}
