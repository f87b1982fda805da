// Package post carries letters: by SMTP to a mail server, or, for demonstrations, to a
// catcher that keeps them and lets nothing out.
package post

import (
	"bytes"
	"context"
	"crypto/tls"
	"fmt"
	"net"
	netmail "net/mail"
	"time"

	"github.com/wneessen/go-mail"
)

// Letter is what is sent to one address.
type Letter struct {
	ID          string // the same for every attempt, so that a reader's mail program knows it again
	To, Name    string
	Subject     string
	Plain, HTML string
	Files       []File
}

// File goes with a letter.
type File struct {
	Name string
	Body []byte
}

// Server is a mail server. TLS is "starttls", "tls" or "none".
type Server struct {
	Host           string
	Port           int
	TLS            string
	User, Password string // none: the server asks for none
	From           string // the address of the sender, with or without a name
}

// patience is how long one attempt takes at most.
const patience = 30 * time.Second

// Check tells what is wrong with the settings of a server, or nothing.
func (s Server) Check() error {
	switch {
	case s.Host == "":
		return fmt.Errorf("no mail server is named")
	case s.Port < 1 || s.Port > 65535:
		return fmt.Errorf("the mail server's port is %d; give one from 1 to 65535, mostly 587", s.Port)
	case s.TLS != "starttls" && s.TLS != "tls" && s.TLS != "none":
		return fmt.Errorf("%q is no way to encrypt mail; there are starttls, tls and none", s.TLS)
	}
	if _, err := netmail.ParseAddress(s.From); err != nil {
		return fmt.Errorf("the sender %q is not an address such as Turret <turret@office.example>", s.From)
	}
	return nil
}

// String names the server as a log does.
func (s Server) String() string { return fmt.Sprintf("%s:%d", s.Host, s.Port) }

// Send hands a letter to the server, or tells why it did not take it.
func (s Server) Send(ctx context.Context, l Letter) error {
	m := mail.NewMsg()
	if err := m.From(s.From); err != nil {
		return err
	}
	if err := m.AddToFormat(l.Name, l.To); err != nil {
		return err
	}
	m.Subject(l.Subject)
	m.SetMessageIDWithValue(l.ID)
	m.SetDate()
	m.SetGenHeader("Auto-Submitted", "auto-generated")
	m.SetBodyString(mail.TypeTextPlain, l.Plain)
	m.AddAlternativeString(mail.TypeTextHTML, l.HTML)
	for _, f := range l.Files {
		m.AttachReadSeeker(f.Name, bytes.NewReader(f.Body))
	}
	opts := []mail.Option{mail.WithPort(s.Port), mail.WithTimeout(patience)}
	switch s.TLS {
	case "tls":
		opts = append(opts, mail.WithSSL())
	case "none":
		opts = append(opts, mail.WithTLSPolicy(mail.NoTLS))
	default:
		opts = append(opts, mail.WithTLSPolicy(mail.TLSMandatory))
	}
	if s.User != "" {
		opts = append(opts, mail.WithSMTPAuth(mail.SMTPAuthAutoDiscover), mail.WithUsername(s.User), mail.WithPassword(s.Password))
	}
	ctx, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	c, err := mail.NewClient(s.Host, append(opts, mail.WithDialContextFunc(func(_ context.Context, network, addr string) (net.Conn, error) {
		return s.dial(ctx, network, addr)
	}))...)
	if err != nil {
		return err
	}
	return c.DialAndSendWithContext(ctx, m)
}

// dial calls the server. The call ends with ctx, whatever the other side does.
func (s Server) dial(ctx context.Context, network, addr string) (conn net.Conn, err error) {
	if s.TLS == "tls" {
		conn, err = (&tls.Dialer{Config: &tls.Config{ServerName: s.Host, MinVersion: tls.VersionTLS12}}).DialContext(ctx, network, addr)
	} else {
		conn, err = (&net.Dialer{}).DialContext(ctx, network, addr)
	}
	if err != nil {
		return nil, err
	}
	context.AfterFunc(ctx, func() { conn.Close() })
	return conn, nil
}
