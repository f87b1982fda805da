package gather

import (
	"fmt"
	"net/url"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office/entry"
	"turret/internal/office/history"
	"turret/internal/web/shell"
)

// RunPage is what the template shows of a run; Run is nil where there is none.
type RunPage struct {
	shell.Frame
	Run *entry.Run
}

// Refused is the address of the run's refused rows.
func (p *RunPage) Refused() string { return refusedAt(p.State, p.Run.Batch) }

// GetRun answers /gather/run/{batch}.
func GetRun(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Run", "")
		if err != nil {
			return err
		}
		f.Step = "gather"
		p := &RunPage{Frame: f}
		if batch, err := strconv.ParseInt(shell.Param(c, "batch"), 10, 64); err == nil {
			if p.Run, err = entry.In(site.Office).RunOf(c.Context(), p.Actor, batch); err != nil {
				return err
			}
		}
		if p.Run == nil {
			c.Status(fiber.StatusNotFound)
		}
		return shell.Render(c, RunTemplate, p)
	}
}

// PostRun undoes a run.
func PostRun(site *shell.Site) fiber.Handler {
	again := GetRun(site)
	return func(c fiber.Ctx) error {
		batch, err := strconv.ParseInt(shell.Param(c, "batch"), 10, 64)
		if err != nil {
			return again(c)
		}
		if c.FormValue("do") != "undo" {
			return shell.Settle(c, shell.Unclear(), again, "")
		}
		_, err = history.In(site.Office).Undo(c.Context(), shell.Actor(c), batch, false)
		to := shell.StateOf(c).To(fmt.Sprintf("/gather/run/%d", batch))
		return shell.Settle(
			c,
			err,
			again,
			to+sep(to)+"done="+url.QueryEscape("The run is undone: all it changed is as it was before."),
		)
	}
}
