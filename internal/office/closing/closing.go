package closing

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/finding"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/ledger"
	"turret/internal/right"
	"turret/internal/store"
	"turret/internal/tell"
)

// The kinds of points that stand in the way of a close.
const (
	RefusedRows = "refused" // rows that were refused and wait
	ControlsOff = "ledger"  // totals that sources told and that are not what was taken
	OpenErrors  = "errors"
	Unanswered  = "unanswered" // warnings that nobody has explained
	BigMoves    = "moves"      // standings that moved two levels
	Owing       = "owing"      // statements that are owed
)

// pointWords are what points say after their number, in the order in which they show.
var pointWords = []struct{ kind, one, many string }{
	{RefusedRows, "refused row waits", "refused rows wait"},
	{ControlsOff, "control total differs from the ledger", "control totals differ from the ledger"},
	{OpenErrors, "project has errors open", "projects have errors open"},
	{Unanswered, "project has warnings without an answer", "projects have warnings without an answer"},
	{BigMoves, "standing moved two levels", "standings moved two levels"},
	{Owing, "project owes a statement", "projects owe statements"},
}

// Point is what still stands in the way of a close.
type Point struct {
	Kind, Text string
	Names      []string // what it is about, at most a few
	More       int      // names that are not listed
}

// Holds tells what a cut holds.
type Holds struct {
	Projects, Parts, Records, Readings, Findings int
	Hash, Rules                                  string
}

// Closing is what the screen of a close shows.
type Closing struct {
	Points []Point
	Holds  Holds
	Why    string // it cannot be closed at all, or ""
	Before []CutInfo
	Said   map[string]string // the reasons of the last close of the period, by kind, once it is open again
}

// CutInfo is a cut as a list shows it.
type CutInfo struct {
	ID                       int64 // zero: now
	Period, PeriodName, Name string
	At, Actor, Hash          string
	Hand                     bool
	InForce                  bool
	Reopened, By             string // the reason and who
	Over                     []Over
}

// mostNamed is how many names a point lists.
const mostNamed = 6

func (p *Point) name(list []string) {
	p.Names = list
	if len(list) > mostNamed {
		p.Names, p.More = list[:mostNamed], len(list)-mostNamed
	}
}

// Closing reads what stands in the way of closing a moment's period, and what
// its cut would hold.
func (o Room) Closing(ctx context.Context, a right.Actor, m *office.Moment) (*Closing, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	c := &Closing{}
	var err error
	if c.Before, err = o.cutsOf(ctx, m, m.Period.Code); err != nil {
		return nil, err
	}
	if m.Period.Closed {
		c.Why = m.Period.Name + " is closed."
		return c, nil
	}
	if err := o.closable(m.Snapshot(), m.Period.Number); err != nil {
		c.Why = tell.Capital(err.Error()) + "."
		return c, nil
	}
	if c.Points, err = o.points(ctx, m); err != nil {
		return nil, err
	}
	for _, cut := range c.Before {
		if cut.Hand || cut.Reopened == "" {
			continue
		}
		c.Said = make(map[string]string)
		for _, x := range cut.Over {
			c.Said[x.kind()] = x.Reason
		}
		break
	}
	_, hash, err := m.Snapshot().Inputs(ctx)
	if err != nil {
		return nil, err
	}
	c.Holds = Holds{
		Projects: len(m.Snapshot().Projects()),
		Hash:     fmt.Sprintf("%x", hash),
		Rules:    m.Snapshot().Rules.At(m.Period.Number).Version,
		Readings: len(m.Readings().Rows),
	}
	for _, list := range m.Snapshot().Stated {
		c.Holds.Parts += len(list)
	}
	for _, rows := range m.Snapshot().Records {
		c.Holds.Records += len(rows)
	}
	for _, r := range m.Readings().Rows {
		c.Holds.Findings += len(r.Findings)
	}
	return c, nil
}

// points lists what is open for a moment's period, whatever its scope.
func (o Room) points(ctx context.Context, m *office.Moment) ([]Point, error) {
	var out []Point
	refused, err := o.Store().AllRefusalsWaiting(ctx)
	if err != nil {
		return nil, err
	}
	var waiting []string
	if refused > 0 {
		codes, err := o.Store().WaitingCodes(ctx)
		if err != nil {
			return nil, err
		}
		for _, w := range codes {
			waiting = append(waiting, strings.ReplaceAll(w.Column, "_", " ")+" "+w.Code)
		}
	}
	var errors, warnings, late, moves []string
	for _, r := range m.Readings().Rows {
		if r.Group {
			continue
		}
		bad, open := 0, 0
		for i := range r.Findings {
			f := office.Finding{Finding: r.Findings[i]}
			switch {
			case f.Severity == finding.Error && f.Counts():
				bad++
			case f.Severity == finding.Warning && f.Unexplained():
				open++
			}
		}
		if bad > 0 {
			errors = append(errors, r.Code)
		}
		if open > 0 {
			warnings = append(warnings, r.Code)
		}
		if owes, stated := office.Owing(r); owes && !stated && m.Owes() {
			late = append(late, r.Code)
		}
		if x := jumped(m, r); x != "" {
			moves = append(moves, x)
		}
	}
	off, err := ledger.In(o.Office).Off(ctx, m)
	if err != nil {
		return nil, err
	}
	about := map[string][]string{
		RefusedRows: waiting, ControlsOff: off, OpenErrors: errors, Unanswered: warnings, BigMoves: moves, Owing: late,
	}
	for _, k := range pointWords {
		n := len(about[k.kind])
		if k.kind == RefusedRows {
			n = refused // its names are of codes
		}
		if n > 0 {
			p := Point{Kind: k.kind, Text: tell.Plural(n, k.one, k.many)}
			p.name(about[k.kind])
			out = append(out, p)
		}
	}
	return out, nil
}

// jumped tells of a project whose overall standing went between Steady and Act
// since the last closed period; "" where it did not.
func jumped(m *office.Moment, r *office.Reading) string {
	last, ok := m.Snapshot().Cuts[m.Period.Number-1]
	if !ok || m.Earlier() == nil || last.ID == 0 {
		return ""
	}
	before := m.Earlier().Project(r.Code)
	if before == nil {
		return ""
	}
	was, is := before.Standing[standing.Overall], r.Standing[standing.Overall]
	if was == standing.Steady && is == standing.Act || was == standing.Act && is == standing.Steady {
		return fmt.Sprintf("%s %s → %s", r.Code, was, is)
	}
	return ""
}

// CloseOver closes a moment's period, where it is the one that the form showed,
// by its code. Each point that is open then takes a reason, by kind, which is kept
// in the cut.
func (o Room) CloseOver(
	ctx context.Context,
	a right.Actor,
	m *office.Moment,
	shown string,
	reasons map[string]string,
) (*CutSummary, error) {
	if err := right.Check(a, right.Close); err != nil {
		return nil, err
	}
	if shown == "" {
		return nil, office.Refusef(
			"The form does not say which period it closes; nothing was done. Open the page again.",
		)
	}
	if shown != m.Period.Code {
		return nil, office.Refusef("The form was about %s, and this is %s; nothing was done.", shown, m.Period.Name)
	}
	return o.CloseWith(ctx, a, m.Period.Number, func(ctx context.Context, s *book.Snapshot) ([]Over, error) {
		points, err := o.pointsOf(ctx, s, shown)
		if err != nil {
			return nil, err
		}
		var over []Over
		for _, p := range points {
			why := strings.TrimSpace(reasons[p.Kind])
			if why == "" {
				return nil, &office.Misfit{
					Column: p.Kind,
					Why:    fmt.Sprintf("%s; deal with it, or say why the period closes over it", p.Text),
				}
			}
			over = append(over, Over{Kind: p.Kind, Point: p.Text, Reason: why})
		}
		return over, nil
	})
}

// PointKinds are the kinds of points, as reasons name them.
var PointKinds = []string{RefusedRows, ControlsOff, OpenErrors, Unanswered, BigMoves, Owing}

// CloseFor closes a period, by its code, over reasons by the kind of point. What is open
// and has none is told all at once; a reason for what is not open is refused.
func (o Room) CloseFor(ctx context.Context, a right.Actor, code string, reasons map[string]string) (*CutSummary, error) {
	if err := right.Check(a, right.Close); err != nil {
		return nil, err
	}
	p, err := o.ParsePeriod(ctx, a, code)
	if err != nil {
		return nil, err
	}
	return o.CloseWith(ctx, a, p, func(ctx context.Context, s *book.Snapshot) ([]Over, error) {
		points, err := o.pointsOf(ctx, s, s.Office.Periods.Code(p))
		if err != nil {
			return nil, err
		}
		var over []Over
		var missing []string
		open := make(map[string]bool)
		for _, p := range points {
			open[p.Kind] = true
			if why := strings.TrimSpace(reasons[p.Kind]); why != "" {
				over = append(over, Over{Kind: p.Kind, Point: p.Text, Reason: why})
			} else {
				missing = append(missing, p.Kind+": "+p.String())
			}
		}
		for _, kind := range slices.Sorted(maps.Keys(reasons)) {
			switch {
			case !slices.Contains(PointKinds, kind):
				return nil, office.Refusef("there is no kind of open point %q, only %s", kind, strings.Join(PointKinds, ", "))
			case !open[kind]:
				return nil, office.Refusef("nothing is open of %q, so no reason is kept for it; nothing was closed", kind)
			}
		}
		if len(missing) > 0 {
			return nil, office.Refusef(
				"%s, so nothing was closed; deal with it, or say why the period closes over each:\n  %s",
				tell.Plural(len(missing), "point is open", "points are open"),
				strings.Join(missing, "\n  "),
			)
		}
		return over, nil
	})
}

// pointsOf lists what is open for a period, by its code, in a snapshot.
func (o Room) pointsOf(ctx context.Context, s *book.Snapshot, code string) ([]Point, error) {
	now, err := o.MomentOf(ctx, s, office.Ask{At: code, Own: true})
	if err != nil {
		return nil, err
	}
	return o.points(ctx, now)
}

// String says a point and what it is about.
func (p Point) String() string {
	if len(p.Names) == 0 {
		return p.Text
	}
	out := p.Text + " (" + strings.Join(p.Names, ", ")
	if p.More > 0 {
		out += fmt.Sprintf(" and %d more", p.More)
	}
	return out + ")"
}

// MakeCut makes a cut by hand, with a name, of a moment's period as it stands.
func (o Room) MakeCut(ctx context.Context, a right.Actor, m *office.Moment, name string) error {
	if err := right.Check(a, right.Close); err != nil {
		return err
	}
	if strings.TrimSpace(name) == "" {
		return &office.Misfit{Column: "name", Why: "a cut made by hand needs a name"}
	}
	_, err := o.Write(ctx, a, func(ctx context.Context, s *book.Snapshot) (*store.Batch, error) {
		cut, err := o.cutNow(ctx, s, m.Period.Number, name)
		if err != nil {
			return nil, err
		}
		cut.Kind = store.HandCut
		return &store.Batch{Origin: "cut", Note: name, Cut: cut}, nil
	})
	return err
}

// cutsOf lists the cuts of a period, or of all with "", the latest first.
func (o Room) cutsOf(ctx context.Context, m *office.Moment, period string) ([]CutInfo, error) {
	cuts, err := o.Store().Cuts(ctx)
	if err != nil {
		return nil, err
	}
	var out []CutInfo
	for _, c := range cuts {
		info := cutInfo(m, &c)
		if period == "" || info.Period == period {
			out = append(out, info)
		}
	}
	slices.Reverse(out)
	return out, nil
}

// Cuts lists all cuts, the latest first.
func (o Room) Cuts(ctx context.Context, a right.Actor, m *office.Moment) ([]CutInfo, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	return o.cutsOf(ctx, m, "")
}

func cutInfo(m *office.Moment, c *store.Cut) CutInfo {
	p := m.Snapshot().Office.Periods
	info := CutInfo{
		ID:         c.ID,
		Period:     p.Code(calendar.Period(c.Period)),
		PeriodName: p.Name(calendar.Period(c.Period)),
		Name:       c.Name,
		At:         tell.Moment(c.At),
		Actor:      c.Actor,
		Hash:       fmt.Sprintf("%x", c.Hash),
		Hand:       c.Kind == store.HandCut,
		By:         c.By,
	}
	if c.Reopened.Valid {
		info.Reopened = c.Reopened.String
	}
	info.InForce = m.Snapshot().Cuts[calendar.Period(c.Period)].ID == c.ID
	if c.Over != "" {
		if err := json.Unmarshal([]byte(c.Over), &info.Over); err != nil {
			info.Over = []Over{{Point: "what it was closed over cannot be read", Reason: err.Error()}}
		}
	}
	return info
}
