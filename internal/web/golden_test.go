package web

import (
	"archive/zip"
	"bytes"
	"context"
	"flag"
	"fmt"
	"hash/crc32"
	"html"
	"io"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/klauspost/compress/zstd"
	"github.com/stretchr/testify/require"

	"turret/internal/demo"
	"turret/internal/office"
	"turret/internal/office/account"
	"turret/internal/office/brief"
	"turret/internal/office/export"
)

var update = flag.Bool("update", false, "write what is read now as what is expected")

// kept are databases that earlier versions wrote, each with all that it read as
// when it was kept: the demonstration, with a posting moved and a period closed
// twice, and a small made-up portfolio without any cut.
var kept = []struct {
	name    string
	now     time.Time
	periods []string
	demo    bool
}{
	{"demo", demo.Today, []string{"2025-04", "2026-09", "2026-10", "2026-11"}, true},
	{"small", time.Date(2025, 11, 3, 9, 0, 0, 0, time.UTC), []string{"2025-02", "2025-09"}, false},
}

// TestOldDatabasesReadTheSame: readings, exports, briefs and pages of databases
// that earlier versions wrote are the same to the letter; hashes aside, which
// are over how things are kept.
func TestOldDatabasesReadTheSame(t *testing.T) {
	if testing.Short() {
		t.Skip("it reads hundreds of pages")
	}
	for _, k := range kept {
		t.Run(k.name, func(t *testing.T) {
			t.Parallel()
			path := filepath.Join(t.TempDir(), "old.db")
			require.NoError(t, os.WriteFile(path, unpacked(t, k.name+".db.zst"), 0o600))
			ctx := context.Background()
			o, err := office.Open(ctx, operator, path, false)
			require.NoError(t, err)
			defer o.Close()
			o.SetClock(func() time.Time { return k.now })
			var all told
			all.readings(t, o, k.periods)
			all.export(t, o)
			all.briefs(t, o, k.periods)
			app := newApp(o)
			if k.demo {
				for _, s := range demo.SignIns {
					b := newBrowser(t, app)
					status, _, _ := b.post("/sign-in", url.Values{"login": {s.Login}, "password": {s.Password}})
					require.Equal(t, http.StatusSeeOther, status)
					most := 40 // of what differs by role
					if s.Role == office.Analyst {
						most = 400
					}
					all.pages(string(s.Role), b, most)
				}
			} else {
				code, err := account.In(o).Invite(ctx, operator, account.Account{Login: "analyst1", Name: "The analyst", Role: office.Analyst})
				require.NoError(t, err)
				_, err = account.In(o).Enter(ctx, code, "", "", password)
				require.NoError(t, err)
				all.pages("analyst", signedIn(t, app, office.Analyst), 120)
			}
			all.compare(t, k.name+".read.zst")
		})
	}
}

func unpacked(t *testing.T, name string) []byte {
	t.Helper()
	body, err := os.ReadFile(filepath.Join("testdata", name))
	require.NoError(t, err)
	dec, err := zstd.NewReader(nil)
	require.NoError(t, err)
	defer dec.Close()
	out, err := dec.DecodeAll(body, nil)
	require.NoError(t, err)
	return out
}

// told is what a database reads as: titles and lines.
type told struct{ b strings.Builder }

var hashes = regexp.MustCompile(`\b[0-9a-f]{8,64}\b`)

func (w *told) add(title, text string) {
	fmt.Fprintf(&w.b, "==== %s\n%s\n", title, hashes.ReplaceAllString(text, "#"))
}

func (w *told) readings(t *testing.T, o *office.Office, periods []string) {
	ctx := context.Background()
	for _, code := range periods {
		p, err := o.ParsePeriod(ctx, operator, code)
		require.NoError(t, err)
		for _, against := range []string{"latest", "original"} {
			for _, reporting := range []bool{false, true} {
				q := export.Query{Period: p, Reporting: reporting}
				q.Against, err = office.ParseAgainst(against)
				require.NoError(t, err)
				rows, err := export.In(o).Readings(ctx, operator, q)
				require.NoError(t, err)
				var b strings.Builder
				require.NoError(t, export.In(o).WriteJSON(ctx, &b, code, rows))
				w.add(fmt.Sprintf("readings %s %s %t", code, against, reporting), b.String())
			}
		}
	}
}

// zipped writes the texts of an archive.
func (w *told) zipped(t *testing.T, title string, body []byte) {
	z, err := zip.NewReader(bytes.NewReader(body), int64(len(body)))
	require.NoError(t, err)
	for _, f := range z.File {
		r, err := f.Open()
		require.NoError(t, err)
		text, err := io.ReadAll(r)
		require.NoError(t, err)
		w.add(title+" "+f.Name, string(text))
	}
}

func (w *told) export(t *testing.T, o *office.Office) {
	path := filepath.Join(t.TempDir(), "all.zip")
	require.NoError(t, export.In(o).Export(context.Background(), operator, path))
	body, err := os.ReadFile(path)
	require.NoError(t, err)
	w.zipped(t, "export", body)
}

func (w *told) briefs(t *testing.T, o *office.Office, periods []string) {
	ctx := context.Background()
	for _, code := range periods {
		b, err := brief.In(o).Brief(ctx, operator, brief.Spec{At: code})
		require.NoError(t, err)
		for _, form := range []string{"html", "xlsx"} {
			f, err := brief.FormOf("x." + form)
			require.NoError(t, err)
			body, err := b.Write(f)
			require.NoError(t, err)
			if form == "xlsx" {
				w.zipped(t, "brief "+code, body)
			} else {
				w.add("brief "+code, wording(string(body)))
			}
		}
	}
}

var (
	unread = regexp.MustCompile(`(?s)<(script|style|head)\b.*?</(script|style|head)>|<input type="hidden"[^>]*>`)
	drawn  = regexp.MustCompile(`(?s)<svg\b.*?</svg>`)
	value  = regexp.MustCompile(`<(?:input|option)\b[^>]*\bvalue="([^"]*)"[^>]*>`)
	tag    = regexp.MustCompile(`<[^>]*>`)
	blank  = regexp.MustCompile(`\s+`)
	link   = regexp.MustCompile(`href="(/[^"#]*)"`)
)

// wording gives the words and figures of a page, one run of text a line, and of each
// drawing whether it is the same.
func wording(page string) string {
	page = unread.ReplaceAllString(page, "\n")
	page = drawn.ReplaceAllStringFunc(page, func(d string) string {
		return fmt.Sprintf("\n(drawn %04x)\n%s", crc32.ChecksumIEEE([]byte(hashes.ReplaceAllString(d, "#")))&0xffff, d)
	})
	page = value.ReplaceAllString(page, "\n[$1]\n")
	var out []string
	for _, s := range strings.Split(tag.ReplaceAllString(page, "\x00"), "\x00") {
		if s = strings.TrimSpace(blank.ReplaceAllString(html.UnescapeString(s), " ")); s != "" {
			out = append(out, s)
		}
	}
	return strings.Join(out, "\n")
}

// pages follows links from the board, at most so many, and few of each kind.
func (w *told) pages(who string, b *browser, most int) {
	const alike = 6
	queue := []string{"/board"}
	seen := map[string]bool{"/board": true, "/sign-out": true, "/account": true} // the last tells of now
	kinds := make(map[string]int)
	for n := 0; len(queue) > 0 && n < most; {
		path := queue[0]
		queue = queue[1:]
		u, err := url.Parse(path)
		require.NoError(b.t, err)
		kind := strings.Join(strings.Split(u.Path, "/")[:2], "/") + " " + strings.Join(
			slices.Sorted(func(yield func(string) bool) {
				for k := range u.Query() {
					if !yield(k) {
						return
					}
				}
			}),
			" ",
		)
		if kinds[kind]++; kinds[kind] > alike {
			continue
		}
		n++
		status, body, head := b.get(path)
		if !strings.HasPrefix(head.Get("Content-Type"), "text/html") {
			continue // files are held above
		}
		w.add(fmt.Sprintf("%s %s %d", who, path, status), wording(body))
		for _, m := range link.FindAllStringSubmatch(body, -1) {
			to := html.UnescapeString(m[1])
			if !seen[to] && !strings.HasPrefix(to, "/assets/") {
				seen[to] = true
				queue = append(queue, to)
			}
		}
	}
}

func (w *told) compare(t *testing.T, name string) {
	path := filepath.Join("testdata", name)
	if *update {
		enc, err := zstd.NewWriter(nil, zstd.WithEncoderLevel(zstd.SpeedBestCompression))
		require.NoError(t, err)
		require.NoError(t, os.WriteFile(path, enc.EncodeAll([]byte(w.b.String()), nil), 0o644))
		return
	}
	want, got := strings.Split(string(unpacked(t, name)), "\n"), strings.Split(w.b.String(), "\n")
	title, shown := "", 0
	for i := range want {
		if strings.HasPrefix(want[i], "==== ") {
			title = want[i]
		}
		if i >= len(got) || want[i] != got[i] {
			is := "nothing more"
			if i < len(got) {
				is = got[i]
			}
			t.Errorf("%s\nline %d was  %.400s\nline %d is   %.400s", title, i, want[i], i, is)
			if shown++; shown >= 5 {
				return
			}
		}
	}
	require.Len(t, got, len(want))
}
