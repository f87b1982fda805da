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
	code, err := o.Invite(ctx, operator, office.Account{Login: login, Name: "The " + login, Role: role, Projects: projects})
	require.NoError(t, err)
	id, err := o.Enter(ctx, code, "", "", goodPassword)
	require.NoError(t, err)
	a, ok, err := o.ActorOf(ctx, id)
	require.NoError(t, err)
	require.True(t, ok)
	return a
}

func TestTheFirstAdministrator(t *testing.T) {
	ctx := context.Background()
	o, wait := bareOffice(t)
	old, err := o.FirstCode(ctx, operator)
	require.NoError(t, err)
	code, err := o.FirstCode(ctx, operator)
	require.NoError(t, err)
	_, err = o.Greet(ctx, old)
	require.ErrorIs(t, err, office.ErrRefused, "a later code replaces it")
	w, err := o.Greet(ctx, strings.ToLower(code)+" ")
	require.NoError(t, err, "as people type it")
	require.True(t, w.First)
	_, err = o.Enter(ctx, code, "Not A Login", "N", goodPassword)
	require.ErrorIs(t, err, office.ErrRefused)
	_, err = o.Enter(ctx, code, "una", "", goodPassword)
	require.ErrorIs(t, err, office.ErrRefused)
	id, err := o.Enter(ctx, code, "Una", "Una Calder", goodPassword)
	require.NoError(t, err, "a refused form does not use the code up")
	_, err = o.Enter(ctx, code, "two", "Two", goodPassword)
	require.ErrorIs(t, err, office.ErrRefused, "it opens once")
	a, ok, err := o.ActorOf(ctx, id)
	require.NoError(t, err)
	require.True(t, ok)
	require.Equal(t, office.Administrator, a.Role)
	code, err = o.FirstCode(ctx, operator)
	require.NoError(t, err)
	require.Empty(t, code, "there is an account")

	code, err = o.Invite(ctx, a, office.Account{Login: "late", Name: "Late", Role: office.Executive})
	require.NoError(t, err)
	wait(8 * 24 * time.Hour)
	_, err = o.Greet(ctx, code)
	require.ErrorIs(t, err, office.ErrRefused, "after a week")
}

func TestSigningIn(t *testing.T) {
	ctx := context.Background()
	o, _ := bareOffice(t)
	a := admitted(t, o, "ines", office.Analyst)
	id, err := o.SignIn(ctx, " INES ", goodPassword)
	require.NoError(t, err)
	require.Equal(t, a.Account, id)
	for _, c := range [][2]string{{"ines", goodPassword + "!"}, {"ines", ""}, {"nobody", goodPassword}, {"", ""}} {
		_, err := o.SignIn(ctx, c[0], c[1])
		require.ErrorIs(t, err, office.ErrRefused, c[0])
		require.NotContains(t, err.Error(), "ines", "which of the two is wrong is not told")
	}
	code, err := o.Invite(ctx, operator, office.Account{Login: "waits", Name: "Waits", Role: office.Executive})
	require.NoError(t, err)
	_, err = o.SignIn(ctx, "waits", "")
	require.ErrorIs(t, err, office.ErrRefused, "no password is no way in")
	for _, p := range []string{"short", strings.Repeat("x", 300), "I am waits indeed"} {
		_, err = o.Enter(ctx, code, "", "", p)
		require.ErrorIs(t, err, office.ErrRefused, p)
	}
}

func TestChangingAccounts(t *testing.T) {
	ctx := context.Background()
	o, _ := bareOffice(t)
	r, err := o.Gather(ctx, operator, []office.File{file("projects.csv", "project,name\nP1,One\nP2,Two\n")}, nil, office.GatherOptions{})
	require.NoError(t, err)
	require.Empty(t, r.Refusals)
	una := admitted(t, o, "una", office.Administrator)
	ada := admitted(t, o, "ada", office.Lead, "P1")
	require.Len(t, ada.Projects, 1)

	_, err = o.Invite(ctx, una, office.Account{Login: "ada", Name: "Ada", Role: office.Lead})
	require.ErrorContains(t, err, "taken")
	_, err = o.Invite(ctx, una, office.Account{Login: "x1", Name: "X", Role: office.Lead, Projects: []string{"NOPE"}})
	require.ErrorContains(t, err, "NOPE")
	_, err = o.Invite(ctx, una, office.Account{Login: "x2", Name: "X", Role: office.Operator})
	require.ErrorContains(t, err, "role")

	for what, err := range map[string]error{
		"disable": o.Disable(ctx, una, una.Account, true),
		"role":    o.SetRole(ctx, una, una.Account, office.Executive, nil),
		"gone":    o.Disable(ctx, una, 999, true),
		"roles":   o.SetRole(ctx, una, ada.Account, "king", nil),
		"project": o.SetRole(ctx, una, ada.Account, office.Lead, []string{"P9"}),
	} {
		require.ErrorIs(t, err, office.ErrRefused, what)
	}
	_, err = o.ResetPassword(ctx, una, una.Account)
	require.ErrorIs(t, err, office.ErrRefused, "the only administrator would be shut out")

	require.NoError(t, o.SetRole(ctx, una, ada.Account, office.Lead, []string{"P1", "P2"}))
	ada, _, err = o.ActorOf(ctx, ada.Account)
	require.NoError(t, err)
	require.Len(t, ada.Projects, 2)
	require.NoError(t, o.SetRole(ctx, una, ada.Account, office.Executive, []string{"P1"}))
	ada, _, err = o.ActorOf(ctx, ada.Account)
	require.NoError(t, err)
	require.Empty(t, ada.Projects, "only leads have projects")

	require.NoError(t, o.Disable(ctx, una, ada.Account, true))
	_, ok, err := o.ActorOf(ctx, ada.Account)
	require.NoError(t, err)
	require.False(t, ok)
	_, err = o.SignIn(ctx, "ada", goodPassword)
	require.ErrorIs(t, err, office.ErrRefused)
	require.NoError(t, o.Disable(ctx, una, ada.Account, false))
	_, err = o.SignIn(ctx, "ada", goodPassword)
	require.NoError(t, err)
	code, err := o.ResetPassword(ctx, una, ada.Account)
	require.NoError(t, err)
	_, err = o.SignIn(ctx, "ada", goodPassword)
	require.ErrorIs(t, err, office.ErrRefused, "the old password ends with the reset")
	_, err = o.Enter(ctx, code, "", "", "another password")
	require.NoError(t, err)

	list, events, err := o.Accounts(ctx, una)
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
	keep := o.Sessions()
	for key, who := range map[string]office.Actor{"one": a, "two": a, "three": b} {
		require.NoError(t, keep.Set(key, []byte(key), time.Hour))
		require.NoError(t, o.ClaimSession(ctx, key, who.Account, strings.Repeat("agent ", 60)))
	}
	require.NoError(t, keep.Set("gone", []byte("x"), -time.Second))
	for key, want := range map[string][]byte{"one": []byte("one"), "gone": nil, "never": nil} {
		got, err := keep.Get(key)
		require.NoError(t, err)
		require.Equal(t, want, got, key)
	}
	list, err := o.OpenSessions(ctx, a, "two")
	require.NoError(t, err)
	require.Len(t, list, 2)
	other := list[0]
	if other.This {
		other = list[1]
	}
	require.ErrorIs(t, o.EndSessions(ctx, a, "not hex"), office.ErrRefused)
	require.NoError(t, o.EndSessions(ctx, b, other.ID), "nobody ends another's session")
	got, err := keep.Get("one")
	require.NoError(t, err)
	require.NotNil(t, got)
	require.NoError(t, o.EndSessions(ctx, a, other.ID))
	got, err = keep.Get("one")
	require.NoError(t, err)
	require.Nil(t, got)

	require.NoError(t, keep.Set("one", []byte("one"), time.Hour))
	require.NoError(t, o.ClaimSession(ctx, "one", a.Account, ""))
	require.ErrorIs(t, o.ChangePassword(ctx, a, "two", "wrong", "some new password"), office.ErrRefused)
	require.ErrorIs(t, o.ChangePassword(ctx, a, "two", goodPassword, "short"), office.ErrRefused)
	require.NoError(t, o.ChangePassword(ctx, a, "two", goodPassword, "some new password"))
	for key, stays := range map[string]bool{"one": false, "two": true, "three": true} {
		got, err := keep.Get(key)
		require.NoError(t, err)
		require.Equal(t, stays, got != nil, key)
	}
	require.NoError(t, o.EndSessions(ctx, a, ""))
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
	own, err := o.SaveView(ctx, a, " Mine ", "standing=act", false)
	require.NoError(t, err)
	shared, err := o.SaveView(ctx, a, "Ours", "standing=watch", true)
	require.NoError(t, err)
	again, err := o.SaveView(ctx, a, "Mine", "standing=steady", false)
	require.NoError(t, err)
	require.Equal(t, own, again, "the name is kept once")
	for _, name := range []string{"", strings.Repeat("x", 61)} {
		_, err = o.SaveView(ctx, a, name, "", false)
		require.ErrorIs(t, err, office.ErrRefused)
	}
	_, err = o.SaveView(ctx, a, "Long", strings.Repeat("x", 5000), false)
	require.ErrorIs(t, err, office.ErrRefused)
	_, err = o.SaveView(ctx, b, "Ours", "", true)
	require.ErrorAs(t, err, new(*office.Denied))
	list, err := o.Views(ctx, b)
	require.NoError(t, err)
	require.Len(t, list, 1)
	require.Equal(t, "The ines", list[0].Owner)
	require.ErrorIs(t, o.SetDefaultView(ctx, b, own), office.ErrRefused, "not theirs")
	require.NoError(t, o.SetDefaultView(ctx, b, shared))
	id, query, err := o.DefaultView(ctx, b)
	require.NoError(t, err)
	require.Equal(t, shared, id)
	require.Equal(t, "standing=watch", query)
	require.ErrorIs(t, o.DropView(ctx, b, shared), office.ErrRefused)
	_, err = o.SaveView(ctx, a, "Ours", "standing=watch", false)
	require.NoError(t, err)
	id, _, err = o.DefaultView(ctx, b)
	require.NoError(t, err)
	require.Zero(t, id, "it is shared no more")
	require.NoError(t, o.DropView(ctx, a, shared))
	require.NoError(t, o.SetDefaultView(ctx, a, own))
	require.NoError(t, o.SetDefaultView(ctx, a, 0))
	id, _, err = o.DefaultView(ctx, a)
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
		"readings": {all, func(a office.Actor) error { return read(o.Readings(ctx, a, office.Query{Period: november})) }},
		"sheet":    {all, func(a office.Actor) error { return read(o.Sheet(ctx, a, m, "K1")) }},
		"trail":    {all, func(a office.Actor) error { return read(o.Trail(ctx, a, m, false, "K1", 0)) }},
		"row":      {all, func(a office.Actor) error { return read(o.SourceRow(ctx, a, 1, 2)) }},
		"list":     {all, func(a office.Actor) error { return read(o.List(ctx, a, m, office.Order{})) }},
		"rail":     {all, func(a office.Actor) error { return read(o.Rail(ctx, a, m, "*")) }},
		"strips":   {all, func(a office.Actor) error { return read(o.Strips(ctx, a, m)) }},
		"trust":    {all, func(a office.Actor) error { return read(o.Trust(ctx, a, m)) }},
		"find": {all, func(a office.Actor) error {
			_, _, err := o.Find(ctx, a, "k", 3)
			return err
		}},
		"views":        {an | le | ex | ad, func(a office.Actor) error { return read(o.Views(ctx, a)) }},
		"drop view":    {an | le | ex | ad, func(a office.Actor) error { return o.DropView(ctx, a, 999) }},
		"default view": {an | le | ex | ad, func(a office.Actor) error { return o.SetDefaultView(ctx, a, 0) }},
		"share view":   {an | ad, func(a office.Actor) error { return read(o.SaveView(ctx, a, "", "", true)) }},
		"sessions":     {an | le | ex | ad, func(a office.Actor) error { return read(o.OpenSessions(ctx, a, "")) }},
		"end sessions": {an | le | ex | ad, func(a office.Actor) error { return o.EndSessions(ctx, a, "") }},
		"password":     {an | le | ex | ad, func(a office.Actor) error { return o.ChangePassword(ctx, a, "", "", "") }},
		"accounts": {ad | op, func(a office.Actor) error {
			_, _, err := o.Accounts(ctx, a)
			return err
		}},
		"first code": {ad | op, func(a office.Actor) error { return read(o.FirstCode(ctx, a)) }},
		"invite":     {ad | op, func(a office.Actor) error { return read(o.Invite(ctx, a, office.Account{})) }},
		"reset":      {ad | op, func(a office.Actor) error { return read(o.ResetPassword(ctx, a, 999)) }},
		"disable":    {ad | op, func(a office.Actor) error { return o.Disable(ctx, a, 999, true) }},
		"role":       {ad | op, func(a office.Actor) error { return o.SetRole(ctx, a, 999, office.Lead, nil) }},
		"gather projects": {an | op, func(a office.Actor) error {
			return read(o.Gather(ctx, a, []office.File{file("projects.csv", "project,name\nNEW,New\n")}, nil, office.GatherOptions{DryRun: true}))
		}},
		"gather postings": {an | op, func(a office.Actor) error {
			return read(o.Gather(ctx, a, []office.File{file("postings.csv", "posting,date,project,cost_code,amount,currency\nROLE1,2026-11-02,K1,11,1,EUR\n")}, nil, office.GatherOptions{DryRun: true}))
		}},
		"state for any project": {an | op, func(a office.Actor) error {
			return read(o.Gather(ctx, a, []office.File{file("narratives.csv", "project,period,section,text\nK2,2026-11,summary,Words\n")}, nil, office.GatherOptions{DryRun: true}))
		}},
		"state for one's own": {an | le | op, func(a office.Actor) error {
			return read(o.Gather(ctx, a, []office.File{file("narratives.csv", "project,period,section,text\nK1,2026-11,summary,Words\n")}, nil, office.GatherOptions{DryRun: true}))
		}},
		"checking": {all, func(a office.Actor) error { return read(o.Checking(ctx, a, m, office.FindingFilter{})) }},
		"check":    {all, func(a office.Actor) error { return read(o.Check(ctx, a, "2026-11", "")) }},
		"mendable": {all, func(a office.Actor) error { return read(o.Mendable(ctx, a, m, &office.Finding{})) }},
		"correct":  {an | op, func(a office.Actor) error { return read(o.Correct(ctx, a, m, office.FindingKey{}, nil, nil, true)) }},
		"answer": {an | op, func(a office.Actor) error {
			return read(o.Answer(ctx, a, m, change.Unseen, nil, office.Accept, "", ""))
		}},
		"leave out": {an | op, func(a office.Actor) error { return o.LeaveOut(ctx, a, m, change.Unseen, "K1", "nothing", "", "why") }},
		"overrides": {all, func(a office.Actor) error { return read(o.Overrides(ctx, a, m)) }},
		"override": {an | op, func(a office.Actor) error {
			return o.Override(ctx, a, m, change.Unseen, "K1", "cost", "act", "", "why")
		}},
		"end":       {an | op, func(a office.Actor) error { return o.EndOverride(ctx, a, m, change.Unseen, "K1", "cost") }},
		"rule book": {all, func(a office.Actor) error { return read(o.RuleBook(ctx, a, m)) }},
		"check book": {all, func(a office.Actor) error {
			_, _, err := o.CheckBook(ctx, a, m)
			return err
		}},
		"preview rule": {an | op, func(a office.Actor) error { return read(o.PreviewRule(ctx, a, "rules", nil)) }},
		"save rule":    {an | op, func(a office.Actor) error { return o.SaveRule(ctx, a, change.Unseen, "rules", nil) }},
		"money":        {all, func(a office.Actor) error { return read(o.MoneyTable(ctx, a, m, office.MoneyAsk{})) }},
		"money cell": {all, func(a office.Actor) error {
			return read(o.MoneyCell(ctx, a, m, office.MoneyAsk{}, "", 0, "running", 0))
		}},
		"money bridge": {all, func(a office.Actor) error {
			return read(o.MoneyBridge(ctx, a, m, office.MoneyAsk{}, "", "running", "", ""))
		}},
		"exceptions":     {all, func(a office.Actor) error { return read(o.Exceptions(ctx, a, m, office.ExceptionAsk{})) }},
		"map":            {all, func(a office.Actor) error { return read(o.Map(ctx, a, m, office.MapAsk{})) }},
		"drivers":        {all, func(a office.Actor) error { return read(o.Drivers(ctx, a, m, office.DriversAsk{})) }},
		"forecasts":      {all, func(a office.Actor) error { return read(o.Forecasts(ctx, a, m, "", 3)) }},
		"money curve":    {all, func(a office.Actor) error { return read(o.MoneyCurve(ctx, a, m, office.MoneyAsk{}, "")) }},
		"money file":     {all, func(a office.Actor) error { return read(o.MoneyFile(ctx, a, m, office.MoneyAsk{}, "csv")) }},
		"closing":        {all, func(a office.Actor) error { return read(o.Closing(ctx, a, m)) }},
		"cuts":           {all, func(a office.Actor) error { return read(o.Cuts(ctx, a, m)) }},
		"compare":        {all, func(a office.Actor) error { return read(o.CompareCuts(ctx, a, m, 0, 0)) }},
		"history":        {all, func(a office.Actor) error { return read(o.History(ctx, a, m, office.HistoryAsk{})) }},
		"batch":          {all, func(a office.Actor) error { return read(o.BatchOf(ctx, a, m, 1, "")) }},
		"undoing":        {an | op, func(a office.Actor) error { return read(o.Undoing(ctx, a, 1)) }},
		"close over":     {an | op, func(a office.Actor) error { return read(o.CloseOver(ctx, a, m, m.Period.Code, nil)) }},
		"make cut":       {an | op, func(a office.Actor) error { return o.MakeCut(ctx, a, m, "") }},
		"reopen by code": {an | op, func(a office.Actor) error { return o.ReopenCode(ctx, a, "2020-01", "why") }},
		"close":          {an | op, func(a office.Actor) error { return read(o.ClosePeriod(ctx, a, november-100)) }},
		"reopen":         {an | op, func(a office.Actor) error { return o.ReopenPeriod(ctx, a, november-100, "why") }},
		"baselines":      {all, func(a office.Actor) error { return read(o.Baselines(ctx, a, m, "K1")) }},
		"versions":       {all, func(a office.Actor) error { return read(o.Versions(ctx, a, m)) }},
		"named versions": {all, func(a office.Actor) error { return read(o.Named(ctx, a, m)) }},
		"name version":   {an | op, func(a office.Actor) error { return o.NameVersion(ctx, a, m, 0, "", "", "") }},
		"structure":      {all, func(a office.Actor) error { return read(o.Structure(ctx, a)) }},
		"save code":      {an | op, func(a office.Actor) error { return o.SaveCode(ctx, a, 0, office.Node{}) }},
		"save centre":    {an | op, func(a office.Actor) error { return o.SaveCentre(ctx, a, 0, office.Node{}) }},
		"save shares":    {an | op, func(a office.Actor) error { return o.SaveShares(ctx, a, 0, "", "", "", "") }},
		"save levels":    {an | op, func(a office.Actor) error { return o.SaveLevels(ctx, a, 0, map[right.Role]string{"lead": "x"}) }},
		"outlook bridge": {all, func(a office.Actor) error { return read(o.OutlookBridge(ctx, a, m, "", "")) }},
		"all baselines":  {all, func(a office.Actor) error { return read(o.AllBaselines(ctx, a, m)) }},
		"baseline":       {all, func(a office.Actor) error { return read(o.BaselineChange(ctx, a, m, "K1", 2)) }},
		"propose":        {an | op, func(a office.Actor) error { return read(o.Propose(ctx, a, m, 0, office.Proposal{})) }},
		"decide":         {an | ex | op, func(a office.Actor) error { return o.Decide(ctx, a, 0, office.Decision{}) }},
		"rates":          {all, func(a office.Actor) error { return read(o.Rates(ctx, a, m)) }},
		"set rate":       {an | op, func(a office.Actor) error { return o.SetRate(ctx, a, 0, "", "", "", "") }},
		"calendar":       {all, func(a office.Actor) error { return read(o.ReportingCalendar(ctx, a)) }},
		"calendars":      {all, func(a office.Actor) error { return read(o.WorkCalendars(ctx, a)) }},
		"project list":   {all, func(a office.Actor) error { return read(o.ProjectList(ctx, a)) }},
		"in checking":    {an | op, func(a office.Actor) error { return o.SetChecking(ctx, a, m, false) }},
		"draw periods":   {an | ad | op, func(a office.Actor) error { return read(o.DrawPeriods(ctx, a, office.Drawing{})) }},
		"periods as":     {an | ad | op, func(a office.Actor) error { return read(o.PeriodsAs(ctx, a, "")) }},
		"keep periods":   {an | ad | op, func(a office.Actor) error { return o.KeepPeriods(ctx, a, 0, "FY27-P01 2026-04-01 2026-04-30") }},
		"keep months":    {an | ad | op, func(a office.Actor) error { return o.KeepMonths(ctx, a, 0, "x") }},
		"due days":       {an | ad | op, func(a office.Actor) error { return o.SetDue(ctx, a, 0, map[string]string{"risks": "x"}) }},
		"save calendar":  {an | ad | op, func(a office.Actor) error { return o.SaveCalendar(ctx, a, 0, "", nil, "") }},
		"follow":         {an | ad | op, func(a office.Actor) error { return o.FollowCalendar(ctx, a, change.Unseen, "NONE", "") }},
		"export":         {an | ad | op, func(a office.Actor) error { return o.Export(ctx, a, filepath.Join(t.TempDir(), "x.zip")) }},
		"backup":         {ad | op, func(a office.Actor) error { return o.Backup(ctx, a, filepath.Join(t.TempDir(), "x.db")) }},
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
