// Package web answers browsers. Each screen has a folder of its own; this file
// puts them together.
package web

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/url"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/compress"
	"github.com/gofiber/fiber/v3/middleware/helmet"
	"github.com/gofiber/fiber/v3/middleware/recover"
	"github.com/gofiber/fiber/v3/middleware/requestid"

	"turret/internal/office"
	"turret/internal/web/assets"
	"turret/internal/web/board"
	"turret/internal/web/sheet"
	"turret/internal/web/shell"
	"turret/internal/web/trail"
)

// Options of the server.
type Options struct {
	BodyLimit int // bytes of one request
	Log       *slog.Logger
}

// policy is what pages may load: their own style and font, and nothing that
// runs but the server's own scripts.
const policy = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"

// readBuffer is the room for a request's head.
const readBuffer = 32 << 10

// grace is how long a stopping server finishes what it has begun.
const grace = 10 * time.Second

var style = assets.Style(shell.Style, board.Style, sheet.Style, trail.Style)

// New makes the application.
func New(o *office.Office, a office.Actor, opts Options) *fiber.App {
	app := fiber.New(fiber.Config{
		AppName: "Turret", Immutable: true, StreamRequestBody: true, BodyLimit: opts.BodyLimit, ReadBufferSize: readBuffer,
		ErrorHandler: func(c fiber.Ctx, err error) error { return fail(c, opts.Log, err) },
	})
	app.Use(requestid.New(), recover.New(), helmet.New(helmet.Config{ContentSecurityPolicy: policy, XFrameOptions: "DENY", ReferrerPolicy: "same-origin"}), compress.New())
	app.Get("/healthz", func(c fiber.Ctx) error {
		if err := o.Healthy(c.Context()); err != nil {
			opts.Log.Error("health", "err", err)
			return c.Status(fiber.StatusServiceUnavailable).SendString("the database does not answer\n")
		}
		return c.SendString("ok\n")
	})
	for _, f := range []assets.Asset{style, assets.Font} {
		app.Get(f.Path, func(c fiber.Ctx) error {
			c.Set(fiber.HeaderCacheControl, "public, max-age=31536000, immutable")
			c.Set(fiber.HeaderContentType, f.Type)
			return c.Send(f.Body)
		})
	}
	app.Use(func(c fiber.Ctx) error {
		c.Set(fiber.HeaderCacheControl, "no-store")
		return c.Next()
	})
	site := &shell.Site{Office: o, Actor: a, Style: style.Path}
	app.Get("/", func(c fiber.Ctx) error { return c.Redirect().To("/board") })
	app.Get("/board", board.Get(site))
	app.Get("/project/:code", sheet.Get(site))
	app.Get("/trail/:scope/:figure", trail.Get(site))
	return app
}

// Serve answers on a listener until the context ends.
func Serve(ctx context.Context, l net.Listener, o *office.Office, a office.Actor, opts Options) error {
	app := New(o, a, opts)
	opts.Log.Info("serving", "addr", l.Addr().String())
	err := app.Listener(l, fiber.ListenConfig{DisableStartupMessage: true, GracefulContext: ctx, ShutdownTimeout: grace})
	opts.Log.Info("stopped")
	if errors.Is(err, net.ErrClosed) {
		return nil
	}
	return err
}

// fail answers with a sentence and what to do next, and logs the cause.
func fail(c fiber.Ctx, log *slog.Logger, err error) error {
	status, text := fiber.StatusInternalServerError, "Something went wrong here. The log tells more under this number; try again, or go back to the board."
	var fe *fiber.Error
	var denied *office.Denied
	switch {
	case errors.As(err, &denied):
		status, text = fiber.StatusForbidden, denied.Error()+"."
	case errors.As(err, &fe) && fe.Code == fiber.StatusNotFound:
		status, text = fe.Code, fmt.Sprintf("There is no page %s. The board is at /board.", pathOf(c))
	case errors.As(err, &fe):
		status, text = fe.Code, fe.Message+"."
	}
	if status >= fiber.StatusInternalServerError {
		log.Error("request failed", "id", requestid.FromContext(c), "path", pathOf(c), "err", err)
		text += " (" + requestid.FromContext(c) + ")"
	}
	c.Type("txt", "utf-8")
	return c.Status(status).SendString(text + "\n")
}

func pathOf(c fiber.Ctx) string {
	if p, err := url.PathUnescape(c.Path()); err == nil {
		return p
	}
	return c.Path()
}
