package gather

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"
	"unicode/utf8"

	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
)

// Options say how a file is read.
type Options struct {
	Limits  Limits
	Periods *calendar.Periods
	Period  calendar.Period  // of rows that state none; zero: none
	Table   *portfolio.Table // what every file is, or nil
	Tick    func(rows int)   // told now and then, or nil

	texts map[string]string // texts met before, so that what repeats is kept once
}

// keep gives a text that outlives the row.
func (o *Options) keep(s string) string {
	if t, ok := o.texts[s]; ok {
		return t
	}
	t := strings.Clone(s)
	if len(o.texts) < 10_000 {
		if o.texts == nil {
			o.texts = make(map[string]string)
		}
		o.texts[t] = t
	}
	return t
}

// Identify finds which table a file is, by the options, its name or its header.
// The reason is empty where it is known.
func Identify(f *File, o *Options) string {
	if f.Table = o.Table; f.Table != nil {
		return ""
	}
	if f.Table = TableOf(f.Name); f.Table != nil {
		return ""
	}
	head, _, _ := bytes.Cut(f.Body, []byte("\n"))
	if len(head) > o.Limits.LineBytes {
		return "nothing tells which table it is; name it after one, or use --table"
	}
	names, err := csv.NewReader(bytes.NewReader(bytes.TrimPrefix(head, bom))).Read()
	if err != nil {
		return "nothing tells which table it is; name it after one, or use --table"
	}
	for i := range names {
		names[i] = canonical(names[i])
	}
	best, most := 0, []*portfolio.Table(nil)
	for _, t := range portfolio.Tables {
		n := 0
		for i := range t.Columns {
			has := slices.Contains(names, t.Columns[i].Name)
			if !has && required(t, &t.Columns[i]) {
				n = -1
				break
			}
			if has {
				n++
			}
		}
		if n > best {
			best, most = n, nil
		}
		if n == best && n > 0 {
			most = append(most, t)
		}
	}
	if len(most) != 1 {
		return "nothing tells which table it is; name it after one, or use --table"
	}
	f.Table = most[0]
	return ""
}

// required tells whether a row must state a key column.
func required(t *portfolio.Table, c *portfolio.Column) bool {
	if !c.Key || c.Default != "" || c.Name == t.Version {
		return false
	}
	return t.Keep != portfolio.Cells || c.Name != "cost_centre" && c.Name != "activity" && c.Name != "version"
}

var bom = []byte("\xef\xbb\xbf")

func canonical(s string) string { return strings.ToLower(strings.TrimSpace(s)) }

// Read hands over each row of a file in turn; the row is only good until the
// next. Rows and cells that cannot be read come as refusals, with the row's
// cells. Extra gives the columns that the table does not list.
func Read(f *File, o *Options, row func(*portfolio.Row, func() map[string]string), refuse func(Refusal)) (extra []string) {
	whole := func(format string, args ...any) []string {
		refuse(Refusal{File: f.Name, Reason: fmt.Sprintf(format, args...)})
		return nil
	}
	body := bytes.TrimPrefix(f.Body, bom)
	if len(bytes.TrimSpace(body)) == 0 {
		return whole("the file is empty; it needs a header row")
	}
	if i := bytes.IndexByte(body, 0); i >= 0 {
		return whole("it is not a text file (byte %d is zero); save it as CSV in UTF-8", i+1)
	}
	if at, n := longestLine(body, o.Limits.LineBytes); n > o.Limits.LineBytes {
		return whole("line %d has more than %d characters; split it, or check its line ends and quotes", at, o.Limits.LineBytes)
	}
	if !utf8.Valid(body) {
		return whole("it is not UTF-8 text; save it as CSV in UTF-8")
	}
	r := csv.NewReader(bytes.NewReader(body))
	r.ReuseRecord, r.FieldsPerRecord = true, -1
	head, err := r.Read()
	if err != nil {
		return whole("its header row cannot be read (%v)", csvCause(err))
	}
	h, why := newHeader(f.Table, head, o)
	if why != "" {
		return whole("%s", why)
	}
	out := portfolio.Row{Fields: make([]portfolio.Field, len(f.Table.Columns))}
	for n := 1; ; n++ {
		cells, err := r.Read()
		if errors.Is(err, io.EOF) {
			return h.extraNames()
		}
		line, _ := position(r, cells, err)
		if n > o.Limits.Rows {
			return whole("it has more than %d rows; split it", o.Limits.Rows)
		}
		if o.Tick != nil && n%50_000 == 0 {
			o.Tick(n)
		}
		bad := func(column, value, format string, args ...any) {
			refuse(Refusal{File: f.Name, Row: line, Column: column, Value: value, Reason: fmt.Sprintf(format, args...), Cells: h.cells(cells)})
		}
		if err != nil {
			bad("", "", "the row cannot be read (%v); check its quotes", csvCause(err))
			continue
		}
		if blank(cells) {
			continue
		}
		if len(cells) != len(h.names) {
			bad("", "", "it has %d cells and the header has %d; check for a missing or stray comma", len(cells), len(h.names))
			continue
		}
		out.Source = portfolio.Source{Row: int32(line)}
		if column, value, why := h.parse(&out, cells, o); why != "" {
			bad(column, value, "%s", why)
			continue
		}
		row(&out, func() map[string]string { return h.cells(cells) })
	}
}

// position gives the line on which a record begins.
func position(r *csv.Reader, cells []string, err error) (line, column int) {
	var pe *csv.ParseError
	if errors.As(err, &pe) {
		return pe.StartLine, 0
	}
	if len(cells) == 0 {
		return 0, 0
	}
	return r.FieldPos(0)
}

func csvCause(err error) error {
	var pe *csv.ParseError
	if errors.As(err, &pe) {
		return pe.Err
	}
	return err
}

func blank(cells []string) bool {
	for _, c := range cells {
		if strings.TrimSpace(c) != "" {
			return false
		}
	}
	return true
}

// longestLine finds the first line beyond a limit.
func longestLine(b []byte, limit int) (line, size int) {
	for line = 1; len(b) > 0; line++ {
		n := bytes.IndexByte(b, '\n')
		if n < 0 {
			n = len(b)
		}
		if n > limit {
			return line, n
		}
		b = b[min(n+1, len(b)):]
	}
	return 0, 0
}

// header maps the columns of a file to those of its table.
type header struct {
	table *portfolio.Table
	names []string
	at    []int // column of the table, or -1
}

func newHeader(t *portfolio.Table, head []string, o *Options) (*header, string) {
	if len(head) > o.Limits.Columns {
		return nil, fmt.Sprintf("it has %d columns and the limit is %d", len(head), o.Limits.Columns)
	}
	h := &header{table: t}
	seen := make(map[string]bool)
	known := 0
	for _, name := range head {
		name = strings.Clone(canonical(name))
		if name == "" {
			return nil, "a column of the header has no name; name it or take it out"
		}
		if seen[name] {
			return nil, fmt.Sprintf("the header names the column %q twice; keep one", name)
		}
		seen[name] = true
		i := t.Index(name)
		if i >= 0 {
			known++
		}
		h.names = append(h.names, name)
		h.at = append(h.at, i)
	}
	for i := range t.Columns {
		c := &t.Columns[i]
		if required(t, c) && !seen[c.Name] {
			hint := ""
			if len(head) == 1 && strings.ContainsAny(head[0], ";\t|") {
				hint = " Its cells seem to be separated by something other than commas; save it with commas."
			}
			return nil, fmt.Sprintf("as %s it needs the column %q, and the header has not got it.%s", t.Name, c.Name, hint)
		}
		if c.Type == portfolio.Period && c.Name == t.Version && !seen[c.Name] && o.Period == 0 {
			return nil, fmt.Sprintf("as %s it needs the column %q, or --period for all its rows", t.Name, c.Name)
		}
	}
	return h, ""
}

func (h *header) extraNames() []string {
	var out []string
	for i, at := range h.at {
		if at < 0 {
			out = append(out, h.names[i])
		}
	}
	return out
}

func (h *header) cells(cells []string) map[string]string {
	m := make(map[string]string, len(cells))
	for i, c := range cells {
		name := fmt.Sprintf("cell %d", i+1)
		if i < len(h.names) {
			name = h.names[i]
		}
		m[name] = strings.Clone(c)
	}
	return m
}

// parse reads the cells of a row into its fields.
func (h *header) parse(out *portfolio.Row, cells []string, o *Options) (column, value, why string) {
	clear(out.Fields)
	out.Extra = nil
	for i, text := range cells {
		if len(text) > o.Limits.CellBytes {
			return h.names[i], text[:50] + "…", fmt.Sprintf("the cell has %d characters and the limit is %d", len(text), o.Limits.CellBytes)
		}
		text = strings.TrimSpace(text)
		at := h.at[i]
		if at < 0 {
			if text != "" {
				if out.Extra == nil {
					out.Extra = make(map[string]string)
				}
				out.Extra[h.names[i]] = text
			}
			continue
		}
		if why := parseCell(&h.table.Columns[at], text, &out.Fields[at], o); why != "" {
			return h.names[i], text, why
		}
	}
	for i := range h.table.Columns {
		c, f := &h.table.Columns[i], &out.Fields[i]
		if !c.Key || f.Said == portfolio.Value {
			continue
		}
		switch {
		case c.Default != "":
			if why := parseCell(c, c.Default, f, o); why != "" {
				return c.Name, c.Default, why
			}
		case c.Type == portfolio.Period && o.Period != 0 && h.table.Keep != portfolio.Records:
			*f = portfolio.Field{Said: portfolio.Value, Int: int64(o.Period)}
		case required(h.table, c) || c.Name == h.table.Version:
			return c.Name, "", c.Name + " is empty, and it is part of the row's key; fill it in"
		}
	}
	return "", "", ""
}
