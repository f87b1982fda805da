package letters

import (
	"embed"
	"html/template"
	"strings"
	plain "text/template"

	"turret/internal/store"
)

//go:embed letter.txt letter.html
var files embed.FS

var (
	plainly = plain.Must(plain.ParseFS(files, "letter.txt"))
	richly  = template.Must(template.ParseFS(files, "letter.html"))
)

// text is what a letter says.
type text struct {
	Subject, Name, Opening string
	Parts                  []part
	Desk, Account          string // addresses
}

type part struct {
	Title string
	Items []item
}

// Note is a letter about one thing that someone is told of: with a link to it, and what to know.
type Note struct {
	Letter                    string // its name, the same for each attempt
	Account                   int64  // zero: of no one who signs in
	Name, Address             string // of its reader
	Subject, Opening          string
	Text, Link, Remark, Title string
	More                      []string // what else it says, below the title
}

// Written is the note as a letter.
func (n *Note) Written(now int64, to Addresses) (store.Letter, error) {
	t := text{Subject: n.Subject, Name: n.Name, Opening: n.Opening, Parts: []part{{Items: []item{{n.Text, n.Remark, n.Link}}}}}
	if len(n.More) > 0 {
		p := part{Title: n.Title}
		for _, s := range n.More {
			p.Items = append(p.Items, item{Text: s})
		}
		t.Parts = append(t.Parts, p)
	}
	if n.Account != 0 {
		t.Desk, t.Account = to.Desk, to.Account
	}
	l := store.Letter{Name: n.Letter, Account: n.Account, Address: n.Address, Made: now, Next: now, Subject: n.Subject}
	var err error
	l.Plain, l.HTML, err = t.write()
	return l, err
}

type item struct{ Text, Note, Link string }

// write gives both parts of a letter, which say the same.
func (t *text) write() (plain, html string, err error) {
	var a, b strings.Builder
	if err := plainly.Execute(&a, t); err != nil {
		return "", "", err
	}
	if err := richly.Execute(&b, t); err != nil {
		return "", "", err
	}
	return a.String(), b.String(), nil
}
