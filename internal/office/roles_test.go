package office_test

import (
	"context"
	"errors"
	"path/filepath"
	"testing"

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
	"turret/internal/office/officetest"
	"turret/internal/office/period"
	"turret/internal/office/sheet"
	"turret/internal/office/structure"
	"turret/internal/office/trail"
	"turret/internal/office/weigh"
	"turret/internal/right"
)

// TestUseCasesByRole walks every use case as everyone, and as nobody.
func TestUseCasesByRole(t *testing.T) {
	ctx := context.Background()
	o := officetest.Example(t)
	m := officetest.Moment(t, o, office.Ask{At: "2026-11"})
	november, err := o.ParsePeriod(ctx, officetest.Operator, "2026-11")
	require.NoError(t, err)
	const (
		an = 1 << iota
		le
		ex
		ad
		op
	)
	all := an | le | ex | ad | op
	roles := map[office.Role]int{
		office.Analyst:       an,
		office.Lead:          le,
		office.Executive:     ex,
		office.Administrator: ad,
		office.Operator:      op,
	}
	read := func(_ any, err error) error { return err }
	own := officetest.Admitted(t, o, "own", office.Lead, "K1").Projects
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
		"share view":   {an | ad, func(a office.Actor) error { return read(account.In(o).SaveView(ctx, a, "", "", true, "")) }},
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
			return read(entry.In(o).Gather(ctx, a, []entry.File{officetest.File("projects.csv", "project,name\nNEW,New\n")}, nil, entry.Options{DryRun: true}))
		}},
		"gather postings": {an | op, func(a office.Actor) error {
			return read(entry.In(o).Gather(ctx, a, []entry.File{officetest.File("postings.csv", "posting,date,project,cost_code,amount,currency\nROLE1,2026-11-02,K1,11,1,EUR\n")}, nil, entry.Options{DryRun: true}))
		}},
		"state for any project": {an | op, func(a office.Actor) error {
			return read(entry.In(o).Gather(ctx, a, []entry.File{officetest.File("narratives.csv", "project,period,section,text\nK2,2026-11,summary,Words\n")}, nil, entry.Options{DryRun: true}))
		}},
		"state for one's own": {an | le | op, func(a office.Actor) error {
			return read(entry.In(o).Gather(ctx, a, []entry.File{officetest.File("narratives.csv", "project,period,section,text\nK1,2026-11,summary,Words\n")}, nil, entry.Options{DryRun: true}))
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
