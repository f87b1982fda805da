package letters

import (
	"context"
	"fmt"
	"log/slog"
	"net/mail"
	"slices"
	"strconv"
	"strings"
	"time"

	"turret/internal/office"
	"turret/internal/record"
	"turret/internal/right"
	"turret/internal/store"

	"turret/internal/office/entry"
)

// Carrier hands a letter to a mail server, or tells why it was not taken. The name is the
// same for each attempt at a letter.
type Carrier func(ctx context.Context, name, address, reader, subject, plain, html string, files []Enclosure) error

// Enclosure is a file that goes with a letter.
type Enclosure struct {
	Name string
	Body []byte
}

// enclosed reads the forms of a brief that go with a letter.
func (o Room) enclosed(ctx context.Context, l *store.Letter) (out []Enclosure, err error) {
	if l.Enclosed == "" {
		return nil, nil
	}
	number, forms, _ := strings.Cut(l.Enclosed, ":")
	id, err := strconv.ParseInt(number, 10, 64)
	if err != nil {
		return nil, fmt.Errorf("what the letter %s encloses: %w", l.Name, err)
	}
	for form := range strings.SplitSeq(forms, ",") {
		body, err := o.Store().BriefForm(ctx, id, form)
		if err != nil {
			return nil, err
		}
		if body == nil {
			return nil, fmt.Errorf("the letter %s encloses a brief that is not there as %s", l.Name, form)
		}
		out = append(out, Enclosure{fmt.Sprintf("brief-%d.%s", id, form), body})
	}
	return out, nil
}

const (
	atOnce   = 50              // letters of one round
	inARow   = 3               // attempts that failed one after the other end a round: the server is down
	interval = 5 * time.Second // between rounds
	quiet    = time.Minute     // as long as nothing changes, what people should have is asked this often
)

// Deliver hands the letters that are due to a carrier, and gives how many it took. What it
// does not take waits longer each time, and is given up in the end.
func (o Room) Deliver(ctx context.Context, a right.Actor, carry Carrier) (sent int, err error) {
	if err := right.Check(a, right.Install); err != nil {
		return 0, err
	}
	list, err := o.Store().LettersDue(ctx, o.Now(), atOnce)
	if err != nil {
		return 0, err
	}
	names := make(map[int64]string)
	if len(list) > 0 {
		people, err := o.Store().Accounts(ctx)
		if err != nil {
			return 0, err
		}
		for _, x := range people {
			names[x.ID] = x.Name
		}
	}
	failed := 0
	for i := range list {
		l := &list[i]
		files, fault := o.enclosed(ctx, l)
		if fault == nil {
			fault = carry(ctx, l.Name, l.Address, names[l.Account], l.Subject, l.Plain, l.HTML, files)
		}
		if ctx.Err() != nil {
			return sent, ctx.Err() // nobody knows whether it was taken: it is tried again
		}
		tried(l, fault, o.Clock())
		if err := o.Store().TriedLetter(ctx, l); err != nil {
			return sent, err
		}
		if fault == nil {
			sent, failed = sent+1, 0
		} else if failed++; failed == inARow {
			return sent, nil
		}
	}
	return sent, nil
}

// tried keeps how an attempt at a letter ended.
func tried(l *store.Letter, fault error, at time.Time) {
	l.Tries, l.At, l.Fault = l.Tries+1, at.UnixMilli(), ""
	switch {
	case fault == nil:
		l.State = store.LetterSent
	case int(l.Tries) > len(pauses):
		l.State, l.Fault = store.LetterGivenUp, fault.Error()
	default:
		l.Next, l.Fault = at.Add(pauses[l.Tries-1]).UnixMilli(), fault.Error()
	}
}

// Begin writes and sends beside the server, until what it returns is called.
func (o Room) Begin(ctx context.Context, a right.Actor, to Addresses, carry Carrier, log *slog.Logger) (stop func()) {
	ctx, cancel := context.WithCancel(ctx)
	done := make(chan struct{})
	go func() {
		defer close(done)
		var wrote time.Time
		seen := int64(-1)
		for {
			err := office.Safely(log, "letters", func() error { return o.round(ctx, a, to, carry, &wrote, &seen) })
			if err != nil && ctx.Err() == nil {
				log.Warn("letters", "err", err)
			}
			select {
			case <-ctx.Done():
				return
			case <-time.After(interval):
			}
		}
	}()
	return func() {
		cancel()
		<-done
	}
}

// round writes where something changed or a while has passed, and sends what is due.
func (o Room) round(ctx context.Context, a right.Actor, to Addresses, carry Carrier, wrote *time.Time, seen *int64) (err error) {
	s, err := o.Book().Snapshot(ctx)
	if err != nil {
		return err
	}
	if s.Revision != *seen || time.Since(*wrote) >= quiet {
		if _, err := o.Write(ctx, a, to); err != nil {
			return err
		}
		*seen, *wrote = s.Revision, time.Now()
	}
	_, err = o.Deliver(ctx, a, carry)
	return err
}

// Log is what was sent and is to be sent.
type Log struct {
	Letters             []Entry
	Waiting, Sent, Gone int // letters in all, by state
	Before, After       string
	Revision            int64
}

// Entry is a letter of the log.
type Entry struct {
	store.Letter
	Reader string
}

// listed is how many letters the log lists.
const listed = 100

// Log lists the last letters, with the days on which people are reminded.
func (o Room) Log(ctx context.Context, a right.Actor) (*Log, error) {
	if err := right.Check(a, right.Draw); err != nil {
		return nil, err
	}
	s, err := o.Book().Snapshot(ctx)
	if err != nil {
		return nil, err
	}
	list, err := o.Store().Letters(ctx, listed)
	if err != nil {
		return nil, err
	}
	people, err := o.Store().Accounts(ctx)
	if err != nil {
		return nil, err
	}
	counts, err := o.Store().CountLetters(ctx)
	if err != nil {
		return nil, err
	}
	out := &Log{
		Waiting: counts[store.LetterWaits], Sent: counts[store.LetterSent], Gone: counts[store.LetterGivenUp],
		Before: days(s.Office.Remind.Before), After: days(s.Office.Remind.After), Revision: s.Revision,
	}
	for _, l := range list {
		e := Entry{Letter: l, Reader: l.Address}
		if i := slices.IndexFunc(people, func(x store.Account) bool { return x.ID == l.Account }); i >= 0 {
			e.Reader = people[i].Name
		}
		out.Letters = append(out.Letters, e)
	}
	return out, nil
}

func days(list []int) string {
	var out []string
	for _, n := range list {
		out = append(out, fmt.Sprint(n))
	}
	return strings.Join(out, " ")
}

// Remind sets on which days people are reminded: so many days before a statement is due,
// and after. Seen is the revision that the page showed.
func (o Room) Remind(ctx context.Context, a right.Actor, seen int64, before, after string) error {
	if err := right.Check(a, right.Draw); err != nil {
		return err
	}
	row := func(name, text string) entry.Row {
		return entry.Row{"setting": name, "value": record.OrClear(strings.Join(strings.Fields(text), " "))}
	}
	for _, x := range [][2]string{{"before", before}, {"after", after}} {
		if _, bad := record.DaysOf(x[1]); bad != "" {
			return &office.Misfit{Column: x[0], Why: fmt.Sprintf("%q is no number of days from 0 to 60; write some with blanks between them, such as 1 4, or none", bad)}
		}
	}
	_, err := entry.In(o.Office).Enter(ctx, a, &entry.Form{
		Origin: office.Drawn, Note: "days of reminders", Seen: seen,
		Rows: entry.These(entry.Of(record.Settings.Name, row(record.RemindBefore, before), row(record.RemindAfter, after))),
	})
	return err
}

// Retry lets the letters that were given up be tried again.
func (o Room) Retry(ctx context.Context, a right.Actor) error {
	if err := right.Check(a, right.Draw); err != nil {
		return err
	}
	return o.Store().RetryLetters(ctx, o.Now())
}

// Try writes a letter to an actor that says nothing but that letters arrive.
func (o Room) Try(ctx context.Context, a right.Actor, to Addresses) error {
	if err := right.Check(a, right.Draw); err != nil {
		return err
	}
	x, err := o.Store().AccountBy(ctx, a.Account, "")
	if err != nil {
		return err
	}
	if x == nil || x.Address == "" {
		return office.Refusef("Your account has no mail address; give it one on the page of your account.")
	}
	name := fmt.Sprintf("try %d %d", o.Now(), x.ID)
	r := &reader{Account: *x}
	list, err := o.fold(ctx, r, to, []string{name}, map[string]text{name: {Subject: "Letters from Turret arrive", Opening: "This letter only shows that letters arrive."}})
	if err == nil {
		_, err = o.Store().QueueLetters(ctx, list)
	}
	return err
}

// Wish is where someone reads letters, and which they want.
type Wish struct{ Address, Letters string }

// WishOf reads an actor's own.
func (o Room) WishOf(ctx context.Context, a right.Actor) (w Wish, err error) {
	if err := right.Check(a, right.Keep); err != nil {
		return w, err
	}
	x, err := o.Store().AccountBy(ctx, a.Account, "")
	if err != nil || x == nil {
		return w, err
	}
	return Wish{x.Address, x.Letters}, nil
}

// SetWish keeps an actor's own. An empty address wants none.
func (o Room) SetWish(ctx context.Context, a right.Actor, w Wish) error {
	if err := right.Check(a, right.Keep); err != nil {
		return err
	}
	w.Address = strings.TrimSpace(w.Address)
	if !slices.Contains(Wishes, w.Letters) {
		return &office.Misfit{Column: "letters", Why: "choose which letters you want"}
	}
	if w.Address != "" {
		at, err := mail.ParseAddress(w.Address)
		if err != nil || at.Name != "" || len(w.Address) > 254 {
			return &office.Misfit{Column: "address", Why: fmt.Sprintf("%q is not a mail address such as name@office.example", w.Address)}
		}
		w.Address = at.Address
	}
	return o.Store().SetLetters(ctx, a.Account, w.Address, w.Letters)
}
