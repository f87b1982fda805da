// Package mappings is the page of Setup about how files of known sources are
// read: named mappings with their versions, and the office's own words for
// columns.
package mappings

import (
	"bytes"
	"embed"
	"encoding/json"
	"errors"
	"net/url"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office"
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
	Mappings []office.NamedMapping
	Words    []office.Word
	Columns  []string
}

// Heads counts the heads of a look.
func (p *Page) Heads(m office.NamedMapping) string {
	if m.Look == "" {
		return "any"
	}
	return strings.ReplaceAll(m.Look, "|", ", ")
}

// Get answers /setup/mappings.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		p := &Page{Page: shell.NewPage(c, site, "Mappings"), Columns: office.ColumnNames()}
		p.Step = "setup"
		var err error
		if p.Mappings, err = site.Office.Mappings(c.Context(), p.Actor); err != nil {
			return err
		}
		if p.Words, err = site.Office.Words(c.Context(), p.Actor); err != nil {
			return err
		}
		return shell.RenderPart(c, Template, "plain", p)
	}
}

// One is a mapping with its rules and versions.
type One struct {
	shell.Page
	Mapping  office.NamedMapping
	Found    bool
	Columns  []Row
	Forms    []Row
	Fixed    []Row
	Versions []office.NamedMapping
	Uses     []string
	JSON     string
}

// Row is a name with its value.
type Row struct{ Name, Value string }

// GetOne answers /setup/mappings/{id}.
func GetOne(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		p := &One{Page: shell.NewPage(c, site, "Mapping")}
		p.Step = "setup"
		id, err := strconv.ParseInt(shell.Param(c, "id"), 10, 64)
		if err == nil {
			list, err := site.Office.Mappings(c.Context(), p.Actor)
			if err != nil {
				return err
			}
			for _, m := range list {
				if m.ID == id {
					p.Mapping, p.Found, p.Title = m, true, m.Name
				}
			}
			if p.Versions, err = site.Office.MappingVersions(c.Context(), p.Actor, id); err != nil {
				return err
			}
		}
		if !p.Found {
			c.Status(fiber.StatusNotFound)
			return shell.RenderPart(c, OneTemplate, "plain", p)
		}
		p.Uses = office.Uses(p.Mapping.Table)
		var b bytes.Buffer
		enc := json.NewEncoder(&b)
		enc.SetIndent("", "  ")
		enc.SetEscapeHTML(false)
		if err := enc.Encode(p.Mapping.Mapping); err != nil {
			return err
		}
		p.JSON = b.String()
		return shell.RenderPart(c, OneTemplate, "plain", p)
	}
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
			err = site.Office.SaveWord(ctx, a, c.FormValue("word"), c.FormValue("column"))
			done = "The word is kept."
			if c.FormValue("column") == "" {
				done = "The word is taken away."
			}
		case "drop":
			err, done = site.Office.DropMapping(ctx, a, id), "The mapping is taken away; its versions stay on record."
		case "save":
			again, to = one, "/setup/mappings/"+strconv.FormatInt(id, 10)
			m := office.NamedMapping{ID: id, Name: c.FormValue("name")}
			dec := json.NewDecoder(strings.NewReader(c.FormValue("rules")))
			dec.DisallowUnknownFields()
			if bad := dec.Decode(&m.Mapping); bad != nil {
				err = office.Refusef("The rules cannot be read: %s. They are as they were.", bad)
			} else {
				err, done = site.Office.SaveMapping(ctx, a, m), "A new version is kept."
			}
		default:
			err = office.Refusef("The form did not say what to do; nothing was changed.")
		}
		if errors.Is(err, office.ErrRefused) {
			shell.Refuse(c, err.Error())
			return again(c)
		}
		if err != nil {
			return err
		}
		return c.Redirect().Status(fiber.StatusSeeOther).To(to + "?done=" + url.QueryEscape(done))
	}
}
