package gather

import (
	"fmt"
	"net/url"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office/entry"
	"turret/internal/office/intake"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// mostRefused rows are shown at once.
const mostRefused = 400

// RefusedPage is what the template shows of rows that were refused.
type RefusedPage struct {
	shell.Frame
	Run   int64
	Files []intake.RefusedFile
	Rows  int
	Full  bool // there may be more
}

// GetRefused answers /gather/refused.
func GetRefused(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Refused rows", "")
		if err != nil {
			return err
		}
		f.Step = "gather"
		p := &RefusedPage{Frame: f}
		p.Run, _ = strconv.ParseInt(c.Query("run"), 10, 64) // else of all runs
		if p.Files, err = intake.In(site.Office).Refused(c.Context(), p.Actor, p.Run, mostRefused); err != nil {
			return err
		}
		for _, x := range p.Files {
			p.Rows += len(x.Rows)
		}
		p.Full = p.Rows >= mostRefused
		return shell.Render(c, RefusedTemplate, p)
	}
}

// Here is the address of the page.
func (p *RefusedPage) Here() string { return refusedAt(p.State, p.Run) }

func refusedAt(s shell.State, run int64) string {
	to := s.To("/gather/refused")
	if run != 0 {
		to += sep(to) + fmt.Sprintf("run=%d", run)
	}
	return to
}

// IDs names all refusals of a row in a form.
func (p *RefusedPage) IDs(r intake.RefusedRow) string {
	var out []string
	for _, id := range r.IDs {
		out = append(out, strconv.FormatInt(id, 10))
	}
	return strings.Join(out, ",")
}

// PostRefused sends rows again, or drops them.
func PostRefused(site *shell.Site) fiber.Handler {
	again := GetRefused(site)
	return func(c fiber.Ctx) error {
		ctx, a := c.Context(), shell.Actor(c)
		run, _ := strconv.ParseInt(c.FormValue("run"), 10, 64)
		to, done := refusedAt(shell.StateOf(c), run), ""
		var err error
		switch c.FormValue("do") {
		case "send":
			var r *entry.Report
			if r, err = intake.In(site.Office).Mend(ctx, a, changed(c)); err == nil {
				done = fmt.Sprintf(
					"%s taken; %s refused again.",
					tell.Plural(r.Changes(), "row was", "rows were"),
					tell.Plural(len(r.Refusals), "cell is", "cells are"),
				)
				if len(r.Refusals) == 0 {
					done = fmt.Sprintf("%s taken.", tell.Plural(r.Changes(), "row was", "rows were"))
				}
			}
		case "drop":
			ids := chosen(c)
			if err = intake.In(site.Office).Drop(ctx, a, ids, c.FormValue("why")); err == nil {
				done = "The rows are dropped; their reason is kept."
			}
		default:
			err = shell.Unclear()
		}
		return shell.Settle(c, err, again, to+sep(to)+"done="+url.QueryEscape(done))
	}
}

// chosen reads the rows that are ticked.
func chosen(c fiber.Ctx) []int64 {
	var out []int64
	for _, v := range c.Request().PostArgs().PeekMulti("row") {
		for part := range strings.SplitSeq(string(v), ",") {
			if id, err := strconv.ParseInt(part, 10, 64); err == nil {
				out = append(out, id)
			}
		}
	}
	return out
}

// changed reads the cells of the rows that are sent: those ticked, and those in
// which a cell was changed.
func changed(c fiber.Ctx) map[int64]map[string]string {
	out := make(map[int64]map[string]string)
	for _, id := range chosen(c) {
		out[id] = make(map[string]string)
	}
	ticked := len(out) > 0
	rows := make(map[int64]map[string]string)
	for k, v := range c.Request().PostArgs().All() {
		rest, ok := strings.CutPrefix(string(k), "c.")
		if !ok {
			continue
		}
		first, head, _ := strings.Cut(rest, ".")
		id, err := strconv.ParseInt(first, 10, 64)
		if err != nil || string(v) == c.FormValue("was."+string(k)) {
			continue
		}
		if rows[id] == nil {
			rows[id] = make(map[string]string)
		}
		rows[id][head] = string(v)
	}
	for id, cells := range rows {
		if _, chosen := out[id]; chosen || !ticked {
			out[id] = cells
		}
	}
	return out
}

// Download answers /gather/refused.xlsx with the rows and their reasons.
func Download(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		run, _ := strconv.ParseInt(c.Query("run"), 10, 64)
		body, err := intake.In(site.Office).RefusedWorkbook(c.Context(), shell.Actor(c), run)
		if err != nil {
			return err
		}
		return shell.Send(
			c,
			"refused rows.xlsx",
			"application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
			body,
		)
	}
}
