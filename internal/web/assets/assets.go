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
	return Asset{Path: fmt.Sprintf("/assets/%s-%.12x%s", strings.TrimSuffix(name, ext), sha256.Sum256(body), ext), Type: typ, Body: body}
}

// Style joins style sheets into one; url(archivo) stands for the font.
func Style(sheets ...string) Asset {
	body := strings.ReplaceAll(strings.Join(sheets, "\n"), "url(archivo)", `url("`+Font.Path+`")`)
	return hashed("turret.css", "text/css; charset=utf-8", []byte(body))
}
