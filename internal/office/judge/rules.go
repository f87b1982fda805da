package judge

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"turret/internal/book"
	"turret/internal/change"
	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/right"
	"turret/internal/store"
	"turret/internal/tell"
)

// RuleRow is a rule in force, as a screen shows it.
type RuleRow struct {
	Dimension, Code string // title and code of the dimension
	Title           string // of the reading
	Reading         string // figure, or expression
	Own             bool   // an expression
	Unit            figure.Unit
	Direction       standing.Direction
	Watch, Act      string
	Scope           string // "": all
	Since           string // name of the period from which it holds; "": always
	Usual           bool   // a default of every office
	Off             bool
}

// DimensionRow is a dimension with its weight.
type DimensionRow struct {
	Code, Title string
	Own, Apart  bool
	Weight      int64
}

// RuleBook is what an office judges by in a moment's period.
type RuleBook struct {
	Version    string
	Rules      []RuleRow
	Dimensions []DimensionRow
	Overall    standing.Policy
	Groups     standing.Policy
	Early      []EarlyRow
	Later      []string // rules that take effect later, in words
}

// EarlyRow is a project with a share of its own below which indices stay silent.
type EarlyRow struct{ Code, Name, Percent string }

// RuleBook reads the rules in force in a moment's period.
func (o Room) RuleBook(ctx context.Context, a right.Actor, m *office.Moment) (*RuleBook, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	in, err := o.Book().InputsAt(ctx, m.Snapshot(), m.Period.Number)
	if err != nil {
		return nil, err
	}
	set := in.Rules.At(m.Period.Number)
	out := &RuleBook{Version: set.Version, Overall: set.Overall, Groups: set.Groups}
	for _, d := range set.Dimensions() {
		if d == standing.Overall {
			continue
		}
		row := DimensionRow{Code: set.Code(d), Title: tell.Capital(set.Title(d)), Own: d.Own(), Weight: set.Weight(d)}
		if d.Own() {
			row.Apart = set.Weight(d) == 0
		}
		out.Dimensions = append(out.Dimensions, row)
	}
	for _, r := range set.All() {
		x := RuleRow{
			Dimension: tell.Capital(set.Title(r.Dimension)),
			Code:      set.Code(r.Dimension),
			Reading:   r.ReadingText(),
			Direction: r.Direction,
			Watch:     standing.LimitText(r.Watch),
			Act:       standing.LimitText(r.Act),
			Scope:     r.Scope,
			Off:       r.Watch == nil && r.Act == nil,
		}
		if r.Expr != nil {
			x.Own, x.Title, x.Unit = true, cmp.Or(r.Title, r.Expr.Source), r.Expr.Unit.Figure()
		} else {
			x.Title, x.Unit = figure.Get(r.Reading).Title, figure.Get(r.Reading).Unit
		}
		if r.From == 0 {
			x.Usual = true
		} else {
			x.Since = m.PeriodName(r.From)
		}
		out.Rules = append(out.Rules, x)
	}
	slices.SortStableFunc(out.Rules, func(x, y RuleRow) int {
		place := func(r RuleRow) int {
			return slices.IndexFunc(out.Dimensions, func(d DimensionRow) bool { return d.Code == r.Code })
		}
		return cmp.Or(place(x)-place(y), cmp.Compare(x.Title, y.Title), cmp.Compare(x.Scope, y.Scope))
	})
	for _, r := range in.Rules.Rules {
		if r.From > m.Period.Number {
			out.Later = append(
				out.Later,
				fmt.Sprintf(
					"%s, %s from %s",
					tell.Capital(in.Rules.Title(r.Dimension)),
					r.ReadingText(),
					m.PeriodName(r.From),
				),
			)
		}
	}
	for _, p := range in.Projects() {
		if p.TooEarly >= 0 {
			out.Early = append(
				out.Early,
				EarlyRow{p.Code, p.Name, figure.TrimDecimals(money.FormatScaled(p.TooEarly, portfolio.QuantityScale))},
			)
		}
	}
	return out, nil
}

// FigureNames lists the catalogue by name, with titles and units, for forms.
func FigureNames() (out [][3]string) {
	for i := range figure.Len() {
		e := figure.Get(figure.ID(i))
		out = append(out, [3]string{e.Name, e.Title, e.Unit.String()})
	}
	slices.SortFunc(out, func(a, b [3]string) int { return strings.Compare(a[1], b[1]) })
	return out
}

// Rateable tells whether limits can be set on a figure of the catalogue.
func Rateable(name string) bool {
	id, ok := figure.Lookup(name)
	if !ok {
		return false
	}
	u := figure.Get(id).Unit
	return u != figure.Money && u != figure.Day
}

// RuleMove is a project whose standing a change of rules moves.
type RuleMove struct {
	Code, Name, Dimension string
	Overall               bool
	Was, Is               standing.Standing
}

// RulePreview tells what a change of rules or checks would do, in the open
// period and, had it been in force then, in the last closed one.
type RulePreview struct {
	Open, Closed         []RuleMove
	OpenName, ClosedName string // ClosedName is "" where none is closed
	Found, FoundThen     []office.Finding
	Gone, GoneThen       int // findings that are no more
	Checks               bool
	Says                 string // a rule in words, with how many projects it judges
}

// Judging tables, by what a form may change.
var judgingTables = []string{"rules", "dimensions", "policies", "checks", "projects"}

// PreviewRule tells what a change would do before it is kept: a row of a
// judging table, cells in canonical form by column.
func (o Room) PreviewRule(
	ctx context.Context,
	a right.Actor,
	table string,
	row map[string]string,
) (*RulePreview, error) {
	return o.rule(ctx, a, change.Unseen, table, row, true)
}

// SaveRule keeps a change of rules or checks, in one batch: of what its writer saw
// at a revision.
func (o Room) SaveRule(ctx context.Context, a right.Actor, seen int64, table string, row map[string]string) error {
	_, err := o.rule(ctx, a, seen, table, row, false)
	return err
}

func (o Room) rule(
	ctx context.Context,
	a right.Actor,
	seen int64,
	table string,
	row map[string]string,
	dry bool,
) (*RulePreview, error) {
	if err := right.Check(a, right.Rule); err != nil {
		return nil, err
	}
	if !slices.Contains(judgingTables, table) {
		return nil, office.Refusef("There are no rules in %q.", table)
	}
	if table == "projects" { // the share below which it is too early, and nothing else
		row = map[string]string{"project": row["project"], "too_early": cmp.Or(row["too_early"], "-")}
	}
	row, err := asWritten(table, row)
	if err != nil {
		return nil, err
	}
	snap, err := o.Book().Snapshot(ctx)
	if err != nil {
		return nil, err
	}
	if table == "projects" && snap.Project(row["project"]) == nil {
		return nil, office.Refusef("There is no project %q.", row["project"])
	}
	if from, ok := row["from"]; ok && strings.TrimSpace(from) == "" {
		return nil, office.Refusef("Say from which period it holds.")
	}
	report, err := entry.In(o.Office).
		Enter(ctx, a, &entry.Form{Origin: office.Ruled, Note: ruleNote(table, row), Seen: seen, Dry: dry, Rows: entry.These(entry.Of(table, row))})
	if err != nil || !dry {
		return nil, err
	}
	p := &RulePreview{Checks: table == "checks"}
	if table == "rules" {
		if p.Says, err = o.says(ctx, snap, row); err != nil {
			return nil, err
		}
	}
	at := snap.Current()
	p.OpenName = snap.Office.Periods.Name(at)
	for i := range report.Effects {
		e := &report.Effects[i]
		for _, x := range e.Stands {
			p.Open = append(
				p.Open,
				RuleMove{
					e.Code,
					e.Name,
					tell.Capital(report.Rules.Title(x.Dimension)),
					x.Dimension == standing.Overall,
					e.Before.Standing[x.Dimension],
					e.After.Standing[x.Dimension],
				},
			)
		}
		settled, brought := e.Settles()
		p.Gone += len(settled)
		for _, f := range brought {
			p.Found = append(
				p.Found,
				office.Finding{
					Finding:  f,
					Project:  e.Code,
					Name:     e.Name,
					Lead:     e.After.Lead,
					Currency: snap.OwnCurrency(e.After),
				},
			)
		}
	}
	if last := at - 1; snap.Closed[last] {
		p.ClosedName = snap.Office.Periods.Name(last)
		err = o.hadBeen(ctx, snap, last, report.Planned, p)
	}
	return p, err
}

func ruleNote(table string, row map[string]string) string {
	return strings.TrimSpace(
		table + ": " + strings.TrimSpace(
			row["dimension"]+" "+row["reading"]+" "+row["policy"]+" "+row["check"]+" "+row["project"],
		),
	)
}

// hadBeen tells what a change would have done in a closed period: rules on the
// readings that its cut keeps, checks on its inputs.
func (o Room) hadBeen(
	ctx context.Context,
	snap *book.Snapshot,
	last calendar.Period,
	b *store.Batch,
	p *RulePreview,
) error {
	if b == nil {
		return nil
	}
	in, err := o.Book().InputsAt(ctx, snap, last)
	if err != nil {
		return err
	}
	rs, err := o.Book().Readings(ctx, snap, last, portfolio.Latest, false)
	if err != nil {
		return err
	}
	changes := in.Apart(book.Shifted(b.Records, last))
	if p.Checks {
		return o.hadFound(ctx, in, rs, changes, last, p)
	}
	rules, err := in.RulesWith(changes)
	if err != nil {
		return err
	}
	early := make(map[int64]int64) // shares of their own, by project
	for _, c := range changes {
		if c.Table.Name == "projects" {
			early[b.Records[0].After.ID] = -1
			if f := c.After.Fields[c.Table.Index("too_early")]; f.Said == portfolio.Value {
				early[b.Records[0].After.ID] = f.Int
			}
		}
	}
	now := in.Rejudge(rs, rules, early)
	for _, r := range rs.Rows {
		is, ok := now[r.Code]
		if r.Group || !ok {
			continue
		}
		for _, d := range rules.Dimensions() {
			if r.Standing[d] != is[d] {
				p.Closed = append(
					p.Closed,
					RuleMove{r.Code, r.Name, tell.Capital(rules.Title(d)), d == standing.Overall, r.Standing[d], is[d]},
				)
			}
		}
	}
	return nil
}

// hadFound runs the checks of a closed period again, with a change.
func (o Room) hadFound(
	ctx context.Context,
	in *book.Snapshot,
	rs *book.Readings,
	changes []store.RecordChange,
	last calendar.Period,
	p *RulePreview,
) error {
	if _, err := in.Live(ctx, last, portfolio.Latest, false); err != nil {
		return err
	}
	with, err := in.With(ctx, &store.Batch{Records: changes})
	if err != nil {
		return err
	}
	now, err := with.Live(ctx, last, portfolio.Latest, false)
	if err != nil {
		return err
	}
	for _, r := range now.Rows {
		was := rs.Project(r.Code)
		if r.Group || was == nil {
			continue
		}
		settled, brought := book.Settled(was, r)
		p.GoneThen += len(settled)
		for _, f := range brought {
			p.FoundThen = append(
				p.FoundThen,
				office.Finding{Finding: f, Project: r.Code, Name: r.Name, Lead: r.Lead, Currency: r.Currency},
			)
		}
		for d := range r.Standing {
			if r.Standing[d] != was.Standing[d] {
				p.Closed = append(
					p.Closed,
					RuleMove{
						r.Code,
						r.Name,
						tell.Capital(with.Rules.Title(standing.Dimension(d))),
						d == 0,
						was.Standing[d],
						r.Standing[d],
					},
				)
			}
		}
	}
	return nil
}

// CheckRow is a check as Setup shows it.
type CheckRow struct {
	Code, Title, About     string
	Severity               finding.Severity
	Limit, Unit            string
	Since                  string // from when the setting holds; "": always
	Own                    bool
	Over, Expression, Says string
	Open                   int // findings in the moment's period
	UsualLimit             string
	UsualSeverity          finding.Severity
	Bare                   bool // it has no limit
}

// OffRow is a check that is off for a project.
type OffRow struct{ Project, Check, Title, From, Until, Reason string }

// CheckBook lists the checks in force in a moment's period, and those that are
// off for a project.
func (o Room) CheckBook(ctx context.Context, a right.Actor, m *office.Moment) ([]CheckRow, []OffRow, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, nil, err
	}
	in, err := o.Book().InputsAt(ctx, m.Snapshot(), m.Period.Number)
	if err != nil {
		return nil, nil, err
	}
	open := make(map[string]int)
	if m.Readings() != nil {
		for _, r := range m.Readings().Rows {
			for i := range r.Findings {
				if r.Findings[i].Counts() {
					open[r.Findings[i].Check]++
				}
			}
		}
	}
	var out []CheckRow
	add := func(x CheckRow) {
		var from calendar.Period = -1
		x.UsualLimit, x.UsualSeverity = x.Limit, x.Severity
		for _, s := range in.Rules.Checks {
			if s.Check != x.Code || s.From > m.Period.Number || s.From < from {
				continue
			}
			from, x.Since = s.From, m.PeriodName(s.From)
			x.Severity = cmp.Or(s.Severity, x.UsualSeverity)
			if x.Limit = x.UsualLimit; s.Limit != nil {
				x.Limit = standing.LimitText(s.Limit)
			}
		}
		x.Open = open[x.Code]
		out = append(out, x)
	}
	for i := range finding.Checks {
		c := &finding.Checks[i]
		add(
			CheckRow{
				Code:     c.Code,
				Title:    c.Title,
				About:    c.About,
				Severity: c.Severity,
				Limit:    c.Limit,
				Unit:     c.Unit,
				Bare:     c.Limit == "",
			},
		)
	}
	for _, c := range in.Rules.OwnAt(m.Period.Number) {
		add(
			CheckRow{
				Code:       c.Code,
				Title:      c.Title,
				About:      c.Expr.Source,
				Severity:   cmp.Or(c.Severity, finding.Warning),
				Own:        true,
				Over:       c.Over,
				Expression: c.Expr.Source,
				Says:       c.Says,
				Bare:       true,
			},
		)
	}
	var off []OffRow
	for _, p := range in.Projects() {
		for _, u := range p.Unchecked {
			title, _ := in.Rules.Check(u.Check)
			x := OffRow{Project: p.Code, Check: u.Check, Title: title, From: m.PeriodName(u.From), Reason: u.Reason}
			if u.Until != 0 {
				x.Until = m.PeriodName(u.Until)
			}
			off = append(off, x)
		}
	}
	return out, off, nil
}

// NamesOver lists what an own check over a kind of record may use: name, unit.
func NamesOver(over string) (out [][2]string) {
	for n, u := range finding.NamesOver(over) {
		out = append(out, [2]string{n, u.String()})
	}
	slices.SortFunc(out, func(a, b [2]string) int { return strings.Compare(a[0], b[0]) })
	return out
}

// RecordKinds lists what own checks can look at.
var RecordKinds = finding.Over
