package stating

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"strings"
	"time"

	"turret/internal/office"
	"turret/internal/right"
	"turret/internal/store"
)

// Typed is a cell of a draft.
type Typed = office.Typed

// longestCell is how long what is typed into one cell may be.
const longestCell = 8000

// readTyped reads what a draft keeps, by field.
func readTyped(body string) (map[string]Typed, error) {
	out := make(map[string]Typed)
	if body == "" {
		return out, nil
	}
	if err := json.Unmarshal([]byte(body), &out); err != nil {
		return nil, fmt.Errorf("read a draft: %w", err)
	}
	return out, nil
}

func writeTyped(typed map[string]Typed) (string, error) {
	if len(typed) == 0 {
		return "", nil
	}
	b, err := json.Marshal(typed)
	return string(b), err
}

// Keep keeps what someone has typed of a section: by field, the text and what the
// field showed. A field that shows what was typed is no longer kept.
func (o Room) Keep(ctx context.Context, a right.Actor, m *office.Moment, project, section string, typed map[string]Typed) error {
	s, err := o.subject(a, m, project, section)
	if err != nil {
		return err
	}
	for name, t := range typed {
		if len(t.Text) > longestCell {
			return office.Refusef("What is typed in %s is longer than %d characters; shorten it.", name, longestCell)
		}
	}
	settle, err := o.settling(ctx, s, typed)
	if err != nil {
		return err
	}
	return o.change(ctx, a, s, func(kept map[string]Typed) error {
		before := maps.Clone(kept)
		for name, t := range typed {
			t.Text = strings.TrimSpace(strings.ReplaceAll(t.Text, "\r\n", "\n"))
			if t.Text == t.Was || t.Text == "" && isRest(name) {
				delete(kept, name)
			} else {
				kept[name] = t
			}
		}
		return settle(before, kept)
	})
}

// Drop forgets what someone has typed of a section.
func (o Room) Drop(ctx context.Context, a right.Actor, m *office.Moment, project, section string) error {
	s, err := o.subject(a, m, project, section)
	if err != nil {
		return err
	}
	return o.change(ctx, a, s, func(kept map[string]Typed) error {
		clear(kept)
		return nil
	})
}

// Choose settles a field that someone else stated otherwise meanwhile: own keeps what
// was typed, else what they stated holds.
func (o Room) Choose(ctx context.Context, a right.Actor, m *office.Moment, project, section, field string, own bool) error {
	s, g, err := o.laid(ctx, a, m, project, section)
	if err != nil {
		return err
	}
	c := g.Cell(field)
	return o.change(ctx, a, s, func(kept map[string]Typed) error {
		before := maps.Clone(kept)
		t, there := kept[field]
		switch {
		case !there || c == nil:
		case own:
			kept[field] = Typed{Was: c.Is, Text: t.Text}
		default:
			delete(kept, field)
		}
		return g.settle(before, kept)
	})
}

// change changes what is kept of someone's draft.
func (o Room) change(ctx context.Context, a right.Actor, s *subject, change func(map[string]Typed) error) error {
	if a.Account == 0 {
		return office.Refusef("Nobody is signed in, so there is nobody to keep a draft for.")
	}
	d := store.Unsent{Account: a.Account, Project: s.project.ID, Kind: s.Name, Period: int64(s.at), At: o.Now()}
	return o.Store().ChangeUnsent(ctx, d, func(body string) (string, error) {
		kept, err := readTyped(body)
		if err != nil {
			return "", err
		}
		if err := change(kept); err != nil {
			return "", err
		}
		return writeTyped(kept)
	})
}

// draft is what an account has typed of a section of a project, and since when.
func (o Room) draft(ctx context.Context, a right.Actor, s *subject) (map[string]Typed, time.Time, error) {
	list, err := o.Store().UnsentOf(ctx, a.Account)
	if err != nil {
		return nil, time.Time{}, err
	}
	for _, d := range list {
		if d.Project == s.project.ID && d.Kind == s.Name && d.Period == int64(s.at) {
			typed, err := readTyped(d.Body)
			return maps.Clone(typed), time.UnixMilli(d.Begun).UTC(), err
		}
	}
	return nil, time.Time{}, nil
}
