package gather

import (
	"cmp"
	"path"
	"slices"
	"strings"

	"turret/internal/record"
)

// What a column of a file can be, beside a column of the table.
const (
	AsMonth  = "month"   // an amount of the period that its head tells
	AsTotal  = "total"   // a sum of other columns: checked and left out
	AsExtra  = "extra"   // kept under its own name
	AsNone   = "ignore"  // left out
	AsCredit = "-amount" // an amount with its sign turned
)

// Use is what a column of a file is taken for.
type Use struct {
	As       string            `json:"as"`
	Left     bool              `json:"left,omitempty"`     // a percent of what is left to do
	Period   string            `json:"period,omitempty"`   // of a month
	Kind     string            `json:"kind,omitempty"`     // of a month, where the head above tells; of amounts side by side
	Code     string            `json:"code,omitempty"`     // the cost code that the head of amounts is
	Class    string            `json:"class,omitempty"`    // the class that the head of amounts is
	Project  string            `json:"project,omitempty"`  // the project that the head of amounts is
	Activity string            `json:"activity,omitempty"` // the activity that the head of days or percents is
	Of       string            `json:"of,omitempty"`       // of a month: the column that stands under it, where it is not the usual one
	Form     string            `json:"form,omitempty"`     // how its numbers or days are written
	Words    map[string]string `json:"words,omitempty"`    // what normal words mean in it
	Prefix   bool              `json:"prefix,omitempty"`   // its cells begin with a project's code, and say more
	Then     string            `json:"then,omitempty"`     // the column that what follows is, where it is one: cost_code
	Kinds    bool              `json:"kinds,omitempty"`    // its cells say the kind of amount beside the code
	Scale    string            `json:"scale,omitempty"`    // of likelihood and impact, where it is not one to five
	OfOne    bool              `json:"of_one,omitempty"`   // its percents are shares: 0.45
	Share    bool              `json:"share,omitempty"`    // a spreadsheet's 0.45, shown as 45%
	Blank    string            `json:"blank,omitempty"`    // what its empty cells say
	Refs     string            `json:"refs,omitempty"`     // of links: the head of what they call activities by, or row
}

// Layout is how a sheet is read. It is found by Understand, and kept with the
// file, so that its rows can be read again.
type Layout struct {
	Table     string            `json:"table"`
	Source    string            `json:"source,omitempty"`    // the name of the mapping that it was read by
	Canonical bool              `json:"canonical,omitempty"` // Turret's own form: "-" means none
	Head      int               `json:"head"`                // row of the header; zero: all rows are data
	Heads     []string          `json:"heads"`               // a name for each column, each its own
	Uses      []Use             `json:"uses"`
	Fixed     map[string]string `json:"fixed,omitempty"`     // what all rows say of columns that the sheet lacks
	Number    string            `json:"number,omitempty"`    // how postings are numbered, where that is not by a column alone
	Item      int               `json:"item,omitempty"`      // the column of the lines of documents, from 1
	Outline   bool              `json:"outline,omitempty"`   // outline numbers tell how activities are nested
	OutlineAt int               `json:"outlineAt,omitempty"` // the column of those numbers, from 1; zero: that of the codes
	Depth     int               `json:"depth,omitempty"`     // the column, from 1, that tells how deep activities are nested
	Indent    bool              `json:"indent,omitempty"`    // it does so by the spaces before its text
	Duration  int               `json:"duration,omitempty"`  // the column of how long they take, from 1
	Recoded   map[string]string `json:"recoded,omitempty"`   // codes of activities, as PROJECT/CODE, to those that the office has
	Missing   string            `json:"missing,omitempty"`   // the day that it tells with the other
	Within    string            `json:"within,omitempty"`    // the table whose rows hold those of this one: links
	Down      []int             `json:"down,omitempty"`      // columns whose empty cells stand for what is above
	Nested    int               `json:"nested,omitempty"`    // the column, from 1, that holds projects and what is below each
	Kinds     bool              `json:"kinds,omitempty"`     // headings between rows tell kinds of amounts
	Classes   bool              `json:"classes,omitempty"`   // and whether they are capex or opex
	InYear    string            `json:"inYear,omitempty"`    // that months without one are of, as a title has it
	States    bool              `json:"states,omitempty"`    // and which risks are open
	Year      int               `json:"year,omitempty"`      // the column, from 1, of the year beside that of the month
	Fiscal    bool              `json:"fiscal,omitempty"`    // that year is fiscal
	Accounts  bool              `json:"accounts,omitempty"`  // headings between rows tell cost codes
	Section   string            `json:"section,omitempty"`   // the column that headings between rows tell
	Places    int               `json:"places,omitempty"`    // amounts are in thousands (3) or millions (6)
	Running   string            `json:"running,omitempty"`   // what amounts of periods are: "" or Single, ToDate, YearToDate
	Dash      string            `json:"dash,omitempty"`      // what "-" is in amounts: zero or nothing
	Negate    bool              `json:"negate,omitempty"`    // amounts have their sign turned
	Codes     []CodeRule        `json:"codes,omitempty"`
	Skip      []SkipRule        `json:"skip,omitempty"`
	Leave     []int             `json:"leave,omitempty"`   // rows that are left out
	Keep      []int             `json:"keep,omitempty"`    // rows that are no sums, though they look so
	Unnamed   []int             `json:"unnamed,omitempty"` // rows that are sums by their amounts, though no word says so
	NoSums    []string          `json:"no_sums,omitempty"` // and labels of such rows, normal
	Lines     string            `json:"lines,omitempty"`   // what several rows of one key are: "" or LinesAdd
	From1904  bool              `json:"from1904,omitempty"`
}

// What "-" can be in a column of amounts.
const (
	DashZero    = "zero"
	DashNothing = "nothing"
)

// What several rows that state the same cell are.
const (
	LinesAdd    = "add"    // parts of one amount
	LinesRefuse = "refuse" // a contradiction
)

// How the text of a code rule is matched.
const (
	Exact   = "exact"
	Prefix  = "prefix"
	Pattern = "pattern" // with * for any characters
)

// CodeRule turns the codes of a source into the office's.
type CodeRule struct {
	Column string `json:"column"` // project or cost_code
	Match  string `json:"match"`
	From   string `json:"from"`
	To     string `json:"to"`
}

func (r CodeRule) fits(column, code string) bool {
	if r.Column != column {
		return false
	}
	switch r.Match {
	case Prefix:
		return strings.HasPrefix(strings.ToLower(code), strings.ToLower(r.From))
	case Pattern:
		ok, err := path.Match(strings.ToLower(r.From), strings.ToLower(code))
		return ok && err == nil
	}
	return strings.EqualFold(r.From, code)
}

// Recode gives the code that rules make of one: the first that fits counts.
func Recode(rules []CodeRule, column, code string) (string, bool) {
	for _, r := range rules {
		if r.fits(column, code) {
			return r.To, true
		}
	}
	return code, false
}

// SkipRule leaves out the rows whose cell under a head is like a text, with *
// for any characters; an empty head means any cell.
type SkipRule struct {
	Head string `json:"head"`
	Like string `json:"like"`
}

func (r SkipRule) fits(heads []string, l *Line) bool {
	for i := range l.Cells {
		if r.Head != "" && (i >= len(heads) || Normal(heads[i]) != Normal(r.Head)) {
			continue
		}
		text := strings.ToLower(strings.TrimFunc(l.Cells[i].Text, isSpace))
		if ok, err := path.Match(strings.ToLower(r.Like), text); err == nil && ok && (text != "" || r.Head != "") {
			return true
		}
	}
	return false
}

// Mapping is what someone has said about how sheets of one look are read; what
// it leaves open is found as without it. Columns and forms go by head.
type Mapping struct {
	Table   string            `json:"table,omitempty"`
	Head    int               `json:"head,omitempty"` // row of the header, of one sheet only
	Columns map[string]string `json:"columns,omitempty"`
	Forms   map[string]string `json:"forms,omitempty"`
	Fixed   map[string]string `json:"fixed,omitempty"`
	Places  *int              `json:"places,omitempty"`
	Running string            `json:"running,omitempty"`
	Dash    string            `json:"dash,omitempty"`
	Lines   string            `json:"lines,omitempty"` // what several rows of one key are
	Scale   string            `json:"scale,omitempty"` // how words of likelihood and impact count
	Match   string            `json:"match,omitempty"` // what activities are matched by, of one sheet only
	Trust   bool              `json:"trust,omitempty"` // what looks unlikely in it is right
	Keep    []int             `json:"keep,omitempty"`  // rows that are no sums, of one sheet only
	Negate  bool              `json:"negate,omitempty"`
	Codes   []CodeRule        `json:"codes,omitempty"`
	Skip    []SkipRule        `json:"skip,omitempty"`
	Leave   []int             `json:"leave,omitempty"` // rows, of one sheet only
	Without bool              `json:"without,omitempty"`
	Split   []int             `json:"split,omitempty"` // rows at which another table begins, of one sheet only

	Place    string   `json:"place,omitempty"`     // where the sheets come from that it was said of; "": anywhere
	HeadSaid bool     `json:"head_said,omitempty"` // the row of its look is the header
	NoSums   []string `json:"no_sums,omitempty"`   // labels of rows that are no sums, normal

	past *Mapping // what was said of such sheets before
	look string   // of the sheets that it was said of, once it is recalled
}

// Recalling gives the mapping with what was said of such sheets before: it counts where
// neither this one nor the sheet itself says otherwise.
func (m Mapping) Recalling(past Mapping, look string) Mapping {
	past.look = look
	m.past = &past
	return m
}

// recalled parts a mapping from what was said before: all of that but what all rows say,
// which gives way to the sheet's own words.
func (m Mapping) recalled() (Mapping, Mapping) {
	if m.past == nil {
		return m, Mapping{}
	}
	past := *m.past
	m.past = nil
	under := past
	under.Fixed = nil
	return m.Over(under), past
}

// Every is the head that stands for all columns in a mapping's forms.
const Every = "*"

// Over lays one mapping over another: what it says itself counts.
func (m Mapping) Over(under Mapping) Mapping {
	out := under
	if m.Table != "" {
		out.Table = m.Table
	}
	if m.Head != 0 {
		out.Head = m.Head
	}
	out.Columns, out.Forms, out.Fixed = laid(
		under.Columns,
		m.Columns,
	), laid(
		under.Forms,
		m.Forms,
	), laid(
		under.Fixed,
		m.Fixed,
	)
	if m.Places != nil {
		out.Places = m.Places
	}
	if m.Running != "" {
		out.Running = m.Running
	}
	if m.Dash != "" {
		out.Dash = m.Dash
	}
	if m.Lines != "" {
		out.Lines = m.Lines
	}
	if m.Scale != "" {
		out.Scale = m.Scale
	}
	if m.Match != "" {
		out.Match = m.Match
	}
	out.HeadSaid = m.HeadSaid || under.HeadSaid
	out.NoSums = append(slices.Clone(m.NoSums), under.NoSums...)
	out.Trust = m.Trust || under.Trust
	out.Keep = append(slices.Clone(m.Keep), under.Keep...)
	out.Negate = m.Negate || under.Negate
	out.Without = m.Without || under.Without
	out.Codes = append(slices.Clone(m.Codes), under.Codes...)
	out.Skip = append(slices.Clone(m.Skip), under.Skip...)
	out.Leave = append(slices.Clone(m.Leave), under.Leave...)
	out.Split = append(slices.Clone(m.Split), under.Split...)
	return out
}

func laid(under, over map[string]string) map[string]string {
	if len(under)+len(over) == 0 {
		return nil
	}
	out := make(map[string]string, len(under)+len(over))
	for k, v := range under {
		out[k] = v
	}
	for k, v := range over {
		out[k] = v
	}
	return out
}

// Lasting is the mapping without what belongs to one sheet alone.
func (m Mapping) Lasting() Mapping {
	m.Head, m.Leave, m.Keep, m.Split, m.Without, m.Trust, m.Match = 0, nil, nil, nil, false, false, ""
	return m
}

// Empty tells whether nothing was said.
func (m Mapping) Empty() bool {
	return m.Table == "" && m.Head == 0 &&
		len(m.Columns)+len(m.Forms)+len(m.Fixed)+len(m.Codes)+len(m.Skip)+len(m.Leave) == 0 &&
		m.Places == nil &&
		m.Running == "" &&
		m.Dash == "" &&
		m.Lines == "" &&
		m.Scale == "" &&
		m.Match == "" &&
		len(m.Keep)+len(m.Split) == 0 &&
		len(m.NoSums) == 0 &&
		!m.HeadSaid &&
		!m.Trust &&
		!m.Negate &&
		!m.Without
}

// table gives the table as whose rows the sheet's are read.
func (l *Layout) table() *record.Kind { return record.Named(cmp.Or(l.Within, l.Table)) }
