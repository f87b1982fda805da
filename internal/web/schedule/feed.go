package schedule

import (
	"cmp"
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office/access"
	"turret/internal/office/account"
	"turret/internal/office/schedule"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// Subscription is an address at which a calendar program reads dates.
type Subscription struct{ ID, What, Made string }

// kept are the parts of an address that a subscription keeps: what is listed, and not when.
func kept(s shell.State) string {
	return s.With("at", "").With("vs", "").With("month", "").With("per", "").With("trail", "").Query()
}

// subscriptions lists those of the reader.
func (p *Month) subscriptions(c fiber.Ctx, site *shell.Site) error {
	list, err := schedule.In(site.Office).Subscriptions(c.Context(), p.Actor)
	for _, x := range list {
		p.Subscribed = append(p.Subscribed, Subscription{strconv.FormatInt(x.ID, 10), cmp.Or(strings.ReplaceAll(x.Query, "&", ", "), "everything"), tell.Moment(x.Made)})
	}
	return err
}

// PostMonth makes an address for a calendar program, or takes one back.
func PostMonth(site *shell.Site) fiber.Handler {
	again := GetMonth(site)
	return func(c fiber.Ctx) error {
		state := shell.StateOf(c)
		back := state.Page("/calendar")
		room := schedule.In(site.Office)
		if c.FormValue("do") == "revoke" {
			id, err := strconv.ParseInt(c.FormValue("id"), 10, 64)
			if err != nil {
				id = 0
			}
			err = room.Unsubscribe(c.Context(), shell.Actor(c), id)
			return shell.Settle(c, err, again, shell.WithDone(back, "The address is taken back: nothing is read there any more."))
		}
		token, err := room.Subscribe(c.Context(), shell.Actor(c), kept(state))
		if err != nil {
			return shell.Settle(c, err, again, back)
		}
		fiber.Locals(c, tokenKey{}, cmp.Or(site.Origin, c.BaseURL())+"/calendar/"+token+".ics")
		return again(c)
	}
}

// tokenKey is where the address that was just made stands.
type tokenKey struct{}

// GetFeed answers /calendar/TOKEN.ics, to whoever knows the token: what the account that made
// it sees, in the period that is current.
func GetFeed(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		token, ok := strings.CutSuffix(shell.Param(c, "token"), ".ics")
		room := schedule.In(site.Office)
		id, query, err := room.Subscribed(c.Context(), token)
		if err != nil {
			return err
		}
		a, known, err := account.In(site.Office).ActorOf(c.Context(), id)
		if err != nil {
			return err
		}
		if !ok || !known || a.Lacks {
			return fiber.NewError(http.StatusNotFound, "There is no calendar at this address; it may have been taken back")
		}
		a.From = site.Door.Address(c)
		state := shell.ParseState(query)
		m, err := site.Office.Moment(c.Context(), a, state.Ask())
		if err != nil {
			return err
		}
		events, err := room.Calendar(c.Context(), a, m, asked(state))
		if err != nil {
			return err
		}
		access.In(site.Office).Note(c.Context(), a, access.Took, fmt.Sprintf("/calendar.ics?%s, by its address", query))
		c.Set(fiber.HeaderContentType, "text/calendar; charset=utf-8")
		return c.SendString(Calendar(m.Name, site.Office.Clock(), events))
	}
}
