package office_test

import (
	"context"
	"errors"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"turret/internal/change"
	"turret/internal/office"
	"turret/internal/office/account"
	"turret/internal/office/baseline"
	"turret/internal/office/board"
	"turret/internal/office/check"
	"turret/internal/office/closing"
	"turret/internal/office/entry"
	"turret/internal/office/export"
	"turret/internal/office/history"
	"turret/internal/office/judge"
	"turret/internal/office/money"
	"turret/internal/office/period"
	"turret/internal/office/sheet"
	"turret/internal/office/structure"
	"turret/internal/office/trail"
	"turret/internal/office/weigh"
	"turret/internal/right"
)

// bareOffice makes an empty office whose clock stands still until it is moved.
func bareOffice(t *testing.T) (o *office.Office, wait func(time.Duration)) {
	t.Helper()
	o, err := office.Init(context.Background(), operator, filepath.Join(t.TempDir(), "turret.db"), office.Settings{Name: "Test", Reporting: "EUR", FiscalStart: 1})
	require.NoError(t, err)
	t.Cleanup(func() { o.Close() })
	now := time.Date(2026, 11, 2, 9, 0, 0, 0, time.UTC)
	o.SetClock(func() time.Time { return now })
	return o, func(d time.Duration) { now = now.Add(d) }
}

const goodPassword = "slack water at six"

// admitted makes an account with a password.
func admitted(t *testing.T, o *office.Office, login string, role office.Role, projects ...string) office.Actor {
	t.Helper()
	ctx := context.Background()
	code, err := account.In(o).Invite(ctx, operator, account.Account{Login: login, Name: "The " + login, Role: role, Projects: projects})
	require.NoError(t, err)
	id, err := account.In(o).Enter(ctx, code, "", "", goodPassword)
	require.NoError(t, err)
	a, ok, err := account.In(o).ActorOf(ctx, id)
	require.NoError(t, err)
	require.True(t, ok)
	return a
}

func TestTheFirstAdministrator(t *testing.T) {
	ctx := context.Background()
	o, wait := bareOffice(t)
	old, err := account.In(o).FirstCode(ctx, operator)
	require.NoError(t, err)
	code, err := account.In(o).FirstCode(ctx, operator)
	require.NoError(t, err)
	_, err = account.In(o).Greet(ctx, old)
	require.ErrorIs(t, err, office.ErrRefused, "a later code replaces it")
	w, err := account.In(o).Greet(ctx, strings.ToLower(code)+" ")
	require.NoError(t, err, "as people type it")
	require.True(t, w.First)
	_, err = account.In(o).Enter(ctx, code, "Not A Login", "N", goodPassword)
	require.ErrorIs(t, err, office.ErrRefused)
	_, err = account.In(o).Enter(ctx, code, "una", "", goodPassword)
	require.ErrorIs(t, err, office.ErrRefused)
	id, err := account.In(o).Enter(ctx, code, "Una", "Una Calder", goodPassword)
	require.NoError(t, err, "a refused form does not use the code up")
	_, err = account.In(o).Enter(ctx, code, "two", "Two", goodPassword)
	require.ErrorIs(t, err, office.ErrRefused, "it opens once")
	a, ok, err := account.In(o).ActorOf(ctx, id)
	require.NoError(t, err)
	require.True(t, ok)
	require.Equal(t, office.Administrator, a.Role)
	code, err = account.In(o).FirstCode(ctx, operator)
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
	o, _ := bareOffice(t)
	a := admitted(t, o, "ines", office.Analyst)
	id, err := account.In(o).SignIn(ctx, " INES ", goodPassword)
	require.NoError(t, err)
	require.Equal(t, a.Account, id)
	for _, c := range [][2]string{{"ines", goodPassword + "!"}, {"ines", ""}, {"nobody", goodPassword}, {"", ""}} {
		_, err := account.In(o).SignIn(ctx, c[0], c[1])
		require.ErrorIs(t, err, office.ErrRefused, c[0])
		require.NotContains(t, err.Error(), "ines", "which of the two is wrong is not told")
	}
	code, err := account.In(o).Invite(ctx, operator, account.Account{Login: "waits", Name: "Waits", Role: office.Executive})
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
	o, _ := bareOffice(t)
	r, err := entry.In(o).Gather(ctx, operator, []entry.File{file("projects.csv", "project,name\nP1,One\nP2,Two\n")}, nil, entry.Options{})
	require.NoError(t, err)
	require.Empty(t, r.Refusals)
	una := admitted(t, o, "una", office.Administrator)
	ada := admitted(t, o, "ada", office.Lead, "P1")
	require.Len(t, ada.Projects, 1)

	_, err = account.In(o).Invite(ctx, una, account.Account{Login: "ada", Name: "Ada", Role: office.Lead})
	require.ErrorContains(t, err, "taken")
	_, err = account.In(o).Invite(ctx, una, account.Account{Login: "x1", Name: "X", Role: office.Lead, Projects: []string{"NOPE"}})
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

	require.NoError(t, account.In(o).Disable(ctx, una, ada.Account, true))
	_, ok, err := account.In(o).ActorOf(ctx, ada.Account)
	require.NoError(t, err)
	require.False(t, ok)
	_, err = account.In(o).SignIn(ctx, "ada", goodPassword)
	require.ErrorIs(t, err, office.ErrRefused)
	require.NoError(t, account.In(o).Disable(ctx, una, ada.Account, false))
	_, err = account.In(o).SignIn(ctx, "ada", goodPassword)
	require.NoError(t, err)
	code, err := account.In(o).ResetPassword(ctx, una, ada.Account)
	require.NoError(t, err)
	_, err = account.In(o).SignIn(ctx, "ada", goodPassword)
	require.ErrorIs(t, err, office.ErrRefused, "the old password ends with the reset")
	_, err = account.In(o).Enter(ctx, code, "", "", "another password")
	require.NoError(t, err)

	list, events, err := account.In(o).Accounts(ctx, una)
	require.NoError(t, err)
	require.Len(t, list, 2)
	require.Equal(t, "password set", events[0].What)
	require.Equal(t, "ada", events[0].Account)
	for _, e := range events {
		require.NotContains(t, e.What, "argon2")
	}
}

func TestSessions(t *testing.T) {
	ctx := context.Background()
	o, _ := bareOffice(t)
	a := admitted(t, o, "ines", office.Analyst)
	b := admitted(t, o, "tor", office.Executive)
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
	require.ErrorIs(t, account.In(o).ChangePassword(ctx, a, "two", goodPassword, "short"), office.ErrRefused)
	require.NoError(t, account.In(o).ChangePassword(ctx, a, "two", goodPassword, "some new password"))
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
	o, _ := bareOffice(t)
	a, b := admitted(t, o, "ines", office.Analyst), admitted(t, o, "tor", office.Executive)
	own, err := account.In(o).SaveView(ctx, a, " Mine ", "standing=act", false)
	require.NoError(t, err)
	shared, err := account.In(o).SaveView(ctx, a, "Ours", "standing=watch", true)
	require.NoError(t, err)
	again, err := account.In(o).SaveView(ctx, a, "Mine", "standing=steady", false)
	require.NoError(t, err)
	require.Equal(t, own, again, "the name is kept once")
	for _, name := range []string{"", strings.Repeat("x", 61)} {
		_, err = account.In(o).SaveView(ctx, a, name, "", false)
		require.ErrorIs(t, err, office.ErrRefused)
	}
	_, err = account.In(o).SaveView(ctx, a, "Long", strings.Repeat("x", 5000), false)
	require.ErrorIs(t, err, office.ErrRefused)
	_, err = account.In(o).SaveView(ctx, b, "Ours", "", true)
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
	_, err = account.In(o).SaveView(ctx, a, "Ours", "standing=watch", false)
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

// TestUseCasesByRole walks every use case as everyone, and as nobody.
func TestUseCasesByRole(t *testing.T) {
	ctx := context.Background()
	o := example(t)
	m := moment(t, o, office.Ask{At: "2026-11"})
	november, err := o.ParsePeriod(ctx, operator, "2026-11")
	require.NoError(t, err)
	const (
		an = 1 << iota
		le
		ex
		ad
		op
	)
	all := an | le | ex | ad | op
	roles := map[office.Role]int{office.Analyst: an, office.Lead: le, office.Executive: ex, office.Administrator: ad, office.Operator: op}
	read := func(_ any, err error) error { return err }
	own := admitted(t, o, "own", office.Lead, "K1").Projects
	for name, c := range map[string]struct {
		may int
		do  func(a office.Actor) error
	}{
		"moment":   {all, func(a office.Actor) error { return read(o.Moment(ctx, a, office.Ask{})) }},
		"period":   {all, func(a office.Actor) error { return read(o.ParsePeriod(ctx, a, "2026-11")) }},
		"readings": {all, func(a office.Actor) error { return read(export.In(o).Readings(ctx, a, export.Query{Period: november})) }},
		"sheet":    {all, func(a office.Actor) error { return read(sheet.In(o).Sheet(ctx, a, m, "K1")) }},
		"trail":    {all, func(a office.Actor) error { return read(trail.In(o).Trail(ctx, a, m, false, "K1", 0)) }},
		"row":      {all, func(a office.Actor) error { return read(trail.In(o).SourceRow(ctx, a, 1, 2)) }},
		"list":     {all, func(a office.Actor) error { return read(board.In(o).List(ctx, a, m, board.Order{})) }},
		"rail":     {all, func(a office.Actor) error { return read(board.In(o).Rail(ctx, a, m, "*")) }},
		"strips":   {all, func(a office.Actor) error { return read(board.In(o).Strips(ctx, a, m)) }},
		"trust":    {all, func(a office.Actor) error { return read(check.In(o).Trust(ctx, a, m)) }},
		"find": {all, func(a office.Actor) error {
			_, _, err := board.In(o).Find(ctx, a, "k", 3)
			return err
		}},
		"views":        {an | le | ex | ad, func(a office.Actor) error { return read(account.In(o).Views(ctx, a)) }},
		"drop view":    {an | le | ex | ad, func(a office.Actor) error { return account.In(o).DropView(ctx, a, 999) }},
		"default view": {an | le | ex | ad, func(a office.Actor) error { return account.In(o).SetDefaultView(ctx, a, 0) }},
		"share view":   {an | ad, func(a office.Actor) error { return read(account.In(o).SaveView(ctx, a, "", "", true)) }},
		"sessions":     {an | le | ex | ad, func(a office.Actor) error { return read(account.In(o).OpenSessions(ctx, a, "")) }},
		"end sessions": {an | le | ex | ad, func(a office.Actor) error { return account.In(o).EndSessions(ctx, a, "") }},
		"password":     {an | le | ex | ad, func(a office.Actor) error { return account.In(o).ChangePassword(ctx, a, "", "", "") }},
		"accounts": {ad | op, func(a office.Actor) error {
			_, _, err := account.In(o).Accounts(ctx, a)
			return err
		}},
		"first code": {ad | op, func(a office.Actor) error { return read(account.In(o).FirstCode(ctx, a)) }},
		"invite":     {ad | op, func(a office.Actor) error { return read(account.In(o).Invite(ctx, a, account.Account{})) }},
		"reset":      {ad | op, func(a office.Actor) error { return read(account.In(o).ResetPassword(ctx, a, 999)) }},
		"disable":    {ad | op, func(a office.Actor) error { return account.In(o).Disable(ctx, a, 999, true) }},
		"role":       {ad | op, func(a office.Actor) error { return account.In(o).SetRole(ctx, a, 999, office.Lead, nil) }},
		"gather projects": {an | op, func(a office.Actor) error {
			return read(entry.In(o).Gather(ctx, a, []entry.File{file("projects.csv", "project,name\nNEW,New\n")}, nil, entry.Options{DryRun: true}))
		}},
		"gather postings": {an | op, func(a office.Actor) error {
			return read(entry.In(o).Gather(ctx, a, []entry.File{file("postings.csv", "posting,date,project,cost_code,amount,currency\nROLE1,2026-11-02,K1,11,1,EUR\n")}, nil, entry.Options{DryRun: true}))
		}},
		"state for any project": {an | op, func(a office.Actor) error {
			return read(entry.In(o).Gather(ctx, a, []entry.File{file("narratives.csv", "project,period,section,text\nK2,2026-11,summary,Words\n")}, nil, entry.Options{DryRun: true}))
		}},
		"state for one's own": {an | le | op, func(a office.Actor) error {
			return read(entry.In(o).Gather(ctx, a, []entry.File{file("narratives.csv", "project,period,section,text\nK1,2026-11,summary,Words\n")}, nil, entry.Options{DryRun: true}))
		}},
		"checking": {all, func(a office.Actor) error { return read(check.In(o).Checking(ctx, a, m, check.FindingFilter{})) }},
		"check":    {all, func(a office.Actor) error { return read(check.In(o).Check(ctx, a, "2026-11", "")) }},
		"mendable": {all, func(a office.Actor) error { return read(check.In(o).Mendable(ctx, a, m, &office.Finding{})) }},
		"correct": {an | op, func(a office.Actor) error {
			return read(check.In(o).Correct(ctx, a, m, office.FindingKey{}, nil, nil, true))
		}},
		"answer": {an | op, func(a office.Actor) error {
			return read(check.In(o).Answer(ctx, a, m, change.Unseen, nil, check.Accept, "", ""))
		}},
		"leave out": {an | op, func(a office.Actor) error {
			return check.In(o).LeaveOut(ctx, a, m, change.Unseen, "K1", "nothing", "", "why")
		}},
		"overrides": {all, func(a office.Actor) error { return read(judge.In(o).Overrides(ctx, a, m)) }},
		"override": {an | op, func(a office.Actor) error {
			return judge.In(o).Override(ctx, a, m, change.Unseen, "K1", "cost", "act", "", "why")
		}},
		"end":       {an | op, func(a office.Actor) error { return judge.In(o).EndOverride(ctx, a, m, change.Unseen, "K1", "cost") }},
		"rule book": {all, func(a office.Actor) error { return read(judge.In(o).RuleBook(ctx, a, m)) }},
		"check book": {all, func(a office.Actor) error {
			_, _, err := judge.In(o).CheckBook(ctx, a, m)
			return err
		}},
		"preview rule": {an | op, func(a office.Actor) error { return read(judge.In(o).PreviewRule(ctx, a, "rules", nil)) }},
		"save rule":    {an | op, func(a office.Actor) error { return judge.In(o).SaveRule(ctx, a, change.Unseen, "rules", nil) }},
		"money":        {all, func(a office.Actor) error { return read(money.In(o).Table(ctx, a, m, money.Ask{})) }},
		"money cell": {all, func(a office.Actor) error {
			return read(money.In(o).Cell(ctx, a, m, money.Ask{}, "", 0, "running", 0))
		}},
		"money bridge": {all, func(a office.Actor) error {
			return read(money.In(o).Bridge(ctx, a, m, money.Ask{}, "", "running", "", ""))
		}},
		"exceptions":     {all, func(a office.Actor) error { return read(weigh.In(o).Exceptions(ctx, a, m, weigh.ExceptionAsk{})) }},
		"map":            {all, func(a office.Actor) error { return read(weigh.In(o).Map(ctx, a, m, weigh.MapAsk{})) }},
		"drivers":        {all, func(a office.Actor) error { return read(weigh.In(o).Drivers(ctx, a, m, weigh.DriversAsk{})) }},
		"forecasts":      {all, func(a office.Actor) error { return read(weigh.In(o).Forecasts(ctx, a, m, "", 3)) }},
		"money curve":    {all, func(a office.Actor) error { return read(money.In(o).Curve(ctx, a, m, money.Ask{}, "")) }},
		"money file":     {all, func(a office.Actor) error { return read(money.In(o).File(ctx, a, m, money.Ask{}, "csv")) }},
		"closing":        {all, func(a office.Actor) error { return read(closing.In(o).Closing(ctx, a, m)) }},
		"cuts":           {all, func(a office.Actor) error { return read(closing.In(o).Cuts(ctx, a, m)) }},
		"compare":        {all, func(a office.Actor) error { return read(closing.In(o).CompareCuts(ctx, a, m, 0, 0)) }},
		"history":        {all, func(a office.Actor) error { return read(history.In(o).History(ctx, a, m, history.Ask{})) }},
		"batch":          {all, func(a office.Actor) error { return read(history.In(o).BatchOf(ctx, a, m, 1, "")) }},
		"undoing":        {an | op, func(a office.Actor) error { return read(history.In(o).Undoing(ctx, a, 1)) }},
		"close over":     {an | op, func(a office.Actor) error { return read(closing.In(o).CloseOver(ctx, a, m, m.Period.Code, nil)) }},
		"make cut":       {an | op, func(a office.Actor) error { return closing.In(o).MakeCut(ctx, a, m, "") }},
		"reopen by code": {an | op, func(a office.Actor) error { return closing.In(o).ReopenCode(ctx, a, "2020-01", "why") }},
		"close":          {an | op, func(a office.Actor) error { return read(closing.In(o).ClosePeriod(ctx, a, november-100)) }},
		"reopen":         {an | op, func(a office.Actor) error { return closing.In(o).ReopenPeriod(ctx, a, november-100, "why") }},
		"baselines":      {all, func(a office.Actor) error { return read(baseline.In(o).Baselines(ctx, a, m, "K1")) }},
		"versions":       {all, func(a office.Actor) error { return read(baseline.In(o).Versions(ctx, a, m)) }},
		"named versions": {all, func(a office.Actor) error { return read(baseline.In(o).Named(ctx, a, m)) }},
		"name version":   {an | op, func(a office.Actor) error { return baseline.In(o).NameVersion(ctx, a, m, 0, "", "", "") }},
		"structure":      {all, func(a office.Actor) error { return read(structure.In(o).Structure(ctx, a)) }},
		"save code":      {an | op, func(a office.Actor) error { return structure.In(o).SaveCode(ctx, a, 0, structure.Node{}) }},
		"save centre":    {an | op, func(a office.Actor) error { return structure.In(o).SaveCentre(ctx, a, 0, structure.Node{}) }},
		"save shares":    {an | op, func(a office.Actor) error { return structure.In(o).SaveShares(ctx, a, 0, "", "", "", "") }},
		"save levels": {an | op, func(a office.Actor) error {
			return structure.In(o).SaveLevels(ctx, a, 0, map[right.Role]string{"lead": "x"})
		}},
		"outlook bridge": {all, func(a office.Actor) error { return read(money.In(o).OutlookBridge(ctx, a, m, "", "")) }},
		"all baselines":  {all, func(a office.Actor) error { return read(baseline.In(o).AllBaselines(ctx, a, m)) }},
		"baseline":       {all, func(a office.Actor) error { return read(baseline.In(o).BaselineChange(ctx, a, m, "K1", 2)) }},
		"propose":        {an | op, func(a office.Actor) error { return read(baseline.In(o).Propose(ctx, a, m, 0, baseline.Proposal{})) }},
		"decide":         {an | ex | op, func(a office.Actor) error { return baseline.In(o).Decide(ctx, a, 0, baseline.Decision{}) }},
		"rates":          {all, func(a office.Actor) error { return read(period.In(o).Rates(ctx, a, m)) }},
		"set rate":       {an | op, func(a office.Actor) error { return period.In(o).SetRate(ctx, a, 0, "", "", "", "") }},
		"calendar":       {all, func(a office.Actor) error { return read(period.In(o).ReportingCalendar(ctx, a)) }},
		"calendars":      {all, func(a office.Actor) error { return read(period.In(o).WorkCalendars(ctx, a)) }},
		"project list":   {all, func(a office.Actor) error { return read(period.In(o).ProjectList(ctx, a)) }},
		"in checking":    {an | op, func(a office.Actor) error { return period.In(o).SetChecking(ctx, a, m, false) }},
		"draw periods":   {an | ad | op, func(a office.Actor) error { return read(period.In(o).DrawPeriods(ctx, a, period.Drawing{})) }},
		"periods as":     {an | ad | op, func(a office.Actor) error { return read(period.In(o).PeriodsAs(ctx, a, "")) }},
		"keep periods": {an | ad | op, func(a office.Actor) error {
			return period.In(o).KeepPeriods(ctx, a, 0, "FY27-P01 2026-04-01 2026-04-30")
		}},
		"keep months":   {an | ad | op, func(a office.Actor) error { return period.In(o).KeepMonths(ctx, a, 0, "x") }},
		"due days":      {an | ad | op, func(a office.Actor) error { return period.In(o).SetDue(ctx, a, 0, map[string]string{"risks": "x"}) }},
		"save calendar": {an | ad | op, func(a office.Actor) error { return period.In(o).SaveCalendar(ctx, a, 0, "", nil, "") }},
		"follow":        {an | ad | op, func(a office.Actor) error { return period.In(o).FollowCalendar(ctx, a, change.Unseen, "NONE", "") }},
		"export":        {an | ad | op, func(a office.Actor) error { return export.In(o).Export(ctx, a, filepath.Join(t.TempDir(), "x.zip")) }},
		"backup":        {ad | op, func(a office.Actor) error { return export.In(o).Backup(ctx, a, filepath.Join(t.TempDir(), "x.db")) }},
	} {
		for role, bit := range roles {
			a := office.Actor{Name: "Someone", Role: role, Account: 77}
			if role == office.Lead {
				a.Projects = own
			}
			err := c.do(a)
			denied := errors.As(err, new(*office.Denied))
			require.Equal(t, c.may&bit == 0, denied, "%s as %s: %v", name, role, err)
		}
		require.ErrorAs(t, c.do(office.Actor{}), new(*office.Denied), "%s as nobody", name)
	}
}
