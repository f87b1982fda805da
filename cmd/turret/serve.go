package main

import (
	"cmp"
	"context"
	"crypto/sha256"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/url"
	"os"
	"path/filepath"
	"runtime/debug"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"turret/internal/copies"
	"turret/internal/demo"
	"turret/internal/office"
	"turret/internal/office/account"
	"turret/internal/office/letters"
	"turret/internal/post"
	"turret/internal/provider"
	"turret/internal/settings"
	"turret/internal/web"
	"turret/internal/web/guard"
	"turret/internal/web/signin"
)

func serveCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use: "serve", Short: "Start the web application on a database, made if absent", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			path, err := cmd.Flags().GetString("db")
			if err != nil {
				return err
			}
			s, local, err := address(cmd, false)
			if err != nil {
				return err
			}
			mail, err := mailOf(s)
			if err != nil {
				return err
			}
			elsewhere, err := providerOf(s)
			if err != nil {
				return err
			}
			if s.Copies != "" {
				if err := copies.Check(s.Copies); err != nil {
					return fmt.Errorf("the database cannot be copied: %w", err)
				}
			}
			o, err := office.Open(cmd.Context(), me(), path, true)
			if err != nil {
				return err
			}
			end, err := copied(cmd.Context(), s, path)
			if err != nil {
				return errors.Join(err, o.Close())
			}
			defer end()
			return serve(cmd, o, s, local, mail, elsewhere)
		},
	}
	cmd.Flags().String("addr", "", "address to listen on (default 127.0.0.1:8484)")
	const about = "how browsers reach the server, such as https://turret.example, where a proxy stands before it"
	cmd.Flags().String("origin", "", about)
	return dbFlag(cmd)
}

func demoCommand() *cobra.Command {
	var path, untidy string
	var onlyPost bool
	cmd := &cobra.Command{
		Use: "demo", Short: "Start the web application with the demonstration portfolio", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			set, local, err := address(cmd, true)
			if err != nil {
				return err
			}
			if untidy != "" {
				if err := writePost(untidy); err != nil || onlyPost {
					return err
				}
			}
			if path == "" {
				dir, err := os.MkdirTemp("", "turret-demo-")
				if err != nil {
					return err
				}
				defer os.RemoveAll(dir)
				path = filepath.Join(dir, "demo.db")
			}
			o, err := openDemo(cmd.Context(), path)
			if err != nil {
				return err
			}
			out := cmd.OutOrStdout()
			fmt.Fprintln(
				out,
				"Skerrow Sound, a made-up portfolio. Sign in as one of these; the server answers on this machine only.",
			)
			for _, s := range demo.SignIns {
				fmt.Fprintf(out, "  %-14s %-6s %s\n", s.Role, s.Login, s.Password)
			}
			catcher, err := post.Catch(o.Clock)
			if err != nil {
				return err
			}
			defer catcher.Close()
			to := catcher.Server("Turret <turret@skerrow.example>")
			return serve(cmd, o, set, local, web.Mail{Carry: carry(to), Server: "a catcher of this machine", Caught: catcher.Letters}, nil)
		},
	}
	cmd.Flags().String("addr", "", "address to listen on; loopback only (default 127.0.0.1:8484)")
	cmd.Flags().StringVar(&path, "db", "", "the database file; made if absent (default: a temporary one)")
	cmd.Flags().StringVar(&untidy, "post", "", "a directory for three untidy files that people sent, to try Gather with")
	cmd.Flags().BoolVar(&onlyPost, "only-post", false, "write those files, and start nothing")
	return cmd
}

// writePost writes the demonstration's untidy files.
func writePost(dir string) error {
	files, err := demo.Post()
	if err != nil {
		return err
	}
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return err
	}
	for _, f := range files {
		if err := os.WriteFile(filepath.Join(dir, f.Name), f.Body, 0o644); err != nil {
			return err
		}
	}
	return nil
}

// openDemo opens a database with the demonstration, made where absent.
func openDemo(ctx context.Context, path string) (*office.Office, error) {
	if _, err := os.Stat(path); err == nil {
		return demo.Open(ctx, me(), path)
	}
	return demo.Make(ctx, path)
}

// address reads where to listen. The demonstration's passwords are known to
// everybody, so it listens on loopback only.
func address(cmd *cobra.Command, loopbackOnly bool) (s settings.Settings, local bool, err error) {
	if s, err = settings.Load(cmd.Flags()); err != nil {
		return s, false, err
	}
	host, _, err := net.SplitHostPort(s.Addr)
	if err != nil {
		return s, false, fmt.Errorf("the address %q is not like 127.0.0.1:8484", s.Addr)
	}
	ip := net.ParseIP(host)
	local = host == "localhost" || ip != nil && ip.IsLoopback()
	if loopbackOnly && !local {
		return s, false, fmt.Errorf(
			"the address %q is not on this machine: everybody knows the demonstration's passwords, so it listens on loopback only, such as 127.0.0.1:8484",
			s.Addr,
		)
	}
	if u, err := url.Parse(s.Origin); err != nil ||
		s.Origin != "" && (u.Scheme != "https" && u.Scheme != "http" || u.Host == "" || u.Path != "") {
		return s, false, fmt.Errorf("the origin %q is not like https://turret.example", s.Origin)
	}
	if s.Session < time.Second {
		return s, false, fmt.Errorf("a session lasts %s; give a time such as 12h", s.Session)
	}
	return s, local, nil
}

// mailOf reads where letters go; nowhere where no mail server is named.
func mailOf(s settings.Settings) (web.Mail, error) {
	if s.MailHost == "" {
		return web.Mail{}, nil
	}
	to := post.Server{Host: s.MailHost, Port: s.MailPort, TLS: s.MailTLS, From: s.MailFrom, User: s.MailUser, Password: s.MailPassword}
	if err := to.Check(); err != nil {
		return web.Mail{}, fmt.Errorf("letters cannot be sent: %w", err)
	}
	if s.Origin == "" {
		return web.Mail{}, errors.New("letters lead to places of this server, so name it as browsers reach it, with --origin")
	}
	return web.Mail{Carry: carry(to), Server: to.String()}, nil
}

// providerOf reads where people may sign in beside passwords; nowhere where no issuer is
// named.
func providerOf(s settings.Settings) (signin.Provider, error) {
	if s.OIDCIssuer == "" {
		return nil, nil
	}
	var known []string
	for _, r := range office.Roles {
		known = append(known, string(r))
	}
	roles, err := provider.ParseRoles(s.OIDCRoles, known)
	if err != nil {
		return nil, fmt.Errorf("roles from the provider: %w", err)
	}
	p, err := provider.New(provider.Settings{
		Issuer: s.OIDCIssuer, Client: s.OIDCClient, Secret: s.OIDCSecret, Name: s.OIDCName, Claim: s.OIDCClaim, Roles: roles,
	})
	if err != nil {
		return nil, fmt.Errorf("nobody can sign in at the provider: %w", err)
	}
	if s.Origin == "" {
		return nil, errors.New("the provider leads people back to this server, so name it as browsers reach it, with --origin")
	}
	return p, nil
}

// copied begins to copy the database where a place for copies is named, and gives how to
// end it.
func copied(ctx context.Context, s settings.Settings, path string) (end func(), err error) {
	if s.Copies == "" {
		return func() {}, nil
	}
	c, err := copies.Begin(context.WithoutCancel(ctx), path, s.Copies, slog.Default())
	if err != nil {
		return nil, err
	}
	slog.Info("the database is copied all the while", "to", copies.Redacted(s.Copies))
	return func() {
		ctx, cancel := context.WithTimeout(context.WithoutCancel(ctx), 30*time.Second)
		defer cancel()
		if err := c.Close(ctx); err != nil {
			slog.Error("the last writes were not copied", "err", err)
		}
	}, nil
}

// carry hands letters to a mail server.
func carry(to post.Server) letters.Carrier {
	return func(ctx context.Context, name, address, reader, subject, plain, html string, files []letters.Enclosure) error {
		id := fmt.Sprintf("%x@turret", sha256.Sum256([]byte(name)))
		l := post.Letter{ID: id, To: address, Name: reader, Subject: subject, Plain: plain, HTML: html}
		for _, f := range files {
			l.Files = append(l.Files, post.File(f))
		}
		return to.Send(ctx, l)
	}
}

// serve answers until the command is stopped, then finishes what it has begun.
func serve(cmd *cobra.Command, o *office.Office, s settings.Settings, local bool, mail web.Mail, elsewhere signin.Provider) (err error) {
	defer func() {
		if e := o.Close(); err == nil {
			err = e
		}
	}()
	l, err := net.Listen("tcp", s.Addr)
	if err != nil {
		return fmt.Errorf("%s cannot be listened on (%w); choose another with --addr", s.Addr, err)
	}
	proxies, err := guard.ParseProxies(s.Proxies)
	if err != nil {
		return fmt.Errorf("the proxies %q are not addresses such as 10.0.0.1, 192.168.7.0/24: %w", s.Proxies, err)
	}
	if most := guard.Memory(); most > 0 {
		s.Upload = guard.Fits(s.Upload, most)
		if os.Getenv("GOMEMLIMIT") == "" {
			debug.SetMemoryLimit(most / 2) // collect sooner rather than end
		}
	}
	at := cmp.Or(s.Origin, "http://"+reachable(l.Addr().String()))
	fmt.Fprintln(cmd.OutOrStdout(), at)
	code, err := account.In(o).FirstCode(cmd.Context(), me())
	if err != nil {
		return err
	}
	if code != "" {
		fmt.Fprintf(
			cmd.OutOrStdout(),
			"Nobody has an account yet. The first administrator begins here, once and within a day:\n%s/welcome/%s\n",
			at,
			code,
		)
	}
	if !local && s.Origin == "" {
		slog.Warn(
			"beyond this machine, cookies need HTTPS: put a proxy with a certificate before the server and name it with --origin",
		)
	}
	if s.Origin == "" && mail.Carry != nil { // of a demonstration, which is read where it runs
		s.Origin = at
	}
	return web.Serve(
		cmd.Context(),
		l,
		o,
		web.Options{
			BodyLimit: s.BodyLimit,
			Upload:    s.Upload,
			Session:   s.Session,
			Idle:      s.Idle,
			Secure:    !local || strings.HasPrefix(s.Origin, "https:"),
			Proxies:   proxies,
			Origin:    s.Origin,
			Log:       slog.Default(),
			Mail:      mail,
			Provider:  elsewhere,
		},
	)
}

// reachable writes an address that stands for all of a machine's own as one that
// a browser on it can open.
func reachable(addr string) string {
	host, port, err := net.SplitHostPort(addr)
	if ip := net.ParseIP(host); err == nil && ip != nil && ip.IsUnspecified() {
		return net.JoinHostPort("localhost", port)
	}
	return addr
}
