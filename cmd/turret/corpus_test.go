package main

import (
	"encoding/csv"
	"fmt"
	"maps"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"
)

// The corpus of files such as people send: each is gathered into a copy of one portfolio
// as someone would on the command line, and what is then kept is compared with what a
// careful analyst takes from it. internal/gather/testdata/corpus/README.md has the form.

const corpusDir = "../../internal/gather/testdata/corpus"

// corpusCase is one file, or several that come together, and what must come of them.
type corpusCase struct {
	name    string
	why     string
	args    []string // that the user says in any case
	want    string   // take, or ask
	answer  []string // to what is asked
	files   map[string]string
	sheets  map[string][]corpusSheet // by file
	rows    map[string][]corpusRow   // that must be kept, by table; those that may be by "table?"
	refused int                      // rows that are no data, or wrong, and told
}

type corpusSheet struct {
	name string
	rows []string
}

type corpusRow map[string]string

// readCorpus reads a case; sets are rows that several share.
func readCorpus(t *testing.T, path string, sets map[string][]corpusRow) *corpusCase {
	body, err := os.ReadFile(path)
	require.NoError(t, err)
	c := &corpusCase{
		name: strings.TrimSuffix(filepath.Base(path), ".txt"), want: "take",
		files: map[string]string{}, sheets: map[string][]corpusSheet{}, rows: map[string][]corpusRow{},
	}
	var file, table string
	var head []string
	for line := range strings.Lines(string(body)) {
		line = strings.TrimSuffix(line, "\n")
		key, rest, _ := strings.Cut(line, " ")
		switch {
		case key == "==":
			file, table = strings.TrimSpace(rest), ""
			if name, sheet, ok := strings.Cut(file, " :: "); ok {
				file = name
				c.sheets[file] = append(c.sheets[file], corpusSheet{name: sheet})
			} else {
				c.files[file] = ""
			}
		case key == "->":
			name, columns, _ := strings.Cut(rest, ":")
			file, table, head = "", strings.TrimSpace(name), strings.Split(strings.TrimSpace(columns), ",")
			if set, ok := strings.CutPrefix(strings.TrimSpace(columns), "@"); ok {
				require.Contains(t, sets, set, path)
				c.rows[table] = append(c.rows[table], sets[set]...)
			}
		case table != "":
			if strings.TrimSpace(line) != "" {
				c.rows[table] = append(c.rows[table], corpusRowOf(t, head, line))
			}
		case file != "" && len(c.sheets[file]) > 0:
			s := &c.sheets[file][len(c.sheets[file])-1]
			s.rows = append(s.rows, line)
		case file != "":
			c.files[file] += line + "\n"
		case key == "why:":
			c.why = rest
		case key == "args:":
			c.args = words(rest)
		case key == "want:":
			c.want = rest
		case key == "answer:":
			c.answer = words(rest)
		case key == "refused:":
			c.refused, err = strconv.Atoi(rest)
			require.NoError(t, err)
		default:
			require.Empty(t, line, path)
		}
	}
	return c
}

func corpusRowOf(t *testing.T, head []string, line string) corpusRow {
	r := csv.NewReader(strings.NewReader(line))
	cells, err := r.Read()
	require.NoError(t, err, line)
	require.Len(t, cells, len(head), line)
	row := corpusRow{}
	for i, c := range cells {
		row[head[i]] = c
	}
	return row
}

// words parts a line as a shell would, by spaces outside double quotes.
func words(line string) (out []string) {
	for _, m := range regexp.MustCompile(`(?:[^\s"]|"[^"]*")+`).FindAllString(line, -1) {
		out = append(out, strings.ReplaceAll(m, `"`, ""))
	}
	return out
}

// write makes the files of a case in a directory.
func (c *corpusCase) write(t *testing.T, dir string) (paths []string) {
	for name, text := range c.files {
		paths = append(paths, filepath.Join(dir, name))
		require.NoError(t, os.WriteFile(paths[len(paths)-1], []byte(text), 0o600))
	}
	for name, sheets := range c.sheets {
		x := excelize.NewFile()
		for i, s := range sheets {
			if i == 0 {
				require.NoError(t, x.SetSheetName("Sheet1", s.name))
			} else {
				_, err := x.NewSheet(s.name)
				require.NoError(t, err)
			}
			n := 0
			for _, row := range s.rows {
				if row == "" && n == 0 {
					continue
				}
				n++
				corpusCells(t, x, s.name, n, row)
			}
		}
		paths = append(paths, filepath.Join(dir, name))
		require.NoError(t, x.SaveAs(paths[len(paths)-1]))
	}
	slices.Sort(paths)
	return paths
}

var (
	corpusNumber = regexp.MustCompile(`^-?\d+(\.\d+)?$`)
	corpusShare  = regexp.MustCompile(`^(-?\d+(?:\.\d+)?)%$`)
	corpusDay    = regexp.MustCompile(`^\d{4}-\d\d-\d\d$`)
	corpusMonth  = regexp.MustCompile(`^m:(\d{4}-\d\d)$`)
	corpusForm   = regexp.MustCompile(`^\{(.+)\}(-?\d+(?:\.\d+)?)$`)
)

// corpusCells writes a row of a sheet: cells stand between bars; see the README.
func corpusCells(t *testing.T, x *excelize.File, sheet string, n int, row string) {
	if rest, hidden := strings.CutPrefix(row, "~ "); hidden {
		row = rest
		require.NoError(t, x.SetRowVisible(sheet, n, false))
	}
	for i, text := range strings.Split(row, "|") {
		text = strings.ReplaceAll(strings.TrimSpace(text), `\n`, "\n")
		at, err := excelize.CoordinatesToCellName(i+1, n)
		require.NoError(t, err)
		set := func(v any, style *excelize.Style) {
			require.NoError(t, x.SetCellValue(sheet, at, v))
			if style != nil {
				id, err := x.NewStyle(style)
				require.NoError(t, err)
				require.NoError(t, x.SetCellStyle(sheet, at, at, id))
			}
		}
		number := func(s string) float64 {
			v, err := strconv.ParseFloat(s, 64)
			require.NoError(t, err)
			return v
		}
		form := func(f string) *excelize.Style { return &excelize.Style{CustomNumFmt: &f} }
		left := func(k int) string {
			for j := i - 1; j >= 0; j-- {
				if cells := strings.Split(row, "|"); strings.TrimSpace(cells[j]) != "<" {
					name, _ := excelize.CoordinatesToCellName(j+1, n-k)
					return name
				}
			}
			return at
		}
		indent := 0
		for strings.HasPrefix(text, ">") {
			indent, text = indent+1, text[1:]
		}
		switch {
		case text == "":
		case text == "<":
			require.NoError(t, x.MergeCell(sheet, left(0), at))
		case text == "^":
			up, _ := excelize.CoordinatesToCellName(i+1, n-1)
			require.NoError(t, x.MergeCell(sheet, up, at))
		case strings.HasPrefix(text, "'"):
			set(text[1:], nil)
		case corpusNumber.MatchString(text):
			set(number(text), nil)
		case corpusShare.MatchString(text):
			set(number(corpusShare.FindStringSubmatch(text)[1])/100, form("0%"))
		case corpusDay.MatchString(text):
			d, err := time.Parse(time.DateOnly, text)
			require.NoError(t, err)
			set(d, form("yyyy-mm-dd"))
		case corpusMonth.MatchString(text):
			d, err := time.Parse("2006-01", corpusMonth.FindStringSubmatch(text)[1])
			require.NoError(t, err)
			set(d, form("mmm yy"))
		case corpusForm.MatchString(text):
			m := corpusForm.FindStringSubmatch(text)
			set(number(m[2]), form(m[1]))
		case indent > 0:
			set(text, &excelize.Style{Alignment: &excelize.Alignment{Indent: indent}})
		default:
			set(text, nil)
		}
	}
}

// exported gives all tables of a database by name.
func exported(t *testing.T, db, dir string) map[string][]corpusRow {
	require.NoError(t, os.RemoveAll(dir))
	code, _, errs := cli("export", "--db", db, dir)
	require.Equal(t, done, code, errs)
	out := map[string][]corpusRow{}
	paths, err := filepath.Glob(filepath.Join(dir, "*.csv"))
	require.NoError(t, err)
	for _, p := range paths {
		all := readCSV(t, p)
		table := strings.TrimSuffix(filepath.Base(p), ".csv")
		for _, cells := range all[min(1, len(all)):] {
			row := corpusRow{}
			for i, c := range cells {
				row[all[0][i]] = strings.TrimPrefix(c, "'")
			}
			out[table] = append(out[table], row)
		}
	}
	return out
}

func readCSV(t *testing.T, path string) [][]string {
	f, err := os.Open(path)
	require.NoError(t, err)
	all, err := csv.NewReader(f).ReadAll()
	require.NoError(t, f.Close())
	require.NoError(t, err)
	return all
}

// What became of a case.
const (
	caseRight = "right"
	caseAsked = "asked" // nothing was taken, and it was told why
	casePart  = "partly"
	caseWrong = "wrong"
)

// judged compares what is kept after with what was before and what must be.
func (c *corpusCase) judged(before, after map[string][]corpusRow) (verdict string, why []string) {
	missing, odd, fine := 0, 0, 0
	line := func(r corpusRow) string {
		var parts []string
		for _, k := range slices.Sorted(maps.Keys(r)) {
			if r[k] != "" {
				parts = append(parts, k+"="+r[k])
			}
		}
		return strings.Join(parts, " ")
	}
	tables := map[string]bool{}
	for _, m := range [...]map[string][]corpusRow{before, after} {
		for k := range m {
			tables[k] = true
		}
	}
	for _, table := range slices.Sorted(maps.Keys(tables)) {
		if table == "settings" {
			continue
		}
		was := map[string]int{}
		for _, r := range before[table] {
			was[line(r)]++
		}
		var changed []corpusRow
		for _, r := range after[table] {
			if k := line(r); was[k] > 0 {
				was[k]--
			} else {
				changed = append(changed, r)
			}
		}
		used := make([]bool, len(changed))
	wanted:
		for _, w := range c.rows[table] {
			for i, r := range changed {
				if !used[i] && w.in(r) {
					used[i] = true
					fine++
					continue wanted
				}
			}
			for _, r := range before[table] {
				if w.in(r) { // stated again as it was
					fine++
					continue wanted
				}
			}
			missing++
			why = append(why, "missing "+table+" "+line(w))
		}
		for i, r := range changed {
			for _, may := range c.rows[table+"?"] {
				used[i] = used[i] || may.in(r)
			}
			if !used[i] {
				odd++
				why = append(why, "odd "+table+" "+line(r))
			}
		}
	}
	switch {
	case odd > 0:
		return caseWrong, why
	case fine == 0:
		return caseAsked, why
	case missing == 0:
		return caseRight, nil
	}
	return casePart, why
}

// in tells whether a row holds all that another states.
func (w corpusRow) in(r corpusRow) bool {
	for k, v := range w {
		if have, ok := r[k]; !ok || leanly(have) != leanly(v) {
			return false
		}
	}
	return true
}

func leanly(s string) string {
	s = strings.Join(strings.Fields(s), " ")
	if corpusNumber.MatchString(s) && strings.Contains(s, ".") {
		s = strings.TrimSuffix(strings.TrimRight(s, "0"), ".")
	}
	return s
}

func TestCorpus(t *testing.T) {
	dir := t.TempDir()
	base := filepath.Join(dir, "base.db")
	code, _, errs := cli("init", "--db", base, "--currency", "EUR", "--fiscal-start", "4")
	require.Equal(t, done, code, errs)
	code, _, errs = cli("gather", "--db", base, filepath.Join(corpusDir, "base"))
	require.Equal(t, done, code, errs)
	kept, err := os.ReadFile(base)
	require.NoError(t, err)
	before := exported(t, base, filepath.Join(dir, "before"))
	sets := map[string][]corpusRow{}
	paths, err := filepath.Glob(filepath.Join(corpusDir, "sets", "*.csv"))
	require.NoError(t, err)
	for _, p := range paths {
		all := readCSV(t, p)
		name := strings.TrimSuffix(filepath.Base(p), ".csv")
		for _, cells := range all[1:] {
			row := corpusRow{}
			for i, c := range cells {
				row[all[0][i]] = c
			}
			sets[name] = append(sets[name], row)
		}
	}
	paths, err = filepath.Glob(filepath.Join(corpusDir, "*.txt"))
	require.NoError(t, err)
	require.NotEmpty(t, paths)
	for _, p := range paths {
		c := readCorpus(t, p, sets)
		t.Run(c.name, func(t *testing.T) {
			t.Parallel()
			dir := t.TempDir()
			try := func(args ...string) (verdict, told string) {
				db := filepath.Join(dir, "a.db")
				for _, tail := range [...]string{"", "-wal", "-shm"} {
					_ = os.Remove(db + tail)
				}
				require.NoError(t, os.WriteFile(db, kept, 0o600))
				files := filepath.Join(dir, "files")
				require.NoError(t, os.MkdirAll(files, 0o700))
				paths := c.write(t, files)
				code, out, errs := cli(append(append([]string{"gather", "--db", db}, args...), paths...)...)
				verdict, why := c.judged(before, exported(t, db, filepath.Join(dir, "after")))
				if verdict != caseRight && code == done {
					verdict = caseWrong // lost without a word
				}
				return verdict, fmt.Sprintf("%s\n%s\n%s\n%s", c.why, strings.Join(why, "\n"), out, errs)
			}
			verdict, told := try(c.args...)
			if c.want == "ask" {
				require.Equal(t, caseAsked, verdict, told)
				if len(c.answer) > 0 {
					verdict, told = try(append(slices.Clone(c.args), c.answer...)...)
					require.Equal(t, caseRight, verdict, told)
				}
				return
			}
			require.Equal(t, caseRight, verdict, told)
			require.Equal(t, c.refused, strings.Count("\n"+told, "\nrefused: "), told)
		})
	}
}
