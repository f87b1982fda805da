package letters

import (
	"embed"
	"html/template"
	"strings"
	plain "text/template"
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
