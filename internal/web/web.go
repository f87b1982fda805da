// Package web answers browsers. Each screen has a folder of its own; this file
// puts them together.
package web

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/url"
	"slices"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/extractors"
	"github.com/gofiber/fiber/v3/middleware/compress"
	"github.com/gofiber/fiber/v3/middleware/helmet"
	"github.com/gofiber/fiber/v3/middleware/recover"
	"github.com/gofiber/fiber/v3/middleware/requestid"
	"github.com/gofiber/fiber/v3/middleware/session"

	"turret/internal/office"
	people "turret/internal/office/account"
	"turret/internal/office/letters"
	officepacks "turret/internal/office/packs"
	"turret/internal/office/ready"
	"turret/internal/post"
	accesspages "turret/internal/web/access"
	"turret/internal/web/account"
	"turret/internal/web/accounts"
	"turret/internal/web/amounts"
	"turret/internal/web/asking"
	"turret/internal/web/assets"
	"turret/internal/web/baselines"
	"turret/internal/web/board"
	"turret/internal/web/brief"
	"turret/internal/web/check"
	"turret/internal/web/closing"
	"turret/internal/web/drivers"
	"turret/internal/web/exceptions"
	"turret/internal/web/explain"
	"turret/internal/web/feedback"
	"turret/internal/web/find"
	"turret/internal/web/forecasts"
	"turret/internal/web/funding"
	"turret/internal/web/gather"
	"turret/internal/web/guard"
	"turret/internal/web/history"
	"turret/internal/web/ledger"
	letterpages "turret/internal/web/letters"
	"turret/internal/web/mappings"
	"turret/internal/web/maps"
	"turret/internal/web/money"
	"turret/internal/web/packs"
	"turret/internal/web/pages"
	"turret/internal/web/periods"
	"turret/internal/web/planning"
	"turret/internal/web/registers"
	"turret/internal/web/rules"
	"turret/internal/web/schedule"
	"turret/internal/web/sheet"
	"turret/internal/web/shell"
	"turret/internal/web/signin"
	"turret/internal/web/standings"
	"turret/internal/web/stating"
	"turret/internal/web/structure"
	"turret/internal/web/taking"
	"turret/internal/web/trail"
	"turret/internal/web/trend"
	"turret/internal/web/typing"
	"turret/internal/web/views"
)

// Options of the server.
type Options struct {
	BodyLimit int           // bytes of one request
	Upload    int           // bytes of the files that are sent at once; zero: BodyLimit
	Session   time.Duration // how long one stays signed in
	Idle      time.Duration // how long without a request; zero: as long
	Secure    bool          // cookies travel by HTTPS only
	Origin    string        // how the server is reached from outside, such as https://turret.example; "": as asked
	Proxies   guard.Proxies // that stand before the server and tell whom they speak for
	Log       *slog.Logger
	Mail      Mail
	Provider  signin.Provider // where people may sign in beside passwords; nil: nowhere
}

// Mail is where letters go.
type Mail struct {
	Carry  letters.Carrier // nil: none are written
	Server string
	Caught func() []post.Caught // of a demonstration, which keeps its letters; nil elsewhere
}

// policy is what pages may load: their own style and font, and nothing that
// runs but the server's own scripts.
const policy = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"

const (
	readBuffer = 32 << 10         // room for a request's head
	grace      = 10 * time.Second // a stopping server finishes what it has begun
)

// screens are all folders of pages, in the order of their style sheets.
var screens = []func(*shell.Site) shell.Screen{
	trail.Screen, board.Screen, sheet.Screen, accounts.Screen, gather.Screen, check.Screen, rules.Screen, closing.Screen,
	history.Screen, periods.Screen, money.Screen, baselines.Screen, drivers.Screen, exceptions.Screen, maps.Screen,
	structure.Screen, brief.Screen, forecasts.Screen, explain.Screen, trend.Screen, feedback.Screen, taking.Screen, funding.Screen, ledger.Screen, amounts.Screen, schedule.Screen, standings.Screen, find.Screen, views.Screen, account.Screen,
	mappings.Screen, registers.Screen, stating.Screen, asking.Screen, letterpages.Screen, planning.Screen,
	typing.Screen, accesspages.Screen, packs.Screen, pages.Screen,
}

// served are the assets that the screens need together.
func served(list []shell.Screen) (style assets.Asset, scripts []assets.Asset) {
	sheets, modules := []string{shell.Style}, []map[string]string{shell.Scripts}
	for _, s := range list {
		sheets, modules = append(sheets, s.Style), append(modules, s.Scripts)
	}
	for _, some := range modules {
		for name, body := range some {
			scripts = append(scripts, assets.Script(name, body))
		}
	}
	slices.SortFunc(scripts, func(a, b assets.Asset) int { return strings.Compare(a.Path, b.Path) })
	return assets.Style(sheets...), scripts
}

// New makes the application.
func New(o *office.Office, opts Options) *fiber.App { return application(o, opts, newIdle()) }

func application(o *office.Office, opts Options, calm *idle) *fiber.App {
	site := &shell.Site{Office: o, Idle: opts.Idle, Library: assets.Library.Path, Components: assets.Components.Path, Origin: opts.Origin}
	site.Door = guard.Door{Tries: guard.NewTries(time.Now), Proxies: opts.Proxies}
	site.Post = shell.Post{Server: opts.Mail.Server, Caught: opts.Mail.Caught, Addresses: addresses(opts.Origin)}
	var list []shell.Screen
	for _, screen := range screens {
		list = append(list, screen(site))
	}
	site.Navigation.Register(list)
	style, scripts := served(list)
	site.Style = style.Path
	for _, s := range scripts {
		site.Scripts = append(site.Scripts, s.Path)
	}
	app := fiber.New(fiber.Config{
		AppName: "Turret", Immutable: true, StreamRequestBody: true, BodyLimit: opts.BodyLimit, ReadBufferSize: readBuffer,
		ReadTimeout: guard.Head, IdleTimeout: guard.Idle, WriteTimeout: guard.Answer,
		DisablePreParseMultipartForm: true, // nothing of a stranger's files is read
		ErrorHandler:                 func(c fiber.Ctx, err error) error { return fail(c, site, opts.Log, err) },
	})
	limits := guard.Limits{Form: opts.BodyLimit, Upload: opts.Upload}
	app.Server().HeaderReceived = limits.Received
	app.Use(
		guard.Answering,
		requestid.New(),
		recover.New(),
		helmet.New(helmet.Config{ContentSecurityPolicy: policy, XFrameOptions: "DENY", ReferrerPolicy: "same-origin"}),
		compress.New(),
	)
	app.Use(guard.Methods)
	app.Get("/healthz", func(c fiber.Ctx) error {
		if err := o.Healthy(c.Context()); err != nil {
			opts.Log.Error("health", "err", err)
			if errors.Is(err, office.ErrDamaged) {
				return c.Status(fiber.StatusServiceUnavailable).SendString("the database is damaged\n")
			}
			return c.Status(fiber.StatusServiceUnavailable).SendString("the database does not answer\n")
		}
		return c.SendString("ok\n")
	})
	for _, f := range append([]assets.Asset{style, assets.Font, assets.Library, assets.Components}, scripts...) {
		app.Get(f.Path, func(c fiber.Ctx) error {
			c.Set(fiber.HeaderCacheControl, "public, max-age=31536000, immutable")
			c.Set(fiber.HeaderContentType, f.Type)
			return c.Send(f.Body)
		})
	}
	if strings.HasPrefix(opts.Origin, "https:") {
		app.Use(guard.Safe)
	}
	app.Use(calm.watch) // not those above: who looks whether it is healthy asks for nothing
	app.Use(func(c fiber.Ctx) error {
		c.Set(fiber.HeaderCacheControl, "no-store")
		return c.Next()
	})
	prefix := ""
	if opts.Secure {
		prefix = "__Host-" // of this host and path alone
	}
	sessions := session.NewStore(session.Config{
		Storage:        people.In(o).Sessions(),
		Extractor:      extractors.FromCookie(prefix + "turret"),
		CookieHTTPOnly: true,
		CookieSameSite: "Lax",
		CookieSecure:   opts.Secure,
		IdleTimeout:    opts.Session,
	})
	app.Use(guard.Origin(opts.Origin), signin.Who(site, sessions), limits.Size, guard.Keys(prefix+"turret_form", opts.Secure))
	routes(app, site, sessions, list, opts.Provider)
	return app
}

// within keeps who reads less than everything to routes of one project that they read, and
// to those that show each reader no more than what is theirs.
func within(site *shell.Site, of string) fiber.Handler {
	return func(c fiber.Ctx) error {
		a := shell.Actor(c)
		if a.Sight == nil {
			return c.Next()
		}
		var codes []string
		if of != shell.Anyone {
			codes = append(codes, cmp.Or(shell.Param(c, of), c.Query(of)))
		}
		for _, code := range codes {
			if ok, err := site.Office.MayRead(c.Context(), a, code); err != nil {
				return err
			} else if !ok {
				return fiber.NewError(fiber.StatusForbidden, "You may not read this: the office lets you read some projects alone, and this is of others too")
			}
		}
		return c.Next()
	}
}

// routes are all pages. Those above need no one signed in.
func routes(app *fiber.App, site *shell.Site, sessions *session.Store, list []shell.Screen, elsewhere signin.Provider) {
	app.Get("/sign-in", signin.Get(site, elsewhere))
	app.Post("/sign-in", signin.Post(site, sessions, elsewhere))
	if elsewhere != nil {
		app.Get("/sign-in/with", signin.GetElsewhere(site, sessions, elsewhere))
		app.Get("/sign-in/back", signin.GetBack(site, sessions, elsewhere))
	}
	app.Get("/sign-in/code", signin.GetCode(site, sessions))
	app.Post("/sign-in/code", signin.PostCode(site, sessions))
	app.Get("/welcome/:code", signin.Welcome(site))
	app.Post("/welcome/:code", signin.Enter(site, sessions))
	app.Get("/calendar/:token", schedule.GetFeed(site))
	app.Get("/shared/:token", packs.GetShared(site))
	app.Post("/shared/:token", packs.PostShared(site))
	app.Get("/shared/:token/:form", packs.GetSharedForm(site))
	app.Get("/sign-out", func(c fiber.Ctx) error { return c.Redirect().To("/board") })
	app.Post("/sign-out", signin.Out(site, sessions))

	app.Use(signin.Needed, accesspages.Watch(site), typing.Watch(site))
	app.Get("/", func(c fiber.Ctx) error {
		to, err := shell.Home(c.Context(), site, shell.Actor(c))
		if err != nil {
			return err
		}
		return c.Redirect().To(to)
	})
	for _, s := range list {
		for _, r := range s.Routes {
			if s.Work {
				app.Use(r.Path, shell.SetWork)
			}
			if r.Get != nil {
				app.Get(r.Path, within(site, r.Of), r.Get)
			}
			if r.Post != nil {
				app.Post(r.Path, within(site, r.Of), r.Post)
			}
		}
	}
}

// Serve answers on a listener until the context ends. While nobody asks, it makes
// ready what the first pages after a start need.
func Serve(ctx context.Context, l net.Listener, o *office.Office, opts Options) error {
	calm := newIdle()
	app := application(o, opts, calm)
	machine := office.Actor{Name: "Turret", Role: office.Operator}
	defer ready.In(o).Begin(ctx, machine, opts.Log, calm.wait)()
	if opts.Mail.Carry != nil {
		defer letters.In(o).Begin(ctx, machine, addresses(opts.Origin), opts.Mail.Carry, opts.Log)()
		defer officepacks.In(o).Begin(ctx, machine, officepacks.Addresses{
			Addresses: addresses(opts.Origin), Shared: func(token string) string { return opts.Origin + "/shared/" + token },
		}, opts.Log)()
	}
	opts.Log.Info("serving", "addr", l.Addr().String())
	err := app.Listener(
		guard.Listen(l, guard.Room()),
		fiber.ListenConfig{DisableStartupMessage: true, GracefulContext: ctx, ShutdownTimeout: grace},
	)
	opts.Log.Info("stopped")
	if errors.Is(err, net.ErrClosed) {
		return nil
	}
	return err
}

// addresses are those that letters lead to.
func addresses(origin string) letters.Addresses {
	var s shell.State
	return letters.Addresses{
		Question: func(project, question string) string { return origin + s.Question(project, question) },
		Part: func(project, part string) string {
			return origin + "/state/" + url.PathEscape(project) + "/" + part
		},
		Finding: func(project, check, record string) string { return origin + s.Finding(project, check, record) },
		Desk:    origin + "/desk", Account: origin + "/account",
	}
}

// fail answers with a sentence and what to do next, and logs the cause.
func fail(c fiber.Ctx, site *shell.Site, log *slog.Logger, err error) error {
	title := ""
	status, text := fiber.StatusInternalServerError, "Something went wrong here; nothing was changed by it. Try again, or go back to the board."
	var fe *fiber.Error
	var denied *office.Denied
	switch {
	case errors.Is(err, office.ErrDamaged):
		title, text = "The database is damaged", office.Fault(err)
	case office.Fault(err) != "":
		status, text = fiber.StatusInsufficientStorage, office.Fault(err)
	case errors.As(err, &denied):
		status, text = fiber.StatusForbidden, denied.Error()+"."
	case errors.As(err, &fe) && fe.Code == fiber.StatusMethodNotAllowed:
		status = fe.Code
		text = fmt.Sprintf("Nothing of the kind is done at %s: pages are read here and forms are sent; nothing was changed.", pathOf(c))
	case errors.As(err, &fe) && fe.Code == fiber.StatusNotFound:
		status, text = fe.Code, fmt.Sprintf("There is no page %s.", pathOf(c))
	case errors.As(err, &fe):
		status, text = fe.Code, fe.Message+"."
	}
	number := ""
	if status >= fiber.StatusInternalServerError {
		number = requestid.FromContext(c)
		log.Error("request failed", "id", number, "path", pathOf(c), "err", err)
	}
	return shell.Fail(c, site, status, title, text, number)
}

func pathOf(c fiber.Ctx) string {
	if p, err := url.PathUnescape(c.Path()); err == nil {
		return p
	}
	return c.Path()
}
