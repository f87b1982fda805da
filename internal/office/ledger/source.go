package ledger

import (
	"path"
	"regexp"
	"strings"
)

// what of a file's name tells when it is from, and of which sheet or copy it is: numbers, the
// names of months, and what joins them.
var when = regexp.MustCompile(`(?i)\b(fy|p|q|kw|w|v)?\d+\b|\b(` +
	`jan(uary|uar)?|feb(ruary|ruar)?|mar(ch)?|m(ä|ae)rz|apr(il)?|may|mai|june?|juni|july?|juli|aug(ust)?|sept?(ember)?|o[ck]t(ober)?|nov(ember)?|de[cz](ember)?)\d*\b`)

// SourceOf is what a file's source is called: the file's name without what tells when it is
// from, so that "Ledger 2026-11.csv" and "ledger_2026-12.xlsx" are of one source.
func SourceOf(name string) string {
	name = path.Base(strings.ReplaceAll(name, `\`, "/"))
	name = strings.TrimSuffix(name, path.Ext(name))
	name = strings.NewReplacer("_", " ", "-", " ", ".", " ", "(", " ", ")", " ").Replace(name)
	plain := strings.Join(strings.Fields(when.ReplaceAllString(name, " ")), " ")
	if plain == "" {
		plain = strings.Join(strings.Fields(name), " ")
	}
	return strings.ToLower(plain)
}
