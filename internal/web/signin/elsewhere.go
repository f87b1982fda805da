package signin

import (
	"context"
	"errors"
	"log/slog"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/session"

	"turret/internal/office"
	"turret/internal/office/access"
	"turret/internal/office/account"
	"turret/internal/provider"
	"turret/internal/web/shell"
)

// Provider is where people may sign in beside passwords.
type Provider interface {
	Name() string
	Begin(ctx context.Context, back string) (provider.Asked, string, error)
	Finish(ctx context.Context, a provider.Asked, back, state, code string) (provider.Person, error)
}

// Of somebody who was sent to the provider, the session keeps what to compare when they come
// back, where they wanted to go, and since when.
const (
	stateKey    = "elsewhere.state"
	nonceKey    = "elsewhere.nonce"
	verifierKey = "elsewhere.verifier"
	nextKey     = "elsewhere.next"
	leftKey     = "elsewhere.since"
	awayTime    = 15 * time.Minute
)

const backPath = "/sign-in/back"

// back is the address at which the provider hands people over again.
func back(c fiber.Ctx, site *shell.Site) string {
	if site.Origin != "" {
		return site.Origin + backPath
	}
	return c.BaseURL() + backPath
}

// GetElsewhere sends somebody to the provider.
func GetElsewhere(site *shell.Site, sessions *session.Store, p Provider) fiber.Handler {
	door := Get(site, p)
	return func(c fiber.Ctx) error {
		asked, to, err := p.Begin(c.Context(), back(c, site))
		if errors.Is(err, provider.ErrSilent) {
			slog.Error("the provider does not answer", "err", err)
			shell.Refuse(c, p.Name()+" does not answer. Try again in a while, or sign in with a password if you have one.")
			return door(c)
		}
		if err != nil {
			return err
		}
		_, err = begin(c, sessions, func(s *session.Session) {
			s.Delete(accountKey) // of who was signed in here before
			s.Delete(halfKey)
			s.Set(stateKey, asked.State)
			s.Set(nonceKey, asked.Nonce)
			s.Set(verifierKey, asked.Verifier)
			s.Set(nextKey, c.Query("next"))
			s.Set(leftKey, time.Now().Unix())
		})
		if err != nil {
			return err
		}
		return c.Redirect().Status(fiber.StatusSeeOther).To(to)
	}
}

// away reads what the session keeps of somebody who was sent to the provider, once; nothing
// where that is too long ago.
func away(c fiber.Ctx, sessions *session.Store) (a provider.Asked, next string, err error) {
	s, err := sessions.Get(c)
	if err != nil {
		return a, "", err
	}
	defer s.Release()
	text := func(key string) string {
		v, _ := s.Get(key).(string)
		s.Delete(key)
		return v
	}
	a, next = provider.Asked{State: text(stateKey), Nonce: text(nonceKey), Verifier: text(verifierKey)}, text(nextKey)
	since, _ := s.Get(leftKey).(int64)
	if s.Delete(leftKey); time.Since(time.Unix(since, 0)) > awayTime {
		a = provider.Asked{}
	}
	return a, next, s.Save()
}

// GetBack signs in who comes back from the provider.
func GetBack(site *shell.Site, sessions *session.Store, p Provider) fiber.Handler {
	door := Get(site, p)
	return func(c fiber.Ctx) error {
		log, who := access.In(site.Office), office.Actor{From: site.Door.Address(c)}
		asked, next, err := away(c, sessions)
		if err != nil {
			return err
		}
		wrong := func(text string) error {
			log.Note(c.Context(), who, access.Wrong, "at "+p.Name())
			shell.Refuse(c, text)
			return door(c)
		}
		person, err := p.Finish(c.Context(), asked, back(c, site), c.Query("state"), c.Query("code"))
		switch {
		case errors.Is(err, provider.ErrRefused):
			slog.Warn("a sign-in at the provider was refused", "err", err, "said", c.Query("error"))
			return wrong(p.Name() + " did not sign you in, or it was too long ago. Try again from here.")
		case errors.Is(err, provider.ErrSilent):
			slog.Error("the provider does not answer", "err", err)
			return wrong(p.Name() + " does not answer. Try again in a while.")
		case err != nil:
			return err
		}
		id, err := account.In(site.Office).Elsewhere(c.Context(), account.Person{
			Issuer: person.Issuer, Subject: person.Subject, Login: person.Login, Name: person.Name, Role: office.Role(person.Role),
		})
		if errors.Is(err, office.ErrRefused) {
			return wrong(err.Error())
		}
		if err != nil {
			return err
		}
		if second, err := account.In(site.Office).HasSecond(c.Context(), id); err != nil {
			return err
		} else if second {
			return half(c, sessions, id, next)
		}
		return enter(c, site, sessions, id, next)
	}
}
