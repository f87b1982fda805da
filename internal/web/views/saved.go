package views

import (
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office"
	"turret/internal/office/account"
	"turret/internal/web/shell"
)

// screen is a page whose states can be kept under a name, beside the board.
type screen struct {
	name, title string
	passing     []string // parts of its address that are what is looked at, and no part of a view
}

var screens = []screen{
	{"money", "money table", []string{"show", "row", "column", "version", "cause", "trail"}},
	{"exceptions", "exceptions", []string{"show", "trail"}},
	{"map", "map", []string{"show", "of", "trail"}},
	{"drivers", "drivers", []string{"trail"}},
	{"forecasts", "forecasts", []string{"of", "trail"}},
	{"page", "page", []string{"arrange", "trail"}},
}

// of finds the screen of a name; nil is the board.
func of(name string) *screen {
	i := slices.IndexFunc(screens, func(s screen) bool { return s.name == name })
	if i < 0 {
		return nil
	}
	return &screens[i]
}

// parts splits what a view keeps into its screen and its query.
func parts(v account.View) (*screen, string) { return cut(v.Query) }

func cut(query string) (*screen, string) {
	if name, rest, ok := strings.Cut(strings.TrimPrefix(query, "/"), "?"); ok && strings.HasPrefix(query, "/") {
		if s := of(name); s != nil {
			return s, rest
		}
	}
	return nil, query
}

// Link is the address of what a view keeps.
func Link(v account.View) string {
	s, query := parts(v)
	state := shell.ParseState(query).With("view", opened(v))
	if s == nil {
		return state.Board()
	}
	return state.Page("/" + s.name)
}

// opened names a view in an address, as it is when it is opened: its number and its mark.
func opened(v account.View) string { return strconv.FormatInt(v.ID, 10) + "." + v.Mark() }

// Is tells whether an address was opened from a view, whatever was changed of either since.
func Is(s shell.State, v account.View) bool {
	id, _, _ := strings.Cut(s.Get("view"), ".")
	return id == strconv.FormatInt(v.ID, 10)
}

// Board tells whether a view is one of the board.
func Board(v account.View) bool {
	s, _ := parts(v)
	return s == nil
}

// Saved are the views of a screen, for its menu: those that there are, and what
// is needed to keep one more.
type Saved struct {
	Items        []Item
	Name, Title  string // of the screen
	Token, Query string
	Put          string // the address that puts the screen, as it is shown, on a page; "": it is one
	Shares       bool
	Own          Own
}

// Own is the reader's own view that a screen was opened from, as it was then.
type Own struct {
	Name, Mark string
	Shared     bool
}

// OwnOf gives a view as one's own that an address was opened from; nothing where it is not.
func OwnOf(s shell.State, account int64, v account.View) Own {
	if v.Account != account || !Is(s, v) {
		return Own{}
	}
	_, mark, _ := strings.Cut(s.Get("view"), ".")
	return Own{v.Name, mark, v.Shared}
}

// Item is a saved view with its address.
type Item struct {
	Name, Link, Owner string
	Blocks            string // of a page
	On                bool
}

// On lists the views of a screen.
func On(c fiber.Ctx, f shell.Frame, name string) (Saved, error) {
	s := Saved{
		Name:   name,
		Title:  of(name).title,
		Token:  f.Token,
		Query:  f.State.Query(),
		Shares: office.MayShare(f.Actor),
	}
	if name != "page" {
		s.Put = shell.Adding("/page", "add", "/"+name+"?"+f.State.Query())
	}
	list, err := account.In(f.Site.Office).Views(c.Context(), f.Actor)
	if err != nil {
		return s, err
	}
	for _, v := range list {
		if x, _ := parts(v); x == nil || x.name != name {
			continue
		}
		_, query := parts(v)
		item := Item{Name: v.Name, Link: Link(v), Blocks: shell.ParseState(query).Get("blocks"), On: Is(f.State, v)}
		if v.Account != f.Actor.Account {
			item.Owner = v.Owner
		} else if item.On {
			s.Own = OwnOf(f.State, f.Actor.Account, v)
		}
		s.Items = append(s.Items, item)
	}
	return s, nil
}
