package letters

import (
	"context"
	"fmt"
	"maps"
	"net/mail"
	"slices"
	"strings"
	"time"

	"turret/internal/core/calendar"
	"turret/internal/office"
	"turret/internal/office/account"
	"turret/internal/office/asking"
	"turret/internal/office/feedback"
	"turret/internal/office/stating"
	"turret/internal/right"
	"turret/internal/store"
	"turret/internal/tell"
)

// Which letters someone wants.
const (
	AtOnce = "at once"
	Daily  = "daily"
	None   = "none"
)

// Wishes lists them.
var Wishes = []string{AtOnce, Daily, None}

const (
	fresh  = 7 // what is older, in days, nobody gets a letter of: the server was down, or mail set up later
	digest = 6 // the hour from which the daily letter is sent, UTC
)

// Addresses are those of the places that letters lead to.
type Addresses struct {
	Question func(project, question string) string
	Part     func(project, part string) string
	Finding  func(project, check, record string) string
	Desk     string
	Account  string
}

// reader is someone whom letters are written to.
type reader struct {
	right.Actor
	store.Account
	asks   []asking.Thread  // that wait for them
	back   []office.Finding // sent back to them
	owed   []owed           // what they owe that is late, or that they are reminded of today
	today  calendar.Date
	remind bool // today is a day on which they are reminded of something owed
}

// owed is a statement that a reader owes.
type owed struct {
	project, name, part, title string
	due                        calendar.Date
}

// Write writes the letters that people should have by now, and gives how many are new.
func (o Room) Write(ctx context.Context, a right.Actor, to Addresses) (int64, error) {
	if err := right.Check(a, right.Install); err != nil {
		return 0, err
	}
	list, err := o.Store().Accounts(ctx)
	if err != nil {
		return 0, err
	}
	var letters []store.Letter
	var m *office.Moment
	for _, x := range list {
		if x.Disabled || x.Address == "" || x.Letters == None {
			continue
		}
		if m == nil {
			if m, err = o.Moment(ctx, a, office.Ask{Own: true}); err != nil {
				return 0, err
			}
		}
		r, err := o.reader(ctx, x, m)
		if err != nil {
			return 0, err
		}
		some, err := o.letters(ctx, r, m, to)
		if err != nil {
			return 0, err
		}
		letters = append(letters, some...)
	}
	some, err := o.outside(ctx, a, to)
	if err != nil {
		return 0, err
	}
	return o.Store().QueueLetters(ctx, append(letters, some...))
}

// outside writes what was answered to readers of briefs who do not sign in: they asked from the
// page of their link, by their mail address.
func (o Room) outside(ctx context.Context, a right.Actor, to Addresses) (out []store.Letter, err error) {
	today := calendar.DateIn(o.Clock())
	notes := make(map[string]Note)
	add := func(name, address, subject, opening, text string) {
		if _, err := mail.ParseAddress(address); err == nil && strings.Contains(address, "@") {
			notes[name] = Note{Letter: name, Name: address, Address: address, Subject: subject, Opening: opening, Text: text}
		}
	}
	threads, err := asking.In(o.Office).Threads(ctx, a, asking.Which{})
	if err != nil {
		return nil, err
	}
	for _, q := range threads {
		asked, last := q.Said[0], q.Said[len(q.Said)-1]
		if len(q.Said) > 1 && last.By != asked.By && int(today-q.Since) <= fresh {
			add(fmt.Sprintf("answered %s %s %d", q.Project, q.Question, len(q.Said)), asked.By, fmt.Sprintf("%s: an answer about %s", q.Project, q.About.Title),
				fmt.Sprintf("%s answers what you asked about %s of %s %s: %s", last.By, q.About.Title, q.Project, q.Name, asked.Text), last.Text)
		}
	}
	said, err := feedback.In(o.Office).List(ctx, a)
	if err != nil {
		return nil, err
	}
	for _, x := range said {
		if x.Answer != "" && int(today-x.AnsweredOn) <= fresh {
			add("answered "+x.Code, x.By, "An answer about "+x.About, "The office answers what you said: "+x.Text, x.Answer)
		}
	}
	known, err := o.Store().KnownLetters(ctx, slices.Collect(maps.Keys(notes)))
	if err != nil {
		return nil, err
	}
	for _, name := range slices.Sorted(maps.Keys(notes)) {
		if known[name] {
			continue
		}
		n := notes[name]
		l, err := n.Written(o.Now(), to)
		if err != nil {
			return nil, err
		}
		out = append(out, l)
	}
	return out, nil
}

// reader gathers what waits for an account.
func (o Room) reader(ctx context.Context, x store.Account, m *office.Moment) (*reader, error) {
	r := &reader{Account: x, today: calendar.DateIn(o.Clock())}
	var err error
	if r.Actor, _, err = account.In(o.Office).ActorOf(ctx, x.ID); err != nil {
		return nil, err
	}
	if r.asks, err = asking.In(o.Office).Threads(ctx, r.Actor, asking.Which{Mine: true}); err != nil {
		return nil, err
	}
	if r.Actor.Role != right.Lead || m.Empty {
		return r, nil
	}
	r.back = m.Questions(r.Actor)
	desk, err := stating.In(o.Office).Desk(ctx, r.Actor, m)
	if err != nil {
		return nil, err
	}
	on := m.Snapshot().Office.Remind
	for _, p := range desk.Projects {
		if p.Shut {
			continue
		}
		for i, part := range p.Parts {
			if !part.Mine || part.State != stating.PartMissing || part.Due == 0 {
				continue
			}
			reminded := on.On(r.today, part.Due)
			if reminded || part.Late {
				r.owed = append(r.owed, owed{p.Code, p.Name, stating.Sections[i].Name, stating.Sections[i].Title, part.Due})
			}
			r.remind = r.remind || reminded
		}
	}
	return r, nil
}

// letters writes to a reader what they have no letter of yet.
func (o Room) letters(ctx context.Context, r *reader, m *office.Moment, to Addresses) ([]store.Letter, error) {
	if r.Letters == Daily {
		return o.daily(ctx, r, m, to)
	}
	var names []string
	texts := make(map[string]text)
	add := func(t text, format string, args ...any) {
		name := fmt.Sprintf(format+" %d", append(args, r.Account.ID)...)
		names, texts[name] = append(names, name), t
	}
	for _, q := range r.asks {
		if int(r.today-q.Since) > fresh {
			continue
		}
		last := q.Said[len(q.Said)-1]
		verb := "asks about"
		if len(q.Said) > 1 {
			verb = "answers about"
		}
		add(text{
			Subject: fmt.Sprintf("%s: %s %s %s", q.Project, last.By, verb, q.About.Title), Opening: fmt.Sprintf("%s %s %s of %s %s.", last.By, verb, q.About.Title, q.Project, q.Name),
			Parts: []part{{Items: []item{questionItem(&q, to)}}},
		}, "turn %s %s %d", q.Project, q.Question, len(q.Said))
	}
	for _, f := range r.back {
		add(text{
			Subject: fmt.Sprintf("%s: a finding was sent back to you", f.Project), Opening: fmt.Sprintf("%s sent a finding on %s %s back to you.", orOffice(f.Answer.By), f.Project, f.Name),
			Parts: []part{{Items: []item{findingItem(&f, to)}}},
		}, "back %s %s %s %d", f.Project, f.Check, f.Record, m.Asked.Number)
	}
	if r.remind {
		t := text{Subject: owes(r, m), Opening: owes(r, m) + ".", Parts: []part{{Items: owedItems(r, to)}}}
		add(t, "remind %d %s", m.Asked.Number, r.today)
	}
	return o.fold(ctx, r, to, names, texts)
}

// daily writes all that waits for a reader into one letter a day.
func (o Room) daily(ctx context.Context, r *reader, m *office.Moment, to Addresses) ([]store.Letter, error) {
	if o.Clock().UTC().Hour() < digest {
		return nil, nil
	}
	t := text{Subject: "What waits for you, " + o.Clock().UTC().Format("2 January"), Opening: "This waits for you today."}
	if len(r.owed) > 0 {
		t.Parts = append(t.Parts, part{owes(r, m), owedItems(r, to)})
	}
	asks := part{Title: "Questions put to you"}
	for _, q := range r.asks {
		asks.Items = append(asks.Items, questionItem(&q, to))
	}
	back := part{Title: "Findings sent back to you"}
	for _, f := range r.back {
		back.Items = append(back.Items, findingItem(&f, to))
	}
	for _, p := range []part{asks, back} {
		if len(p.Items) > 0 {
			t.Parts = append(t.Parts, p)
		}
	}
	if len(t.Parts) == 0 {
		return nil, nil
	}
	name := fmt.Sprintf("daily %s %d", r.today, r.Account.ID)
	return o.fold(ctx, r, to, []string{name}, map[string]text{name: t})
}

// fold makes letters of texts, but for those whose names were used before.
func (o Room) fold(ctx context.Context, r *reader, to Addresses, names []string, texts map[string]text) ([]store.Letter, error) {
	known, err := o.Store().KnownLetters(ctx, names)
	if err != nil {
		return nil, err
	}
	var out []store.Letter
	for _, name := range names {
		if known[name] {
			continue
		}
		t := texts[name]
		t.Name, t.Desk, t.Account = r.Account.Name, to.Desk, to.Account
		l := store.Letter{Name: name, Account: r.Account.ID, Address: r.Address, Made: o.Now(), Next: o.Now(), Subject: t.Subject}
		if l.Plain, l.HTML, err = t.write(); err != nil {
			return nil, err
		}
		out = append(out, l)
	}
	return out, nil
}

// owes says how much a reader owes.
func owes(r *reader, m *office.Moment) string {
	late := 0
	for _, x := range r.owed {
		if x.due < r.today {
			late++
		}
	}
	out := fmt.Sprintf("You owe %s for %s", tell.Plural(len(r.owed), "statement", "statements"), m.Asked.Name)
	switch {
	case late == len(r.owed) && late > 0:
		return out + ", late"
	case late > 0:
		return fmt.Sprintf("%s, %s of them late", out, tell.Number(late))
	}
	return out
}

func owedItems(r *reader, to Addresses) (out []item) {
	for _, x := range r.owed {
		when := "due " + day(x.due)
		if x.due < r.today {
			when = "was due " + day(x.due)
		}
		out = append(out, item{Text: fmt.Sprintf("%s %s: %s", x.project, x.name, x.title), Note: when, Link: to.Part(x.project, x.part)})
	}
	return out
}

func questionItem(q *asking.Thread, to Addresses) item {
	last := q.Said[len(q.Said)-1]
	return item{
		Text: last.Text, Note: fmt.Sprintf("%s, %s %s, %s", last.By, q.Project, q.Name, q.About.Title), Link: to.Question(q.Project, q.Question),
	}
}

func findingItem(f *office.Finding, to Addresses) item {
	return item{Text: f.Title + ": " + f.Answer.Reason, Note: f.Project + " " + f.Name, Link: to.Finding(f.Project, f.Check, f.Record)}
}

func orOffice(name string) string {
	if name == "" {
		return "The portfolio office"
	}
	return name
}

func day(d calendar.Date) string { return d.Time().Format("2 January") }

// pauses are how long a letter waits after each attempt that failed; after the last it is
// given up.
var pauses = []time.Duration{
	time.Minute, 5 * time.Minute, 15 * time.Minute, time.Hour, 4 * time.Hour, 12 * time.Hour, 24 * time.Hour, 24 * time.Hour,
}
