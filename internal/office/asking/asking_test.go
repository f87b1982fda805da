package asking_test

import (
	"context"
	"fmt"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
	"turret/internal/office/account"
	"turret/internal/office/asking"
	"turret/internal/office/history"
	"turret/internal/office/officetest"
	"turret/internal/right"
)

// people are an office of two projects with an analyst, a lead of K1 and an executive.
func people(t *testing.T) (o *office.Office, who map[string]right.Actor) {
	t.Helper()
	ctx := context.Background()
	o = officetest.CheckedOffice(t)
	who = make(map[string]right.Actor)
	for login, role := range map[string]right.Role{"ines": right.Analyst, "ada": right.Lead, "bo": right.Lead, "tor": right.Executive} {
		x := account.Account{Login: login, Name: strings.ToUpper(login), Role: role}
		if login == "ada" {
			x.Projects = []string{"K1"}
		}
		code, err := account.In(o).Invite(ctx, officetest.Operator, x)
		require.NoError(t, err)
		id, err := account.In(o).Enter(ctx, code, "", "", "tide tables and lights")
		require.NoError(t, err)
		who[login], _, err = account.In(o).ActorOf(ctx, id)
		require.NoError(t, err)
	}
	return o, who
}

// waiting lists the questions that wait for someone, as project and code.
func waiting(t *testing.T, o *office.Office, a right.Actor) (out []string) {
	t.Helper()
	list, err := asking.In(o).Threads(context.Background(), a, asking.Which{Mine: true})
	require.NoError(t, err)
	for _, x := range list {
		out = append(out, x.Project+" "+x.Question)
	}
	require.Len(t, out, asking.In(o).Waiting(a, officetest.Moment(t, o, office.Ask{})), "what the bar counts")
	return out
}

// TestAskAnswerClose goes through the life of a question: it waits for the lead, then for
// who asked, and is closed and opened by those who may.
func TestAskAnswerClose(t *testing.T) {
	ctx := context.Background()
	o, who := people(t)
	room, m := asking.In(o), officetest.Moment(t, o, office.Ask{})
	code, err := room.Ask(ctx, who["ines"], m, asking.Question{Project: "K1", About: "figure eac_stated", Text: " Why so much?\r\nTell me. "})
	require.NoError(t, err)
	require.Equal(t, "Q1", code)
	require.Equal(t, []string{"K1 Q1"}, waiting(t, o, who["ada"]))
	require.Empty(t, waiting(t, o, who["ines"]))
	require.Empty(t, waiting(t, o, who["bo"]), "another project's lead")

	q, err := room.Thread(ctx, who["tor"], "K1", "Q1")
	require.NoError(t, err)
	require.Equal(t, "Why so much?\nTell me.", q.Said[0].Text)
	require.Equal(t, "INES", q.Said[0].By)
	require.Equal(t, "ADA", q.WaitsFor)
	require.Equal(t, m.Asked.Number, q.Period)
	require.False(t, q.MayClose, "who only reads it")
	require.Equal(t, "Stated outlook", q.About.Title)

	require.NoError(t, room.Answer(ctx, who["ada"], "K1", "Q1", "Steel."))
	require.Equal(t, []string{"K1 Q1"}, waiting(t, o, who["ines"]))
	require.Empty(t, waiting(t, o, who["ada"]))
	require.NoError(t, room.Answer(ctx, who["ines"], "K1", "Q1", "How much of it?"))
	require.Equal(t, []string{"K1 Q1"}, waiting(t, o, who["ada"]))

	require.ErrorIs(t, room.Settle(ctx, who["ada"], "K1", "Q1", "", true), office.ErrRefused, "who is asked does not close it")
	require.NoError(t, room.Settle(ctx, who["ines"], "K1", "Q1", "Enough.", true))
	require.Empty(t, waiting(t, o, who["ada"]))
	q, err = room.Thread(ctx, who["ines"], "K1", "Q1")
	require.NoError(t, err)
	require.True(t, q.Closed)
	require.Equal(t, "", q.WaitsFor)
	require.Equal(t, "Enough.", q.Said[3].Text)
	require.ErrorContains(t, room.Answer(ctx, who["ada"], "K1", "Q1", "Late"), "closed meanwhile")
	require.NoError(t, room.Settle(ctx, who["ines"], "K1", "Q1", "", false))
	require.Empty(t, waiting(t, o, who["ines"]))
	require.Equal(t, []string{"K1 Q1"}, waiting(t, o, who["ada"]), "who asked spoke last")

	h, err := history.In(o).History(ctx, who["ines"], officetest.Moment(t, o, office.Ask{}), history.Ask{Project: "K1", Table: "replies"})
	require.NoError(t, err)
	require.Len(t, h.Batches, 3, "all of it is in the project's history")
}

// TestWhatCannotBeAsked: nothing is written where a question says nothing, is put to
// nobody, or is about what is not there.
func TestWhatCannotBeAsked(t *testing.T) {
	ctx := context.Background()
	o, who := people(t)
	m := officetest.Moment(t, o, office.Ask{})
	before := officetest.LastBatch(t, o)
	for name, c := range map[string]struct {
		q   asking.Question
		why string
	}{
		"nothing":            {asking.Question{Project: "K1", Text: " \n "}, "Text: write something first."},
		"too long":           {asking.Question{Project: "K1", Text: strings.Repeat("a", 4001)}, "Text: it has 4001 characters; 4000 is the most, so part it."},
		"nobody":             {asking.Question{Project: "K1", To: "eve", Text: "Who?"}, `To: nobody who can answer signs in as "eve"; choose one of the list.`},
		"oneself":            {asking.Question{Project: "K1", To: "ines", Text: "Who?"}, `To: nobody who can answer signs in as "ines"; choose one of the list.`},
		"no project":         {asking.Question{Project: "K9", Text: "Who?"}, "There is no project K9 any more, so nothing was asked."},
		"no figure":          {asking.Question{Project: "K1", About: "figure luck", Text: "How?"}, "About: K1 has no luck; choose what you ask about."},
		"no activity":        {asking.Question{Project: "K1", About: "activity Z99", Text: "How?"}, "About: K1 has no activity Z99; choose what you ask about."},
		"no such place":      {asking.Question{Project: "K1", About: "weather", Text: "How?"}, `About: "weather" is nothing that a question can be about; there are project, progress, forecast, commitment, risks, narratives, figure, finding, activity, risk, the last four with a name behind.`},
		"a figure, nameless": {asking.Question{Project: "K1", About: "figure", Text: "How?"}, `About: "figure" is nothing that a question can be about; there are project, progress, forecast, commitment, risks, narratives, figure, finding, activity, risk, the last four with a name behind.`},
	} {
		t.Run(name, func(t *testing.T) {
			_, err := asking.In(o).Ask(ctx, who["ines"], m, c.q)
			require.ErrorIs(t, err, office.ErrRefused)
			require.EqualError(t, err, c.why)
		})
	}
	nobody := right.Actor{Name: "Nobody"}
	_, err := asking.In(o).Ask(ctx, nobody, m, asking.Question{Project: "K1", Text: "Who?"})
	require.Error(t, err)
	require.Error(t, asking.In(o).Answer(ctx, nobody, "K1", "Q1", "I"))
	require.Error(t, asking.In(o).Settle(ctx, nobody, "K1", "Q1", "", true))
	require.ErrorContains(t, asking.In(o).Answer(ctx, who["ines"], "K1", "Q7", "I"), "There is no question Q7 of K1 any more")
	require.Equal(t, before, officetest.LastBatch(t, o), "nothing was written")
}

// TestManyAnswerAtOnce: nothing that anybody says is lost, and codes stay apart.
func TestManyAnswerAtOnce(t *testing.T) {
	ctx := context.Background()
	o, who := people(t)
	m := officetest.Moment(t, o, office.Ask{})
	_, err := asking.In(o).Ask(ctx, who["ines"], m, asking.Question{Project: "K1", Text: "First?"})
	require.NoError(t, err)
	var all sync.WaitGroup
	const each = 10
	for n := range each {
		for _, login := range []string{"ada", "ines", "tor"} {
			all.Go(func() {
				require.NoError(t, asking.In(o).Answer(ctx, who[login], "K1", "Q1", fmt.Sprintf("%s %d", login, n)))
			})
		}
		all.Go(func() {
			_, err := asking.In(o).Ask(ctx, who["tor"], m, asking.Question{Project: "K1", Text: fmt.Sprintf("More %d?", n)})
			require.NoError(t, err)
		})
	}
	all.Wait()
	list, err := asking.In(o).Threads(ctx, who["ines"], asking.Which{Project: "K1", Open: true})
	require.NoError(t, err)
	require.Len(t, list, each+1)
	said := make(map[string]bool)
	for _, x := range list {
		for _, s := range x.Said {
			said[s.Text] = true
		}
	}
	require.Len(t, said, 4*each+1)
}

// TestQuestionsTravel: what is asked leaves with an export and comes with files.
func TestQuestionsTravel(t *testing.T) {
	ctx := context.Background()
	o, who := people(t)
	officetest.GatherMap(t, o, map[string]string{
		"questions.csv": "project,question,about,text,to,state,by,on\nK1,Q7,forecast,Is it so?,Ada,open,Ines,2026-01-02\n",
		"replies.csv":   "project,question,reply,text,by,on\nK1,Q7,1,It is.,ada,2026-01-03\n",
	})
	require.Equal(t, []string{"K1 Q7"}, waiting(t, o, who["ines"]))
	code, err := asking.In(o).Ask(ctx, who["tor"], officetest.Moment(t, o, office.Ask{}), asking.Question{Project: "K1", Text: "And now?"})
	require.NoError(t, err)
	require.Equal(t, "Q8", code, "one more than the highest")
}

// TestContacts: the office, leads and sponsors of a scope, by name.
func TestContacts(t *testing.T) {
	o, who := people(t)
	officetest.GatherMap(t, o, map[string]string{"programmes.csv": "programme,name\nG,Green\n", "projects.csv": "project,name,lead,sponsor,programme\nK1,Kiosk,ADA,Edda,G\nK2,Kerb,ADA,,\n"})
	m := officetest.Moment(t, o, office.Ask{})
	list, err := asking.In(o).Contacts(context.Background(), who["tor"], m)
	require.NoError(t, err)
	require.Equal(t, asking.Contact{Name: "INES", As: "portfolio office"}, list[0])
	require.Contains(t, list, asking.Contact{Name: "ADA", As: "lead", Of: []string{"K1", "K2"}})
	require.Contains(t, list, asking.Contact{Name: "Edda", As: "sponsor", Of: []string{"K1"}})
	list, err = asking.In(o).Contacts(context.Background(), who["tor"], officetest.Moment(t, o, office.Ask{Scope: "G"}))
	require.NoError(t, err)
	require.Contains(t, list, asking.Contact{Name: "ADA", As: "lead", Of: []string{"K1"}}, "of the scope alone")
}
