package post

import (
	"context"
	"net"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// TestSend: what is sent arrives whole, in both parts.
func TestSend(t *testing.T) {
	at := time.Date(2026, 12, 4, 9, 30, 0, 0, time.UTC)
	c, err := Catch(func() time.Time { return at })
	require.NoError(t, err)
	defer c.Close()
	s := c.Server("Turret <turret@office.example>")
	require.NoError(t, s.Check())
	l := Letter{
		ID: "turn.1@turret", To: "ada@office.example", Name: "Ada Brånnock", Subject: "FR-01: Ines fragt nach der Prognose – größer?",
		Plain: "Is it so?\n.\n" + strings.Repeat("a long line ", 200) + "\n", HTML: "<p>Is it <b>so</b>?</p>\n",
	}
	require.NoError(t, s.Send(context.Background(), l))
	require.NoError(t, s.Send(context.Background(), Letter{
		ID: "2@turret", To: "bo@office.example", Name: "Bo", Subject: "Second", Plain: "2", HTML: "2",
		Files: []File{{"brief-1.pdf", []byte(strings.Repeat("%PDF\x00\xff", 10_000))}, {"brief-1.zip", []byte{1, 2, 3}}},
	}))
	got := c.Letters()
	require.Len(t, got, 2)
	require.Equal(t, "Second", got[0].Subject, "the last first")
	require.Equal(t, []CaughtFile{{"brief-1.pdf", 60_000}, {"brief-1.zip", 3}}, got[0].Files)
	require.Equal(t, []string{"2", "2"}, []string{strings.TrimSpace(got[0].Plain), strings.TrimSpace(got[0].HTML)}, "beside what is enclosed")
	require.Empty(t, got[1].Files)
	require.Equal(t, l.Subject, got[1].Subject)
	require.Equal(t, l.Plain, got[1].Plain)
	require.Equal(t, strings.TrimSpace(l.HTML), strings.TrimSpace(got[1].HTML))
	require.Contains(t, got[1].To, "Ada Brånnock")
	require.Contains(t, got[1].To, "ada@office.example")
	require.Equal(t, at, got[1].At)
}

// TestServersThatFail: one that refuses, hangs or is down gives an error, in time.
func TestServersThatFail(t *testing.T) {
	l := Letter{ID: "1@turret", To: "ada@office.example", Name: "Ada", Subject: "s", Plain: "p", HTML: "h"}
	down, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	port := down.Addr().(*net.TCPAddr).Port
	require.NoError(t, down.Close())
	require.Error(t, Server{Host: "127.0.0.1", Port: port, TLS: "none", From: "turret@office.example"}.Send(context.Background(), l), "down")

	hangs, err := net.Listen("tcp", "127.0.0.1:0") // it takes calls and says nothing
	require.NoError(t, err)
	defer hangs.Close()
	ctx, cancel := context.WithTimeout(context.Background(), 200*time.Millisecond)
	defer cancel()
	begun := time.Now()
	require.Error(t, Server{Host: "127.0.0.1", Port: hangs.Addr().(*net.TCPAddr).Port, TLS: "none", From: "turret@office.example"}.Send(ctx, l), "hanging")
	require.Less(t, time.Since(begun), 10*time.Second)

	c, err := Catch(time.Now)
	require.NoError(t, err)
	defer c.Close()
	s := c.Server("turret@office.example")
	s.TLS = "starttls"
	require.Error(t, s.Send(context.Background(), l), "a server that cannot encrypt gets nothing where it must")
	s.TLS = "none"
	require.Error(t, s.Send(context.Background(), Letter{ID: "1@turret", To: "no address", Subject: "s", Plain: "p", HTML: "h"}))
	require.Empty(t, c.Letters())
}

func TestCheck(t *testing.T) {
	good := Server{Host: "mail.office.example", Port: 587, TLS: "starttls", From: "turret@office.example"}
	require.NoError(t, good.Check())
	for why, change := range map[string]func(*Server){
		"no mail server is named": func(s *Server) { s.Host = "" },
		"the mail server's port is 0; give one from 1 to 65535, mostly 587":            func(s *Server) { s.Port = 0 },
		"the mail server's port is 65536; give one from 1 to 65535, mostly 587":        func(s *Server) { s.Port = 65536 },
		`"ssl" is no way to encrypt mail; there are starttls, tls and none`:            func(s *Server) { s.TLS = "ssl" },
		`the sender "Turret" is not an address such as Turret <turret@office.example>`: func(s *Server) { s.From = "Turret" },
	} {
		s := good
		change(&s)
		require.EqualError(t, s.Check(), why)
	}
}
