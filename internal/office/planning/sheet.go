package planning

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/export"
	"turret/internal/record"
	"turret/internal/right"
)

// Parts of a plan.
const (
	Activities = "activities"
	Money      = "money"
)

// Sheet is a part of a project's plan as it is typed in.
type Sheet struct {
	Code, Name, Currency string
	Template             bool
	Baseline             int    // the number that is typed
	Proposed             bool   // it is proposed, so it counts nowhere yet
	Shut                 string // why nothing can be typed, or ""
	Columns              []Column
	Rows                 []Row
	Revision             int64
	Later                string // of money: the last period of the page after; "" where there is none
}

// Column is what is typed in one column.
type Column struct {
	Name, Title string
	Choices     []string
	Number      bool
}

// Row is an activity, or a line of money. Its key is "" where it is new.
type Row struct {
	Key    string
	Title  string
	Indent int
	Cells  []string
}

// Typed is a row as someone typed it: cells by column, each with what its field showed.
type Typed struct {
	Key   string
	Cells map[string]Cell
}

// Cell is what was typed, and what the field showed.
type Cell struct{ Was, Text string }

// Fault is a cell that is refused: the row's place among those that were typed.
type Fault struct {
	Row         int
	Column, Why string
}

var activityColumns = []Column{
	{Name: "activity", Title: "Code"},
	{Name: "parent", Title: "Under"},
	{Name: "name", Title: "Name"},
	{Name: "kind", Title: "Kind", Choices: []string{"task", "summary", "milestone"}},
	{Name: "level", Title: "Level", Choices: []string{"activity", "project", "programme", "portfolio"}},
	{Name: "rule", Title: "Rule", Choices: []string{"stated", "0-100", "50-50", "units", "items", "steps", "elapsed"}},
	{Name: "baseline_start", Title: "Start"},
	{Name: "baseline_finish", Title: "Finish"},
	{Name: "budget", Title: "Budget", Number: true},
	{Name: "units", Title: "Units", Number: true},
	{Name: "owner", Title: "Who does it"},
	{Name: "receiver", Title: "Handed to"},
	{Name: "constraint", Title: "Constraint", Choices: []string{"", "not before", "not after", "on"}},
	{Name: "constraint_date", Title: "Its day"},
	{Name: "constraint_reason", Title: "Its reason"},
}

const (
	blankActivities = 12 // rows for new ones below those that are there
	blankLines      = 3
	shownPeriods    = 24 // of money, at once
)

// Sheet reads a part of a project's plan, or of a template's; nil where there is no such
// project or part. Until is the code of the last period of money to show, "" for the usual.
func (o Room) Sheet(ctx context.Context, a right.Actor, project, part, until string) (*Sheet, error) {
	if err := right.Check(a, right.Found); err != nil {
		return nil, err
	}
	s, err := o.Book().Snapshot(ctx)
	if err != nil {
		return nil, err
	}
	return o.sheet(ctx, a, s, project, part, until)
}

// sheet reads a part of a plan as a snapshot knows it.
func (o Room) sheet(ctx context.Context, a right.Actor, s *book.Snapshot, project, part, until string) (*Sheet, error) {
	p, err := projectOf(ctx, s, project)
	if err != nil || p == nil {
		return nil, err
	}
	out := &Sheet{Code: p.Code, Name: p.Name, Currency: string(p.Currency), Template: p.State == portfolio.Template, Revision: s.Revision}
	out.Baseline, out.Proposed, out.Shut = BaselineOf(s, p)
	drawn, err := export.In(o.Office).Drawing(ctx, a, s, p)
	if err != nil {
		return nil, err
	}
	switch part {
	case Activities:
		out.activities(drawn["activities"])
	case Money:
		out.money(s, p, drawn, until, calendar.DateIn(o.Clock()))
	default:
		return nil, nil
	}
	return out, nil
}

// projectOf finds a project, or a template; nil where there is none.
func projectOf(ctx context.Context, s *book.Snapshot, code string) (*portfolio.Project, error) {
	templates, err := s.Templates(ctx)
	if err != nil {
		return nil, err
	}
	if p := s.Project(code); p != nil {
		return p, nil
	}
	if i := slices.IndexFunc(templates, func(p *portfolio.Project) bool { return p.Code == code }); i >= 0 {
		return templates[i], nil
	}
	return nil, nil
}

// BaselineOf is the baseline that is typed: one that is proposed, or the original until
// it is approved on a day or a period is closed with it. Shut tells why none can be, or is "".
func BaselineOf(s *book.Snapshot, p *portfolio.Project) (number int, proposed bool, shut string) {
	number = 1
	rows := s.Records.Of(record.Baselines.Kind)
	approved := false
	for i := range rows {
		r := &rows[i]
		if record.Baselines.Project.ID(r) != p.ID {
			continue
		}
		n := int(record.Baselines.Baseline.Of(r))
		switch portfolio.Approval(record.Baselines.State.Or(r)) {
		case portfolio.PlanProposed:
			number, proposed = n, true
		case portfolio.PlanApproved:
			approved = true
		}
	}
	if proposed {
		return number, true, ""
	}
	if approved {
		return 1, false, "Its plan is approved, so it stays. Propose a new baseline; it is typed here until it is decided."
	}
	if len(s.Closed) > 0 && p.State != portfolio.Template {
		for _, x := range s.Stated[p.ID] {
			if x.Kind.Dated() && s.Closed[calendar.Period(x.Version)] {
				return 1, false, "A period is closed with its plan, so it stays. Propose a new baseline; it is typed here until it is decided."
			}
		}
	}
	return 1, false, ""
}

// activities lays out the tree, each below the one it is under.
func (out *Sheet) activities(rows []map[string]string) {
	out.Columns = activityColumns
	by := make(map[string]map[string]string)
	below := make(map[string][]string)
	for _, r := range rows {
		code := r["activity"]
		c := by[code]
		if c == nil {
			c = make(map[string]string)
			by[code] = c
		}
		own := r["baseline"] == "" || r["baseline"] == strconv.Itoa(out.Baseline)
		if _, has := r["name"]; has {
			below[r["parent"]] = append(below[r["parent"]], code)
		}
		for k, v := range r {
			if plan := k == "budget" || k == "baseline_start" || k == "baseline_finish"; !plan || own || out.Baseline > 1 && c[k] == "" {
				c[k] = v
			}
		}
	}
	seen := make(map[string]bool)
	var walk func(parent string, depth int)
	walk = func(parent string, depth int) {
		for _, code := range below[parent] {
			if seen[code] {
				continue
			}
			seen[code] = true
			row := Row{Key: code, Title: code, Indent: depth}
			for _, c := range out.Columns {
				text := by[code][c.Name]
				if c.Number {
					text = short(text)
				}
				if text == "" && c.Choices != nil {
					text = record.Activities.Columns[record.Activities.Index(c.Name)].Default
				}
				row.Cells = append(row.Cells, text)
			}
			out.Rows = append(out.Rows, row)
			walk(code, depth+1)
		}
	}
	walk("", 0)
	for i := 0; i < blankActivities && out.Shut == ""; i++ {
		out.Rows = append(out.Rows, Row{Cells: make([]string, len(out.Columns))})
	}
}

// short is an amount without decimals that are all zero.
func short(amount string) string {
	if whole, decimals, ok := strings.Cut(amount, "."); ok && strings.Trim(decimals, "0") == "" {
		return whole
	}
	return amount
}

// lineColumns are what tells a line of money from others.
var lineColumns = []string{"cost_code", "flow", "class", "cost_centre", "activity", "currency"}

func lineOf(r map[string]string) string {
	var out []string
	for _, c := range lineColumns {
		out = append(out, r[c])
	}
	return strings.Join(out, "|")
}

// money lays out the plan by line and period.
func (out *Sheet) money(s *book.Snapshot, p *portfolio.Project, drawn map[string][]map[string]string, until string, today calendar.Date) {
	ps, rows := s.Office.Periods, drawn["costs"]
	var low, high calendar.Period
	span := func(q calendar.Period) {
		if q != 0 {
			low, high = min(cmp.Or(low, q), q), max(high, q)
		}
	}
	for _, d := range []calendar.Date{p.Start, p.Finish, first(drawn), last(drawn)} {
		span(ps.Near(d))
	}
	lines := make(map[string]map[string]string) // amounts by period
	var order []string
	version := strconv.Itoa(out.Baseline)
	for _, r := range rows {
		if r["version"] != version {
			continue
		}
		q, err := ps.Parse(r["period"])
		if err != nil || r["amount"] == "-" {
			continue
		}
		span(q)
		key := lineOf(r)
		if lines[key] == nil {
			lines[key] = make(map[string]string)
			order = append(order, key)
		}
		lines[key][r["period"]] = short(r["amount"])
	}
	if low == 0 {
		low = max(s.Current(), s.First())
	}
	if low == 0 {
		low = ps.Near(today)
	}
	high = max(high, low+11)
	if q, err := ps.Parse(until); err == nil {
		high = max(low, q)
	} else {
		high = min(high, low+shownPeriods-1)
	}
	out.Columns = []Column{{Name: "cost_code", Title: "Cost code"}}
	for q := low; q <= high && ps.Exists(q); q++ {
		out.Columns = append(out.Columns, Column{Name: ps.Code(q), Title: ps.Name(q), Number: true})
	}
	for q := high + 1; q <= high+12 && ps.Exists(q); q++ {
		out.Later = ps.Code(q)
	}
	slices.Sort(order)
	for _, key := range order {
		parts := strings.Split(key, "|")
		row := Row{Key: key, Title: titleOf(s, parts), Cells: []string{parts[0]}}
		for _, c := range out.Columns[1:] {
			row.Cells = append(row.Cells, lines[key][c.Name])
		}
		out.Rows = append(out.Rows, row)
	}
	for i := 0; i < blankLines && out.Shut == ""; i++ {
		out.Rows = append(out.Rows, Row{Cells: make([]string, len(out.Columns))})
	}
}

// titleOf calls a line by its cost code, and by what else tells it from others.
func titleOf(s *book.Snapshot, parts []string) string {
	out := parts[0]
	for _, c := range s.Office.Codes {
		if c.Code == parts[0] && c.Name != "" {
			out += " " + c.Name
		}
	}
	for i, text := range parts[1:] {
		if text != "" && text != "cost" && lineColumns[i+1] != "currency" {
			out += ", " + text
		}
	}
	return out
}

// Codes lists the cost codes that a line can have.
func (o Room) Codes(ctx context.Context, a right.Actor) (out []Choice, err error) {
	if err := right.Check(a, right.Found); err != nil {
		return nil, err
	}
	s, err := o.Book().Snapshot(ctx)
	if err != nil {
		return nil, err
	}
	for _, c := range s.Office.Codes {
		out = append(out, Choice{c.Code, c.Name})
	}
	slices.SortFunc(out, func(a, b Choice) int { return strings.Compare(a.Code, b.Code) })
	return out, nil
}

// Save keeps what was typed of a part of a plan, all or none. Seen is the revision that
// the page showed. The faults tell the cells that are refused.
func (o Room) Save(ctx context.Context, a right.Actor, seen int64, project, part string, typed []Typed) (faults []Fault, err error) {
	if err := right.Check(a, right.Found); err != nil {
		return nil, err
	}
	var from []int // the typed row of each row that is entered
	rows := func(ctx context.Context, s *book.Snapshot) ([]entry.Rows, error) {
		now, err := o.sheet(ctx, a, s, project, part, lastOf(typed))
		if err != nil {
			return nil, err
		}
		if now == nil {
			return nil, office.Refusef("There is no project %s any more; nothing was kept.", project)
		}
		if now.Shut != "" {
			return nil, office.Refusef("%s", now.Shut)
		}
		number := now.Baseline
		if err := now.clash(typed); err != nil {
			return nil, err
		}
		from, faults = nil, nil
		var list []entry.Row
		table := "activities"
		if part == Money {
			table = "costs"
		}
		for i := range typed {
			var some []entry.Row
			if column, why := now.there(part, &typed[i]); why != "" {
				faults = append(faults, Fault{i, column, why})
				return nil, &office.Misfit{Column: column, Why: why}
			}
			var err error
			if part == Money {
				some, err = moneyRows(project, number, &typed[i])
			} else {
				some, err = activityRows(project, number, &typed[i])
			}
			if err != nil {
				faults = append(faults, Fault{i, err.(*office.Misfit).Column, err.(*office.Misfit).Why})
				return nil, err
			}
			for _, r := range some {
				list, from = append(list, r), append(from, i)
			}
		}
		if len(list) == 0 {
			return nil, office.Refusef("Nothing was typed that differs from what is there, so nothing was kept.")
		}
		return []entry.Rows{entry.Of(table, list...)}, nil
	}
	what := "activities"
	if part == Money {
		what = "plan"
	}
	_, err = entry.In(o.Office).Enter(ctx, a, &entry.Form{
		Origin: office.Planned, Note: fmt.Sprintf("%s of %s", what, project), Seen: seen, Takes: right.Found, Rows: rows,
		Wrong: func(_ string, row int, column, why string) {
			if row >= 0 && row < len(from) {
				faults = append(faults, Fault{from[row], column, why})
			}
		},
	})
	return faults, err
}

// there tells why a new row is none: what it names has a row already, which would be
// changed unseen.
func (out *Sheet) there(part string, t *Typed) (column, why string) {
	if t.Key != "" {
		return "", ""
	}
	if part != Money {
		code := strings.TrimSpace(t.Cells["activity"].Text)
		if code != "" && slices.ContainsFunc(out.Rows, func(r Row) bool { return strings.EqualFold(r.Key, code) }) {
			return "activity", fmt.Sprintf("%s has a row already; type into that one, or take another code", code)
		}
		return "", ""
	}
	code := strings.TrimSpace(t.Cells["cost_code"].Text)
	for _, r := range out.Rows {
		parts := strings.Split(r.Key, "|")
		if r.Key != "" && parts[0] == code && parts[1] == "cost" && strings.Join(parts[2:5], "") == "" {
			return "cost_code", fmt.Sprintf("%s has a line already; type into that one", code)
		}
	}
	return "", ""
}

// lastOf is the last period that something was typed for, of money.
func lastOf(typed []Typed) (last string) {
	for i := range typed {
		for c := range typed[i].Cells {
			if c != "cost_code" {
				last = max(last, c)
			}
		}
	}
	return last
}

// clash is the error of a cell that someone else made another than the typed one since
// it was shown; nil where there is none.
func (out *Sheet) clash(typed []Typed) error {
	for i := range typed {
		t := &typed[i]
		at := slices.IndexFunc(out.Rows, func(r Row) bool { return r.Key == t.Key })
		if t.Key == "" || at < 0 {
			continue
		}
		for j, c := range out.Columns {
			x, is := t.Cells[c.Name], out.Rows[at].Cells[j]
			if text := strings.TrimSpace(x.Text); text != x.Was && x.Was != is && text != is {
				return &office.Conflict{Text: fmt.Sprintf(
					"%s, %s: it was %s when you typed %s, and someone else has made it %s since. Nothing was kept. Yours is still in the cell: send it again to put it in the place of theirs.",
					out.Rows[at].Title, c.Title, show(x.Was), show(text), show(is),
				)}
			}
		}
	}
	return nil
}

func show(text string) string {
	if text == "" {
		return "nothing"
	}
	return "\"" + text + "\""
}

// activityRows is the row of an activity as it was typed; none where nothing is another.
func activityRows(project string, baseline int, t *Typed) ([]entry.Row, error) {
	row := entry.Row{}
	for _, c := range activityColumns {
		x := t.Cells[c.Name]
		if text := strings.TrimSpace(x.Text); text != x.Was || t.Key == "" && text != "" {
			row[c.Name] = text
		}
	}
	if t.Key != "" {
		if code, changed := row["activity"]; changed && code != t.Key {
			return nil, &office.Misfit{Column: "activity", Why: fmt.Sprintf("the code of %s stays, since statements name it; give it another name", t.Key)}
		}
		delete(row, "activity")
	}
	if t.Key == "" && row["activity"] == "" {
		for c := range row { // a blank row may keep the choices that it shows
			if c != "kind" && c != "level" && c != "rule" {
				return nil, &office.Misfit{Column: "activity", Why: "a new activity has a code; write one, such as A10"}
			}
		}
		return nil, nil
	}
	if len(row) == 0 {
		return nil, nil
	}
	for c, text := range row {
		if text == "" {
			row[c] = record.OrClear(text)
		}
	}
	row["project"], row["activity"] = project, cmp.Or(t.Key, row["activity"])
	row["baseline"] = strconv.Itoa(baseline)
	return []entry.Row{row}, nil
}

// moneyRows are the amounts of a line as they were typed.
func moneyRows(project string, baseline int, t *Typed) (out []entry.Row, err error) {
	code := strings.TrimSpace(t.Cells["cost_code"].Text)
	for c, x := range t.Cells {
		text := strings.TrimSpace(x.Text)
		if c == "cost_code" || text == x.Was {
			continue
		}
		row := entry.Row{"project": project, "kind": "plan", "version": strconv.Itoa(baseline), "period": c, "amount": record.OrClear(text)}
		if t.Key == "" {
			if code == "" {
				return nil, &office.Misfit{Column: "cost_code", Why: "a new line has a cost code; choose one of the list"}
			}
			row["cost_code"] = code
		} else {
			for i, part := range strings.Split(t.Key, "|") {
				if i < len(lineColumns) && part != "" {
					row[lineColumns[i]] = part
				}
			}
		}
		out = append(out, row)
	}
	slices.SortFunc(out, func(a, b entry.Row) int { return strings.Compare(a["period"], b["period"]) })
	return out, nil
}
