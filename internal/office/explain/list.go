package explain

import (
	"cmp"
	"context"
	"slices"

	"turret/internal/core/claim"
	"turret/internal/core/exact"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/asking"
	"turret/internal/office/stating"
	"turret/internal/right"
)

// State is how far the words of a project are.
type State string

// The states, in the order in which they are listed.
const (
	Wanted  State = "wanted"
	Drafted State = "drafted"   // someone has typed some of it
	Back    State = "sent back" // its lead is asked about them
	Ready   State = "ready"     // they are stated
	Agreed  State = "agreed"    // the office agreed to them as they are
)

// Text is a project or group whose words are wanted, or stated, for a moment's period; a project
// in its own currency, unless another is asked for by name.
type Text struct {
	*office.Reading
	State   State
	Words   office.Words
	Was     standing.Standing // overall, at the moment's Since; as now where nothing is known of it
	Moved   []office.Change
	Outlook figure.Value // what the computed outlook moved since
	share   exact.Ratio  // of the plan
}

// Waits tells whether there is still something to write, or to send.
func (s State) Waits() bool { return s == Wanted || s == Drafted || s == Back }

// Texts are those of a moment: those that wait before those that are said, and of each those
// that moved most first, projects before groups. One keeps its place while it is written.
type Texts struct {
	List  []Text
	Count map[State]int
}

// place is what questions about words are about.
var place = portfolio.NarrativePart.String()

// Texts lists the projects and groups in scope whose words are wanted or stated.
func (o Room) Texts(ctx context.Context, a right.Actor, m *office.Moment) (*Texts, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	out := &Texts{Count: make(map[State]int)}
	if m.Empty {
		return out, nil
	}
	drafted, err := stating.In(o.Office).Drafted(ctx, a, m)
	if err != nil {
		return nil, err
	}
	asked := asking.In(o.Office).Asked(m, place)
	own, err := o.OfOne(ctx, m)
	if err != nil {
		return nil, err
	}
	for _, r := range m.Readings().Rows {
		if !m.InScope(r) || !m.Filter.Wants(r) {
			continue
		}
		of := m
		if p, _ := own.Find(r.Code); !r.Group && p != nil {
			r, of = p, own
		}
		x := Text{Reading: r, State: Wanted, Words: m.WordsOf(r), Was: r.Standing[standing.Overall]}
		due := m.WordsDue(r)
		if !x.Words.Said && !due {
			continue
		}
		switch {
		case !r.Group && drafted[r.Code][portfolio.NarrativePart]:
			x.State = Drafted
		case x.Words.Said && !r.Group && len(asked[r.Code]) > 0:
			x.State = Back
		case due && len(x.Words.Missing) > 0 || !x.Words.Said:
		case x.Words.Agreed != "":
			x.State = Agreed
		default:
			x.State = Ready
		}
		out.Count[x.State]++
		x.since(of)
		out.List = append(out.List, x)
	}
	slices.SortStableFunc(out.List, func(x, y Text) int {
		return cmp.Or(
			last(!x.State.Waits(), !y.State.Waits()), last(x.Group, y.Group), cmp.Compare(y.far(), x.far()), y.share.Cmp(x.share), cmp.Compare(x.Code, y.Code),
		)
	})
	return out, nil
}

// since tells what moved of a text's project.
func (x *Text) since(m *office.Moment) {
	of := m.MovedOf
	if x.Group {
		of = m.GroupMoved
	}
	if moved, ok := of(x.Code); ok {
		x.Moved = moved.Changes
	}
	x.Outlook = figure.Unknown(figure.Money, "nothing stands beside it")
	earlier := m.Earlier()
	if earlier == nil {
		return
	}
	was := earlier.Project(x.Code)
	if x.Group {
		was = earlier.Group(x.Code)
	}
	if was == nil {
		return
	}
	x.Was = was.Standing[standing.Overall]
	before, now, bac := was.Value(figure.EACComputed), x.Value(figure.EACComputed), x.Value(figure.BAC)
	if before.Known && now.Known && was.Currency == x.Currency {
		x.Outlook = figure.Whole(figure.Money, now.N-before.N)
		if bac.Known && bac.N > 0 {
			x.share = exact.Of(max(now.N-before.N, before.N-now.N), bac.N)
		}
	}
}

// far is how far its standings moved.
func (x *Text) far() int {
	var steps []claim.Step
	for _, c := range x.Moved {
		steps = append(steps, claim.Step{Dimension: c.Dimension, Was: c.Was, Is: c.Is})
	}
	return claim.Far(steps)
}

// last puts what is so behind what is not: groups behind projects, since their words rest on
// those of their projects.
func last(x, y bool) int {
	switch {
	case x == y:
		return 0
	case x:
		return 1
	}
	return -1
}

// After gives the text that comes next once that of a project or group is sent: the next that
// waits, from the first again at the end; nil where none else does.
func (t *Texts) After(code string, group bool) *Text {
	at := slices.IndexFunc(t.List, func(x Text) bool { return x.Code == code && x.Group == group })
	for i := range t.List {
		if x := &t.List[(at+1+i)%len(t.List)]; x.State.Waits() && (x.Code != code || x.Group != group) {
			return x
		}
	}
	return nil
}
