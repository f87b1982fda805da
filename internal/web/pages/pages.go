// Package pages has pages that a person or a role arranges: blocks that are parts of the screens,
// side by side. A page is its address, and is kept as any saved view.
package pages

import (
	"cmp"
	"embed"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office"
	"turret/internal/office/feedback"
	"turret/internal/tell"
	"turret/internal/web/shell"
	"turret/internal/web/views"
)

//go:embed pages.html page.js
var files embed.FS

// Template is the page.
var Template = shell.Parse(files, "pages.html")

// most is how many blocks a page has.
const most = 24

// Page is what the template shows.
type Page struct {
	shell.Frame
	Name   string
	Blocks []Shown
	Kinds  [][2]string // what can be added
	Saved  views.Saved
	Bare   bool // nobody has arranged it
}

// Shown is a block with what can be done with it.
type Shown struct {
	*Block
	Address                               string
	Fold                                  string // the page with the block folded, or shown again
	Earlier, Later, Wider, Narrower, Away string
	Handled                               bool // the page is being arranged
}

// Get answers /page.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Page", "")
		if err != nil {
			return err
		}
		f.Step = "weigh"
		p := &Page{Frame: f}
		if p.Saved, err = views.On(c, f, "page"); err != nil {
			return err
		}
		text := f.State.Get("blocks")
		if add := c.Query("add"); add != "" {
			return p.add(c, add)
		}
		for _, x := range p.Saved.Items {
			if x.On {
				if p.Name = x.Name; x.Blocks != text {
					p.Name += ", changed and not kept yet"
				}
			}
		}
		if text == "" {
			p.Bare = true
			if text, err = p.first(c); err != nil {
				return err
			}
		}
		list, odd := read(text)
		if len(odd) > 0 {
			p.Wrong = fmt.Sprintf("These blocks are none, and left out: %s.", strings.Join(tell.Few(odd), ", "))
		}
		if len(list) > most {
			list = list[:most]
			p.Wrong = fmt.Sprintf("A page has at most %d blocks; the others are left out.", most)
		}
		p.show(list)
		for _, k := range kinds {
			p.Kinds = append(p.Kinds, [2]string{k.name, k.title})
		}
		return shell.Render(c, Template, p)
	}
}

// first are the blocks that people of the reader's role begin with.
func (p *Page) first(c fiber.Ctx) (string, error) {
	page, err := feedback.In(p.Site.Office).FirstPage(c.Context(), p.Actor.Role)
	return cmp.Or(page, shipped(p.Actor.Role)), err
}

// Post sets the page that people of a role begin with.
func Post(site *shell.Site) fiber.Handler {
	again := Get(site)
	return func(c fiber.Ctx) error {
		s, role := shell.StateOf(c), office.Role(c.FormValue("role"))
		list, odd := read(s.Get("blocks"))
		var err error
		said := fmt.Sprintf("Each %s begins with this page.", role)
		switch do := c.FormValue("do"); {
		case !slices.Contains(office.Roles, role) || do != "first" && do != "usual":
			err = shell.Unclear()
		case do == "usual":
			said = fmt.Sprintf("Each %s begins with the page that comes.", role)
			err = feedback.In(site.Office).SetFirstPage(c.Context(), shell.Actor(c), role, "")
		case len(list) == 0 || len(odd) > 0:
			err = office.Refusef("The page has no blocks, or some that are none; arrange it first.")
		default:
			err = feedback.In(site.Office).SetFirstPage(c.Context(), shell.Actor(c), role, write(list))
		}
		return shell.Settle(c, err, again, shell.WithDone(s.Page("/page"), said))
	}
}

// Roles are those whose first page can be set.
func (*Page) Roles() []office.Role { return office.Roles }

// add puts a block on the page: a kind of its own, or a screen by its address.
func (p *Page) add(c fiber.Ctx, add string) error {
	text := p.State.Get("blocks")
	if text == "" && len(p.Saved.Items) > 0 && strings.HasPrefix(add, "/") {
		text = p.Saved.Items[0].Blocks // of the first page that is kept
	}
	if text == "" {
		var err error
		if text, err = p.first(c); err != nil {
			return err
		}
	}
	list, _ := read(text)
	b, ok := of(add)
	if !strings.HasPrefix(add, "/") {
		var some []Block
		if some, _ = read("12:" + add); len(some) == 1 {
			b, ok = some[0], true
		}
		v := shell.State{}
		if words := strings.TrimSpace(c.Query("words")); words != "" && (b.name == "text" || b.name == "link") {
			v = v.With("q", words)
		}
		if at := strings.TrimSpace(c.Query("to")); at != "" && b.name == "link" {
			v = v.With("of", at)
		}
		b.query = v.Query()
	}
	if ok {
		list = append(list, b)
	}
	to := p.State.With("blocks", write(list)).With("arrange", "1").Page("/page")
	return c.Redirect().Status(fiber.StatusSeeOther).To(to)
}

// show makes the blocks, with the addresses of the page arranged otherwise.
func (p *Page) show(list []Block) {
	to := func(list []Block) string { return p.With(p.State.With("blocks", write(list))) }
	for i := range list {
		b := &list[i]
		x := Shown{Block: b, Handled: p.Arranging()}
		if b.path != "" {
			x.Address = b.Address(p.State)
		}
		turned := slices.Clone(list)
		turned[i].Folded = !b.Folded
		x.Fold = to(turned)
		if i > 0 {
			x.Earlier = to(swapped(list, i, i-1))
		}
		if i+1 < len(list) {
			x.Later = to(swapped(list, i, i+1))
		}
		size := slices.Index(widths, b.Width)
		if size+1 < len(widths) {
			x.Wider = to(sized(list, i, widths[size+1]))
		}
		if size > 0 {
			x.Narrower = to(sized(list, i, widths[size-1]))
		}
		if len(list) > 1 {
			x.Away = to(slices.Delete(slices.Clone(list), i, i+1))
		}
		p.Blocks = append(p.Blocks, x)
	}
}

func swapped(list []Block, i, j int) []Block {
	out := slices.Clone(list)
	out[i], out[j] = out[j], out[i]
	return out
}

func sized(list []Block, i, width int) []Block {
	out := slices.Clone(list)
	out[i].Width = width
	return out
}

// Arranging tells whether the page is being arranged.
func (p *Page) Arranging() bool { return p.State.Get("arrange") != "" }

// Arrange is the address at which it is arranged, or at which it is no more.
func (p *Page) Arrange() string {
	if p.Arranging() {
		return p.With(p.State.With("arrange", ""))
	}
	list := make([]Block, len(p.Blocks))
	for i, b := range p.Blocks {
		list[i] = *b.Block
	}
	return p.With(p.State.With("blocks", write(list)).With("arrange", "1"))
}

// Paper is the address of a brief of what the page shows, and Only what of it a brief has no page
// of.
func (p *Page) Paper() string {
	var pages []string
	for _, b := range p.Blocks {
		if x := b.Brief(); x != "" && !slices.Contains(pages, x) {
			pages = append(pages, x)
		}
	}
	if len(pages) == 0 {
		return ""
	}
	return p.State.Moment().With("of", p.State.Get("scope")).With("pages", strings.Join(pages, ",")).Page("/brief")
}

// Only are the titles of blocks that a brief has no page of.
func (p *Page) Only() string {
	var out []string
	for _, b := range p.Blocks {
		if b.Brief() == "" && !slices.Contains(out, b.Block.Title()) {
			out = append(out, b.Block.Title())
		}
	}
	return strings.Join(out, ", ")
}

// LinkName is what a link without words is called.
func (p *Page) LinkName(address string) string {
	name := strings.TrimPrefix(strings.TrimPrefix(address, "https://"), "http://")
	return strings.TrimSuffix(name, "/")
}

// Columns is how wide a block is, as the page's grid calls it.
func (x Shown) Columns() string { return strconv.Itoa(x.Width) }
