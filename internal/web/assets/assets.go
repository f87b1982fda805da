// Package assets serves what pages need beside their HTML, under names that
// carry a hash of the content, so that browsers may keep it for ever.
package assets

import (
	"crypto/sha256"
	_ "embed"
	"fmt"
	"path"
	"strings"
)

//go:embed vendor/archivo.woff2
var archivo []byte

//go:embed vendor/bootstrap.css
var bootstrap string

//go:embed vendor/htmx.js
var htmx []byte

//go:embed vendor/bootstrap.js
var components []byte

// Asset is a file as it is served.
type Asset struct {
	Path string // of its address
	Type string
	Body []byte
}

// Font is Archivo, variable in weight and width (SIL Open Font License).
var Font = hashed("archivo.woff2", "font/woff2", archivo)

func hashed(name, typ string, body []byte) Asset {
	ext := path.Ext(name)
	return Asset{
		Path: fmt.Sprintf("/assets/%s-%.12x%s", strings.TrimSuffix(name, ext), sha256.Sum256(body), ext),
		Type: typ,
		Body: body,
	}
}

// Library is htmx, which swaps parts of pages (Zero-Clause BSD licence).
var Library = hashed("htmx.js", "text/javascript; charset=utf-8", htmx)

// Components is what moves in Bootstrap: menus, dialogs, messages (MIT licence).
var Components = hashed("bootstrap.js", "text/javascript; charset=utf-8", components)

// Script is a module of our own.
func Script(name, body string) Asset {
	return hashed(name, "text/javascript; charset=utf-8", []byte(body))
}

// Style joins style sheets into one, over Bootstrap (MIT licence), which lies
// in a layer below them; url(archivo) stands for the font.
func Style(sheets ...string) Asset {
	own := strings.ReplaceAll(strings.Join(sheets, "\n"), "url(archivo)", `url("`+Font.Path+`")`)
	return hashed("turret.css", "text/css; charset=utf-8", []byte("@layer bootstrap {\n"+bootstrap+"\n}\n"+own))
}
