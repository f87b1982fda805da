package explain

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"turret/internal/book"
	"turret/internal/change"
	"turret/internal/core/calendar"
	"turret/internal/core/claim"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/sheet"
	"turret/internal/right"
	"turret/internal/store"
	"turret/internal/tell"
)

// Draft is what someone has typed of the words on a group, by section: the text, and what was
// said when they began. Sections without an entry are as they are said.
type Draft struct {
	Typed map[string]office.Typed
	Said  map[string]string // for the period, by section
	Since time.Time         // zero: nothing is typed
}

// Value is what a section shows, and Shown what it showed before it was typed in.
func (d *Draft) Value(section string) string {
	if t, ok := d.Typed[section]; ok {
		return t.Text
	}
	return d.Said[section]
}

// Shown is what was said when a section was begun.
func (d *Draft) Shown(section string) string {
	if t, ok := d.Typed[section]; ok {
		return t.Was
	}
	return d.Said[section]
}

// Clashes tells that someone else said something else since a section was begun.
func (d *Draft) Clashes(section string) bool {
	t, ok := d.Typed[section]
	return ok && t.Was != d.Said[section] && t.Text != d.Said[section]
}

// Changed tells that a section is typed otherwise than it is said.
func (d *Draft) Changed(section string) bool {
	t, ok := d.Typed[section]
	return ok && t.Text != d.Said[section]
}

// Of is the code of the group that a moment's scope is.
func Of(m *office.Moment) string {
	if m.Scope.Code == "" {
		return portfolio.Everywhere
	}
	return m.Scope.Code
}

// Group reads what the words on the moment's scope stand beside. Nil where nothing is known of it.
func (o Room) Group(ctx context.Context, a right.Actor, m *office.Moment) (*One, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	if m.Empty {
		return nil, nil
	}
	code := Of(m)
	r := m.Readings().Group(code)
	if r == nil {
		return nil, nil
	}
	out := &One{Now: r, Since: m.Since, Sections: m.Snapshot().Office.Sections, Words: m.WordsOf(r)}
	if moved, ok := m.GroupMoved(code); ok {
		out.Moved = &moved
	}
	var was *office.Reading
	if earlier := m.Earlier(); earlier != nil {
		was = earlier.Group(code)
	}
	out.facts(was)
	for _, x := range m.Readings().Rows {
		if x.Group || !m.InScope(x) {
			continue
		}
		if moved, ok := m.MovedOf(x.Code); ok {
			out.Movers = append(out.Movers, moved)
		}
	}
	remarks, err := o.Remarks(ctx, m, code)
	if err != nil {
		return nil, err
	}
	for _, s := range out.Sections {
		sec := sheet.Section{Name: s.Code, Title: s.Title}
		for _, x := range remarks[s.Code] {
			sec.Words = append(sec.Words, sheet.Paragraph{Text: x.Text, Period: x.Name})
			if s.Code == "next" && x.Period != m.Asked.Number && len(out.Promised) == 0 {
				out.Promised = append(out.Promised, sec.Words[len(sec.Words)-1])
			}
		}
		if len(sec.Words) > 0 {
			out.Story = append(out.Story, sec)
		}
	}
	if right.May(a, right.Explain) && m.Snapshot().Sight() == nil {
		if out.Draft, err = o.draft(ctx, a, m); err != nil {
			return nil, err
		}
	}
	return out, o.causes(ctx, a, m, "", out)
}

// firstOfGroup is First of a group.
func (x *One) firstOfGroup() string {
	var b strings.Builder
	r := x.Now
	fmt.Fprintf(&b, "%s stands at %s", r.Name, r.Standing[standing.Overall])
	if x.Moved != nil && x.Moved.Before.Standing[standing.Overall] != r.Standing[standing.Overall] {
		fmt.Fprintf(&b, ", %s at %s", x.Moved.Before.Standing[standing.Overall], x.Since.Name)
	}
	b.WriteString(".")
	if eac := r.Value(figure.EACComputed); eac.Known {
		fmt.Fprintf(&b, " It comes to %s", tell.Millions(eac, r.Currency))
		if bac := r.Value(figure.BAC); bac.Known {
			fmt.Fprintf(&b, " against a plan of %s", tell.Millions(bac, r.Currency))
		}
		b.WriteString(".")
	}
	better, worse := 0, 0
	for i := range x.Movers {
		switch m := &x.Movers[i]; {
		case m.Now.Standing[standing.Overall] > m.Before.Standing[standing.Overall]:
			worse++
		case m.Now.Standing[standing.Overall] < m.Before.Standing[standing.Overall]:
			better++
		}
	}
	if worse+better > 0 {
		fmt.Fprintf(&b, " Since %s %s and %s.", x.Since.Name, tell.Plural(worse, "project stands worse", "projects stand worse"), tell.Plural(better, "better", "better"))
	}
	return b.String()
}

// kind is how drafts of words on a group are kept.
func kind(group string) string { return "commentary " + group }

// draft is what an actor has typed of the words on the moment's scope.
func (o Room) draft(ctx context.Context, a right.Actor, m *office.Moment) (*Draft, error) {
	return o.draftOn(ctx, a, Of(m), m.Asked.Number, m.Snapshot().Commentary(Of(m), m.Asked.Number))
}

func (o Room) draftOn(ctx context.Context, a right.Actor, group string, at calendar.Period, said map[string]string) (*Draft, error) {
	d := &Draft{Said: said}
	list, err := o.Store().UnsentOf(ctx, a.Account)
	if err != nil {
		return nil, err
	}
	for _, x := range list {
		if x.Project == 0 && x.Kind == kind(group) && x.Period == int64(at) {
			d.Since = time.UnixMilli(x.Begun).UTC()
			if err := json.Unmarshal([]byte(x.Body), &d.Typed); err != nil {
				return nil, fmt.Errorf("read a draft: %w", err)
			}
		}
	}
	return d, nil
}

// writes refuses whoever does not write on groups, and periods that are closed.
func (o Room) writes(a right.Actor, m *office.Moment) error {
	if err := right.Check(a, right.Explain); err != nil {
		return err
	}
	switch {
	case m.Empty || m.Readings().Group(Of(m)) == nil:
		return office.Refusef("Nothing is known of it yet, so nothing can be said of it.")
	case m.Snapshot().Sight() != nil:
		return office.Refusef("Words on a programme or the portfolio are for who reads all of it.")
	case m.Asked.Closed:
		return office.Refusef("%s is closed: its words stay as they are.", m.Asked.Name)
	}
	return nil
}

// longest is how many characters a section has at most.
const longest = 4000

// KeepGroup keeps what is typed of the words on the moment's scope, by section. What is as it is
// said is kept no more.
func (o Room) KeepGroup(ctx context.Context, a right.Actor, m *office.Moment, typed map[string]office.Typed) error {
	if err := o.writes(a, m); err != nil {
		return err
	}
	for name, t := range typed {
		if n := len([]rune(t.Text)); n > longest {
			return office.Refusef("What is typed in %s has %d characters; %d is the most.", name, n, longest)
		}
	}
	return o.changeDraft(ctx, a, m, func(kept map[string]office.Typed) {
		for name, t := range typed {
			t.Text = strings.TrimSpace(strings.ReplaceAll(t.Text, "\r\n", "\n"))
			t.Was = strings.ReplaceAll(t.Was, "\r\n", "\n")
			if t.Text == t.Was {
				delete(kept, name)
			} else {
				kept[name] = t
			}
		}
	})
}

// DropGroup forgets what is typed.
func (o Room) DropGroup(ctx context.Context, a right.Actor, m *office.Moment) error {
	return o.changeDraft(ctx, a, m, func(kept map[string]office.Typed) { clear(kept) })
}

// ChooseGroup settles a section that someone else said otherwise meanwhile: own keeps what was
// typed, else theirs holds.
func (o Room) ChooseGroup(ctx context.Context, a right.Actor, m *office.Moment, section string, own bool) error {
	said := m.Snapshot().Commentary(Of(m), m.Asked.Number)
	return o.changeDraft(ctx, a, m, func(kept map[string]office.Typed) {
		if t, there := kept[section]; there && own {
			kept[section] = office.Typed{Was: said[section], Text: t.Text}
		} else {
			delete(kept, section)
		}
	})
}

func (o Room) changeDraft(ctx context.Context, a right.Actor, m *office.Moment, change func(map[string]office.Typed)) error {
	if a.Account == 0 {
		return office.Refusef("Nobody is signed in, so there is nobody to keep a draft for.")
	}
	d := store.Unsent{Account: a.Account, Kind: kind(Of(m)), Period: int64(m.Asked.Number), At: o.Now()}
	return o.Store().ChangeUnsent(ctx, d, func(body string) (string, error) {
		kept := make(map[string]office.Typed)
		if body != "" {
			if err := json.Unmarshal([]byte(body), &kept); err != nil {
				return "", fmt.Errorf("read a draft: %w", err)
			}
		}
		change(kept)
		if len(kept) == 0 {
			return "", nil
		}
		b, err := json.Marshal(kept)
		return string(b), err
	})
}

// errNothing is that there is nothing to send.
var errNothing = errors.New("nothing is typed")

// SendGroup says what an actor has typed of the words on the moment's scope. Where someone else
// said something else meanwhile it is a *office.Conflict, and nothing is said.
func (o Room) SendGroup(ctx context.Context, a right.Actor, m *office.Moment) error {
	if err := o.writes(a, m); err != nil {
		return err
	}
	group, at := Of(m), m.Asked.Number
	rows := func(ctx context.Context, s *book.Snapshot) ([]entry.Rows, error) {
		d, err := o.draftOn(ctx, a, group, at, s.Commentary(group, at))
		if err != nil {
			return nil, err
		}
		var list []entry.Row
		for _, sec := range s.Office.Sections {
			if d.Clashes(sec.Code) {
				return nil, &office.Conflict{Text: fmt.Sprintf("%s was said otherwise meanwhile: %q. Choose whose words hold, then send again.", sec.Title, d.Said[sec.Code])}
			}
			if !d.Changed(sec.Code) {
				continue
			}
			text := d.Value(sec.Code)
			if text == "" {
				text = "-"
			}
			list = append(list, entry.Row{"scope": group, "period": s.Office.Periods.Code(at), "section": sec.Code, "text": text})
		}
		if len(list) == 0 {
			return nil, errNothing
		}
		return []entry.Rows{entry.Of("commentaries", list...)}, nil
	}
	_, err := entry.In(o.Office).Enter(ctx, a, &entry.Form{
		Origin: office.Talked, Note: fmt.Sprintf("words on %s for %s", m.Readings().Group(group).Name, m.Asked.Name), Seen: change.Unseen, Takes: right.Explain, Rows: rows,
	})
	switch {
	case errors.Is(err, errNothing):
		return office.Refusef("Nothing is typed that is not said already.")
	case err != nil:
		return err
	}
	return o.DropGroup(ctx, a, m)
}

// Agree tells that an actor agrees to the words on a project or group as they are, or no more.
func (o Room) Agree(ctx context.Context, a right.Actor, m *office.Moment, code, digest string, agreed bool) error {
	if err := right.Check(a, right.Explain); err != nil {
		return err
	}
	if m.Empty {
		return office.Refusef("Nothing is stated yet, so there is nothing to agree to.")
	}
	rows := func(ctx context.Context, s *book.Snapshot) ([]entry.Rows, error) {
		row := entry.Row{"scope": code, "period": m.Asked.Code, "words": "-"}
		if agreed {
			if _, err := s.Filled(ctx); err != nil {
				return nil, err
			}
			now := claim.Digest(m.On(s).Text(code))
			switch now {
			case "":
				return nil, office.Refusef("No words are said of %s for %s, so there is nothing to agree to.", code, m.Asked.Name)
			case digest:
			default:
				return nil, office.Refusef("The words on %s were changed meanwhile. Read them again; nothing was agreed to.", code)
			}
			row["words"], row["by"], row["on"] = now, a.Name, calendar.DateIn(o.Clock()).String()
		}
		return []entry.Rows{entry.Of("agreements", row)}, nil
	}
	note := "agreed to the words on " + code
	if !agreed {
		note = "took back the agreement to the words on " + code
	}
	_, err := entry.In(o.Office).Enter(ctx, a, &entry.Form{Origin: office.Talked, Note: note, Seen: change.Unseen, Takes: right.Explain, Rows: rows})
	return err
}
