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
	state := shell.ParseState(query).With("view", strconv.FormatInt(v.ID, 10))
	if s == nil {
		return state.Board()
	}
	return state.Page("/" + s.name)
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
		item := Item{Name: v.Name, Link: Link(v), Blocks: shell.ParseState(query).Get("blocks"), On: f.State.Get("view") == strconv.FormatInt(v.ID, 10)}
		if v.Account != f.Actor.Account {
			item.Owner = v.Owner
		}
		s.Items = append(s.Items, item)
	}
	return s, nil
}
