package signin

import (
	"errors"
	"net/url"
	"strconv"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/session"

	"turret/internal/office"
	"turret/internal/office/access"
	"turret/internal/office/account"
	"turret/internal/web/shell"
)

// secondPath is where a second factor is turned on.
const secondPath = "/account/second"

// Of someone whose password was right, and whose code is still asked for, the session keeps
// whose it would be and since when.
const (
	halfKey  = "half"
	sinceKey = "since"
	halfTime = 10 * time.Minute
)

// half begins a session that is nobody's yet.
func half(c fiber.Ctx, sessions *session.Store, id int64, next string) error {
	_, err := begin(c, sessions, func(s *session.Session) {
		s.Delete(accountKey) // of who was signed in here before
		s.Set(halfKey, id)
		s.Set(sinceKey, time.Now().Unix())
	})
	if err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To("/sign-in/code?next=" + url.QueryEscape(next))
}

// halfOf tells whose code is asked for; zero where nobody's is.
func halfOf(c fiber.Ctx, sessions *session.Store) (int64, error) {
	s, err := sessions.Get(c)
	if err != nil {
		return 0, err
	}
	defer s.Release()
	id, _ := s.Get(halfKey).(int64)
	since, _ := s.Get(sinceKey).(int64)
	if time.Since(time.Unix(since, 0)) > halfTime {
		return 0, nil
	}
	return id, nil
}

// GetCode asks for the code of a second factor.
func GetCode(site *shell.Site, sessions *session.Store) fiber.Handler {
	return func(c fiber.Ctx) error {
		id, err := halfOf(c, sessions)
		if err != nil {
			return err
		}
		if id == 0 {
			return c.Redirect().Status(fiber.StatusSeeOther).To("/sign-in?next=" + url.QueryEscape(c.Query("next")))
		}
		p := &Page{Page: shell.NewPage(c, site, "Sign in"), Next: c.Query("next", c.FormValue("next")), Second: true}
		return shell.RenderPart(c, Template, "door", p)
	}
}

// PostCode signs in whose code is right.
func PostCode(site *shell.Site, sessions *session.Store) fiber.Handler {
	again := GetCode(site, sessions)
	return func(c fiber.Ctx) error {
		id, err := halfOf(c, sessions)
		if err != nil || id == 0 {
			return errors.Join(err, again(c))
		}
		of, log := "\x00code of "+strconv.FormatInt(id, 10), access.In(site.Office)
		if !site.Door.May(c, of) {
			return limited(c, again)
		}
		err = account.In(site.Office).CheckSecond(c.Context(), id, c.FormValue("code"))
		if errors.Is(err, office.ErrRefused) {
			a, _, err2 := account.In(site.Office).ActorOf(c.Context(), id)
			a.From = site.Door.Address(c)
			log.Note(c.Context(), a, access.Wrong, "as the second factor")
			shell.Refuse(c, err.Error())
			return errors.Join(err2, again(c))
		}
		if err != nil {
			return err
		}
		site.Door.Right(c, of)
		return enter(c, site, sessions, id, c.FormValue("next"))
	}
}
