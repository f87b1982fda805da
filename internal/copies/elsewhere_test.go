package copies_test

import (
	"bufio"
	"crypto/ed25519"
	"encoding/xml"
	"fmt"
	"io"
	"log/slog"
	"maps"
	"net"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/pkg/sftp"
	"github.com/stretchr/testify/require"
	"golang.org/x/crypto/ssh"

	"turret/internal/copies"
	"turret/internal/store"
)

// TestCopiesGoElsewhere: what is copied to a server of files, and to a store of objects, is
// got back from there, as it was last and at a moment, with the right password alone.
func TestCopiesGoElsewhere(t *testing.T) {
	files := fileServer(t, "turret", "slack")
	for name, target := range map[string]string{
		"files":   "sftp://turret:slack@" + files + "/office",
		"objects": objectStore(t, "shelf") + "&region=eu-north-1",
	} {
		t.Run(name, func(t *testing.T) {
			t.Setenv("AWS_ACCESS_KEY_ID", "key")
			t.Setenv("AWS_SECRET_ACCESS_KEY", "secret")
			t.Setenv("AWS_CA_BUNDLE", "") // of whoever runs the test
			apart := 20 * time.Millisecond
			if name == "files" { // whose times are whole seconds
				apart = 1100 * time.Millisecond
			}
			path := filepath.Join(t.TempDir(), "office.db")
			s, err := store.Open(t.Context(), path, true)
			require.NoError(t, err)
			defer s.Close()
			c, err := copies.Begin(t.Context(), path, target, slog.New(slog.DiscardHandler))
			require.NoError(t, err)
			var early time.Time
			for n := range int64(20) {
				commit(t, s, n+1)
				if n == 9 {
					require.NoError(t, c.Sync(t.Context()))
					time.Sleep(apart)
					early = time.Now()
					time.Sleep(apart)
				}
			}
			require.NoError(t, c.Close(t.Context()))
			require.Equal(t, int64(20), restored(t, target, time.Time{}))
			require.Equal(t, int64(10), restored(t, target, early))
		})
	}
	err := copies.Restore(t.Context(), "sftp://turret:wrong@"+files+"/office", filepath.Join(t.TempDir(), "x.db"), time.Time{})
	require.Error(t, err)
	require.NotContains(t, err.Error(), "wrong@", "no password stands in a message")
}

// fileServer serves a directory of its own by SFTP to who knows a password, and gives its
// address.
func fileServer(t *testing.T, user, password string) string {
	dir := t.TempDir()
	_, key, err := ed25519.GenerateKey(nil)
	require.NoError(t, err)
	signer, err := ssh.NewSignerFromKey(key)
	require.NoError(t, err)
	conf := &ssh.ServerConfig{PasswordCallback: func(c ssh.ConnMetadata, given []byte) (*ssh.Permissions, error) {
		if c.User() != user || string(given) != password {
			return nil, os.ErrPermission
		}
		return nil, nil
	}}
	conf.AddHostKey(signer)
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	t.Cleanup(func() { l.Close() })
	serve := func(c net.Conn) {
		defer c.Close()
		_, channels, requests, err := ssh.NewServerConn(c, conf)
		if err != nil {
			return
		}
		go ssh.DiscardRequests(requests)
		for n := range channels {
			ch, in, err := n.Accept()
			if err != nil {
				return
			}
			go func() {
				for r := range in {
					_ = r.Reply(r.Type == "subsystem", nil)
				}
			}()
			if s, err := sftp.NewServer(ch, sftp.WithServerWorkingDirectory(dir)); err == nil {
				go func() { _ = s.Serve() }()
			}
		}
	}
	go func() {
		for {
			c, err := l.Accept()
			if err != nil {
				return
			}
			go serve(c)
		}
	}()
	return l.Addr().String()
}

// object is one of a store, with what was said of it.
type object struct {
	body []byte
	head http.Header
	at   time.Time
}

// objectStore stands in for a store of objects that speaks S3, as far as copies go: objects
// are put, got, listed and deleted. It gives the target of a bucket.
func objectStore(t *testing.T, bucket string) string {
	var mu sync.Mutex
	kept := map[string]object{}
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		mu.Lock()
		defer mu.Unlock()
		key := strings.TrimPrefix(strings.TrimPrefix(r.URL.Path, "/"+bucket), "/")
		q := r.URL.Query()
		switch {
		case r.Method == http.MethodPut:
			o := object{at: time.Now(), head: http.Header{}, body: sent(t, r)}
			for name, v := range r.Header {
				if strings.HasPrefix(name, "X-Amz-Meta-") {
					o.head[name] = v
				}
			}
			kept[key] = o
			w.Header().Set("ETag", `"1"`)
		case r.Method == http.MethodPost && q.Has("delete"):
			var asked struct{ Object []struct{ Key string } }
			if xml.NewDecoder(r.Body).Decode(&asked) == nil {
				for _, o := range asked.Object {
					delete(kept, o.Key)
				}
			}
			fmt.Fprint(w, "<DeleteResult></DeleteResult>")
		case r.Method == http.MethodDelete:
			delete(kept, key)
			w.WriteHeader(http.StatusNoContent)
		case key == "" && q.Has("location"):
			fmt.Fprint(w, "<LocationConstraint></LocationConstraint>")
		case key == "":
			type entry struct {
				Key          string
				Size         int
				LastModified string
			}
			type prefix struct{ Prefix string }
			var out struct {
				XMLName        xml.Name `xml:"ListBucketResult"`
				Contents       []entry
				CommonPrefixes []prefix
				IsTruncated    bool
			}
			for _, k := range slices.Sorted(maps.Keys(kept)) {
				rest, ok := strings.CutPrefix(k, q.Get("prefix"))
				if !ok || k <= q.Get("start-after") {
					continue
				}
				if d := q.Get("delimiter"); d != "" {
					if dir, _, deeper := strings.Cut(rest, d); deeper {
						if p := (prefix{q.Get("prefix") + dir + d}); !slices.Contains(out.CommonPrefixes, p) {
							out.CommonPrefixes = append(out.CommonPrefixes, p)
						}
						continue
					}
				}
				out.Contents = append(out.Contents, entry{k, len(kept[k].body), kept[k].at.UTC().Format(time.RFC3339Nano)})
			}
			_ = xml.NewEncoder(w).Encode(out)
		default:
			o, ok := kept[key]
			if !ok {
				w.WriteHeader(http.StatusNotFound)
				fmt.Fprint(w, "<Error><Code>NoSuchKey</Code></Error>")
				return
			}
			maps.Copy(w.Header(), o.head)
			http.ServeContent(w, r, "", o.at, strings.NewReader(string(o.body)))
		}
	}))
	t.Cleanup(server.Close)
	return "s3://" + bucket + "/office?endpoint=" + url.QueryEscape(server.URL)
}

// sent gives the body of a request, put together where it comes in chunks with their
// signatures.
func sent(t *testing.T, r *http.Request) []byte {
	if !strings.Contains(r.Header.Get("Content-Encoding"), "aws-chunked") {
		b, err := io.ReadAll(r.Body)
		require.NoError(t, err)
		return b
	}
	var out []byte
	for in := bufio.NewReader(r.Body); ; {
		line, err := in.ReadString('\n')
		require.NoError(t, err)
		size, _, _ := strings.Cut(strings.TrimSpace(line), ";")
		n, err := strconv.ParseInt(size, 16, 64)
		require.NoError(t, err)
		if n == 0 {
			return out
		}
		chunk := make([]byte, n+2)
		_, err = io.ReadFull(in, chunk)
		require.NoError(t, err)
		out = append(out, chunk[:n]...)
	}
}
