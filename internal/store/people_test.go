package store

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// person admits an account with a password set.
func person(t *testing.T, s *Store, login, role string) Account {
	t.Helper()
	id, err := s.ChangeAccount(
		ctx,
		&AccountChange{
			At:      5,
			Actor:   "me",
			What:    "invited",
			Account: Account{Login: login, Name: "The " + login, Role: role, Password: "h"},
		},
	)
	require.NoError(t, err)
	a, err := s.AccountBy(ctx, id, "")
	require.NoError(t, err)
	return *a
}

func project(id int64, code string) RecordChange {
	row := portfolio.Row{ID: id, Fields: make([]portfolio.Field, len(record.Projects.Columns))}
	row.Fields[0] = portfolio.Field{Said: portfolio.Value, Text: code}
	return RecordChange{Table: record.Projects.Kind, After: row}
}

// TestAccounts: a change is written whole with its event, on the account as it was
// seen, and never leaves nobody to administer.
func TestAccounts(t *testing.T) {
	s := open(t, temp(t))
	_, err := s.Commit(ctx, &Batch{Records: []RecordChange{project(1, "A"), project(2, "B")}})
	require.NoError(t, err)
	una, ada := person(t, s, "una", "administrator"), person(t, s, "ada", "lead")
	_, err = s.ChangeAccount(ctx, &AccountChange{Account: Account{Login: "una", Name: "x", Role: "lead"}})
	require.ErrorIs(t, err, ErrTaken)

	was := ada
	ada.Name, ada.Disabled = "Ada B.", true
	_, err = s.ChangeAccount(
		ctx,
		&AccountChange{At: 7, Actor: "una", What: "disabled", Account: ada, Was: was, Projects: []int64{1, 2, 2}},
	)
	require.NoError(t, err)
	_, err = s.ChangeAccount(ctx, &AccountChange{What: "again", Account: ada, Was: was})
	require.ErrorIs(t, err, ErrMoved, "it is not as it was seen")
	now, err := s.AccountBy(ctx, 0, "ada")
	require.NoError(t, err)
	require.Equal(t, &ada, now)
	of, err := s.ProjectsOf(ctx, ada.ID)
	require.NoError(t, err)
	require.Equal(t, []int64{1, 2}, of)
	all, err := s.AccountProjects(ctx)
	require.NoError(t, err)
	require.Equal(t, map[int64][]int64{ada.ID: {1, 2}}, all)
	nobody, err := s.AccountBy(ctx, 99, "")
	require.NoError(t, err)
	require.Nil(t, nobody)
	nobody, err = s.AccountBy(ctx, 0, "eve")
	require.NoError(t, err)
	require.Nil(t, nobody)

	for _, lost := range []func(a Account) Account{
		func(a Account) Account { a.Disabled = true; return a },
		func(a Account) Account { a.Role = "lead"; return a },
		func(a Account) Account { a.Password = ""; return a },
	} {
		_, err = s.ChangeAccount(ctx, &AccountChange{What: "lost", Account: lost(una), Was: una})
		require.ErrorIs(t, err, ErrNobodyLeft)
	}
	second := person(t, s, "second", "administrator")
	gone := una
	gone.Disabled = true
	_, err = s.ChangeAccount(ctx, &AccountChange{What: "disabled", Account: gone, Was: una})
	require.NoError(t, err, "another is left")
	renamed := second
	renamed.Name = "Other"
	_, err = s.ChangeAccount(ctx, &AccountChange{What: "renamed", Account: renamed, Was: second})
	require.NoError(t, err)

	list, err := s.Accounts(ctx)
	require.NoError(t, err)
	require.Len(t, list, 3)
	require.Equal(t, "Ada B.", list[0].Name, "by name")
	events, err := s.AccountEvents(ctx, 3)
	require.NoError(t, err)
	require.Equal(
		t,
		[]string{"renamed", "disabled", "invited"},
		[]string{events[0].What, events[1].What, events[2].What},
		"the last first, none of what failed",
	)
}

// TestPassesAndSessions: a one-time code is good once and until it expires;
// sessions end one by one, all but one, and by themselves.
func TestPassesAndSessions(t *testing.T) {
	s := open(t, temp(t))
	require.NoError(t, s.KeepFirstPass(ctx, []byte("first"), 100))
	require.NoError(t, s.KeepFirstPass(ctx, []byte("anew"), 100))
	for _, c := range []struct {
		code string
		at   int64
		ok   bool
	}{{"first", 50, false}, {"anew", 99, true}, {"anew", 100, false}, {"none", 1, false}} {
		account, ok, err := s.Pass(ctx, []byte(c.code), c.at)
		require.NoError(t, err)
		require.Equal(t, c.ok, ok, "%s at %d", c.code, c.at)
		require.Zero(t, account, "the first administrator has no account yet, and nobody has one by a code that is not good")
	}
	ada := person(t, s, "ada", "lead")
	reset := ada
	reset.Password = ""
	_, err := s.ChangeAccount(
		ctx,
		&AccountChange{At: 10, What: "reset", Account: reset, Was: ada, Pass: []byte("code"), Expires: 100},
	)
	require.NoError(t, err)
	id, ok, err := s.Pass(ctx, []byte("code"), 20)
	require.NoError(t, err)
	require.True(t, ok)
	require.Equal(t, ada.ID, id)
	entered := reset
	entered.Password = "new"
	_, err = s.ChangeAccount(
		ctx,
		&AccountChange{At: 30, What: "entered", Account: entered, Was: reset, Spent: []byte("code")},
	)
	require.NoError(t, err)
	_, err = s.ChangeAccount(
		ctx,
		&AccountChange{At: 31, What: "again", Account: entered, Was: entered, Spent: []byte("code")},
	)
	require.ErrorIs(t, err, ErrSpent)

	st := s.Sessions()
	for _, key := range []string{"a", "b", "c"} {
		require.NoError(t, st.Set(key, []byte("v"+key), time.Hour))
		require.NoError(t, s.ClaimSession(ctx, key, ada.ID, "browser "+key, time.Now().UnixMilli()))
	}
	require.NoError(t, st.Set("old", []byte("x"), -time.Hour))
	v, err := st.Get("old")
	require.NoError(t, err)
	require.Nil(t, v, "it has expired")
	require.NoError(t, st.Set("a", []byte("again"), time.Hour))
	v, err = st.Get("a")
	require.NoError(t, err)
	require.Equal(t, "again", string(v))
	of := func() (out []string) {
		list, err := s.SessionsOf(ctx, ada.ID, time.Now().UnixMilli())
		require.NoError(t, err)
		for _, x := range list {
			out = append(out, strings.TrimPrefix(x.Agent, "browser "))
		}
		return out
	}
	require.ElementsMatch(t, []string{"a", "b", "c"}, of())
	require.NoError(t, s.EndSessions(ctx, ada.ID, SessionHash("b"), nil))
	require.ElementsMatch(t, []string{"a", "c"}, of())
	require.NoError(t, s.EndSessions(ctx, ada.ID, nil, SessionHash("c")))
	require.Equal(t, []string{"c"}, of(), "all but the one in use")
	require.NoError(t, st.Delete("c"))
	require.Empty(t, of())
	require.NoError(t, st.Set("d", []byte("x"), time.Hour))
	require.NoError(t, st.Reset())
	v, err = st.Get("d")
	require.NoError(t, err)
	require.Nil(t, v)
	require.NoError(t, st.Close())
	signed := entered
	require.NoError(t, st.Set("e", []byte("x"), time.Hour))
	require.NoError(t, s.ClaimSession(ctx, "e", ada.ID, "browser e", time.Now().UnixMilli()))
	_, err = s.ChangeAccount(ctx, &AccountChange{What: "out", Account: signed, Was: entered, SignOut: true})
	require.NoError(t, err)
	require.Empty(t, of())
}

// TestViews: each person's own and what is shared; one of them may be the usual.
func TestViews(t *testing.T) {
	s := open(t, temp(t))
	ada, bea := person(t, s, "ada", "lead"), person(t, s, "bea", "analyst")
	mine, _, err := s.SaveView(ctx, View{Account: ada.ID, Name: "Mine", Query: "standing=act"}, "")
	require.NoError(t, err)
	ours, _, err := s.SaveView(ctx, View{Account: bea.ID, Name: "Ours", Query: "lead=Ada", Shared: true}, "")
	require.NoError(t, err)
	_, _, err = s.SaveView(ctx, View{Account: bea.ID, Name: "Hers", Query: "x"}, "")
	require.NoError(t, err)
	names := func(account int64) (out []string) {
		list, err := s.Views(ctx, account)
		require.NoError(t, err)
		for _, v := range list {
			name := v.Name
			if v.Default {
				name += "*"
			}
			out = append(out, name)
		}
		return out
	}
	require.ElementsMatch(t, []string{"Mine", "Ours"}, names(ada.ID))
	require.ElementsMatch(t, []string{"Hers", "Ours"}, names(bea.ID))
	require.NoError(t, s.SetDefaultView(ctx, ada.ID, ours))
	require.ElementsMatch(t, []string{"Mine", "Ours*"}, names(ada.ID))
	require.ElementsMatch(t, []string{"Hers", "Ours"}, names(bea.ID), "the usual of one is not that of another")
	id, query, err := s.DefaultView(ctx, ada.ID)
	require.NoError(t, err)
	require.Equal(t, ours, id)
	require.Equal(t, "lead=Ada", query)
	ok, err := s.DropView(ctx, ada.ID, ours)
	require.NoError(t, err)
	require.False(t, ok, "it is not hers")
	ok, err = s.DropView(ctx, ada.ID, mine)
	require.NoError(t, err)
	require.True(t, ok)
	require.Equal(t, []string{"Ours*"}, names(ada.ID))
}

// TestMappingsWordsAndDrafts: every version of a mapping is kept; a draft goes with
// the contents that nothing else refers to.
func TestMappingsWordsAndDrafts(t *testing.T) {
	s := open(t, temp(t))
	id, err := s.SaveMapping(ctx, Mapping{Name: "Yard", Look: "a|b", Body: "{1}", At: 1, Actor: "me"})
	require.NoError(t, err)
	other, err := s.SaveMapping(ctx, Mapping{Name: "Bank", Look: "c", Body: "{2}"})
	require.NoError(t, err)
	require.NotEqual(t, id, other)
	again, err := s.SaveMapping(ctx, Mapping{ID: id, Name: "Yard", Look: "a|b", Body: "{3}"})
	require.NoError(t, err)
	require.Equal(t, id, again)
	list, err := s.Mappings(ctx)
	require.NoError(t, err)
	require.Equal(t, []string{"Bank", "Yard"}, []string{list[0].Name, list[1].Name})
	require.Equal(t, 2, list[1].Version)
	require.Equal(t, "{3}", list[1].Body)
	versions, err := s.MappingVersions(ctx, id)
	require.NoError(t, err)
	require.Equal(t, []int{2, 1}, []int{versions[0].Version, versions[1].Version})
	_, err = s.SaveMapping(ctx, Mapping{ID: other, Name: "Bank", Look: "c"})
	require.NoError(t, err)
	list, err = s.Mappings(ctx)
	require.NoError(t, err)
	require.Len(t, list, 1, "one without a body was taken away")

	require.NoError(t, s.SaveWord(ctx, Word{Word: "Vorhaben", Col: "project", Actor: "me"}))
	require.NoError(t, s.SaveWord(ctx, Word{Word: "Vorhaben", Col: "programme", Actor: "me"}))
	require.NoError(t, s.SaveWord(ctx, Word{Word: "Betrag", Col: "amount", Actor: "me"}))
	words, err := s.Words(ctx)
	require.NoError(t, err)
	require.Equal(
		t,
		[]string{"Betrag amount", "Vorhaben programme"},
		[]string{words[0].Word + " " + words[0].Col, words[1].Word + " " + words[1].Col},
	)
	require.NoError(t, s.SaveWord(ctx, Word{Word: "Betrag"}))
	words, err = s.Words(ctx)
	require.NoError(t, err)
	require.Len(t, words, 1)

	shared := DraftFile{Name: "b.csv", Hash: [32]byte{2}, Body: []byte("shared")}
	one, err := s.SaveDraft(
		ctx,
		Draft{
			Account: 3,
			Actor:   "Ada",
			At:      9,
			Answers: "{}",
			Files:   []DraftFile{{Name: "a.csv", Hash: [32]byte{1}, Body: []byte("alone")}, shared},
		},
	)
	require.NoError(t, err)
	two, err := s.SaveDraft(ctx, Draft{Account: 4, Actor: "Bea", Answers: "{}", Files: []DraftFile{shared}})
	require.NoError(t, err)
	require.NoError(t, s.SetAnswers(ctx, one, `{"whole":true}`))
	drafts, err := s.Drafts(ctx)
	require.NoError(t, err)
	require.Equal(t, []int64{two, one}, []int64{drafts[0].ID, drafts[1].ID})
	require.Equal(t, "a.csv", drafts[1].Files[0].Name)
	d, err := s.DraftOf(ctx, one)
	require.NoError(t, err)
	require.Equal(t, `{"whole":true}`, d.Answers)
	require.Equal(t, "alone", string(d.Files[0].Body))
	require.Equal(t, shared, d.Files[1])
	require.NoError(t, s.DropDraft(ctx, one))
	d, err = s.DraftOf(ctx, one)
	require.NoError(t, err)
	require.Nil(t, d)
	d, err = s.DraftOf(ctx, two)
	require.NoError(t, err)
	require.Equal(t, "shared", string(d.Files[0].Body))
	var contents int
	require.NoError(t, s.readers.GetContext(ctx, &contents, "SELECT count(*) FROM content"))
	require.Equal(t, 1, contents)
}

// TestBriefs: what was made is read to the byte, and what was altered is told.
func TestBriefs(t *testing.T) {
	s := open(t, temp(t))
	body := []byte(strings.Repeat("page ", 200))
	id, err := s.SaveBrief(
		ctx,
		Brief{Title: "October", Spec: "{}", Period: 24321, Hash: []byte{1}, At: 8, Actor: "Ines", Leaves: 3},
		map[string][]byte{"pdf": body, "html": []byte("h")},
	)
	require.NoError(t, err)
	list, err := s.Briefs(ctx)
	require.NoError(t, err)
	require.Len(t, list, 1)
	b, err := s.BriefOf(ctx, id)
	require.NoError(t, err)
	require.Equal(t, "October", b.Title)
	require.Equal(t, 3, b.Leaves)
	none, err := s.BriefOf(ctx, 99)
	require.NoError(t, err)
	require.Nil(t, none)
	got, err := s.BriefForm(ctx, id, "pdf")
	require.NoError(t, err)
	require.Equal(t, body, got)
	got, err = s.BriefForm(ctx, id, "xlsx")
	require.NoError(t, err)
	require.Nil(t, got)
	require.NoError(t, s.WithdrawBrief(ctx, id, "a figure was wrong", "Ines", 9))
	require.NoError(t, s.WithdrawBrief(ctx, id, "again", "Tor", 10))
	b, err = s.BriefOf(ctx, id)
	require.NoError(t, err)
	require.Equal(t, "a figure was wrong", b.Withdrawn.String, "the first reason stays")
	_, err = s.writer.Exec("UPDATE brief_form SET body = x'28b52ffd00' WHERE form = 'html'")
	require.NoError(t, err)
	_, err = s.BriefForm(ctx, id, "html")
	require.ErrorIs(t, err, ErrDamaged)
	_, err = s.writer.Exec("UPDATE brief_form SET sum = x'00' WHERE form = 'pdf'")
	require.NoError(t, err)
	_, err = s.BriefForm(ctx, id, "pdf")
	require.ErrorIs(t, err, ErrDamaged, "it can be read, and is not what was made")
}
