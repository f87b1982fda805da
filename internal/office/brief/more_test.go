package brief_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
	"turret/internal/office/brief"
	"turret/internal/office/closing"
	"turret/internal/office/officetest"
)

// text is what a brief's pages say.
func text(t *testing.T, o *office.Office, spec brief.Spec) string {
	t.Helper()
	b, err := brief.In(o).Brief(t.Context(), officetest.Operator, spec)
	require.NoError(t, err)
	var out strings.Builder
	for _, s := range b.Sheets {
		for _, x := range s.Marks {
			out.WriteString(x.Text + " ")
		}
	}
	return out.String()
}

// TestMorePages: every page that can be added is put together with figures of the example, and
// says what it is; a project's brief refuses those of several.
func TestMorePages(t *testing.T) {
	o := officetest.Example(t)
	m := officetest.Moment(t, o, office.Ask{})
	for _, p := range brief.More {
		said := text(t, o, brief.Spec{At: m.Period.Code, Parts: []string{p.Name}})
		require.Contains(t, strings.ReplaceAll(said, "\n", " "), strings.Fields(p.Title)[0], p.Name)
		require.Greater(t, len(said), 80, p.Name)
	}
	said := text(t, o, brief.Spec{At: m.Period.Code, Parts: []string{"text:title=For%20Tuesday&q=The%20crane%20waits"}})
	require.Contains(t, said, "For Tuesday")
	require.Contains(t, said, "The crane waits")
	require.NotContains(t, text(t, o, brief.Spec{At: m.Period.Code, Parts: []string{"decide:", "text:q=%20"}}), "In words", "a page of no words is none")
	project := m.ProjectNames()[0][0]
	for _, name := range []string{"decide:", "each:", "since:"} {
		_, err := brief.In(o).Brief(t.Context(), officetest.Operator, brief.Spec{At: m.Period.Code, Scope: project, Parts: []string{name}})
		require.ErrorContains(t, err, "is a page of the portfolio's", name)
	}
	for _, name := range []string{"trend:figure=nothing", "trend:of=NOBODY", "money:rows=moon"} {
		_, err := brief.In(o).Brief(t.Context(), officetest.Operator, brief.Spec{At: m.Period.Code, Parts: []string{name}})
		require.ErrorIs(t, err, office.ErrRefused, name)
	}
}

// TestSinceTheLastBrief: projects stand beside what the last brief of a closed period said of
// them; of one that was made while its period was open nothing is known any more.
func TestSinceTheLastBrief(t *testing.T) {
	o := officetest.NewOffice(t)
	officetest.GatherMap(t, o, map[string]string{
		"projects.csv": "project,name,lead\nA,Apron,Ada\n", "cost_codes.csv": "cost_code,name\n10,Works\n",
		"costs.csv": "project,cost_code,kind,period,version,amount\nA,10,plan,2026-01,1,1000\nA,10,plan,2026-06,1,5000\nA,10,actual,2026-01,,900\n",
	})
	jan := officetest.Moment(t, o, office.Ask{At: "2026-01"})
	_, err := brief.In(o).Make(t.Context(), officetest.Operator, brief.Spec{At: "2026-01"}, func(string) {})
	require.NoError(t, err)
	officetest.GatherMap(t, o, map[string]string{"projects.csv": "project,name,lead\nA,Apron,Bo\n"}) // so the brief holds what no cut does
	_, err = closing.In(o).ClosePeriod(t.Context(), officetest.Operator, jan.Period.Number)
	require.NoError(t, err)
	officetest.GatherMap(t, o, map[string]string{"costs.csv": "project,cost_code,kind,period,version,amount\nA,10,forecast,2026-06,2026-02,7000\nA,10,actual,2026-02,,100\n"})
	ask := brief.Spec{At: "2026-02", Parts: []string{"since:"}}
	require.Contains(t, text(t, o, ask), "nothing to set beside")
	_, err = brief.In(o).Make(t.Context(), officetest.Operator, brief.Spec{At: "2026-01"}, func(string) {})
	require.NoError(t, err)
	said := text(t, o, ask)
	require.Contains(t, said, "Beside the brief of Jan 2026")
	require.Contains(t, said, "Stated outlook")
	require.Contains(t, said, "8,000")
	require.NotContains(t, said, "Plan at completion", "it did not change")
}
