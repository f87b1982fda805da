// Package feedback is the room of what readers say of pages and briefs, of what the office
// answers, and of what it tells everyone.
package feedback

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"turret/internal/book"
	"turret/internal/change"
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/record"
	"turret/internal/right"
)

// Room is this use of an office.
type Room struct{ *office.Office }

// In is the room in an office.
func In(o *office.Office) Room { return Room{o} }

// Item is a piece of feedback.
type Item struct {
	Code, About, Text, By string
	On                    calendar.Date
	Answer, AnsweredBy    string // "" while nobody has answered
	AnsweredOn            calendar.Date
}

// mostOpen is how much that one reader of briefs said can wait for an answer.
const mostOpen = 20

// longest is how many characters are said or answered at most.
const longest = 2000

// List lists feedback, what is not answered first, and in each the last first: all of it for the
// office, their own for others.
func (o Room) List(ctx context.Context, a right.Actor) (out []Item, err error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	s, err := o.Book().Snapshot(ctx)
	if err != nil {
		return nil, err
	}
	k := record.Feedback
	rows := s.Records.Of(k.Kind)
	for i := range rows {
		r := &rows[i]
		if by := k.By.Of(r); right.May(a, right.Answer) || a.Login != "" && strings.EqualFold(by, a.Login) {
			out = append(out, Item{
				Code: k.Feedback.Of(r), About: k.About.Of(r), Text: k.Text.Of(r), By: by, On: k.On.Of(r),
				Answer: k.Answer.Of(r), AnsweredBy: k.AnsweredBy.Of(r), AnsweredOn: k.AnsweredOn.Of(r),
			})
		}
	}
	slices.SortFunc(out, func(x, y Item) int {
		open := func(i Item) int { return map[bool]int{true: 0, false: 1}[i.Answer == ""] }
		return cmp.Or(cmp.Compare(open(x), open(y)), cmp.Compare(y.On, x.On), cmp.Compare(number(y.Code), number(x.Code)))
	})
	return out, nil
}

// Waiting counts what the office has not answered; zero to others.
func Waiting(a right.Actor, m *office.Moment) (n int) {
	if !right.May(a, right.Answer) {
		return 0
	}
	rows := m.Snapshot().Records.Of(record.Feedback.Kind)
	for i := range rows {
		if record.Feedback.Answer.Of(&rows[i]) == "" {
			n++
		}
	}
	return n
}

// Give says something of a page, by its address.
func (o Room) Give(ctx context.Context, a right.Actor, about, text string) error {
	if err := right.Check(a, right.Ask); err != nil {
		return err
	}
	return o.give(ctx, a, a.Login, about, text, right.Ask)
}

// GiveAs says something of a brief in the name of a reader who does not sign in.
func (o Room) GiveAs(ctx context.Context, reader, about, text string) error {
	s, err := o.Book().Snapshot(ctx)
	if err != nil {
		return err
	}
	k, n := record.Feedback, 0
	rows := s.Records.Of(k.Kind)
	for i := range rows {
		if strings.EqualFold(k.By.Of(&rows[i]), reader) && k.Answer.Of(&rows[i]) == "" {
			n++
		}
	}
	if n >= mostOpen {
		return office.Refusef("%d things that you said wait for an answer already; wait for it.", n)
	}
	return o.give(ctx, right.Actor{Name: reader, Role: right.Operator}, reader, about, text, right.Ask)
}

func (o Room) give(ctx context.Context, a right.Actor, by, about, text string, takes right.Action) error {
	text, err := office.Said("text", text, longest)
	if err != nil {
		return err
	}
	return o.enter(ctx, a, takes, "said something of "+short(about), func(s *book.Snapshot) (entry.Row, error) {
		most := 0
		k := record.Feedback
		rows := s.Records.Of(k.Kind)
		for i := range rows {
			most = max(most, number(k.Feedback.Of(&rows[i])))
		}
		return entry.Row{
			"feedback": fmt.Sprintf("B%d", most+1), "about": short(about), "text": text, "by": by, "on": o.today(),
		}, nil
	})
}

// Answer answers a piece of feedback.
func (o Room) Answer(ctx context.Context, a right.Actor, code, text string) error {
	if err := right.Check(a, right.Answer); err != nil {
		return err
	}
	text, err := office.Said("answer", text, longest)
	if err != nil {
		return err
	}
	return o.enter(ctx, a, right.Answer, "answered "+code, func(s *book.Snapshot) (entry.Row, error) {
		k := record.Feedback
		if !slices.ContainsFunc(s.Records.Of(k.Kind), func(r portfolio.Row) bool { return k.Feedback.Of(&r) == code }) {
			return nil, office.Refusef("There is no feedback %s any more.", code)
		}
		return entry.Row{"feedback": code, "answer": text, "answered_by": a.Login, "answered_on": o.today()}, nil
	})
}

func (o Room) enter(ctx context.Context, a right.Actor, takes right.Action, note string, row func(*book.Snapshot) (entry.Row, error)) error {
	_, err := entry.In(o.Office).Enter(ctx, a, &entry.Form{
		Origin: office.Talked, Note: note, Seen: change.Unseen, Takes: takes,
		Rows: func(_ context.Context, s *book.Snapshot) ([]entry.Rows, error) {
			r, err := row(s)
			return []entry.Rows{entry.Of("feedback", r)}, err
		},
	})
	return err
}

func (o Room) today() string { return calendar.DateIn(o.Clock()).String() }

// number is that of a code such as B12; zero of any other.
func number(code string) int {
	n, err := strconv.Atoi(strings.TrimPrefix(code, "B"))
	if err != nil {
		return 0
	}
	return n
}

// short is what feedback is about, as far as it is kept.
func short(about string) string {
	const most = 300
	if r := []rune(about); len(r) > most {
		return string(r[:most])
	}
	return about
}

// News are the texts that are told on a day, the one that began last first.
func News(m *office.Moment, on calendar.Date) (out []string) {
	k := record.News
	rows := slices.Clone(m.Snapshot().Records.Of(k.Kind))
	slices.SortStableFunc(rows, func(x, y portfolio.Row) int { return cmp.Compare(k.From.Of(&y), k.From.Of(&x)) })
	for i := range rows {
		if r := &rows[i]; k.From.Of(r) <= on && on <= k.Until.Of(r) {
			out = append(out, k.Text.Of(r))
		}
	}
	return out
}

// FirstPage is the page that people of a role begin with; "" where the office has set none.
func (o Room) FirstPage(ctx context.Context, role right.Role) (string, error) {
	s, err := o.Book().Snapshot(ctx)
	if err != nil {
		return "", err
	}
	k := record.FirstPages
	rows := s.Records.Of(k.Kind)
	for i := range rows {
		if k.Role.Of(&rows[i]) == string(role) {
			return k.Blocks.Of(&rows[i]), nil
		}
	}
	return "", nil
}

// SetFirstPage sets the page that people of a role begin with; "" is the one that comes.
func (o Room) SetFirstPage(ctx context.Context, a right.Actor, role right.Role, blocks string) error {
	if err := right.Check(a, right.Share); err != nil {
		return err
	}
	if blocks == "" {
		blocks = "-"
	}
	_, err := entry.In(o.Office).Enter(ctx, a, &entry.Form{
		Origin: office.Registered, Note: fmt.Sprintf("the first page of each %s", role), Seen: change.Unseen, Takes: right.Share,
		Rows: entry.These(entry.Of("first_pages", entry.Row{"role": string(role), "blocks": blocks})),
	})
	return err
}
