package export

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"io"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/right"
	"turret/internal/store"
	"turret/internal/store/format"
)

// Export writes everything as a Data Package: into a zip where the path ends
// in .zip, else into a directory. It does not overwrite.
func (o Room) Export(ctx context.Context, a right.Actor, path string) error {
	if err := right.Check(a, right.Export); err != nil {
		return err
	}
	if store.Exists(path) {
		return fmt.Errorf("%s exists already; name another place", path)
	}
	s, err := o.Sees(ctx, a)
	if err != nil {
		return err
	}
	if strings.EqualFold(filepath.Ext(path), ".zip") {
		return whole(path, func(w io.Writer) error {
			z := zip.NewWriter(w)
			err := o.exportTables(ctx, s, func(name string, body []byte) error {
				f, err := z.CreateHeader(
					&zip.FileHeader{
						Name:     name,
						Method:   zip.Deflate,
						Modified: time.Date(2000, 1, 1, 0, 0, 0, 0, time.UTC),
					},
				)
				if err == nil {
					_, err = f.Write(body)
				}
				return err
			})
			if err != nil {
				return err
			}
			return z.Close()
		})
	}
	return WriteDir(path, func(file func(string, []byte) error) error { return o.exportTables(ctx, s, file) })
}

// whole writes a file under another name first, so that it is there whole or
// not at all.
func whole(path string, write func(io.Writer) error) error {
	tmp := path + ".part"
	f, err := os.OpenFile(tmp, os.O_RDWR|os.O_CREATE|os.O_TRUNC, 0o600)
	if err != nil {
		return err
	}
	if err = write(f); err == nil {
		err = f.Sync()
	}
	if e := f.Close(); err == nil {
		err = e
	}
	if err == nil {
		err = os.Rename(tmp, path)
	}
	if err != nil {
		os.Remove(tmp)
	}
	return err
}

// WriteDir makes a directory and the files that fill hands over.
func WriteDir(dir string, fill func(func(name string, body []byte) error) error) error {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return err
	}
	return fill(func(name string, body []byte) error {
		return whole(filepath.Join(dir, name), func(w io.Writer) error {
			_, err := w.Write(body)
			return err
		})
	})
}

// tableFile collects the rows of one table as CSV; columns that no table lists
// come last.
type tableFile struct {
	t     *record.Kind
	rows  []map[string]string
	extra map[string]bool
}

func (f *tableFile) add(cells map[string]string) {
	for k := range cells {
		if f.t.Index(k) < 0 {
			if f.extra == nil {
				f.extra = make(map[string]bool)
			}
			f.extra[k] = true
		}
	}
	f.rows = append(f.rows, cells)
}

func (f *tableFile) columns() []string {
	var out []string
	for i := range f.t.Columns {
		out = append(out, f.t.Columns[i].Name)
	}
	return append(out, slices.Sorted(maps.Keys(f.extra))...)
}

func (f *tableFile) csv() ([]byte, error) {
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	columns := f.columns()
	if err := w.Write(columns); err != nil {
		return nil, err
	}
	for _, r := range f.rows {
		out := make([]string, len(columns))
		for i, c := range columns {
			if out[i] = r[c]; i >= len(f.t.Columns) || f.t.Columns[i].Type.Guarded() {
				out[i] = record.Guard(out[i])
			}
		}
		if err := w.Write(out); err != nil {
			return nil, err
		}
	}
	w.Flush()
	return b.Bytes(), w.Error()
}

// exportTables hands over every table and the package's description.
func (o Room) exportTables(ctx context.Context, s *book.Snapshot, file func(string, []byte) error) error {
	tables := make(map[string]*tableFile, len(record.Kinds()))
	for _, t := range record.Kinds() {
		tables[t.Name] = &tableFile{t: t}
	}
	periods := s.Office.Periods
	for name, rows := range s.Records {
		for i := range rows {
			tables[name].add(record.FormatRow(tables[name].t, &rows[i], periods))
		}
	}
	templates, err := s.Templates(ctx)
	if err != nil {
		return err
	}
	for _, p := range append(templates, s.Projects()...) {
		if err := o.exportProject(ctx, s, p, tables); err != nil {
			return fmt.Errorf("project %s: %w", p.Code, err)
		}
	}
	if err := o.exportPostings(ctx, s, tables["postings"]); err != nil {
		return err
	}
	var described []*tableFile
	for _, t := range record.Kinds() {
		f := tables[t.Name]
		if len(f.rows) == 0 {
			continue
		}
		body, err := f.csv()
		if err != nil {
			return err
		}
		if err := file(t.Name+".csv", body); err != nil {
			return err
		}
		described = append(described, f)
	}
	return file("datapackage.json", describe(s.Office.Name, described))
}

// Drawing gives the rows that draw a project, by table, as an export has them: its
// activities with their baselines, steps, links and plans.
func (o Room) Drawing(ctx context.Context, a right.Actor, s *book.Snapshot, p *portfolio.Project) (map[string][]map[string]string, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	tables := make(map[string]*tableFile)
	for _, t := range record.Kinds() {
		tables[t.Name] = &tableFile{t: t}
	}
	if err := o.exportProject(ctx, s, p, tables); err != nil {
		return nil, err
	}
	out := make(map[string][]map[string]string)
	for _, t := range []*record.Kind{record.Activities.Kind, record.Steps.Kind, record.Links.Kind} {
		out[t.Name] = tables[t.Name].rows
	}
	for _, row := range tables[record.Costs.Name].rows {
		if row["kind"] == portfolio.PlanPart.String() {
			out[record.Costs.Name] = append(out[record.Costs.Name], row)
		}
	}
	return out, nil
}

func (o Room) exportProject(
	ctx context.Context,
	s *book.Snapshot,
	p *portfolio.Project,
	tables map[string]*tableFile,
) error {
	bodies := make(map[int64][]byte)
	var ids []int64
	for _, x := range s.Stated[p.ID] {
		ids = append(ids, x.ID)
	}
	err := o.Store().Bodies(ctx, ids, func(id int64, body []byte) error {
		bodies[id] = body
		return nil
	})
	if err != nil {
		return err
	}
	periods := s.Office.Periods
	acts := tables["activities"]
	for _, x := range s.Stated[p.ID] {
		body := bodies[x.ID]
		switch {
		case x.Kind == portfolio.LedgerPart: // summed from postings
		case x.Kind.Lines():
			lines, err := format.DecodeLines(body)
			if err != nil {
				return err
			}
			exportLines(tables["costs"], p, x, lines, s)
		case x.Kind == portfolio.ActivityPart:
			rows, err := format.DecodeRows(body, len(acts.t.Columns))
			if err != nil {
				return err
			}
			for i := range rows {
				cells := record.FormatRow(acts.t, &rows[i], periods)
				cells["project"] = p.Code
				acts.add(cells)
			}
		case x.Kind == portfolio.BaselinePart:
			rows, err := format.DecodeRows(body, len(record.ActivityBaselines.Kind.Columns))
			if err != nil {
				return err
			}
			exportBaseline(acts, p, x.Version, rows, periods)
		default:
			f := tables[x.Kind.String()]
			rows, err := format.DecodeRows(body, len(f.t.Columns))
			if err != nil {
				return err
			}
			for i := range rows {
				cells := formatMoney(f.t, &rows[i], p.Currency, periods)
				cells["project"] = p.Code
				if f.t.Version != "" {
					cells[f.t.Version] = periods.Code(calendar.Period(x.Version))
				}
				f.add(cells)
			}
		}
	}
	return nil
}

func formatMoney(t *record.Kind, r *portfolio.Row, cur money.Currency, periods *calendar.Periods) map[string]string {
	cells := record.FormatRow(t, r, periods)
	for i := range t.Columns {
		if t.Columns[i].Type == record.Money && r.Fields[i].Said == portfolio.Value {
			cells[t.Columns[i].Name] = money.Format(r.Fields[i].Int, cur)
		}
	}
	return cells
}

// exportBaseline adds what a baseline says to the activities' rows: baseline 1
// to their own, others as rows of their own.
func exportBaseline(
	acts *tableFile,
	p *portfolio.Project,
	number int32,
	rows []portfolio.Row,
	periods *calendar.Periods,
) {
	own := make(map[string]map[string]string)
	for i := len(acts.rows) - 1; i >= 0 && acts.rows[i]["project"] == p.Code; i-- {
		if c := acts.rows[i]; c["baseline"] == "" {
			own[c["activity"]] = c
		}
	}
	for i := range rows {
		cells := formatMoney(record.ActivityBaselines.Kind, &rows[i], p.Currency, periods)
		if to := own[cells["activity"]]; to != nil && number == 1 {
			to["baseline"] = "1"
			for k, v := range cells {
				to[k] = v
			}
			continue
		}
		cells["project"], cells["baseline"] = p.Code, fmt.Sprint(number)
		acts.add(cells)
	}
}

func exportLines(f *tableFile, p *portfolio.Project, x store.Stated, lines []portfolio.Line, s *book.Snapshot) {
	version := ""
	switch x.Kind {
	case portfolio.PlanPart:
		version = fmt.Sprint(x.Version)
	case portfolio.ForecastPart, portfolio.CommitmentPart:
		version = s.Office.Periods.Code(calendar.Period(x.Version))
	}
	for i := range lines {
		l := &lines[i]
		for _, c := range l.Cells {
			cells := map[string]string{
				"project": p.Code, "cost_code": s.Office.Codes[l.CodeID].Code, "kind": x.Kind.String(), "flow": string(l.Flow), "class": l.Class,
				"period": s.Office.Periods.Code(
					c.Period,
				), "version": version, "cost_centre": l.Centre, "activity": l.Activity,
				"amount": money.Format(c.Amount, l.Currency), "currency": string(l.Currency),
			}
			if m := l.Remarks[c.Period]; m != nil {
				cells["note"] = m.Note
				f.t.Beside(cells, m.Extra)
			}
			f.add(cells)
		}
	}
	if len(lines) == 0 && version != "" { // a statement without cells still stands: say so with one cleared cell
		code := ""
		for _, id := range slices.Sorted(maps.Keys(s.Office.Codes)) {
			code = s.Office.Codes[id].Code
			break
		}
		f.add(
			map[string]string{
				"project":   p.Code,
				"cost_code": code,
				"kind":      x.Kind.String(),
				"flow":      "cost",
				"class":     "opex",
				"period":    s.Office.Periods.Code(calendar.Period(max(x.Version, int32(s.First())))),
				"version":   version,
				"amount":    "-",
			},
		)
	}
}

func (o Room) exportPostings(ctx context.Context, s *book.Snapshot, f *tableFile) error {
	codes, acts := make(map[int64]string), make(map[[2]int64]string)
	filled, err := s.Filled(ctx)
	if err != nil {
		return err
	}
	for _, p := range filled {
		codes[p.ID] = p.Code
		for _, a := range p.Activities {
			acts[[2]int64{p.ID, a.ID}] = a.Code
		}
	}
	return o.Store().EachPosting(ctx, func(x *store.Posting) error {
		cells := map[string]string{
			"posting": x.Code, "date": calendar.Date(x.Day).String(), "period": s.Office.Periods.Code(calendar.Period(x.Period)), "project": codes[x.Project],
			"cost_code": s.Office.Codes[x.CostCode].Code, "class": x.Class, "cost_centre": x.Centre, "activity": acts[[2]int64{x.Project, x.Activity}],
			"amount": money.Format(
				x.Amount,
				x.Currency,
			), "currency": string(x.Currency), "supplier": x.Supplier, "text": x.Text,
		}
		f.t.Beside(cells, x.Extra)
		f.add(cells)
		return nil
	})
}

// guarded is what a Data Package says of its texts.
const guarded = "Texts that a spreadsheet would run as a formula, and those that begin with an apostrophe before one, have an apostrophe before them, which is not part of the text; numbers are as they are."

// describe writes the description of a tabular Data Package.
func describe(title string, files []*tableFile) []byte {
	type field struct {
		Name        string `json:"name"`
		Type        string `json:"type"`
		Description string `json:"description,omitempty"`
	}
	type schema struct {
		Fields     []field  `json:"fields"`
		PrimaryKey []string `json:"primaryKey"`
	}
	type resource struct {
		Name    string `json:"name"`
		Path    string `json:"path"`
		Profile string `json:"profile"`
		Schema  schema `json:"schema"`
	}
	p := struct {
		Name        string     `json:"name"`
		Title       string     `json:"title"`
		Description string     `json:"description"`
		Profile     string     `json:"profile"`
		Resources   []resource `json:"resources"`
	}{Name: "turret", Title: title, Description: guarded, Profile: "tabular-data-package", Resources: []resource{}}
	for _, f := range files {
		r := resource{Name: f.t.Name, Path: f.t.Name + ".csv", Profile: "tabular-data-resource"}
		for _, name := range f.columns() {
			x := field{Name: name, Type: "string"}
			if i := f.t.Index(name); i >= 0 {
				c := &f.t.Columns[i]
				x.Type, x.Description = frictionless(c.Type), c.About
				if c.Key {
					r.Schema.PrimaryKey = append(r.Schema.PrimaryKey, name)
				}
			}
			r.Schema.Fields = append(r.Schema.Fields, x)
		}
		p.Resources = append(p.Resources, r)
	}
	out, err := json.MarshalIndent(p, "", "  ")
	if err != nil {
		return nil // plain values always encode
	}
	return append(out, '\n')
}

// frictionless names a column's type in the open standard. Cells may also be
// "-", so that only keys are stricter than text.
func frictionless(t record.Type) string {
	if t == record.Whole {
		return "integer"
	}
	return "string"
}
