package post

import (
	"bytes"
	"encoding/base64"
	"errors"
	"io"
	"mime"
	"mime/multipart"
	"mime/quotedprintable"
	"net"
	netmail "net/mail"
	"net/textproto"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/emersion/go-smtp"
)

// Caught is a letter that was caught.
type Caught struct {
	At          time.Time
	To, Subject string
	Plain, HTML string
	Files       []CaughtFile
}

// CaughtFile is a file that went with a letter, by its size in bytes.
type CaughtFile struct {
	Name string
	Size int
}

// Catcher is a mail server that keeps what it is given, the last letters of it, and sends
// nothing on. It answers on this machine only.
type Catcher struct {
	mu     sync.Mutex
	list   []Caught
	server *smtp.Server
	addr   *net.TCPAddr
	now    func() time.Time
}

const (
	mostCaught  = 200
	largestMail = 24 << 20
)

// Catch begins to catch letters; now tells the moment.
func Catch(now func() time.Time) (*Catcher, error) {
	c := &Catcher{now: now}
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return nil, err
	}
	c.addr = l.Addr().(*net.TCPAddr)
	c.server = smtp.NewServer(smtp.BackendFunc(func(*smtp.Conn) (smtp.Session, error) { return &caughtSession{to: c}, nil }))
	c.server.Domain, c.server.MaxMessageBytes, c.server.MaxRecipients = "localhost", largestMail, 1
	c.server.ReadTimeout, c.server.WriteTimeout = patience, patience
	go func() { _ = c.server.Serve(l) }() // until it is closed
	return c, nil
}

// Server is the catcher as a server that letters are handed to.
func (c *Catcher) Server(from string) Server {
	return Server{Host: c.addr.IP.String(), Port: c.addr.Port, TLS: "none", From: from}
}

// Letters gives what was caught, the last first.
func (c *Catcher) Letters() []Caught {
	c.mu.Lock()
	defer c.mu.Unlock()
	out := slices.Clone(c.list)
	slices.Reverse(out)
	return out
}

// Close stops catching.
func (c *Catcher) Close() error { return c.server.Close() }

func (c *Catcher) keep(x Caught) {
	c.mu.Lock()
	defer c.mu.Unlock()
	x.At = c.now()
	c.list = append(c.list, x)
	if len(c.list) > mostCaught {
		c.list = c.list[len(c.list)-mostCaught:]
	}
}

type caughtSession struct{ to *Catcher }

func (s *caughtSession) Reset()                               {}
func (s *caughtSession) Logout() error                        { return nil }
func (s *caughtSession) Mail(string, *smtp.MailOptions) error { return nil }
func (s *caughtSession) Rcpt(string, *smtp.RcptOptions) error { return nil }

// Data keeps a letter.
func (s *caughtSession) Data(r io.Reader) error {
	body, err := io.ReadAll(r)
	if err != nil {
		return err
	}
	x, err := parse(body)
	if err != nil {
		return &smtp.SMTPError{Code: 554, Message: err.Error()}
	}
	s.to.keep(x)
	return nil
}

// parse reads a letter of two parts, or of one.
func parse(body []byte) (x Caught, err error) {
	m, err := netmail.ReadMessage(bytes.NewReader(body))
	if err != nil {
		return x, err
	}
	words := new(mime.WordDecoder)
	if x.Subject, err = words.DecodeHeader(m.Header.Get("Subject")); err != nil {
		return x, err
	}
	if x.To, err = words.DecodeHeader(m.Header.Get("To")); err != nil {
		return x, err
	}
	return x, x.part(textproto.MIMEHeader(m.Header), m.Body)
}

// part reads a part of a letter: its words, the parts that it is made of, or a file.
func (x *Caught) part(head textproto.MIMEHeader, body io.Reader) error {
	kind, params, err := mime.ParseMediaType(head.Get("Content-Type"))
	if err != nil {
		return err
	}
	if strings.HasPrefix(kind, "multipart/") {
		parts := multipart.NewReader(body, params["boundary"])
		for {
			p, err := parts.NextRawPart()
			if errors.Is(err, io.EOF) {
				return nil
			}
			if err != nil {
				return err
			}
			if err := x.part(p.Header, p); err != nil {
				return err
			}
		}
	}
	switch strings.ToLower(head.Get("Content-Transfer-Encoding")) {
	case "quoted-printable":
		body = quotedprintable.NewReader(body)
	case "base64":
		body = base64.NewDecoder(base64.StdEncoding, body)
	}
	text, err := io.ReadAll(body)
	if err != nil {
		return err
	}
	how, named, err := mime.ParseMediaType(head.Get("Content-Disposition"))
	switch {
	case err == nil && how == "attachment":
		x.Files = append(x.Files, CaughtFile{named["filename"], len(text)})
	case kind == "text/html":
		x.HTML = string(text)
	default:
		x.Plain = strings.ReplaceAll(string(text), "\r\n", "\n")
	}
	return nil
}
