package letters_test

import (
	"context"
	"errors"
	"io"
	"log/slog"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
	"turret/internal/office/account"
	"turret/internal/office/asking"
	"turret/internal/office/letters"
	"turret/internal/office/officetest"
	"turret/internal/right"
)

var places = letters.Addresses{
	Question: func(project, question string) string { return "http://t/question/" + project + "/" + question },
	Part:     func(project, part string) string { return "http://t/state/" + project + "/" + part },
	Finding:  func(project, check, record string) string { return "http://t/check/" + project + "/" + check },
	Desk:     "http://t/desk", Account: "http://t/account",
}

// sent is a letter that a carrier took.
type sent struct{ name, address, reader, subject, plain, html string }

// server is a mail server that takes letters, or has a fault.
type server struct {
	took  []sent
	calls int
	fault error
}

func (s *server) carry(_ context.Context, name, address, reader, subject, plain, html string, _ []letters.Enclosure) error {
	s.calls++
	if s.fault != nil {
		return s.fault
	}
	s.took = append(s.took, sent{name, address, reader, subject, plain, html})
	return nil
}

func (s *server) subjects() (out []string) {
	for _, l := range s.took {
		out = append(out, l.address+": "+l.subject)
	}
	return out
}

// post is an office of one project, due on 3 February 2026 for January, whose people have
// mail addresses, at a moment.
type post struct {
	*office.Office
	who map[string]right.Actor
	now time.Time
}

func newPost(t *testing.T, now time.Time, wishes map[string]string) *post {
	t.Helper()
	ctx := context.Background()
	o := officetest.NewOffice(t)
	p := &post{o, make(map[string]right.Actor), now}
	o.SetClock(func() time.Time { return p.now })
	officetest.GatherMap(t, o, map[string]string{
		"projects.csv":   "project,name,currency,state\nA,Alpha,EUR,active\n",
		"activities.csv": "project,activity,name,start,finish\nA,1,Dig,2026-01-01,2026-06-30\n",
		"costs.csv":      "project,cost_code,kind,period,amount\nA,10,actual,2026-01,5.00\n",
		"cost_codes.csv": "cost_code,name\n10,Works\n",
		"due_days.csv":   "statement,days\nprogress,2\nforecast,2\n",
	})
	for login, role := range map[string]right.Role{"ines": right.Analyst, "ada": right.Lead} {
		x := account.Account{Login: login, Name: "The " + login, Role: role}
		if role == right.Lead {
			x.Projects = []string{"A"}
		}
		code, err := account.In(o).Invite(ctx, officetest.Operator, x)
		require.NoError(t, err)
		id, err := account.In(o).Enter(ctx, code, "", "", "tide tables and lights")
		require.NoError(t, err)
		a, _, err := account.In(o).ActorOf(ctx, id)
		require.NoError(t, err)
		p.who[login] = a
		if wish := wishes[login]; wish != "" {
			require.NoError(t, letters.In(o).SetWish(ctx, a, letters.Wish{Address: login + "@office.example", Letters: wish}))
		}
	}
	return p
}

func (p *post) ask(t *testing.T, text string) {
	t.Helper()
	_, err := asking.In(p.Office).Ask(context.Background(), p.who["ines"], officetest.Moment(t, p.Office, office.Ask{}), asking.Question{Project: "A", Text: text})
	require.NoError(t, err)
}

// round writes what people should have, and hands it to a server.
func (p *post) round(t *testing.T, s *server) {
	t.Helper()
	_, err := letters.In(p.Office).Write(context.Background(), officetest.Operator, places)
	require.NoError(t, err)
	_, err = letters.In(p.Office).Deliver(context.Background(), officetest.Operator, s.carry)
	require.NoError(t, err)
}

func at(day string, hour int) time.Time {
	d, err := time.Parse("2006-01-02", day)
	if err != nil {
		panic(err)
	}
	return d.Add(time.Duration(hour) * time.Hour)
}

// TestEachLetterOnce: a question is told of at once and once, its answer to who asked.
func TestEachLetterOnce(t *testing.T) {
	ctx := context.Background()
	p, s := newPost(t, at("2026-01-20", 9), map[string]string{"ines": letters.AtOnce, "ada": letters.AtOnce}), new(server)
	p.ask(t, "Is <it> so?")
	p.round(t, s)
	p.round(t, s)
	require.Equal(t, []string{"ada@office.example: A: The ines asks about the project"}, s.subjects())
	l := s.took[0]
	require.Equal(t, "The ada", l.reader)
	require.Contains(t, l.plain, "Is <it> so?\n(The ines, A Alpha, the project)\nhttp://t/question/A/Q1\n")
	require.Contains(t, l.html, `<a href="http://t/question/A/Q1"`)
	require.Contains(t, l.html, "Is &lt;it&gt; so?")
	for _, both := range []string{l.plain, l.html} {
		require.Contains(t, both, "http://t/desk")
		require.Contains(t, both, "http://t/account")
	}

	require.NoError(t, asking.In(p.Office).Answer(ctx, p.who["ada"], "A", "Q1", "It is."))
	p.round(t, s)
	require.Equal(t, "ines@office.example: A: The ada answers about the project", s.subjects()[1])
	p.now = p.now.Add(30 * 24 * time.Hour)
	require.NoError(t, asking.In(p.Office).Settle(ctx, p.who["ines"], "A", "Q1", "", true))
	s.took = nil
	p.round(t, s)
	for _, x := range s.subjects() {
		require.NotContains(t, x, " about ", "nothing of a question that is closed")
	}
}

// TestOldQuestions: who gives an address later is not told of everything that ever was.
func TestOldQuestions(t *testing.T) {
	p, s := newPost(t, at("2026-01-10", 9), map[string]string{"ada": letters.AtOnce}), new(server)
	p.ask(t, "Is it so?")
	p.now = at("2026-01-18", 9) // eight days later
	p.round(t, s)
	require.Empty(t, s.took)
	p.now = at("2026-01-17", 9)
	p.round(t, s)
	require.Len(t, s.took, 1)
}

// TestReminders: of what is due on 3 February (two working days after January), a lead is
// reminded two days before, one day after and four days after, and on no other day.
func TestReminders(t *testing.T) {
	p, s := newPost(t, at("2026-01-30", 9), map[string]string{"ines": letters.AtOnce, "ada": letters.AtOnce}), new(server)
	told := make(map[string]string)
	for day := at("2026-01-30", 9); day.Before(at("2026-02-12", 9)); day = day.Add(24 * time.Hour) {
		p.now, s.took = day, nil
		p.round(t, s)
		p.round(t, s)
		for _, x := range s.took {
			told[day.Format("2 Jan")] = x.subject
		}
		require.LessOrEqual(t, len(s.took), 1)
	}
	require.Equal(t, map[string]string{
		"1 Feb": "You owe 2 statements for Jan 2026", "4 Feb": "You owe 2 statements for Jan 2026, late", "7 Feb": "You owe 2 statements for Jan 2026, late",
	}, told)
}

// TestDaily: once a day, from six on, all that waits; nothing where nothing waits.
func TestDaily(t *testing.T) {
	p, s := newPost(t, at("2026-01-20", 5), map[string]string{"ada": letters.Daily, "ines": letters.Daily}), new(server)
	p.ask(t, "First?")
	p.ask(t, "Second?")
	p.round(t, s)
	require.Empty(t, s.took, "it is before six")
	p.now = at("2026-01-20", 6)
	p.round(t, s)
	p.now = at("2026-01-20", 23)
	p.ask(t, "Third?")
	p.round(t, s)
	require.Equal(t, []string{"ada@office.example: What waits for you, 20 January"}, s.subjects())
	require.Contains(t, s.took[0].plain, "First?")
	require.Contains(t, s.took[0].plain, "Second?")
	p.now = at("2026-01-21", 6)
	p.round(t, s)
	require.Len(t, s.took, 2)
	require.Contains(t, s.took[1].plain, "Third?")
}

// TestNoLetters: who wants none, has no address, or is disabled, gets none.
func TestNoLetters(t *testing.T) {
	ctx := context.Background()
	for name, wish := range map[string]string{"wants none": letters.None, "no address": ""} {
		t.Run(name, func(t *testing.T) {
			p, s := newPost(t, at("2026-01-20", 9), map[string]string{"ada": wish}), new(server)
			p.ask(t, "Is it so?")
			p.round(t, s)
			require.Empty(t, s.took)
		})
	}
	p, s := newPost(t, at("2026-01-20", 9), map[string]string{"ada": letters.AtOnce}), new(server)
	p.ask(t, "Is it so?")
	require.NoError(t, account.In(p.Office).Disable(ctx, officetest.Operator, p.who["ada"].Account, true))
	p.round(t, s)
	require.Empty(t, s.took)
}

// TestAServerThatFails: a letter waits longer each time and is given up in the end; none
// is lost, and it can be tried again.
func TestAServerThatFails(t *testing.T) {
	ctx := context.Background()
	p, s := newPost(t, at("2026-01-20", 9), map[string]string{"ada": letters.AtOnce}), &server{fault: errors.New("no room")}
	room := letters.In(p.Office)
	p.ask(t, "Is it so?")
	p.round(t, s)
	p.round(t, s)
	require.Equal(t, 1, s.calls, "it waits a minute")
	log, err := room.Log(ctx, officetest.Operator)
	require.NoError(t, err)
	require.Equal(t, 1, log.Waiting)
	require.Equal(t, "no room", log.Letters[0].Fault)
	require.Equal(t, p.now.Add(time.Minute).UnixMilli(), log.Letters[0].Next)

	begun := p.now
	var waits []time.Duration
	last, calls := begun, s.calls
	for p.now.Before(begun.Add(96*time.Hour)) && log.Gone == 0 {
		p.now = p.now.Add(30 * time.Second)
		_, err := room.Deliver(ctx, officetest.Operator, s.carry)
		require.NoError(t, err)
		if s.calls > calls {
			waits, last, calls = append(waits, p.now.Sub(last)), p.now, s.calls
			log, err = room.Log(ctx, officetest.Operator)
			require.NoError(t, err)
		}
	}
	require.Equal(t, []time.Duration{time.Minute, 5 * time.Minute, 15 * time.Minute, time.Hour, 4 * time.Hour, 12 * time.Hour, 24 * time.Hour, 24 * time.Hour}, waits)
	require.Equal(t, 1, log.Gone)

	s.fault = nil
	require.NoError(t, room.Retry(ctx, officetest.Operator))
	_, err = room.Deliver(ctx, officetest.Operator, s.carry)
	require.NoError(t, err)
	require.Len(t, s.took, 1)
	log, err = room.Log(ctx, officetest.Operator)
	require.NoError(t, err)
	require.Equal(t, []int{0, 1, 0}, []int{log.Waiting, log.Sent, log.Gone})
	require.Empty(t, log.Letters[0].Fault)
}

// TestDownForAll: a server that is down is not asked for every letter of a round.
func TestDownForAll(t *testing.T) {
	p, s := newPost(t, at("2026-01-20", 9), map[string]string{"ada": letters.AtOnce}), &server{fault: errors.New("down")}
	for range 6 {
		p.ask(t, "Is it so?")
	}
	p.round(t, s)
	require.Equal(t, 3, s.calls)
}

// TestFaultsBetween: a letter that is taken shows that the server is up: only faults one
// after the other end a round.
func TestFaultsBetween(t *testing.T) {
	p := newPost(t, at("2026-01-20", 9), map[string]string{"ada": letters.AtOnce})
	for range 7 {
		p.ask(t, "Is it so?")
	}
	_, err := letters.In(p.Office).Write(context.Background(), officetest.Operator, places)
	require.NoError(t, err)
	calls := 0
	n, err := letters.In(p.Office).Deliver(context.Background(), officetest.Operator, func(context.Context, string, string, string, string, string, string, []letters.Enclosure) error {
		if calls++; calls == 3 || calls == 6 {
			return nil
		}
		return errors.New("no such reader")
	})
	require.NoError(t, err)
	require.Equal(t, []int{7, 2}, []int{calls, n})
}

// TestBegin: beside a server letters are written and sent by themselves, and stopping
// waits for none that hangs.
func TestBegin(t *testing.T) {
	p := newPost(t, at("2026-01-20", 9), map[string]string{"ada": letters.AtOnce})
	p.ask(t, "Is it so?")
	called := make(chan struct{})
	hang := func(ctx context.Context, _, _, _, _, _, _ string, _ []letters.Enclosure) error {
		close(called)
		<-ctx.Done()
		return ctx.Err()
	}
	stop := letters.In(p.Office).Begin(context.Background(), officetest.Operator, places, hang, slog.New(slog.NewTextHandler(io.Discard, nil)))
	<-called
	stop()
	s := new(server)
	p.round(t, s)
	require.Len(t, s.took, 1, "what was not taken is tried again after a start")
}

func TestWishes(t *testing.T) {
	ctx := context.Background()
	p := newPost(t, at("2026-01-20", 9), nil)
	room := letters.In(p.Office)
	for _, w := range []letters.Wish{{"no address", letters.AtOnce}, {"Ada <ada@office.example>", letters.AtOnce}, {"ada@office.example", "hourly"}, {"a@b\r\nBcc: all@office.example", letters.AtOnce}} {
		require.ErrorIs(t, room.SetWish(ctx, p.who["ada"], w), office.ErrRefused, w.Address)
	}
	require.NoError(t, room.SetWish(ctx, p.who["ada"], letters.Wish{Address: " ada@office.example ", Letters: letters.Daily}))
	w, err := room.WishOf(ctx, p.who["ada"])
	require.NoError(t, err)
	require.Equal(t, letters.Wish{Address: "ada@office.example", Letters: letters.Daily}, w)
	require.NoError(t, room.SetWish(ctx, p.who["ada"], letters.Wish{Letters: letters.None}), "none at all")
	address := func(n int) letters.Wish { // of n bytes
		const host = "@office.example"
		return letters.Wish{Address: strings.Repeat("a", n-len(host)) + host, Letters: letters.AtOnce}
	}
	require.NoError(t, room.SetWish(ctx, p.who["ada"], address(254)))
	require.ErrorIs(t, room.SetWish(ctx, p.who["ada"], address(255)), office.ErrRefused, "longer than any mail address is")
}

// TestRemindDays: the office sets them; what is no day is refused, and none is no reminder.
func TestRemindDays(t *testing.T) {
	ctx := context.Background()
	p := newPost(t, at("2026-02-04", 9), map[string]string{"ada": letters.AtOnce})
	room := letters.In(p.Office)
	seen := officetest.Moment(t, p.Office, office.Ask{}).Revision()
	require.EqualError(t, room.Remind(ctx, officetest.Operator, seen, "soon", ""), `Before: "soon" is no number of days from 0 to 60; write some with blanks between them, such as 1 4, or none.`)
	require.Error(t, room.Remind(ctx, officetest.Operator, seen, "61", ""))
	require.Error(t, room.Remind(ctx, p.who["ada"], seen, "1", ""), "a lead sets none")
	require.NoError(t, room.Remind(ctx, officetest.Operator, seen, " 3  5 ", ""))
	log, err := room.Log(ctx, officetest.Operator)
	require.NoError(t, err)
	require.Equal(t, []string{"3 5", ""}, []string{log.Before, log.After})
	s := new(server)
	p.round(t, s) // one day after what is due, which no day is set for any more
	require.Empty(t, s.took)
}
