// Package brief is the last step of the month: a brief put together and
// previewed page by page, and those that were made.
package brief

import (
	"context"
	"embed"
	"errors"
	"fmt"
	"html/template"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office"
	"turret/internal/office/brief"
	"turret/internal/web/shell"
)

//go:embed brief.html brief.css
var files embed.FS

// Template is the page.
var Template = shell.Parse(files, "brief.html")

// Style is the page's style sheet.
var Style = shell.File(files, "brief.css")

// Page is what the template shows. Brief is nil while it is being put together,
// or where it cannot be.
type Page struct {
	shell.Frame
	Spec     brief.Spec
	Scopes   []Scope
	Parts    []Part
	Others   []Part
	Brief    *brief.Brief
	Leaf     int
	Picture  template.HTML
	Prev     string
	Next     string
	Outline  []Entry
	Made     []brief.Made
	Progress string
	Poll     string // address to look at again while something is being made
	Why      string // the brief cannot be put together
}

// Scope is what a brief can be of.
type Scope struct {
	Code, Name string
	On         bool
}

// Part is a page of the brief with what can be done with it.
type Part struct {
	brief.Part
	Up, Down, Turned, Without, With string
}

// Entry is a line of the outline.
type Entry struct {
	Title, Link string
	Leaf, Depth int
	On          bool
}

// Get answers /brief.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Brief", "")
		if err != nil {
			return err
		}
		f.Step = "brief"
		p := &Page{Frame: f}
		if p.Made, err = brief.In(site.Office).List(c.Context(), p.Actor); err != nil {
			return err
		}
		if f.Moment.Empty {
			return shell.Render(c, Template, p)
		}
		if key := c.Query("making"); key != "" {
			if to, done := p.making(site, key); done {
				return c.Redirect().Status(fiber.StatusSeeOther).To(to)
			}
		}
		p.Spec = p.spec()
		p.choices()
		if err := p.preview(c, site); err != nil {
			return err
		}
		return shell.Render(c, Template, p)
	}
}

// spec reads the brief that the address asks for.
func (p *Page) spec() brief.Spec {
	return brief.Spec{
		Scope:  p.State.Get("of"),
		At:     p.Moment.Period.Code,
		Vs:     p.Moment.Vs.Code,
		Letter: p.State.Get("paper") == "letter",
		Parts:  p.State.Names("pages"),
	}
}

// Explain is the address where a bridge is chosen to go into this brief.
func (p *Page) Explain() string {
	s := p.State.With("leaf", "").With("amounts", "outlook")
	if s.Get("vs") == "" {
		s = s.With("vs", p.Moment.Before.Code)
	}
	if len(s.Names("pages")) == 0 {
		var names []string
		for _, x := range brief.Parts(p.Moment, s.Get("of")) {
			names = append(names, x.Name)
		}
		s = s.With("pages", strings.Join(names, ","))
	}
	if !slices.ContainsFunc(p.Moment.ProjectNames(), func(x [2]string) bool { return x[0] == s.Get("of") }) {
		s = s.With("scope", s.Get("of")).With("of", "")
	}
	return s.BridgePage()
}

// making looks at a brief that is being made.
func (p *Page) making(site *shell.Site, key string) (to string, done bool) {
	here := p.Path + "?" + p.State.With("leaf", "").Query()
	job := site.Jobs.Find("make " + key)
	if job == nil {
		return here, true
	}
	if !job.Wait(shell.Patience) {
		p.Progress, p.Poll = job.Text(), here+"&making="+url.QueryEscape(key)
		return "", false
	}
	site.Jobs.Drop("make " + key)
	if job.Err != nil {
		p.Wrong = "The brief was not made: " + job.Err.Error() + "."
		return "", false
	}
	return here + "&done=" + url.QueryEscape("The brief is made and frozen; it stands first among those made."), true
}

// choices are the scopes and pages to choose from.
func (p *Page) choices() {
	of := p.State.Get("of")
	p.Scopes = append(p.Scopes, Scope{"", "Whole portfolio", of == ""})
	for _, g := range p.Moment.Programmes() {
		p.Scopes = append(p.Scopes, Scope{g.Code, g.Name, g.Code == of})
	}
	for _, r := range p.Moment.ProjectNames() {
		p.Scopes = append(p.Scopes, Scope{r[0], r[0] + " " + r[1], r[0] == of})
	}
	all := brief.Parts(p.Moment, of)
	names := p.Spec.Parts
	if len(names) == 0 {
		for _, x := range all {
			names = append(names, x.Name)
		}
	}
	to := func(list []string) string {
		return p.With(p.State.With("pages", strings.Join(list, ",")).With("leaf", ""))
	}
	var used []string
	for i, name := range names {
		bare := strings.TrimRight(name, "+-")
		part, ok := brief.PartNamed(all, bare)
		if !ok {
			continue
		}
		used = append(used, bare)
		x := Part{Part: part}
		if strings.HasSuffix(name, "+") {
			x.Wide = true
		} else if strings.HasSuffix(name, "-") {
			x.Wide = false
		}
		turned := slices.Clone(names)
		turned[i] = bare + map[bool]string{true: "-", false: "+"}[x.Wide]
		x.Turned, x.Without = to(turned), to(slices.Delete(slices.Clone(names), i, i+1))
		if len(names) == 1 {
			x.Without = ""
		}
		if i > 0 {
			list := slices.Clone(names)
			list[i-1], list[i] = list[i], list[i-1]
			x.Up = to(list)
		}
		if i+1 < len(names) {
			list := slices.Clone(names)
			list[i+1], list[i] = list[i], list[i+1]
			x.Down = to(list)
		}
		p.Parts = append(p.Parts, x)
	}
	if len(all) > 0 && all[0].Name == "first" {
		all = slices.Concat(all, brief.More)
	}
	for _, x := range all {
		if !slices.Contains(used, x.Name) {
			p.Others = append(p.Others, Part{Part: x, With: to(append(slices.Clone(names), x.Name))})
		}
	}
}

// preview puts the brief together and shows one of its leaves.
func (p *Page) preview(c fiber.Ctx, site *shell.Site) error {
	rev, err := site.Office.Revision(c.Context(), p.Actor)
	if err != nil {
		return err
	}
	actor, spec := p.Actor, p.Spec
	job := site.Jobs.Do(
		c.Context(), actor.Account, fmt.Sprintf("brief %v %d %s", spec, rev, actor.Sight.Key()),
		func(ctx context.Context, _ *shell.Job) (any, error) {
			return brief.In(site.Office).Brief(ctx, actor, spec)
		},
	)
	if !job.Wait(shell.Patience) {
		if p.Poll == "" {
			p.Poll = p.Path + "?" + p.State.Query()
		}
		return nil
	}
	if errors.Is(job.Err, office.ErrRefused) {
		p.Why = job.Err.Error()
		return nil
	}
	if job.Err != nil {
		return job.Err
	}
	p.Brief = job.Value.(*brief.Brief)
	n := len(p.Brief.Sheets)
	p.Leaf = 1
	if k, err := strconv.Atoi(p.State.Get("leaf")); err == nil {
		p.Leaf = min(max(k, 1), n)
	}
	p.Picture = p.Brief.Sheets[p.Leaf-1].SVG()
	to := func(k int) string { return p.Turn("leaf", strconv.Itoa(k)) }
	if p.Leaf > 1 {
		p.Prev = to(p.Leaf - 1)
	}
	if p.Leaf < n {
		p.Next = to(p.Leaf + 1)
	}
	last := -1
	for i := range p.Brief.Sheets {
		for j, e := range p.Brief.Sheets[i].Entries {
			p.Outline = append(p.Outline, Entry{Title: e.Title, Link: to(i + 1), Leaf: i + 1, Depth: e.Depth})
			if i+1 < p.Leaf || i+1 == p.Leaf && j == 0 {
				last = len(p.Outline) - 1
			}
		}
	}
	if last >= 0 {
		p.Outline[last].On = true
	}
	return nil
}

// MakeQuery is the state that a form carries to make the brief shown.
func (p *Page) MakeQuery() template.URL {
	return template.URL(p.State.With("leaf", "").With("at", p.Moment.Period.Code).Query())
}

// Download is the address of the brief as it stands, in a form.
func (p *Page) Download(form string) string {
	return "/brief/now." + form + "?" + p.State.With("leaf", "").Query()
}

// Now answers /brief/now.{form}: the brief as it stands, without keeping it.
func Now(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f := shell.Page{State: shell.StateOf(c), Actor: shell.Actor(c)}
		m, err := site.Office.Moment(c.Context(), f.Actor, f.State.Ask())
		if err != nil {
			return err
		}
		p := &Page{Frame: shell.Frame{Page: f, Moment: m}}
		b, err := brief.In(site.Office).Brief(c.Context(), f.Actor, p.spec())
		if errors.Is(err, office.ErrRefused) {
			return fiber.NewError(fiber.StatusUnprocessableEntity, strings.TrimSuffix(err.Error(), "."))
		}
		if err != nil {
			return err
		}
		form := shell.Param(c, "form")
		body, err := b.Write(form)
		if errors.Is(err, office.ErrRefused) {
			return fiber.NewError(fiber.StatusNotFound, strings.TrimSuffix(err.Error(), "."))
		}
		if err != nil {
			return err
		}
		return shell.Send(c, b.Title+"."+form, Types[form], body)
	}
}

// Types are those of the forms, as a browser is told.
var Types = map[string]string{
	brief.FormPDF:  "application/pdf",
	brief.FormHTML: "text/html; charset=utf-8",
	brief.FormXLSX: "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
	brief.FormPPTX: "application/vnd.openxmlformats-officedocument.presentationml.presentation",
	brief.FormZIP:  "application/zip",
}

// Old answers /brief/{id}.{form}: a brief that was made, with the bytes of then.
func Old(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		id, err := strconv.ParseInt(shell.Param(c, "id"), 10, 64)
		form := shell.Param(c, "form")
		if err != nil || Types[form] == "" {
			return fiber.NewError(fiber.StatusNotFound)
		}
		title, body, err := brief.In(site.Office).Form(c.Context(), shell.Actor(c), id, form)
		if err != nil {
			return err
		}
		if body == nil {
			return fiber.NewError(fiber.StatusNotFound)
		}
		return shell.Send(c, title+"."+form, Types[form], body)
	}
}

// Post makes a brief, or withdraws one.
func Post(site *shell.Site) fiber.Handler {
	again := Get(site)
	return func(c fiber.Ctx) error {
		state, a := shell.StateOf(c), shell.Actor(c)
		var err error
		to := "/brief?" + state.With("leaf", "").Query()
		switch c.FormValue("do") {
		case "make":
			if err = site.Office.MayBrief(a); err != nil {
				break
			}
			m, bad := site.Office.Moment(c.Context(), a, state.Ask())
			if bad != nil {
				return bad
			}
			spec := (&Page{Frame: shell.Frame{Page: shell.Page{State: state}, Moment: m}}).spec()
			key := strconv.FormatInt(a.Account, 10) + "-" + c.FormValue("_csrf")[:8] + "-" + strconv.Itoa(
				len(fmt.Sprint(spec)),
			)
			site.Jobs.Deed(
				c.Context(), a.Account, "make "+key,
				func(ctx context.Context, j *shell.Job) (any, error) {
					return brief.In(site.Office).Make(ctx, a, spec, j.Tell)
				},
			)
			to += "&making=" + url.QueryEscape(key)
		case "withdraw":
			id, _ := strconv.ParseInt(c.FormValue("brief"), 10, 64) // zero is no brief's
			if err = brief.In(site.Office).Withdraw(c.Context(), a, id, c.FormValue("why")); err == nil {
				to += "&done=" + url.QueryEscape("The brief is withdrawn; it stays on record with the reason.")
			}
		default:
			err = shell.Unclear()
		}
		return shell.Settle(c, err, again, to)
	}
}

// FormName is what a form is called.
func (p *Page) FormName(form string) string { return FormName(form) }

// FormName is what a form is called.
func FormName(form string) string {
	switch form {
	case brief.FormPPTX:
		return "slides"
	case brief.FormZIP:
		return "CSV"
	}
	return strings.ToUpper(form)
}
