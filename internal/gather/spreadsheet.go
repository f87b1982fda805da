package gather

import (
	"archive/zip"
	"bytes"
	"errors"
	"fmt"
	"io"
	"math"
	"path"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"github.com/xuri/excelize/v2"

	"turret/internal/core/money"
)

// spreadsheet is the format of a sheet of one.
const spreadsheet = "spreadsheet"

// openSpreadsheet reads the sheets of an XLSX file: the values that it saved,
// as they are kept and not as they are shown. Nothing in it is run or followed.
func openSpreadsheet(f *File, lim Limits, refuse func(string, ...any) []Refusal) ([]*Sheet, []Refusal) {
	z, err := zip.NewReader(bytes.NewReader(f.Body), int64(len(f.Body)))
	if err != nil {
		return nil, refuse("it is not a spreadsheet that can be read (%v); save it again", err)
	}
	notes, why := inspect(z, lim)
	for i := 0; i < len(z.File) && why == ""; i++ {
		if name := strings.ToLower(z.File[i].Name); strings.HasPrefix(name, "xl/worksheets/") || strings.HasSuffix(name, "sharedstrings.xml") {
			why = overlong(z.File[i], lim)
		}
	}
	if why != "" {
		return nil, refuse("%s", why)
	}
	x, err := excelize.OpenReader(
		bytes.NewReader(f.Body),
		excelize.Options{RawCellValue: true, UnzipSizeLimit: lim.ZipBytes, UnzipXMLSizeLimit: 64 << 20},
	)
	switch {
	case errors.Is(err, excelize.ErrWorkbookPassword):
		return nil, refuse("it has a password; save it without one")
	case err != nil:
		return nil, refuse("it is not a spreadsheet that can be read (%v); save it as XLSX again", err)
	}
	defer x.Close()
	from1904 := false
	if p, err := x.GetWorkbookProps(); err == nil && p.Date1904 != nil {
		from1904 = *p.Date1904
	}
	scaled := scaledStyles(z)
	places, err := sheetPlaces(z)
	if err != nil {
		return nil, refuse("it is not a spreadsheet that can be read (%v); save it as XLSX again", err)
	}
	var out []*Sheet
	var refused []Refusal
	for _, name := range x.GetSheetList() {
		s := &Sheet{File: f.Name, Name: name, Format: spreadsheet, from1904: from1904, Notes: notes}
		if visible, err := x.GetSheetVisible(name); err == nil {
			s.Hidden = !visible
		}
		part := places[name]
		if part == nil {
			continue // a sheet of charts
		}
		if why := s.load(x, part, scaled, lim); why != "" {
			refused = append(refused, Refusal{File: s.Label(), Reason: why})
			continue
		}
		out = append(out, s)
		notes = nil // told once
	}
	return out, refused
}

// inspect looks at what a spreadsheet is made of before anything is unpacked.
func inspect(z *zip.Reader, lim Limits) (notes []string, why string) {
	var total, packed uint64
	if len(z.File) > lim.ZipFiles {
		return nil, fmt.Sprintf(
			"it is made of %d parts and the limit is %d; save it again without what it carries along",
			len(z.File),
			lim.ZipFiles,
		)
	}
	macros, links := false, false
	for _, e := range z.File {
		total += e.UncompressedSize64
		packed += e.CompressedSize64
		macros = macros || strings.HasSuffix(strings.ToLower(e.Name), "vbaproject.bin")
		links = links || strings.HasPrefix(e.Name, "xl/externalLinks/")
	}
	bomb := uint64(1000) // times larger than packed, beyond what any sheet of figures packs to
	if total > 256<<20 {
		bomb = 200 // one that large is not as even as a small one
	}
	if total > uint64(lim.ZipBytes) || total > 64<<20 && total/max(packed, 1) > bomb {
		return nil, fmt.Sprintf(
			"it unpacks to %d MB from %d MB, more than is read (the limit is %d MB, and %d times); nothing of it was taken",
			total>>20,
			packed>>20,
			lim.ZipBytes>>20,
			bomb,
		)
	}
	if macros {
		notes = append(notes, "It holds macros; they were neither run nor kept.")
	}
	if links {
		notes = append(
			notes,
			"It refers to other files; they were not fetched, and the values it saved from them were read.",
		)
	}
	return notes, ""
}

// load reads a sheet once and keeps its cells.
func (s *Sheet) load(x *excelize.File, part *zip.File, scaled map[int]int, lim Limits) (why string) {
	said, why := scanMarks(part, lim)
	if why != "" {
		return why
	}
	marks := said.rows
	rows, err := x.Rows(s.Name)
	if err != nil {
		return fmt.Sprintf("the sheet cannot be read (%v); save the file again", err)
	}
	defer rows.Close()
	g := &grid{}
	var text strings.Builder
	next := 0
	for n := 1; rows.Next(); n++ {
		cells, err := rows.Columns()
		if err != nil {
			return fmt.Sprintf("row %d cannot be read (%v); save the file again", n, err)
		}
		for next < len(marks) && marks[next].n < n {
			next++
		}
		m := rowMarks{}
		if next < len(marks) && marks[next].n == n {
			m = marks[next]
		}
		if len(cells) == 0 && len(m.kinds) == 0 {
			continue
		}
		if len(g.rows) >= lim.Rows {
			return fmt.Sprintf("it has more than %d rows; split it", lim.Rows)
		}
		if len(cells) > lim.Columns {
			return fmt.Sprintf("row %d has %d columns and the limit is %d", n, len(cells), lim.Columns)
		}
		g.begin(n, m.hidden)
		for i := range max(len(cells), len(m.kinds)) {
			c := Cell{}
			if i < len(cells) {
				c.Text = cells[i]
			}
			if i < len(m.kinds) {
				c.Kind = m.kinds[i]
			}
			if c.Kind == Number {
				if c.Text = plainFloat(c.Text); c.Text == "" {
					c.Kind = Words
				}
			}
			c.Text = clip(c.Text, lim)
			if text.Len()+len(c.Text) > math.MaxInt32 {
				return "the sheet holds more than 2 GB of text; split it"
			}
			text.WriteString(c.Text)
			g.put(text.Len(), c.Kind)
		}
	}
	if err := rows.Error(); err != nil {
		return fmt.Sprintf("the sheet cannot be read (%v); save the file again", err)
	}
	g.text = text.String()
	g.fill = mergedDown(said.merged)
	s.each, s.Lines = g.each, len(g.rows)
	s.asShown(x)
	s.scaled = make(map[int]int)
	for column, style := range said.styles {
		if places := scaled[style]; places > 0 {
			s.scaled[column] = places
		}
	}
	return ""
}

// clip shortens a text that is longer than what is read of a cell to what is still refused
// for it: who looks at a sheet to understand it is not to go through more.
func clip(text string, lim Limits) string {
	if len(text) > 2*lim.CellBytes {
		return strings.ToValidUTF8(text[:2*lim.CellBytes], "")
	}
	return text
}

// asShown reads the first rows as the spreadsheet shows them: what is kept as
// a number and shown as a day, or as a percentage.
func (s *Sheet) asShown(x *excelize.File) {
	rows, err := x.Rows(s.Name)
	if err != nil {
		return
	}
	defer rows.Close()
	s.dates, s.shares, s.shown = make(map[int]bool), make(map[int]bool), make(map[int][]string)
	s.currencies = make(map[int]money.Currency)
	beside := make(map[int]map[money.Currency]int)
	days, shares, numbers := make(map[int]int), make(map[int]int), make(map[int]int)
	shown := make(map[int][]string)
	for n := 1; n <= sampled && rows.Next(); n++ {
		if shown[n], err = rows.Columns(excelize.Options{RawCellValue: false}); err != nil {
			return
		}
	}
	s.Each(func(l *Line) bool {
		for i, c := range l.Cells {
			if c.Kind != Number || i >= len(shown[l.N]) {
				continue
			}
			numbers[i]++
			if c := currencyOf(shown[l.N][i]); c != "" {
				if beside[i] == nil {
					beside[i] = make(map[money.Currency]int)
				}
				beside[i][c]++
			}
			switch text := shown[l.N][i]; {
			case showsDay(text) && serialDay(c.Text, s.from1904) != 0:
				days[i]++
				s.shown[l.N] = shown[l.N]
			case strings.HasSuffix(text, "%"):
				shares[i]++
			}
		}
		return l.N < sampled
	})
	for i, n := range numbers {
		s.dates[i] = days[i] > 0 && days[i]*2 >= n
		s.shares[i] = shares[i]*2 >= n
		for c, of := range beside[i] {
			if of*2 > n {
				s.currencies[i] = c
			}
		}
	}
}

var dayLike = regexp.MustCompile(`\d[-/]\d|\d\.\d+\.|[A-Za-zäéû]{3}`)

func showsDay(text string) bool {
	return dayLike.MatchString(text) && !strings.ContainsAny(text, "€$£") && !strings.Contains(text, "E+")
}

// plainFloat writes a number of a spreadsheet in plain decimals, with the
// fifteen digits that spreadsheets keep; "" where it is no number.
func plainFloat(s string) string {
	if isPlain(s) && len(s) <= 15 {
		return s
	}
	f, err := strconv.ParseFloat(s, 64)
	if err != nil || math.IsInf(f, 0) || math.IsNaN(f) {
		return ""
	}
	digits := 14 - int(math.Floor(math.Log10(math.Max(math.Abs(f), 1e-300))))
	out := strconv.FormatFloat(f, 'f', min(max(digits, 0), 20), 64)
	if strings.Contains(out, ".") {
		out = strings.TrimSuffix(strings.TrimRight(out, "0"), ".")
	}
	if out == "-0" || out == "" {
		return "0"
	}
	return out
}

// grid holds the cells of a sheet in little memory.
type grid struct {
	text  string
	ends  []int32
	kinds []CellKind
	rows  []gridRow
	fill  map[int32]map[int]int32 // cells of a merge that begins above them: row and column, to its first row
}

type gridRow struct {
	n, first int32
	hidden   bool
}

func (g *grid) begin(n int, hidden bool) {
	g.rows = append(g.rows, gridRow{int32(n), int32(len(g.ends)), hidden})
}

func (g *grid) put(end int, k CellKind) {
	g.ends, g.kinds = append(g.ends, int32(end)), append(g.kinds, k)
}

func (g *grid) each(f func(*Line) bool) {
	var l Line
	tops := make(map[[2]int32]Cell) // of merges
	for i, r := range g.rows {
		last := len(g.ends)
		if i+1 < len(g.rows) {
			last = int(g.rows[i+1].first)
		}
		l.N, l.Hidden, l.Cells = int(r.n), r.hidden, l.Cells[:0]
		for j := int(r.first); j < last; j++ {
			from := int32(0)
			if j > 0 {
				from = g.ends[j-1]
			}
			l.Cells = append(l.Cells, Cell{g.text[from:g.ends[j]], g.kinds[j]})
		}
		for column, top := range g.fill[r.n] {
			key := [2]int32{top, int32(column)}
			switch {
			case top == r.n && column < len(l.Cells):
				tops[key] = l.Cells[column]
			case top != r.n && tops[key].Text != "":
				for len(l.Cells) <= column {
					l.Cells = append(l.Cells, Cell{})
				}
				if l.Cells[column].Text == "" {
					l.Cells[column] = tops[key]
				}
			}
		}
		if !f(&l) {
			return
		}
	}
}

// mergedDown gives the cells that are merged over several rows, each with the first row of
// its merge: what stands there is said of all of them.
func mergedDown(merged []string) map[int32]map[int]int32 {
	const most = 100_000 // rows of merges
	out := make(map[int32]map[int]int32)
	for _, ref := range merged {
		from, to, _ := strings.Cut(ref, ":")
		column, first, err := excelize.CellNameToCoordinates(from)
		if err != nil {
			continue
		}
		_, last, err := excelize.CellNameToCoordinates(to)
		if err != nil || last == first {
			continue
		}
		for n := first; n <= last && len(out) < most; n++ {
			if out[int32(n)] == nil {
				out[int32(n)] = make(map[int]int32)
			}
			out[int32(n)][column-1] = int32(first)
		}
	}
	return out
}

// scaledFormat is a number format that shows thousands: commas after its last digit.
var scaledFormat = regexp.MustCompile(`[0#?](,+)(?:[^0#?,]|$)`)

// scaledStyles gives the styles of a spreadsheet whose numbers are shown in thousands (3) or
// millions (6); what cannot be read shows none.
func scaledStyles(z *zip.Reader) map[int]int {
	out := make(map[int]int)
	i := slices.IndexFunc(z.File, func(f *zip.File) bool { return strings.TrimPrefix(f.Name, "/") == "xl/styles.xml" })
	if i < 0 {
		return out
	}
	formats := make(map[string]int) // by id
	within, style := false, 0
	err := tags(z.File[i], func(t *tag) {
		switch t.name {
		case "numFmt":
			format, _, _ := strings.Cut(t.attr("formatCode"), ";")
			if m := scaledFormat.FindStringSubmatch(format); m != nil {
				const places = 3
				formats[t.attr("numFmtId")] = places * len(m[1])
			}
		case "cellXfs":
			within = true
		case "/cellXfs":
			within = false
		case "xf":
			if places := formats[t.attr("numFmtId")]; within && places > 0 {
				out[style] = places
			}
			if within {
				style++
			}
		}
	})
	if err != nil {
		return nil
	}
	return out
}

// sheetPlaces finds the part of the file that each sheet is in.
func sheetPlaces(z *zip.Reader) (map[string]*zip.File, error) {
	files := make(map[string]*zip.File)
	for _, e := range z.File {
		files[strings.TrimPrefix(e.Name, "/")] = e
	}
	targets := make(map[string]string)
	if err := tags(files["xl/_rels/workbook.xml.rels"], func(t *tag) {
		if t.name == "Relationship" {
			targets[t.attr("Id")] = t.attr("Target")
		}
	}); err != nil {
		return nil, err
	}
	out := make(map[string]*zip.File)
	err := tags(files["xl/workbook.xml"], func(t *tag) {
		if t.name != "sheet" {
			return
		}
		to := targets[t.attr("id")]
		if strings.HasPrefix(to, "/") {
			to = to[1:]
		} else {
			to = path.Join("xl", to)
		}
		if strings.HasPrefix(to, "xl/worksheets/") {
			out[t.attr("name")] = files[to]
		}
	})
	return out, err
}

var errNoPart = errors.New("a part of it is missing")

// tags hands over the tags of a small part.
func tags(e *zip.File, f func(*tag)) error {
	if e == nil {
		return errNoPart
	}
	r, err := e.Open()
	if err != nil {
		return err
	}
	defer r.Close()
	t := newTagger(io.LimitReader(r, 16<<20))
	for t.next() {
		f(&t.tag)
	}
	return t.err
}
