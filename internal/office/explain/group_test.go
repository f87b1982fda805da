package explain_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/claim"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/asking"
	"turret/internal/office/closing"
	"turret/internal/office/entry"
	"turret/internal/office/explain"
	"turret/internal/office/officetest"
	"turret/internal/office/stating"
	"turret/internal/right"
)

// say sends the summary of a project.
func say(t *testing.T, o *office.Office, a right.Actor, code, text string) {
	t.Helper()
	sheet, err := stating.In(o).Sheet(t.Context(), a, moment(t, o), code, "narratives")
	require.NoError(t, err)
	require.NoError(t, stating.In(o).Keep(t.Context(), a, moment(t, o), code, "narratives", map[string]stating.Typed{"summary/text": {Was: sheet.Grid.Rows[0].Cells[0].Is, Text: text}}))
	_, err = stating.In(o).Send(t.Context(), a, moment(t, o), code, "narratives")
	require.NoError(t, err)
}

// TestAgree: words are agreed to as they are; others, said since, are not; a period that is
// closed keeps what it was.
func TestAgree(t *testing.T) {
	o := written(t)
	ctx, a, room := t.Context(), officetest.Admitted(t, o, "pen", right.Analyst), explain.In(o)
	digest := func() string {
		x, err := room.One(ctx, a, moment(t, o), "L")
		require.NoError(t, err)
		return claim.Digest(x.Words.Text)
	}
	require.ErrorContains(t, room.Agree(ctx, a, moment(t, o), "L", "", true), "No words are said of L")
	say(t, o, a, "L", "The gate is late")
	first := digest()
	require.NoError(t, room.Agree(ctx, a, moment(t, o), "L", first, true))
	require.Equal(t, explain.Agreed, states(t, o)["L"])
	require.Equal(t, "The pen", moment(t, o).WordsOf(moment(t, o).Readings().Project("L")).Agreed)
	say(t, o, a, "L", "The gate is very late")
	require.Equal(t, explain.Ready, states(t, o)["L"], "others than those that were agreed to")
	require.ErrorContains(t, room.Agree(ctx, a, moment(t, o), "L", first, true), "were changed meanwhile")
	require.NoError(t, room.Agree(ctx, a, moment(t, o), "L", digest(), true))
	require.NoError(t, room.Agree(ctx, a, moment(t, o), "L", digest(), false))
	require.Equal(t, explain.Ready, states(t, o)["L"])
	lead := officetest.Admitted(t, o, "lead", right.Lead)
	var denied *right.Denied
	require.ErrorAs(t, room.Agree(ctx, lead, moment(t, o), "L", digest(), true), &denied)
	_, err := closing.In(o).ClosePeriod(ctx, a, moment(t, o).Asked.Number)
	require.NoError(t, err)
	require.ErrorContains(t, room.Agree(ctx, a, moment(t, o), "L", digest(), true), "closed")
}

// TestSentBack: words that their lead is asked about are sent back until they are sent again,
// which answers the question.
func TestSentBack(t *testing.T) {
	o := written(t)
	ctx, a := t.Context(), officetest.Admitted(t, o, "pen", right.Analyst)
	lead := officetest.Admitted(t, o, "ada", right.Lead, "L")
	say(t, o, a, "L", "The gate is late")
	code, err := asking.In(o).Ask(ctx, a, moment(t, o), asking.Question{Project: "L", About: "narratives", Text: "Late by how much?"})
	require.NoError(t, err)
	require.Equal(t, explain.Back, states(t, o)["L"])
	x, err := explain.In(o).One(ctx, a, moment(t, o), "L")
	require.NoError(t, err)
	require.Equal(t, "Late by how much?", x.Questions[0].Said[0].Text)
	done, err := asking.In(o).Done(ctx, a, moment(t, o), "L", "narratives", "Anew")
	require.NoError(t, err)
	require.Empty(t, done, "who asked does not answer")
	say(t, o, lead, "L", "The gate is 61 days late")
	done, err = asking.In(o).Done(ctx, lead, moment(t, o), "L", "narratives", "Anew")
	require.NoError(t, err)
	require.Equal(t, []string{code}, done)
	require.Equal(t, explain.Ready, states(t, o)["L"])
	_, err = asking.In(o).Ask(ctx, a, moment(t, o), asking.Question{Project: "L", About: "risks", Text: "And the risks?"})
	require.NoError(t, err)
	require.Equal(t, explain.Ready, states(t, o)["L"], "a question about something else sends no words back")
}

// TestSectionsOfTheOffice: a section of the office's own is read, written and wanted where the
// office says so; words without it still count as wanted.
func TestSectionsOfTheOffice(t *testing.T) {
	o := written(t)
	a := officetest.Admitted(t, o, "pen", right.Analyst)
	officetest.GatherMap(t, o, map[string]string{
		"sections.csv": "section,title,place,wanted,note\nsafety,Health and safety,15,act,Injuries first\ndone,,0,,\nnext,Ahead,,,\n",
	})
	x, err := explain.In(o).One(t.Context(), a, moment(t, o), "L")
	require.NoError(t, err)
	var heads []string
	for _, r := range x.Pen.Grid.Rows {
		heads = append(heads, r.Title)
	}
	require.Equal(t, []string{"Summary", "Health and safety", "Ahead", "Help needed"}, heads)
	say(t, o, a, "L", "The gate is late")
	require.Equal(t, explain.Wanted, states(t, o)["L"], "L stands at Act, and its safety is not told")
	require.Equal(t, []string{"L", "R", "W", "*"}, moment(t, o).Unexplained())
	say(t, o, a, "R", "As planned again")
	require.Equal(t, explain.Ready, states(t, o)["R"], "R does not stand at Act")
	officetest.GatherMap(t, o, map[string]string{"narratives.csv": "project,period,section,text\nL,2026-02,Health and Safety,None hurt\nL,2026-02,summary,The gate is late\n"})
	require.Equal(t, explain.Ready, states(t, o)["L"])
	require.Equal(t, []string{"W", "*"}, moment(t, o).Unexplained())
	x, err = explain.In(o).One(t.Context(), a, moment(t, o), "L")
	require.NoError(t, err)
	require.Equal(t, "Health and safety", x.Story[1].Title)
	require.Equal(t, "None hurt", x.Story[1].Words[0].Text)
	officetest.GatherMap(t, o, map[string]string{"leads.csv": "Project,Month,Summary,Health and Safety,Next steps\nL,Feb 2026,The gate is later,One hurt,The sill\n"})
	x, err = explain.In(o).One(t.Context(), a, moment(t, o), "L")
	require.NoError(t, err)
	require.Equal(t, map[string]string{"summary": "The gate is later", "safety": "One hurt", "next": "The sill"}, x.Words.Text, "as heads of columns too")
	report := officetest.Take(t, o, entry.Options{}, officetest.File("narratives.csv", "project,period,section,text\nL,2026-02,weather,Windy\n"))
	require.Contains(t, report.Refusals[0].Reason, `"weather" is not one of: summary, done, next, help, safety`)
}

// TestWordsOnGroups: a programme that moved or stands badly waits for words, which are kept as
// they are typed, said once, followed by its figures, and stay once the period is closed.
func TestWordsOnGroups(t *testing.T) {
	o := written(t)
	ctx, a, room := t.Context(), officetest.Admitted(t, o, "pen", right.Analyst), explain.In(o)
	b := officetest.Admitted(t, o, "ben", right.Analyst)
	officetest.GatherMap(t, o, map[string]string{"programmes.csv": "programme,name\nH,Harbour\n", "projects.csv": "project,programme\nL,H\n"})
	of := func(scope string) *office.Moment {
		return officetest.Moment(t, o, office.Ask{At: "2026-02", Vs: "2026-01", Scope: scope})
	}
	require.Equal(t, explain.Wanted, states(t, o)["H"])
	x, err := room.Group(ctx, a, of("H"))
	require.NoError(t, err)
	require.Equal(t, "Harbour", x.Now.Name)
	require.Len(t, x.Movers, 1)
	require.Contains(t, x.First(), "Harbour stands at Act, Steady at ")
	require.Contains(t, x.First(), "1 project stands worse and 0 better")
	require.ErrorContains(t, room.SendGroup(ctx, a, of("H")), "Nothing is typed")
	text := "Spent {ac}: the lock is late"
	require.NoError(t, room.KeepGroup(ctx, a, of("H"), map[string]office.Typed{"summary": {Text: text}}))
	require.NoError(t, room.KeepGroup(ctx, b, of("H"), map[string]office.Typed{"summary": {Text: "All is well"}}))
	x, err = room.Group(ctx, a, of("H"))
	require.NoError(t, err)
	require.Equal(t, text, x.Draft.Value("summary"))
	require.True(t, x.Draft.Changed("summary"))
	require.NoError(t, room.SendGroup(ctx, a, of("H")))
	require.Equal(t, explain.Ready, states(t, o)["H"])
	x, err = room.Group(ctx, a, of("H"))
	require.NoError(t, err)
	require.Equal(t, "Spent €900: the lock is late", x.Story[0].Words[0].Text)
	require.True(t, x.Draft.Since.IsZero(), "what was sent is no draft")
	var conflict *office.Conflict
	require.ErrorAs(t, room.SendGroup(ctx, b, of("H")), &conflict)
	require.NoError(t, room.ChooseGroup(ctx, b, of("H"), "summary", true))
	require.NoError(t, room.SendGroup(ctx, b, of("H")))
	require.NoError(t, room.Agree(ctx, a, of("H"), "H", claim.Digest(map[string]string{"summary": "All is well"}), true))
	require.Equal(t, explain.Agreed, states(t, o)["H"])
	require.NoError(t, room.KeepGroup(ctx, a, of("H"), map[string]office.Typed{"summary": {Was: "All is well", Text: text}}))
	require.NoError(t, room.SendGroup(ctx, a, of("H")))
	lead := officetest.Admitted(t, o, "lead", right.Lead, "L")
	var denied *right.Denied
	require.ErrorAs(t, room.KeepGroup(ctx, lead, of("H"), nil), &denied)
	_, err = closing.In(o).ClosePeriod(ctx, a, of("H").Asked.Number)
	require.NoError(t, err)
	require.ErrorContains(t, room.KeepGroup(ctx, a, of("H"), nil), "closed")
	officetest.GatherMap(t, o, map[string]string{"costs.csv": "project,cost_code,kind,period,amount\nL,10,actual,2026-03,5000\n"})
	march, err := room.Group(ctx, a, officetest.Moment(t, o, office.Ask{At: "2026-03", Scope: "H"}))
	require.NoError(t, err)
	require.Equal(t, "Spent €900: the lock is late", march.Story[0].Words[0].Text)
}

// TestWordsOfTheWholeAreForThoseWhoReadIt: who reads but some projects reads no words on sums
// that hold others.
func TestWordsOfTheWholeAreForThoseWhoReadIt(t *testing.T) {
	o := written(t)
	officetest.GatherMap(t, o, map[string]string{"commentaries.csv": "scope,period,section,text\n*,2026-02,summary,The sluice is for sale\n"})
	ctx := t.Context()
	all, err := explain.In(o).Group(ctx, officetest.Admitted(t, o, "pen", right.Analyst), moment(t, o))
	require.NoError(t, err)
	require.Equal(t, "The sluice is for sale", all.Story[0].Words[0].Text)
	some := officetest.Admitted(t, o, "ada", right.Lead, "L")
	some.Sight = portfolio.Sight{moment(t, o).Snapshot().Project("L").ID: portfolio.AllKinds}
	m, err := o.Moment(ctx, some, office.Ask{At: "2026-02"})
	require.NoError(t, err)
	part, err := explain.In(o).Group(ctx, some, m)
	require.NoError(t, err)
	require.Empty(t, part.Story)
}
