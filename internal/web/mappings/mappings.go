// Package mappings is the page of Setup about how files of known sources are
// read: named mappings with their versions, and the office's own words for
// columns.
package mappings

import (
	"embed"
	"fmt"
	"maps"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/web/shell"
)

//go:embed mappings.html mapping.html
var files embed.FS

// Templates of the screens.
var (
	Template    = shell.Parse(files, "mappings.html")
	OneTemplate = shell.Parse(files, "mapping.html")
)

// Page lists the mappings.
type Page struct {
	shell.Page
	Mappings []entry.NamedMapping
	Words    []entry.Word
	Columns  []string
	Mark     int64  // the revision that the page shows
	Limit    string // times that a forecast may move by without being asked about
}

// Heads counts the heads of a look.
func (p *Page) Heads(m entry.NamedMapping) string {
	if m.Look == "" {
		return "any"
	}
	return strings.ReplaceAll(m.Look, "|", ", ")
}

// Get answers /setup/mappings.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		p := &Page{Page: shell.NewPage(c, site, "Mappings"), Columns: entry.ColumnNames()}
		p.Step = "setup"
		var err error
		if p.Mappings, err = entry.In(site.Office).Mappings(c.Context(), p.Actor); err != nil {
			return err
		}
		if p.Words, err = entry.In(site.Office).Words(c.Context(), p.Actor); err != nil {
			return err
		}
		if p.Limit, p.Mark, err = entry.In(site.Office).MovedLimit(c.Context()); err != nil {
			return err
		}
		return shell.RenderPart(c, Template, "plain", p)
	}
}

// One is a mapping with its rules and versions.
type One struct {
	shell.Page
	Mapping        entry.NamedMapping
	Found          bool
	Columns        []Column
	Fixes          []Choice
	Codes          []entry.CodeRule
	Skips          []entry.SkipRule
	Units, Dashes  []Choice
	Versions       []entry.NamedMapping
	Uses           []string
	Forms, Matches []string
}

// Column is a head with what it stands for.
type Column struct{ Head, As, Form string }

// Choice is a value with its name.
type Choice struct {
	Name, Value string
	On          bool
}

// blank rows are offered for new rules.
const blank = 2

// GetOne answers /setup/mappings/{id}.
func GetOne(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		p := &One{Page: shell.NewPage(c, site, "Mapping"), Matches: entry.Matches}
		p.Step = "setup"
		id, err := strconv.ParseInt(shell.Param(c, "id"), 10, 64)
		if err != nil {
			id = 0
		}
		m, err := find(c, site, id)
		if err != nil {
			return err
		}
		if m == nil {
			c.Status(fiber.StatusNotFound)
			return shell.RenderPart(c, OneTemplate, "plain", p)
		}
		p.Mapping, p.Found, p.Title = *m, true, m.Name
		if p.Versions, err = entry.In(site.Office).MappingVersions(c.Context(), p.Actor, id); err != nil {
			return err
		}
		p.fill()
		return shell.RenderPart(c, OneTemplate, "plain", p)
	}
}

func find(c fiber.Ctx, site *shell.Site, id int64) (*entry.NamedMapping, error) {
	list, err := entry.In(site.Office).Mappings(c.Context(), shell.Actor(c))
	if err != nil {
		return nil, err
	}
	for i := range list {
		if list[i].ID == id {
			return &list[i], nil
		}
	}
	return nil, nil
}

func (p *One) fill() {
	m := &p.Mapping
	p.Uses, p.Forms = entry.Uses(m.Table), entry.AllForms
	for _, head := range slices.Sorted(maps.Keys(m.Columns)) {
		p.Columns = append(p.Columns, Column{head, m.Columns[head], m.Forms[head]})
	}
	if form := m.Forms[entry.EveryColumn]; form != "" || len(m.Columns) > 0 {
		p.Columns = append(p.Columns, Column{entry.EveryColumn, entry.AsMonth, form})
	}
	for _, name := range entry.Fixable(m.Table) {
		p.Fixes = append(p.Fixes, Choice{Name: name, Value: m.Fixed[name]})
	}
	places := -1
	if m.Places != nil {
		places = *m.Places
	}
	p.Units = []Choice{{"units", "0", places == 0}, {"thousands", "3", places == 3}, {"millions", "6", places == 6}}
	p.Dashes = []Choice{{"zero", "zero", m.Dash == "zero"}, {"nothing", "nothing", m.Dash == "nothing"}}
	p.Codes = append(slices.Clone(m.Codes), make([]entry.CodeRule, blank)...)
	p.Skips = append(slices.Clone(m.Skip), make([]entry.SkipRule, blank)...)
}

// edited reads the form of a mapping over what it was.
func edited(c fiber.Ctx, was *entry.NamedMapping) (entry.NamedMapping, error) {
	out := *was
	out.Name = c.FormValue("name")
	out.Columns, out.Forms, out.Fixed, out.Codes, out.Skip = map[string]string{}, map[string]string{}, map[string]string{}, nil, nil
	for k, v := range c.Request().PostArgs().All() {
		kind, head, ok := strings.Cut(string(k), ".")
		value := strings.TrimSpace(string(v))
		if !ok || value == "" {
			continue
		}
		switch {
		case kind == "col" && head != entry.EveryColumn:
			out.Columns[head] = value
		case kind == "form":
			out.Forms[head] = value
		case kind == "fix":
			out.Fixed[head] = value
		}
	}
	for i := 0; c.Request().PostArgs().Has(fmt.Sprintf("code.%d.from", i)); i++ {
		at := func(name string) string { return strings.TrimSpace(c.FormValue(fmt.Sprintf("code.%d.%s", i, name))) }
		if r := (entry.CodeRule{Column: at("column"), Match: at("match"), From: at("from"), To: at("to")}); r.From != "" ||
			r.To != "" {
			out.Codes = append(out.Codes, r)
		}
	}
	for i := 0; c.Request().PostArgs().Has(fmt.Sprintf("skip.%d.like", i)); i++ {
		at := func(name string) string { return strings.TrimSpace(c.FormValue(fmt.Sprintf("skip.%d.%s", i, name))) }
		if r := (entry.SkipRule{Head: at("head"), Like: at("like")}); r.Like != "" {
			out.Skip = append(out.Skip, r)
		}
	}
	out.Dash, out.Negate, out.Places = c.FormValue("dash"), c.FormValue("negate") != "", nil
	if v := c.FormValue("places"); v != "" {
		n, err := strconv.Atoi(v)
		if err != nil {
			return out, office.Refusef("%q is not a unit of amounts.", v)
		}
		out.Places = &n
	}
	return out, nil
}

// Post changes mappings and words.
func Post(site *shell.Site) fiber.Handler {
	list, one := Get(site), GetOne(site)
	return func(c fiber.Ctx) error {
		ctx, a := c.Context(), shell.Actor(c)
		again, to := list, "/setup/mappings"
		id, _ := strconv.ParseInt(shell.Param(c, "id"), 10, 64)
		if id == 0 {
			id, _ = strconv.ParseInt(c.FormValue("id"), 10, 64)
		}
		var err error
		done := ""
		switch c.FormValue("do") {
		case "word":
			err = entry.In(site.Office).SaveWord(ctx, a, c.FormValue("word"), c.FormValue("column"))
			done = "The word is kept."
			if c.FormValue("column") == "" {
				done = "The word is taken away."
			}
		case "limit":
			err, done = entry.In(site.Office).SaveMovedLimit(ctx, a, shell.Mark(c), c.FormValue("limit")), "The limit is kept."
		case "drop":
			err, done = entry.In(site.Office).
				DropMapping(ctx, a, id),
				"The mapping is taken away; its versions stay on record."
		case "save":
			again, to = one, "/setup/mappings/"+strconv.FormatInt(id, 10)
			var m *entry.NamedMapping
			if m, err = find(c, site, id); err != nil {
				return err
			}
			if m == nil {
				err = office.Refusef("That mapping is gone meanwhile; nothing was changed.")
				break
			}
			var next entry.NamedMapping
			if next, err = edited(c, m); err == nil {
				err, done = entry.In(site.Office).SaveMapping(ctx, a, next), "A new version is kept."
			}
		default:
			err = shell.Unclear()
		}
		return shell.Settle(c, err, again, to+"?done="+url.QueryEscape(done))
	}
}
