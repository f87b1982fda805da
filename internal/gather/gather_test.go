package gather

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
)

func options() *Options { return &Options{Limits: DefaultLimits, Periods: calendar.Months(4)} }

func read(t testing.TB, name, body string, o *Options) (rows []portfolio.Row, refused []Refusal) {
	t.Helper()
	f := &File{Name: name, Body: []byte(body)}
	if why := Identify(f, o); why != "" {
		return nil, []Refusal{{File: name, Reason: why}}
	}
	Read(f, o, func(r *portfolio.Row, cells func() map[string]string) {
		c := *r
		c.Fields = append([]portfolio.Field(nil), r.Fields...)
		rows = append(rows, c)
	}, func(r Refusal) { refused = append(refused, r) })
	return rows, refused
}

func TestIdentify(t *testing.T) {
	for _, c := range []struct{ name, head, table string }{
		{"costs.csv", "", "costs"},
		{"in/Costs-2026-11.csv", "", "costs"},
		{"cost_codes.csv", "", "cost_codes"},
		{"costsheet.csv", "project,cost_code,kind,period,amount", "costs"},
		{"x.csv", "posting,date,amount", "postings"},
		{"x.csv", "project,activity,step,weight,done", "steps"},
		{"x.csv", "\xef\xbb\xbfProgramme,Name", "programmes"},
		{"x.csv", "a,b", ""},
		{"x.csv", "", ""},
	} {
		f := &File{Name: c.name, Body: []byte(c.head + "\n")}
		why := Identify(f, options())
		if c.table == "" {
			require.NotEmpty(t, why, c)
			continue
		}
		require.Empty(t, why, c)
		require.Equal(t, c.table, f.Table.Name, c)
	}
}

func TestReadsTidily(t *testing.T) {
	rows, refused := read(t, "projects.csv", "\xef\xbb\xbfProject, Name ,start\r\n K1 ,\"Quay, \"\"north\"\"\",2026-11-05\r\n\r\nK2,-,\r\n", options())
	require.Empty(t, refused)
	require.Len(t, rows, 2)
	require.Equal(t, "K1", rows[0].Fields[0].Text)
	require.Equal(t, `Quay, "north"`, rows[0].Fields[1].Text)
	require.Equal(t, int32(2), rows[0].Source.Row)
	require.Equal(t, int32(4), rows[1].Source.Row, "the file's own row, blank ones counted")
	require.Equal(t, portfolio.None, rows[1].Fields[1].Said)
	require.Equal(t, portfolio.Nothing, rows[1].Fields[8].Said)
}

func TestPeriodFromOutside(t *testing.T) {
	o := options()
	o.Period = 24322
	rows, refused := read(t, "progress.csv", "project,activity,percent\nA,1,12.5\n", o)
	require.Empty(t, refused)
	i := portfolio.TableNamed("progress").Index("period")
	require.Equal(t, int64(24322), rows[0].Fields[i].Int)
	require.Equal(t, int64(12_500_000), rows[0].Fields[i+1].Int)
}

func TestLimits(t *testing.T) {
	o := options()
	o.Limits.Rows, o.Limits.Columns, o.Limits.CellBytes, o.Limits.LineBytes = 2, 3, 10, 200
	_, refused := read(t, "programmes.csv", "programme\na\nb\nc\n", o)
	require.Contains(t, refused[0].Reason, "more than 2 rows")
	_, refused = read(t, "programmes.csv", "programme,name,owner,x\na,b,c,d\n", o)
	require.Contains(t, refused[0].Reason, "4 columns and the limit is 3")
	long := strings.Repeat("a", 60)
	_, refused = read(t, "programmes.csv", "programme,name\na,"+long+"\n", o)
	require.Contains(t, refused[0].Reason, "60 characters and the limit is 10")
}

func FuzzRead(f *testing.F) {
	f.Add("projects.csv", "project,name,start\nK1,\"a\nb\",2026-01-01\n")
	f.Add("costs.csv", "project,cost_code,kind,period,version,amount\nA,1,plan,2026-01,1,5\n")
	f.Add("x.csv", "posting,date,amount\nL1,2026-02-31,1e9\n")
	f.Add("progress.csv", "project;activity\n\"")
	f.Fuzz(func(t *testing.T, name, body string) {
		o := options()
		o.Limits.LineBytes, o.Limits.Rows = 1000, 100
		rows, refused := read(t, name, body, o)
		for _, r := range refused {
			require.NotEmpty(t, r.Reason)
		}
		for i := range rows {
			require.Positive(t, rows[i].Source.Row)
		}
		if len(rows) == 0 && len(refused) == 0 && len(body) > 0 { // a header alone says nothing
			require.NotContains(t, body, "\x00")
		}
	})
}
