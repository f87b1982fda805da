package gather

import (
	"archive/zip"
	"bytes"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/record"
)

func options() *Options { return &Options{Limits: DefaultLimits, Periods: calendar.Months(4)} }

func read(t testing.TB, name, body string, o *Options) (rows []portfolio.Row, refused []Refusal) {
	t.Helper()
	f := &File{Name: name, Body: []byte(body)}
	sheets, refused := Sheets(f, o.Limits)
	for _, s := range sheets {
		Understand(s, o, Mapping{}).Read(o, func(r *portfolio.Row, cells func() map[string]string) {
			c := *r
			c.Fields = append([]portfolio.Field(nil), r.Fields...)
			rows = append(rows, c)
		}, func(r Refusal) { refused = append(refused, r) })
	}
	return rows, refused
}

func TestFindsCanonicalTables(t *testing.T) {
	for _, c := range []struct{ name, head, table string }{
		{"costs.csv", "project,cost_code,kind,period", "costs"},
		{"in/Costs-2026-11.csv", "project,cost_code,kind,period", "costs"},
		{"cost_codes.csv", "cost_code", "cost_codes"},
		{"costsheet.csv", "project,cost_code,kind,period,amount", "costs"},
		{"x.csv", "posting,date,amount", "postings"},
		{"x.csv", "project,activity,step,weight,done", "steps"},
		{"x.csv", "\xef\xbb\xbfProgramme,Name", "programmes"},
		{"x.csv", "project,region", "projects"},
		{"x.csv", "a,b", ""},
	} {
		sheets, refused := Sheets(&File{Name: c.name, Body: []byte(c.head + "\n")}, DefaultLimits)
		require.Empty(t, refused, c)
		u := Understand(sheets[0], options(), Mapping{})
		require.Equal(t, c.table, u.Table, c)
		require.Equal(t, c.table != "", u.Canonical, c)
	}
}

func TestReadsTidily(t *testing.T) {
	rows, refused := read(
		t,
		"projects.csv",
		"\xef\xbb\xbfProject, Name ,start\r\n K1 ,\"Quay, \"\"north\"\"\",2026-11-05\r\n\r\nK2,-,\r\n",
		options(),
	)
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
	i := record.Named("progress").Index("period")
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
	require.Contains(t, refused[0].Reason, "more than 10 characters")
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

// zipOf makes a zip in memory.
func zipOf(t testing.TB, files map[string]string) *zip.Reader {
	t.Helper()
	b := zipBytes(t, files)
	z, err := zip.NewReader(bytes.NewReader(b), int64(len(b)))
	require.NoError(t, err)
	return z
}

func zipBytes(t testing.TB, files map[string]string) []byte {
	t.Helper()
	var b bytes.Buffer
	w := zip.NewWriter(&b)
	for name, body := range files {
		f, err := w.Create(name)
		require.NoError(t, err)
		_, err = f.Write([]byte(body))
		require.NoError(t, err)
	}
	require.NoError(t, w.Close())
	return b.Bytes()
}

// TestHostileSpreadsheets: what would take the machine down, or is no
// spreadsheet, is refused with a sentence before it is unpacked.
func TestHostileSpreadsheets(t *testing.T) {
	if testing.Short() {
		t.Skip("runs on one goroutine, and long")
	}
	lim := DefaultLimits
	lim.ZipBytes, lim.ZipFiles, lim.XMLDepth = 100<<20, 50, 20
	many := make(map[string]string)
	for i := range 60 {
		many[fmt.Sprintf("xl/media/%d", i)] = ""
	}
	for _, c := range []struct {
		name, says string
		body       []byte
	}{
		{"bomb", "more than is read", zipBytes(t, map[string]string{"xl/worksheets/sheet1.xml": strings.Repeat("0", 120<<20)})},
		{"parts", "made of 60 parts", zipBytes(t, many)},
		{"no book", "spreadsheet that can be read", zipBytes(t, map[string]string{"a.txt": "x"})},
		{"cut short", "spreadsheet that can be read", zipBytes(t, map[string]string{"a.txt": "x"})[:40]},
		{"old kind", "old kind, or has a password", []byte("\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1rest")},
		{"renamed", "not a spreadsheet", []byte("project,name\n")},
	} {
		sheets, refused := Sheets(&File{Name: c.name + ".xlsx", Body: c.body}, lim)
		require.Empty(t, sheets, c.name)
		require.Len(t, refused, 1, c.name)
		require.Contains(t, refused[0].Reason, c.says, c.name)
	}
	deep := zipOf(t, map[string]string{"s": strings.Repeat("<a>", 40)})
	_, why := scanMarks(deep.File[0], lim)
	require.Contains(t, why, "20 levels deep")
	lim.CellBytes = 10
	for text, says := range map[string]string{strings.Repeat("x", 41): "more than 10 characters", strings.Repeat("x", 30): ""} {
		long := zipOf(t, map[string]string{"s": "<row><c><v>" + text + "</v></c></row>"})
		require.Contains(t, overlong(long.File[0], lim), says)
		require.Equal(t, says == "", overlong(long.File[0], lim) == "")
	}
	require.Len(t, clip(strings.Repeat("é", 50), lim), 20)
	require.Equal(t, "as it is", clip("as it is", lim))
	lim.Cells = 3
	four := zipOf(t, map[string]string{"s": `<row r="1"><c r="A1"><v>1</v></c><c r="B1"><v>1</v></c></row><row r="2"><c r="A2"/><c r="B2"/></row>`})
	_, why = scanMarks(four.File[0], lim)
	require.Contains(t, why, "more than 3 cells")
	lim.Cells = 4
	_, why = scanMarks(four.File[0], lim)
	require.Empty(t, why)
}

// TestWhatPacksTooWell: a spreadsheet is refused where it unpacks to more than is
// read, or to more than 64 MB and a thousand times what it is packed to.
func TestWhatPacksTooWell(t *testing.T) {
	lim := Limits{ZipBytes: 1 << 30, ZipFiles: 2}
	const mb = 1 << 20
	for _, c := range []struct {
		name         string
		whole, small uint64
		refused      bool
	}{
		{"an empty sheet", 0, 0, false},
		{"a small sheet that packs very well", 60 * mb, 1000, false},
		{"64 MB", 64 * mb, 1000, false},
		{"more of it, well packed", 100 * mb, 100*mb/1001 - 1, true},
		{"more of it, as sheets pack", 100 * mb, 100 * mb / 1000, false},
		{"nothing that becomes much", 100 * mb, 0, true},
		{"the limit", 1 << 30, 1 << 28, false},
		{"beyond it", 1<<30 + 1, 1 << 28, true},
	} {
		part := &zip.File{
			FileHeader: zip.FileHeader{
				Name:               "xl/worksheets/sheet1.xml",
				UncompressedSize64: c.whole,
				CompressedSize64:   c.small,
			},
		}
		_, why := inspect(&zip.Reader{File: []*zip.File{part}}, lim)
		require.Equal(t, c.refused, why != "", "%s: %s", c.name, why)
	}
	_, why := inspect(&zip.Reader{File: make([]*zip.File, 3)}, lim)
	require.Contains(t, why, "made of 3 parts and the limit is 2")
}
