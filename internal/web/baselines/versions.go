package baselines

import (
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office"
	"turret/internal/office/baseline"
	"turret/internal/web/shell"
)

// VersionsPage lists what money can be compared with, and gives names.
type VersionsPage struct {
	shell.Frame
	List    []baseline.Version
	Version baseline.Version // that the form is about
	Named   int
}

// GetVersions answers /versions.
func GetVersions(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Versions", "")
		if err != nil {
			return err
		}
		p := &VersionsPage{Frame: f}
		if f.Moment.Empty {
			return shell.Render(c, VersionsTemplate, p)
		}
		if p.List, err = baseline.In(site.Office).Versions(c.Context(), p.Actor, f.Moment); err != nil {
			return err
		}
		for _, v := range p.List {
			if v.Name != "" || v.Note != "" {
				p.Named++
			}
			if v.Key() == p.Field("version", f.State.Get("version")) {
				p.Version = v
			}
		}
		return shell.Render(c, VersionsTemplate, p)
	}
}

// May tells whether the actor names versions.
func (p *VersionsPage) May() bool { return office.MayGather(p.Actor) }

// Beside is the address of the money table with a version beside it; "" where it
// is the period of the page.
func (p *VersionsPage) Beside(v baseline.Version) string {
	s := p.State.Moment().With("scope", p.State.Get("scope")).With("vs", "")
	switch v.Kind {
	case baseline.StatementVersion:
		if v.Version == p.Moment.Period.Code {
			return ""
		}
		return s.With("vs", v.Version).MoneyPage()
	case baseline.CutVersion:
		return s.With("beside", "cut"+v.Version).MoneyPage()
	}
	return s.With("scope", "").
		With("of", v.Project).
		With("amounts", "plan").
		With("beside", "baseline"+v.Version).
		MoneyPage()
}

// Edit is the address of this page with its form about a version.
func (p *VersionsPage) Edit(v baseline.Version) string { return p.Turn("version", v.Key()) + "#form" }

// PostVersions names a version.
func PostVersions(site *shell.Site) fiber.Handler {
	again := GetVersions(site)
	return func(c fiber.Ctx) error {
		ctx, a, s := c.Context(), shell.Actor(c), shell.StateOf(c)
		m, err := site.Office.Moment(ctx, a, s.Ask())
		if err != nil {
			return err
		}
		if m.Empty {
			return shell.Settle(c, shell.Unclear(), again, "")
		}
		err = baseline.In(site.Office).
			NameVersion(ctx, a, m, shell.Mark(c), c.FormValue("version"), c.FormValue("name"), c.FormValue("note"))
		done := "The name is kept."
		if strings.TrimSpace(c.FormValue("name")) == "" {
			done = "It has no name any more."
		}
		return shell.Settle(c, err, again, shell.WithDone(s.Scoped("/versions"), done))
	}
}
