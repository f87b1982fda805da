// Package signin is the door: signing in and out, and the page on which a
// one-time code becomes an account with a password.
package signin

import (
	"embed"
	"errors"
	"log/slog"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/session"

	"turret/internal/office"
	"turret/internal/office/access"
	"turret/internal/office/account"
	"turret/internal/web/guard"
	"turret/internal/web/shell"
)

//go:embed signin.html
var files embed.FS

// Template is the page, named door.
var Template = shell.Parse(files, "signin.html")

// Page is what the template shows.
type Page struct {
	shell.Page
	Next    string
	None    bool             // nobody can sign in yet
	Second  bool             // the password was right, and a code is asked for
	Welcome *account.Welcome // what a one-time code opens; nil: signing in

	Provider string // where one may sign in beside passwords; "": nowhere
}

// accountKey is where a session keeps whose it is.
const accountKey = "account"

// Get shows the door. The provider is nil where there is none.
func Get(site *shell.Site, elsewhere Provider) fiber.Handler {
	return func(c fiber.Ctx) error {
		if shell.Actor(c).Role != "" {
			home, err := shell.Home(c.Context(), site, shell.Actor(c))
			if err != nil {
				return err
			}
			return c.Redirect().To(within(c.Query("next"), home))
		}
		p := &Page{Page: shell.NewPage(c, site, "Sign in"), Next: c.Query("next", c.FormValue("next"))}
		if elsewhere != nil {
			p.Provider = elsewhere.Name()
		}
		any, err := account.In(site.Office).HasAccounts(c.Context())
		p.None = !any
		if err != nil {
			return err
		}
		return shell.RenderPart(c, Template, "door", p)
	}
}

// within keeps a redirection inside the application: elsewhere it leads home.
func within(next, home string) string {
	u, err := url.Parse(next)
	if err != nil || u.Host != "" || u.Scheme != "" || !strings.HasPrefix(next, "/") || strings.HasPrefix(next, "//") ||
		strings.ContainsAny(next, "\\\r\n") {
		return home
	}
	return next
}

// Post signs in.
func Post(site *shell.Site, sessions *session.Store, elsewhere Provider) fiber.Handler {
	again := Get(site, elsewhere)
	return func(c fiber.Ctx) error {
		login := strings.ToLower(strings.TrimSpace(c.FormValue("login")))
		if len(login) > longestLogin {
			login = login[:longestLogin]
		}
		log, who := access.In(site.Office), office.Actor{From: site.Door.Address(c)}
		if !site.Door.May(c, login) {
			if site.Door.Tell(c, login) {
				log.Note(c.Context(), who, access.HeldUp, known(c, site, login))
			}
			return limited(c, again)
		}
		id, err := account.In(site.Office).SignIn(c.Context(), login, c.FormValue("password"))
		if errors.Is(err, office.ErrRefused) {
			log.Note(c.Context(), who, access.Wrong, known(c, site, login))
			shell.Refuse(c, err.Error())
			return again(c)
		}
		if err != nil {
			return err
		}
		site.Door.Right(c, login)
		if second, err := account.In(site.Office).HasSecond(c.Context(), id); err != nil {
			return err
		} else if second {
			return half(c, sessions, id, c.FormValue("next"))
		}
		return enter(c, site, sessions, id, c.FormValue("next"))
	}
}

// known is a sign-in name that is somebody's. Another may be a password in the wrong place, so
// it is told of nowhere.
func known(c fiber.Ctx, site *shell.Site, login string) string {
	if ok, err := account.In(site.Office).Known(c.Context(), login); err == nil && ok {
		return login
	}
	return "a name that nobody has"
}

// longestLogin is more than any sign-in name has.
const longestLogin = 100

// limited says that there were too many attempts.
func limited(c fiber.Ctx, again fiber.Handler) error {
	shell.Refuse(c, "That was too many attempts. Wait a minute and try again; if it goes on, tell an administrator that someone is guessing.")
	c.Status(fiber.StatusTooManyRequests)
	return again(c)
}

// begin begins a session with a new key, which it gives, and what set puts into it.
func begin(c fiber.Ctx, sessions *session.Store, set func(*session.Session)) (id string, err error) {
	s, err := sessions.Get(c)
	if err != nil {
		return "", err
	}
	defer s.Release()
	if err := s.Regenerate(); err != nil {
		return "", err
	}
	set(s)
	return s.ID(), s.Save()
}

// open begins the session of an account.
func open(c fiber.Ctx, site *shell.Site, sessions *session.Store, who int64) error {
	id, err := begin(c, sessions, func(s *session.Session) {
		s.Set(accountKey, who)
		s.Delete(halfKey)
	})
	if err != nil {
		return err
	}
	shell.SetKey(c, guard.KeyOf(id))
	return account.In(site.Office).ClaimSession(c.Context(), id, who, c.Get(fiber.HeaderUserAgent))
}

// Who reads who a request comes from: nobody, where no session holds.
func Who(site *shell.Site, sessions *session.Store) fiber.Handler {
	return func(c fiber.Ctx) error {
		s, err := sessions.Get(c)
		if err != nil {
			return err
		}
		defer s.Release()
		id, ok := s.Get(accountKey).(int64)
		if !ok {
			return c.Next()
		}
		a, ok, err := account.In(site.Office).ActorOf(c.Context(), id)
		if err != nil {
			return err
		}
		if ok && site.Idle > 0 {
			if ok, err = account.In(site.Office).UseSession(c.Context(), s.ID(), site.Idle); err != nil && ok {
				slog.Error("that a session is used cannot be written", "err", err) // and it is all the same
			} else if err != nil {
				return err
			}
		}
		if ok {
			a.From = site.Door.Address(c)
			shell.SetActor(c, a)
			shell.SetSession(c, s.ID())
			shell.SetKey(c, guard.KeyOf(s.ID()))
		}
		return c.Next()
	}
}

// Needed lets only those pass who are signed in; others come back here after
// signing in.
func Needed(c fiber.Ctx) error {
	if a := shell.Actor(c); a.Role != "" {
		if a.Lacks && c.Path() != secondPath && c.Path() != "/account" {
			if c.Get("HX-Request") != "" {
				c.Set("HX-Redirect", secondPath)
				return c.SendStatus(fiber.StatusNoContent)
			}
			return c.Redirect().Status(fiber.StatusSeeOther).To(secondPath)
		}
		return c.Next()
	}
	next := "/board"
	if c.Method() == fiber.MethodGet {
		next = c.OriginalURL()
	}
	to := "/sign-in?next=" + url.QueryEscape(next)
	if c.Get("HX-Request") != "" { // the whole page is to go there
		if here, err := url.Parse(c.Get("HX-Current-URL")); err == nil && here.Path != "" {
			to = "/sign-in?next=" + url.QueryEscape(here.RequestURI())
		}
		c.Set("HX-Redirect", to)
		return c.SendStatus(fiber.StatusNoContent)
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(to)
}

// Out signs out.
func Out(site *shell.Site, sessions *session.Store) fiber.Handler {
	return func(c fiber.Ctx) error {
		if a := shell.Actor(c); a.Account != 0 {
			access.In(site.Office).Note(c.Context(), a, access.SignedOut, "")
		}
		s, err := sessions.Get(c)
		if err != nil {
			return err
		}
		defer s.Release()
		if err := s.Destroy(); office.Fault(err) != "" { // the browser forgets it all the same
			slog.Error("a session that was left cannot be ended; it ends by itself", "err", err)
			for name := range c.Request().Header.Cookies() {
				if key := string(name); key == "turret" || key == "__Host-turret" {
					c.Cookie(&fiber.Cookie{Name: key, Path: "/", MaxAge: -1, Secure: key != "turret", HTTPOnly: true, SameSite: "Lax"})
				}
			}
		} else if err != nil {
			return err
		}
		return c.Redirect().Status(fiber.StatusSeeOther).To("/sign-in")
	}
}

// Welcome shows what a one-time code opens.
func Welcome(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		p := &Page{Page: shell.NewPage(c, site, "Welcome")}
		var err error
		p.Welcome, err = account.In(site.Office).Greet(c.Context(), shell.Param(c, "code"))
		if errors.Is(err, office.ErrRefused) {
			p.Wrong, err = err.Error(), nil
			c.Status(fiber.StatusNotFound)
		}
		if err != nil {
			return err
		}
		return shell.RenderPart(c, Template, "door", p)
	}
}

// Enter sets the password and signs in.
func Enter(site *shell.Site, sessions *session.Store) fiber.Handler {
	again := Welcome(site)
	return func(c fiber.Ctx) error {
		const codes = "\x00codes" // no sign-in name
		if !site.Door.May(c, codes) {
			return limited(c, again)
		}
		if c.FormValue("password") != c.FormValue("password2") {
			shell.Refuse(c, "The two passwords are not the same; type both again.")
			return again(c)
		}
		id, err := account.In(site.Office).
			Enter(c.Context(), shell.Param(c, "code"), c.FormValue("login"), c.FormValue("name"), c.FormValue("password"))
		if errors.Is(err, office.ErrRefused) {
			shell.Refuse(c, err.Error())
			return again(c)
		}
		if err != nil {
			return err
		}
		site.Door.Right(c, codes)
		return enter(c, site, sessions, id, "")
	}
}

// enter opens a session and leads on, or to where its account begins.
func enter(c fiber.Ctx, site *shell.Site, sessions *session.Store, id int64, next string) error {
	if err := open(c, site, sessions, id); err != nil {
		return err
	}
	a, _, err := account.In(site.Office).ActorOf(c.Context(), id)
	if err != nil {
		return err
	}
	a.From = site.Door.Address(c)
	access.In(site.Office).Note(c.Context(), a, access.SignedIn, c.Get(fiber.HeaderUserAgent))
	home, err := shell.Home(c.Context(), site, a)
	if err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(within(next, home))
}
