package main

import (
	"bytes"
	"compress/gzip"
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office"
	"turret/internal/office/account"
	"turret/internal/web"
)

// browser asks a server, or the application itself, as someone who is signed
// in.
type browser struct {
	base    string
	send    func(*http.Request) (*http.Response, error)
	cookies map[string]string
}

const password = "a password to begin with"

// within asks the application without a network, as an analyst that is made
// where there is none.
func within(ctx context.Context, o *office.Office) (*browser, error) {
	code, err := account.In(o).Invite(ctx, me, account.Account{Login: "bench", Name: "Bench", Role: office.Analyst})
	if err == nil {
		if _, err := account.In(o).Enter(ctx, code, "", "", password); err != nil {
			return nil, err
		}
	} else if !errors.Is(err, office.ErrRefused) { // it is there already
		return nil, err
	}
	app := web.New(o, web.Options{BodyLimit: 1 << 20, Session: time.Hour, Log: slog.New(slog.DiscardHandler)})
	send := func(r *http.Request) (*http.Response, error) {
		return app.Test(r, fiber.TestConfig{Timeout: time.Minute})
	}
	return signIn("http://localhost", send, "bench", password)
}

// signIn goes through the door.
func signIn(base string, send func(*http.Request) (*http.Response, error), login, password string) (*browser, error) {
	b := &browser{base: base, send: send, cookies: make(map[string]string)}
	if _, err := b.do(http.MethodGet, "/sign-in", nil); err != nil {
		return nil, err
	}
	res, err := b.do(
		http.MethodPost,
		"/sign-in",
		url.Values{"_csrf": {b.cookies["turret_form"]}, "login": {login}, "password": {password}},
	)
	if err != nil {
		return nil, err
	}
	if res.StatusCode != http.StatusSeeOther {
		return nil, fmt.Errorf("signing in answers %d", res.StatusCode)
	}
	return b, nil
}

func (b *browser) do(method, path string, form url.Values) (*http.Response, error) {
	req, err := http.NewRequest(method, b.base+path, strings.NewReader(form.Encode()))
	if err != nil {
		return nil, err
	}
	if form != nil {
		req.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	}
	for name, value := range b.cookies {
		req.AddCookie(&http.Cookie{Name: name, Value: value})
	}
	res, err := b.send(req)
	if err != nil {
		return nil, err
	}
	for _, c := range res.Cookies() {
		b.cookies[c.Name] = c.Value
	}
	return res, nil
}

// get reads a page; it tells how long that took, and the page's size compressed.
func (b *browser) get(path string) (took time.Duration, compressed int, err error) {
	begun := time.Now()
	res, err := b.do(http.MethodGet, path, nil)
	if err != nil {
		return 0, 0, err
	}
	body, err := io.ReadAll(res.Body)
	res.Body.Close()
	took = time.Since(begun)
	if err == nil && res.StatusCode != http.StatusOK {
		err = fmt.Errorf("%s answers %d", path, res.StatusCode)
	}
	if err != nil {
		return 0, 0, err
	}
	var z bytes.Buffer
	w := gzip.NewWriter(&z)
	if _, err := w.Write(body); err != nil {
		return 0, 0, err
	}
	if err := w.Close(); err != nil {
		return 0, 0, err
	}
	return took, z.Len(), nil
}

// median reads a page several times.
func (b *browser) median(path string, times int) (float64, error) {
	var list []time.Duration
	for range times {
		took, _, err := b.get(path)
		if err != nil {
			return 0, err
		}
		list = append(list, took)
	}
	return median(list), nil
}

// opened opens the office of a directory, and a browser that is signed in to it.
func opened(ctx context.Context, dir string) (*office.Office, *browser, error) {
	o, err := office.Open(ctx, me, database(dir), false)
	if err != nil {
		return nil, nil, err
	}
	b, err := within(ctx, o)
	if err != nil {
		o.Close()
		return nil, nil, err
	}
	return o, b, nil
}

// screensStep reads the screens of a portfolio of 1,000 projects: of a closed
// period for the first time, and again and again.
func screensStep(ctx context.Context, dir string) (result, error) {
	o, b, err := opened(ctx, dir)
	if err != nil {
		return nil, err
	}
	defer o.Close()
	first, size, err := b.get("/board?at=" + lastPeriod)
	if err != nil {
		return nil, err
	}
	r := result{"board of a closed period, first": ms(first), "board: first window, compressed": float64(size) / 1024}
	for name, path := range map[string]string{"board of a closed period": "/board?at=" + lastPeriod, "board, compared": "/board?vs=" + lastPeriod, "find": "/find?q=pro", "board, grouped by lead": "/board?group=lead", "Check of 1,000 projects": "/check?at=" + lastPeriod} {
		if _, _, err := b.get(path); err != nil { // what is computed once is not the screen's
			return nil, err
		}
		if r[name], err = b.median(path, 9); err != nil {
			return nil, err
		}
	}
	return r, nil
}

// paintStep opens the board and the map of 1,000 projects in the browser.
func paintStep(ctx context.Context, dir string) (result, error) {
	addr, _, stop, err := start(dir, "serve", "--db", database(dir))
	if err != nil {
		return nil, err
	}
	defer stop()
	r := make(result)
	for _, screen := range []string{"board", "map"} {
		out, err := exec.CommandContext(ctx, "node", "bench/paint.mjs", "http://"+addr, "bench", password, "/"+screen).
			Output()
		if err != nil {
			return nil, fmt.Errorf("node bench/paint.mjs: %w", err)
		}
		if r[screen+": painted in the browser"], err = strconv.ParseFloat(strings.TrimSpace(string(out)), 64); err != nil {
			return nil, err
		}
	}
	return r, nil
}

// keysStep types into a statement of 60 rows and 36 columns in the browser.
func keysStep(ctx context.Context, dir string) (result, error) {
	addr, _, stop, err := start(dir, "serve", "--db", database(dir))
	if err != nil {
		return nil, err
	}
	defer stop()
	out, err := exec.CommandContext(ctx, "node", "bench/keys.mjs", "http://"+addr, "bench", password, "/state/"+code(7)+"/forecast").Output()
	if err != nil {
		return nil, fmt.Errorf("node bench/keys.mjs: %w", err)
	}
	took, err := strconv.ParseFloat(strings.TrimSpace(string(out)), 64)
	return result{"stating: from a key to the painted cell, 95th percentile": took}, err
}

// start runs the program until it answers on an address of its own.
func start(dir string, args ...string) (addr string, pid int, stop func(), err error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return "", 0, nil, err
	}
	addr = l.Addr().String()
	l.Close()
	cmd := exec.Command(filepath.Join(dir, "turret"), append(args, "--addr", addr)...)
	if err := cmd.Start(); err != nil {
		return "", 0, nil, err
	}
	stop = func() {
		_ = cmd.Process.Signal(os.Interrupt)
		_ = cmd.Wait()
	}
	for begun := time.Now(); time.Since(begun) < time.Minute; time.Sleep(10 * time.Millisecond) {
		if res, err := http.Get("http://" + addr + "/healthz"); err == nil {
			res.Body.Close()
			return addr, cmd.Process.Pid, stop, nil
		}
	}
	stop()
	return "", 0, nil, fmt.Errorf("turret %s does not answer", args[0])
}

// startedStep starts the program anew for each of the first pages that people open
// in the morning, and once more for one that comes when it has been at rest.
func startedStep(ctx context.Context, dir string) (result, error) {
	o, _, err := opened(ctx, dir) // so that someone can sign in
	if err != nil {
		return nil, err
	}
	o.Close()
	out := make(result)
	for name, first := range map[string]struct {
		path string
		rest time.Duration
	}{
		"board": {"/board", 0}, "exceptions": {"/exceptions", 0}, "forecasts": {"/forecasts", 0}, "money table": {"/money", 0},
		"at rest": {"/forecasts", 20 * time.Second},
	} {
		took, err := firstPage(dir, first.path, first.rest)
		if err != nil {
			return nil, err
		}
		out["after a start: "+name] = ms(took)
	}
	return out, nil
}

// firstPage starts the program, signs in, waits, and asks for a page.
func firstPage(dir, path string, rest time.Duration) (time.Duration, error) {
	addr, _, stop, err := start(dir, "serve", "--db", database(dir))
	if err != nil {
		return 0, err
	}
	defer stop()
	client := &http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	b, err := signIn("http://"+addr, client.Do, "bench", password)
	if err != nil {
		return 0, err
	}
	time.Sleep(rest)
	took, _, err := b.get(path)
	return took, err
}
