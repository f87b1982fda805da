package account_test

import (
	"context"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
	"turret/internal/office/account"
	"turret/internal/office/entry"
	"turret/internal/office/officetest"
)

func TestTheFirstAdministrator(t *testing.T) {
	ctx := context.Background()
	o, wait := officetest.BareOffice(t)
	old, err := account.In(o).FirstCode(ctx, officetest.Operator)
	require.NoError(t, err)
	code, err := account.In(o).FirstCode(ctx, officetest.Operator)
	require.NoError(t, err)
	_, err = account.In(o).Greet(ctx, old)
	require.ErrorIs(t, err, office.ErrRefused, "a later code replaces it")
	w, err := account.In(o).Greet(ctx, strings.ToLower(code)+" ")
	require.NoError(t, err, "as people type it")
	require.True(t, w.First)
	_, err = account.In(o).Enter(ctx, code, "Not A Login", "N", officetest.GoodPassword)
	require.ErrorIs(t, err, office.ErrRefused)
	_, err = account.In(o).Enter(ctx, code, "una", "", officetest.GoodPassword)
	require.ErrorIs(t, err, office.ErrRefused)
	id, err := account.In(o).Enter(ctx, code, "Una", "Una Calder", officetest.GoodPassword)
	require.NoError(t, err, "a refused form does not use the code up")
	_, err = account.In(o).Enter(ctx, code, "two", "Two", officetest.GoodPassword)
	require.ErrorIs(t, err, office.ErrRefused, "it opens once")
	a, ok, err := account.In(o).ActorOf(ctx, id)
	require.NoError(t, err)
	require.True(t, ok)
	require.Equal(t, office.Administrator, a.Role)
	code, err = account.In(o).FirstCode(ctx, officetest.Operator)
	require.NoError(t, err)
	require.Empty(t, code, "there is an account")

	code, err = account.In(o).Invite(ctx, a, account.Account{Login: "late", Name: "Late", Role: office.Executive})
	require.NoError(t, err)
	wait(8 * 24 * time.Hour)
	_, err = account.In(o).Greet(ctx, code)
	require.ErrorIs(t, err, office.ErrRefused, "after a week")
}

func TestSigningIn(t *testing.T) {
	ctx := context.Background()
	o, _ := officetest.BareOffice(t)
	a := officetest.Admitted(t, o, "ines", office.Analyst)
	id, err := account.In(o).SignIn(ctx, " INES ", officetest.GoodPassword)
	require.NoError(t, err)
	require.Equal(t, a.Account, id)
	for _, c := range [][2]string{{"ines", officetest.GoodPassword + "!"}, {"ines", ""}, {"nobody", officetest.GoodPassword}, {"", ""}} {
		_, err := account.In(o).SignIn(ctx, c[0], c[1])
		require.ErrorIs(t, err, office.ErrRefused, c[0])
		require.NotContains(t, err.Error(), "ines", "which of the two is wrong is not told")
	}
	code, err := account.In(o).
		Invite(ctx, officetest.Operator, account.Account{Login: "waits", Name: "Waits", Role: office.Executive})
	require.NoError(t, err)
	_, err = account.In(o).SignIn(ctx, "waits", "")
	require.ErrorIs(t, err, office.ErrRefused, "no password is no way in")
	for _, p := range []string{"short", strings.Repeat("x", 300), "I am waits indeed"} {
		_, err = account.In(o).Enter(ctx, code, "", "", p)
		require.ErrorIs(t, err, office.ErrRefused, p)
	}
}

func TestChangingAccounts(t *testing.T) {
	ctx := context.Background()
	o, _ := officetest.BareOffice(t)
	r, err := entry.In(o).
		Gather(ctx, officetest.Operator, []entry.File{officetest.File("projects.csv", "project,name\nP1,One\nP2,Two\n")}, nil, entry.Options{})
	require.NoError(t, err)
	require.Empty(t, r.Refusals)
	una := officetest.Admitted(t, o, "una", office.Administrator)
	ada := officetest.Admitted(t, o, "ada", office.Lead, "P1")
	require.Len(t, ada.Projects, 1)

	_, err = account.In(o).Invite(ctx, una, account.Account{Login: "ada", Name: "Ada", Role: office.Lead})
	require.ErrorContains(t, err, "taken")
	_, err = account.In(o).Invite(ctx, una, account.Account{Login: "una2", Name: " " + strings.ToUpper(una.Name) + " ", Role: office.Executive})
	require.NoError(t, err)
	named, _, err := account.In(o).Accounts(ctx, una)
	require.NoError(t, err)
	require.Equal(t, strings.ToUpper(una.Name)+" (una2)", named[0].Name, "pages tell people apart by name")
	require.NoError(t, account.In(o).Disable(ctx, una, named[0].ID, true))
	_, err = account.In(o).
		Invite(ctx, una, account.Account{Login: "x1", Name: "X", Role: office.Lead, Projects: []string{"NOPE"}})
	require.ErrorContains(t, err, "NOPE")
	_, err = account.In(o).Invite(ctx, una, account.Account{Login: "x2", Name: "X", Role: office.Operator})
	require.ErrorContains(t, err, "role")

	for what, err := range map[string]error{
		"disable": account.In(o).Disable(ctx, una, una.Account, true),
		"role":    account.In(o).SetRole(ctx, una, una.Account, office.Executive, nil),
		"gone":    account.In(o).Disable(ctx, una, 999, true),
		"roles":   account.In(o).SetRole(ctx, una, ada.Account, "king", nil),
		"project": account.In(o).SetRole(ctx, una, ada.Account, office.Lead, []string{"P9"}),
	} {
		require.ErrorIs(t, err, office.ErrRefused, what)
	}
	_, err = account.In(o).ResetPassword(ctx, una, una.Account)
	require.ErrorIs(t, err, office.ErrRefused, "the only administrator would be shut out")

	require.NoError(t, account.In(o).SetRole(ctx, una, ada.Account, office.Lead, []string{"P1", "P2"}))
	ada, _, err = account.In(o).ActorOf(ctx, ada.Account)
	require.NoError(t, err)
	require.Len(t, ada.Projects, 2)
	require.NoError(t, account.In(o).SetRole(ctx, una, ada.Account, office.Executive, []string{"P1"}))
	ada, _, err = account.In(o).ActorOf(ctx, ada.Account)
	require.NoError(t, err)
	require.Empty(t, ada.Projects, "only leads have projects")

	_, told, err := account.In(o).Accounts(ctx, una)
	require.NoError(t, err)
	require.Equal(t, []string{"role set to executive", "role set to lead, for P1, P2"}, []string{told[0].What, told[1].What})

	require.NoError(t, account.In(o).Disable(ctx, una, ada.Account, true))
	_, ok, err := account.In(o).ActorOf(ctx, ada.Account)
	require.NoError(t, err)
	require.False(t, ok)
	_, err = account.In(o).SignIn(ctx, "ada", officetest.GoodPassword)
	require.ErrorIs(t, err, office.ErrRefused)
	require.NoError(t, account.In(o).Disable(ctx, una, ada.Account, false))
	_, err = account.In(o).SignIn(ctx, "ada", officetest.GoodPassword)
	require.NoError(t, err)
	code, err := account.In(o).ResetPassword(ctx, una, ada.Account)
	require.NoError(t, err)
	_, err = account.In(o).SignIn(ctx, "ada", officetest.GoodPassword)
	require.ErrorIs(t, err, office.ErrRefused, "the old password ends with the reset")
	require.NoError(t, account.In(o).Disable(ctx, una, ada.Account, true))
	_, err = account.In(o).Enter(ctx, code, "", "", "another password")
	require.ErrorIs(t, err, office.ErrRefused, "the code of an account that is disabled")
	require.NoError(t, account.In(o).Disable(ctx, una, ada.Account, false))
	_, err = account.In(o).Enter(ctx, code, "", "", "another password")
	require.NoError(t, err)

	list, events, err := account.In(o).Accounts(ctx, una)
	require.NoError(t, err)
	require.Len(t, list, 3)
	require.Equal(t, "password set", events[0].What)
	require.Equal(t, "ada", events[0].Account)
	for _, e := range events {
		require.NotContains(t, e.What, "argon2")
	}
}

func TestSessions(t *testing.T) {
	ctx := context.Background()
	o, _ := officetest.BareOffice(t)
	a := officetest.Admitted(t, o, "ines", office.Analyst)
	b := officetest.Admitted(t, o, "tor", office.Executive)
	keep := account.In(o).Sessions()
	for key, who := range map[string]office.Actor{"one": a, "two": a, "three": b} {
		require.NoError(t, keep.Set(key, []byte(key), time.Hour))
		require.NoError(t, account.In(o).ClaimSession(ctx, key, who.Account, strings.Repeat("agent ", 60)))
	}
	require.NoError(t, keep.Set("gone", []byte("x"), -time.Second))
	for key, want := range map[string][]byte{"one": []byte("one"), "gone": nil, "never": nil} {
		got, err := keep.Get(key)
		require.NoError(t, err)
		require.Equal(t, want, got, key)
	}
	list, err := account.In(o).OpenSessions(ctx, a, "two")
	require.NoError(t, err)
	require.Len(t, list, 2)
	other := list[0]
	if other.This {
		other = list[1]
	}
	require.ErrorIs(t, account.In(o).EndSessions(ctx, a, "not hex"), office.ErrRefused)
	require.NoError(t, account.In(o).EndSessions(ctx, b, other.ID), "nobody ends another's session")
	got, err := keep.Get("one")
	require.NoError(t, err)
	require.NotNil(t, got)
	require.NoError(t, account.In(o).EndSessions(ctx, a, other.ID))
	got, err = keep.Get("one")
	require.NoError(t, err)
	require.Nil(t, got)

	require.NoError(t, keep.Set("one", []byte("one"), time.Hour))
	require.NoError(t, account.In(o).ClaimSession(ctx, "one", a.Account, ""))
	require.ErrorIs(t, account.In(o).ChangePassword(ctx, a, "two", "wrong", "some new password"), office.ErrRefused)
	require.ErrorIs(t, account.In(o).ChangePassword(ctx, a, "two", officetest.GoodPassword, "short"), office.ErrRefused)
	require.NoError(t, account.In(o).ChangePassword(ctx, a, "two", officetest.GoodPassword, "some new password"))
	for key, stays := range map[string]bool{"one": false, "two": true, "three": true} {
		got, err := keep.Get(key)
		require.NoError(t, err)
		require.Equal(t, stays, got != nil, key)
	}
	require.NoError(t, account.In(o).EndSessions(ctx, a, ""))
	got, err = keep.Get("two")
	require.NoError(t, err)
	require.Nil(t, got)
	require.NoError(t, keep.Delete("three"))
	require.NoError(t, keep.Reset())
	require.NoError(t, keep.Close())
}

func TestViews(t *testing.T) {
	ctx := context.Background()
	o, _ := officetest.BareOffice(t)
	a, b := officetest.Admitted(t, o, "ines", office.Analyst), officetest.Admitted(t, o, "tor", office.Executive)
	own, err := account.In(o).SaveView(ctx, a, " Mine ", "standing=act", false, "")
	require.NoError(t, err)
	shared, err := account.In(o).SaveView(ctx, a, "Ours", "standing=watch", true, "")
	require.NoError(t, err)
	// The name is kept once, and only whoever saw what it keeps puts another in its place.
	mark := (&account.View{Query: "standing=act"}).Mark()
	again, err := account.In(o).SaveView(ctx, a, "Mine", "standing=steady", false, mark)
	require.NoError(t, err)
	require.Equal(t, own, again)
	var kept *account.Kept
	for _, seen := range []string{"", mark} {
		_, err = account.In(o).SaveView(ctx, a, "Mine", "standing=watch", false, seen)
		require.ErrorAs(t, err, &kept)
		require.Equal(t, "standing=steady", kept.Is.Query)
		require.ErrorContains(t, err, `You keep a view "Mine" already`)
	}
	again, err = account.In(o).SaveView(ctx, a, "Mine", "standing=steady", false, "")
	require.NoError(t, err, "it is the same")
	require.Equal(t, own, again)
	for _, name := range []string{"", strings.Repeat("x", 61)} {
		_, err = account.In(o).SaveView(ctx, a, name, "", false, "")
		require.ErrorIs(t, err, office.ErrRefused)
	}
	_, err = account.In(o).SaveView(ctx, a, "As long as may be", strings.Repeat("x", 4000), false, "")
	require.NoError(t, err)
	_, err = account.In(o).SaveView(ctx, a, "Long", strings.Repeat("x", 4001), false, "")
	require.ErrorIs(t, err, office.ErrRefused)
	_, err = account.In(o).SaveView(ctx, b, "Ours", "", true, "")
	require.ErrorAs(t, err, new(*office.Denied))
	list, err := account.In(o).Views(ctx, b)
	require.NoError(t, err)
	require.Len(t, list, 1)
	require.Equal(t, "The ines", list[0].Owner)
	require.ErrorIs(t, account.In(o).SetDefaultView(ctx, b, own), office.ErrRefused, "not theirs")
	require.NoError(t, account.In(o).SetDefaultView(ctx, b, shared))
	id, query, err := account.In(o).DefaultView(ctx, b)
	require.NoError(t, err)
	require.Equal(t, shared, id)
	require.Equal(t, "standing=watch", query)
	require.ErrorIs(t, account.In(o).DropView(ctx, b, shared), office.ErrRefused)
	_, err = account.In(o).SaveView(ctx, a, "Ours", "standing=watch", false, "")
	require.NoError(t, err)
	id, _, err = account.In(o).DefaultView(ctx, b)
	require.NoError(t, err)
	require.Zero(t, id, "it is shared no more")
	require.NoError(t, account.In(o).DropView(ctx, a, shared))
	require.NoError(t, account.In(o).SetDefaultView(ctx, a, own))
	require.NoError(t, account.In(o).SetDefaultView(ctx, a, 0))
	id, _, err = account.In(o).DefaultView(ctx, a)
	require.NoError(t, err)
	require.Zero(t, id)
}
