package asking

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/core/thread"
	"turret/internal/office"
	"turret/internal/record"
	"turret/internal/right"
	"turret/internal/store"
)

// Thread is a question with its answers.
type Thread struct {
	Project, Name string // code and name
	Question      string // its code within the project
	About         About
	Period        calendar.Period // zero: of no month
	PeriodName    string
	Said          []Saying // the question first
	ToName        string   // whom it is put to
	WaitsFor      string   // by name; "" where it is closed
	Since         calendar.Date
	Closed        bool
	Mine          bool // it waits for who reads it
	MayClose      bool
	States        bool // who reads may state what it is about
}

// Saying is a question, or what was answered.
type Saying struct {
	By   string // name
	On   calendar.Date
	Text string
}

// people are those who can ask and be asked.
type people struct {
	by       map[string]*store.Account // by sign-in name, in small letters
	accounts []store.Account
	leads    map[int64][]string // names of who leads a project, by its id
}

func (o Room) people(ctx context.Context) (*people, error) {
	list, err := o.Store().Accounts(ctx)
	if err != nil {
		return nil, err
	}
	projects, err := o.Store().AccountProjects(ctx)
	if err != nil {
		return nil, err
	}
	p := &people{by: make(map[string]*store.Account), accounts: list, leads: make(map[int64][]string)}
	for i := range list {
		x := &list[i]
		p.by[strings.ToLower(x.Login)] = x
		if right.Role(x.Role) == right.Lead && !x.Disabled {
			for _, id := range projects[x.ID] {
				p.leads[id] = append(p.leads[id], x.Name)
			}
		}
	}
	return p, nil
}

// name is what someone is called who signs in so; the sign-in name of those who are gone.
func (p *people) name(login string) string {
	if x := p.by[strings.ToLower(login)]; x != nil {
		return x.Name
	}
	return cmp.Or(login, "the command line")
}

// called names whom a question is put to.
func (p *people) called(to string, project *portfolio.Project) string {
	switch to {
	case thread.Office:
		return "the portfolio office"
	case thread.Leads:
		if list := p.leads[project.ID]; len(list) > 0 {
			return strings.Join(list, ", ")
		}
		if project.Lead != "" {
			return project.Lead + ", who has no account"
		}
		return "whoever leads the project"
	}
	return p.name(to)
}

// Person is an actor as one who looks at the threads of a project.
func Person(a right.Actor, project int64) thread.Person {
	return thread.Person{Login: strings.ToLower(a.Login), Leads: a.Concerns(project), Office: right.May(a, right.Answer)}
}

// turnOf gives the turns of a question, with who said something to it; files may write
// sign-in names in capitals.
func turnOf(q *portfolio.Row, replies []*portfolio.Row) thread.Thread {
	t := thread.Thread{
		By: strings.ToLower(record.Questions.By.Of(q)), To: strings.ToLower(record.Questions.To.Of(q)), Closed: record.Questions.State.Or(q) == "closed",
	}
	for _, r := range replies {
		t.Spoke = append(t.Spoke, strings.ToLower(record.Replies.By.Of(r)))
	}
	return t
}

// key tells a question from others.
type key struct {
	project  int64
	question string
}

// replies are the answers by question, in their order.
func replies(s *book.Snapshot) map[key][]*portfolio.Row {
	out := make(map[key][]*portfolio.Row)
	rows := s.Records.Of(record.Replies.Kind)
	for i := range rows {
		k := key{record.Replies.Project.ID(&rows[i]), record.Replies.Question.Of(&rows[i])}
		out[k] = append(out[k], &rows[i])
	}
	for _, list := range out {
		slices.SortFunc(list, func(a, b *portfolio.Row) int {
			return cmp.Compare(record.Replies.Reply.Of(a), record.Replies.Reply.Of(b))
		})
	}
	return out
}

// Which threads are asked for.
type Which struct {
	Project string // of one project; "": all
	Mine    bool   // those that wait for who reads
	Open    bool   // those that are not closed
}

// Threads lists questions: those that wait for who reads first, then the open ones, each
// with the longest wait first, then the closed ones, the last first.
func (o Room) Threads(ctx context.Context, a right.Actor, w Which) ([]Thread, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	s, err := o.Sees(ctx, a)
	if err != nil {
		return nil, err
	}
	rows := s.Records.Of(record.Questions.Kind)
	if len(rows) == 0 {
		return nil, nil
	}
	if _, err := s.Filled(ctx); err != nil { // for the titles of what is asked about
		return nil, err
	}
	who, err := o.people(ctx)
	if err != nil {
		return nil, err
	}
	said := replies(s)
	var out []Thread
	for i := range rows {
		q := &rows[i]
		p := s.ByID(record.Questions.Project.ID(q))
		if p == nil || !a.Reads(p.ID) || w.Project != "" && p.Code != w.Project {
			continue
		}
		answers := said[key{p.ID, record.Questions.Question.Of(q)}]
		turn := turnOf(q, answers)
		if w.Open && turn.Closed || w.Mine && !turn.Mine(Person(a, p.ID)) {
			continue
		}
		out = append(out, threadOf(a, s, who, p, q, answers))
	}
	slices.SortStableFunc(out, order)
	return out, nil
}

func order(a, b Thread) int {
	rank := func(t *Thread) int {
		switch {
		case t.Mine:
			return 0
		case !t.Closed:
			return 1
		}
		return 2
	}
	x, y := rank(&a), rank(&b)
	since := cmp.Compare(a.Since, b.Since)
	if x == 2 {
		since = -since
	}
	return cmp.Or(x-y, since, cmp.Compare(a.Project, b.Project), cmp.Compare(a.Question, b.Question))
}

func threadOf(a right.Actor, s *book.Snapshot, who *people, p *portfolio.Project, q *portfolio.Row, answers []*portfolio.Row) Thread {
	turn, me := turnOf(q, answers), Person(a, p.ID)
	t := Thread{
		Project: p.Code, Name: p.Name, Question: record.Questions.Question.Of(q),
		About: aboutOf(s, p, record.Questions.About.Or(q)), Period: record.Questions.Period.Of(q),
		ToName: who.called(turn.To, p), Closed: turn.Closed, Mine: turn.Mine(me), MayClose: right.May(a, right.Ask) && turn.MayClose(me),
	}
	t.States = slices.Contains(record.Owable, t.About.Place) && right.CheckState(a, p.ID, t.About.Place, int(t.Period)) == nil
	if t.Period != 0 {
		t.PeriodName = s.Office.Periods.Name(t.Period)
	}
	t.Said = append(t.Said, Saying{who.name(turn.By), record.Questions.On.Of(q), record.Questions.Text.Of(q)})
	for _, r := range answers {
		t.Said = append(t.Said, Saying{who.name(record.Replies.By.Of(r)), record.Replies.On.Of(r), record.Replies.Text.Of(r)})
	}
	t.Since = t.Said[len(t.Said)-1].On
	switch turn.Turn() {
	case thread.Asker:
		t.WaitsFor = who.name(turn.By)
	case thread.Asked:
		t.WaitsFor = t.ToName
	}
	return t
}

// Thread finds one question; nil where there is none.
func (o Room) Thread(ctx context.Context, a right.Actor, project, question string) (*Thread, error) {
	list, err := o.Threads(ctx, a, Which{Project: project})
	for i := range list {
		if list[i].Question == question {
			return &list[i], nil
		}
	}
	return nil, err
}

// Waiting counts the questions that wait for an actor.
func (o Room) Waiting(a right.Actor, m *office.Moment) (n int) {
	s := m.Snapshot()
	rows := s.Records.Of(record.Questions.Kind)
	if len(rows) == 0 {
		return 0
	}
	said := replies(s)
	for i := range rows {
		p := record.Questions.Project.ID(&rows[i])
		if turnOf(&rows[i], said[key{p, record.Questions.Question.Of(&rows[i])}]).Mine(Person(a, p)) {
			n++
		}
	}
	return n
}

// Asked are the open questions about a place of projects, such as their words, for a moment's
// period, that wait for whom they were put to: their codes by the project's.
func (o Room) Asked(m *office.Moment, place string) map[string][]string {
	s := m.Snapshot()
	out := make(map[string][]string)
	rows := s.Records.Of(record.Questions.Kind)
	if len(rows) == 0 {
		return out
	}
	said := replies(s)
	for i := range rows {
		q := &rows[i]
		p := s.ByID(record.Questions.Project.ID(q))
		if p == nil || record.Questions.Period.Of(q) != m.Asked.Number || record.Questions.About.Of(q) != place {
			continue
		}
		code := record.Questions.Question.Of(q)
		if turnOf(q, said[key{p.ID, code}]).Turn() == thread.Asked {
			out[p.Code] = append(out[p.Code], code)
		}
	}
	return out
}

// Done answers the open questions about a place of a project that wait for an actor, where what
// they asked for was done; it tells which.
func (o Room) Done(ctx context.Context, a right.Actor, m *office.Moment, project, place, text string) (out []string, err error) {
	for _, code := range o.Asked(m, place)[project] {
		t, err := o.Thread(ctx, a, project, code)
		if err != nil {
			return out, err
		}
		if t == nil || !t.Mine {
			continue
		}
		if err := o.Answer(ctx, a, project, code, text); err != nil {
			return out, err
		}
		out = append(out, code)
	}
	return out, nil
}
