package asking

import (
	"context"
	"fmt"
	"strconv"
	"strings"

	"turret/internal/book"
	"turret/internal/change"
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/core/thread"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/record"
	"turret/internal/right"
)

// Draft is a question before it is asked.
type Draft struct {
	Project, Name string
	About         About
	Askable       []Askable
	To            []Addressee
}

// Addressee is whom a question can be put to.
type Addressee struct{ To, Name string }

// longest is how many characters a question or an answer has at most.
const longest = 4000

// Draft prepares a question on a project; about is what it is about, "" for the whole.
// Nil where there is no such project.
func (o Room) Draft(ctx context.Context, a right.Actor, project, about string) (*Draft, error) {
	if err := right.Check(a, right.Ask); err != nil {
		return nil, err
	}
	s, err := o.Sees(ctx, a)
	if err != nil {
		return nil, err
	}
	if _, err := s.Filled(ctx); err != nil {
		return nil, err
	}
	p := s.Project(project)
	if p == nil {
		return nil, nil
	}
	who, err := o.people(ctx)
	if err != nil {
		return nil, err
	}
	if about == "" {
		about = "project"
	}
	d := &Draft{Project: p.Code, Name: p.Name, About: aboutOf(s, p, about), Askable: askable(s, p)}
	leads := Addressee{thread.Leads, "Whoever leads it: " + who.called(thread.Leads, p)}
	if len(who.leads[p.ID]) == 0 {
		leads.Name = "Whoever leads it; nobody has an account yet"
	}
	d.To = []Addressee{leads, {thread.Office, "The portfolio office"}}
	if a.Concerns(p.ID) && !right.May(a, right.Answer) { // leads mostly ask the office
		d.To[0], d.To[1] = d.To[1], d.To[0]
	}
	for _, x := range who.accounts {
		if x.ID != a.Account && !x.Disabled {
			d.To = append(d.To, Addressee{x.Login, fmt.Sprintf("%s, %s", x.Name, x.Role)})
		}
	}
	return d, nil
}

// Question is what someone asks.
type Question struct{ Project, About, To, Text string }

// Ask puts a question, and gives its code. It is about a moment's month.
func (o Room) Ask(ctx context.Context, a right.Actor, m *office.Moment, q Question) (code string, err error) {
	return o.ask(ctx, a, a.Login, m, q)
}

// mostOpen is how many questions of one reader who does not sign in can be open.
const mostOpen = 20

// Comment puts what a reader of a brief says, who does not sign in, to the office as a question;
// by is their mail address.
func (o Room) Comment(ctx context.Context, by string, m *office.Moment, q Question) (code string, err error) {
	n := 0
	rows := m.Snapshot().Records.Of(record.Questions.Kind)
	for i := range rows {
		if r := &rows[i]; strings.EqualFold(record.Questions.By.Of(r), by) && record.Questions.State.Or(r) != "closed" {
			n++
		}
	}
	if n >= mostOpen {
		return "", office.Refusef("%d questions of yours are open already; wait for their answers.", n)
	}
	q.To = thread.Office
	return o.ask(ctx, right.Actor{Name: by, Role: right.Operator}, by, m, q)
}

func (o Room) ask(ctx context.Context, a right.Actor, by string, m *office.Moment, q Question) (code string, err error) {
	d, err := o.Draft(ctx, a, q.Project, q.About)
	if err != nil {
		return "", err
	}
	if d == nil {
		return "", office.Refusef("There is no project %s any more, so nothing was asked.", q.Project)
	}
	text, err := office.Said("text", q.Text, longest)
	if err != nil {
		return "", err
	}
	known := false
	for _, x := range d.To {
		known = known || x.To == q.To
	}
	if !known {
		return "", &office.Misfit{Column: "to", Why: fmt.Sprintf("nobody who can answer signs in as %q; choose one of the list", q.To)}
	}
	rows := func(ctx context.Context, s *book.Snapshot) ([]entry.Rows, error) {
		if _, err := s.Filled(ctx); err != nil {
			return nil, err
		}
		p := s.Project(q.Project)
		if p == nil || !there(p, s.Rules, d.About) {
			return nil, &office.Misfit{Column: "about", Why: fmt.Sprintf("%s has no %s; choose what you ask about", q.Project, d.About.Title)}
		}
		code = next(s, p)
		row := entry.Row{
			"project": p.Code, "question": code, "about": d.About.Text, "text": text, "to": q.To,
			"by": by, "on": o.today(),
		}
		if !m.Empty {
			row["period"] = m.Asked.Code
		}
		return []entry.Rows{entry.Of("questions", row)}, nil
	}
	err = o.talk(ctx, a, fmt.Sprintf("asked about %s of %s", d.About.Title, q.Project), rows)
	return code, err
}

// next is the code of a project's next question: one more than the highest there is.
func next(s *book.Snapshot, p *portfolio.Project) string {
	most := 0
	rows := s.Records.Of(record.Questions.Kind)
	for i := range rows {
		if record.Questions.Project.ID(&rows[i]) != p.ID {
			continue
		}
		if n, err := strconv.Atoi(strings.TrimPrefix(record.Questions.Question.Of(&rows[i]), "Q")); err == nil {
			most = max(most, n)
		}
	}
	return fmt.Sprintf("Q%d", most+1)
}

// Answer says something to a question.
func (o Room) Answer(ctx context.Context, a right.Actor, project, question, text string) error {
	if err := right.Check(a, right.Ask); err != nil {
		return err
	}
	text, err := office.Said("text", text, longest)
	if err != nil {
		return err
	}
	return o.talk(ctx, a, fmt.Sprintf("said something to %s of %s", question, project), func(_ context.Context, s *book.Snapshot) ([]entry.Rows, error) {
		q := find(s, project, question)
		switch {
		case q == nil:
			return nil, gone(project, question)
		case record.Questions.State.Or(q) == "closed":
			return nil, office.Refusef("%s of %s was closed meanwhile; nothing was said. Whoever asked, or the office, can open it again.", question, project)
		}
		return []entry.Rows{entry.Of("replies", o.reply(a, s, q, project, question, text))}, nil
	})
}

// reply is the row of what an actor answers.
func (o Room) reply(a right.Actor, s *book.Snapshot, q *portfolio.Row, project, question, text string) entry.Row {
	last := int64(0)
	for _, r := range replies(s)[key{record.Questions.Project.ID(q), question}] {
		last = record.Replies.Reply.Of(r)
	}
	return entry.Row{
		"project": project, "question": question, "reply": strconv.FormatInt(last+1, 10), "text": text, "by": a.Login, "on": o.today(),
	}
}

// Settle closes a question, or opens it again, with something said to it, or nothing.
func (o Room) Settle(ctx context.Context, a right.Actor, project, question, text string, closed bool) error {
	if err := right.Check(a, right.Ask); err != nil {
		return err
	}
	state, note := "open", "opened %s of %s again"
	if closed {
		state, note = "closed", "closed %s of %s"
	}
	return o.talk(ctx, a, fmt.Sprintf(note, question, project), func(_ context.Context, s *book.Snapshot) ([]entry.Rows, error) {
		q := find(s, project, question)
		if q == nil {
			return nil, gone(project, question)
		}
		if !turnOf(q, nil).MayClose(Person(a, record.Questions.Project.ID(q))) {
			return nil, office.Refusef("Whoever asked closes a question, or the portfolio office.")
		}
		out := []entry.Rows{entry.Of("questions", entry.Row{"project": project, "question": question, "state": state})}
		if strings.TrimSpace(text) == "" {
			return out, nil
		}
		text, err := office.Said("text", text, longest)
		return append(out, entry.Of("replies", o.reply(a, s, q, project, question, text))), err
	})
}

func (o Room) talk(ctx context.Context, a right.Actor, note string, rows entry.RowsOn) error {
	_, err := entry.In(o.Office).Enter(ctx, a, &entry.Form{Origin: office.Talked, Note: note, Seen: change.Unseen, Takes: right.Ask, Rows: rows})
	return err
}

func (o Room) today() string { return calendar.DateIn(o.Clock()).String() }

func find(s *book.Snapshot, project, question string) *portfolio.Row {
	p := s.Project(project)
	if p == nil {
		return nil
	}
	rows := s.Records.Of(record.Questions.Kind)
	for i := range rows {
		if record.Questions.Project.ID(&rows[i]) == p.ID && record.Questions.Question.Of(&rows[i]) == question {
			return &rows[i]
		}
	}
	return nil
}

func gone(project, question string) error {
	return office.Refusef("There is no question %s of %s any more: it was taken back meanwhile.", question, project)
}
