package web

import (
	"context"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/export"
	"turret/internal/office/structure"
	"turret/internal/record"
)

// berths is a kind of records that nothing else knows of.
var berths = func() *berthsKind {
	k := &berthsKind{Kind: record.NewRecords("berths", "berth", "berth", "where ships lie")}
	k.Berth = k.Text("berth", "its number", record.Key)
	k.Project = k.Ref("project", record.ProjectRef, "the project that builds it")
	k.Depth = k.Whole("depth", "metres of water", record.Within(1, 40))
	k.Side = k.Choice("side", []string{"port", "starboard"}, "which side ships lie on", record.Default("port"))
	k.Open = k.Date("open", "from this day", record.As("open_from"))
	k.Refuse = func(_ record.Run, x *record.Change) (column, why string) {
		if k.Side.Or(x.After) == "starboard" && k.Depth.Of(x.After) < 5 {
			return "depth", "starboard berths are five metres deep at least"
		}
		return "", ""
	}
	k.Form = &record.Form{Title: "Berths", Says: "Ships lie at them."}
	k.Touches = record.Names
	return k
}()

type berthsKind struct {
	*record.Kind
	Berth, Side record.TextCol
	Project     record.RefCol
	Depth       record.NumberCol
	Open        record.DateCol
}

// declareBerths declares them while a test runs; the database that tests begin
// with does not know them.
func declareBerths(t *testing.T) {
	t.Helper()
	_, err := admitted()
	require.NoError(t, err)
	t.Cleanup(record.Declare(berths.Kind))
}

// TestAKindOfItsOwn: a kind that is declared above, and nowhere else, is gathered,
// exported, shown in a form, changed by two at once, told in history and undone.
func TestAKindOfItsOwn(t *testing.T) {
	declareBerths(t)
	ctx := context.Background()
	o := newOffice(t, small)
	app := newApp(o)
	one, two := signedIn(t, app, office.Analyst), signedIn(t, app, office.Analyst)
	const page = "/setup/records/berths"
	read := func(berth string) map[string]string {
		t.Helper()
		r, err := structure.In(o).Register(ctx, operator, "berths")
		require.NoError(t, err)
		for _, x := range r.Rows {
			if x.Cells["berth"] == berth {
				return x.Cells
			}
		}
		return nil
	}

	// gathered, by its name and by its head, refused by its own rule
	gatherFiles(
		t,
		o,
		map[string]string{
			"berths.csv": "berth,project,depth,side,open,crane\nN1,B,8,starboard,2026-05-01,yes\nN2,,4,,,\n",
		},
	)
	require.Equal(
		t,
		map[string]string{
			"berth":   "N1",
			"project": "B",
			"depth":   "8",
			"side":    "starboard",
			"open":    "2026-05-01",
			"crane":   "yes",
		},
		read("N1"),
	)
	r, err := entry.In(o).
		Gather(ctx, operator, []entry.File{{Name: "berths.csv", Body: []byte("berth,project,depth,side\nN3,B,4,starboard\nN4,NOWHERE,8,\nN5,B,99,\n")}}, nil, entry.Options{})
	require.NoError(t, err)
	require.Len(t, r.Refusals, 3)
	require.Contains(t, r.Refusals[0].Reason+r.Refusals[1].Reason+r.Refusals[2].Reason, "five metres")

	// shown in a form
	_, body, _ := one.get(page + "?of=N1")
	for _, s := range []string{"2 berths. Ships lie at them.", `name="cell.depth" value="8"`, `type="date" name="cell.open" value="2026-05-01"`, "<option selected>starboard</option>", "metres of water"} {
		require.Contains(t, body, s)
	}
	form := func(b *browser, depth, mark string) (int, string, http.Header) {
		return b.post(
			page+"?of=N1",
			url.Values{
				"mark":         {mark},
				"cell.berth":   {"N1"},
				"cell.project": {"B"},
				"cell.depth":   {depth},
				"cell.side":    {"starboard"},
				"cell.open":    {"2026-05-01"},
			},
		)
	}
	mark := regexp.MustCompile(`name="mark" value="(\d+)"`).FindStringSubmatch(body)[1]

	// refused beside its field, with what was typed
	status, body, _ := form(one, "3", mark)
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.Regexp(t, `(?s)is-invalid" type="text" name="cell.depth" value="3".*?five metres deep`, body)

	// changed by two at once
	status, _, _ = form(one, "9", mark)
	require.Equal(t, http.StatusSeeOther, status)
	status, body, _ = form(two, "10", mark)
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.Contains(t, body, "The analyst changed the berth N1 meanwhile")
	require.Contains(t, body, "depth was 8, is 9 now, and yours is 10")
	require.Equal(t, "9", read("N1")["depth"])

	// told in history, and undone
	_, body, _ = one.get("/setup/rules")
	require.Regexp(t, `href="/setup/records/berths[^"]*"[^>]*>Berths<`, body, "it has its place behind Setup")
	_, body, _ = one.get("/history?table=berths")
	require.Contains(t, body, "record entered")
	require.Contains(t, body, "berth N1")
	batch := regexp.MustCompile(`/history/(\d+)`).FindStringSubmatch(body)[1]
	_, body, _ = one.get("/history/" + batch)
	require.Regexp(t, `(?s)berths.*N1.*depth.*8.*9`, body)
	status, _, head := one.post("/history/"+batch, url.Values{"do": {"undo"}})
	require.Equal(t, http.StatusSeeOther, status, head)
	require.Equal(t, "8", read("N1")["depth"])

	// exported, with a template and its place in the Data Package, and read again
	dir := filepath.Join(t.TempDir(), "out")
	require.NoError(t, export.In(o).Export(ctx, operator, dir))
	csv, err := os.ReadFile(filepath.Join(dir, "berths.csv"))
	require.NoError(t, err)
	require.Equal(t, "berth,project,depth,side,open,crane\nN1,B,8,starboard,2026-05-01,yes\nN2,,4,,,\n", string(csv))
	pack, err := os.ReadFile(filepath.Join(dir, "datapackage.json"))
	require.NoError(t, err)
	require.Contains(t, string(pack), "berths.csv")
	again := newOffice(t, nil)
	files, refused, err := entry.Collect([]string{dir})
	require.NoError(t, err)
	_, err = entry.In(again).Gather(ctx, operator, files, refused, entry.Options{})
	require.NoError(t, err)
	list, err := structure.In(again).Register(ctx, operator, "berths")
	require.NoError(t, err)
	require.Len(t, list.Rows, 2)
	empty := filepath.Join(t.TempDir(), "out")
	require.NoError(t, export.Template(operator, empty))
	blank, err := os.ReadFile(filepath.Join(empty, "empty", "berths.csv"))
	require.NoError(t, err)
	require.Equal(t, "berth,project,depth,side,open", strings.TrimSpace(string(blank)))

	// who may not write it, and what is no register
	lead := signedIn(t, app, office.Lead)
	_, body, _ = lead.get(page)
	require.NotContains(t, body, "Keep it")
	status, body, _ = form(lead, "12", "999")
	require.Equal(t, http.StatusForbidden, status)
	require.Contains(t, body, "may not")
	status, _, _ = one.get("/setup/records/rates")
	require.Equal(t, http.StatusNotFound, status)

	// and read by its columns
	row := portfolio.Row{Fields: make([]portfolio.Field, len(berths.Columns))}
	*berths.Depth.In(&row) = portfolio.Field{Said: portfolio.Value, Int: 7}
	require.Equal(t, int64(7), berths.Depth.Of(&row))
	require.Equal(t, "port", berths.Side.Or(&row))
}

// TestAProgramThatDoesNotKnowAKind does not open a database that holds it.
func TestAProgramThatDoesNotKnowAKind(t *testing.T) {
	ctx := context.Background()
	path := filepath.Join(t.TempDir(), "a.db")
	remove := record.Declare(berths.Kind)
	o, err := office.Init(ctx, operator, path, office.Settings{Name: "x", Reporting: "EUR", FiscalStart: 1})
	require.NoError(t, err)
	require.NoError(t, o.Close())
	remove()
	_, err = office.Open(ctx, operator, path, false)
	require.ErrorContains(t, err, "it keeps berth, which this program does not know")
}
