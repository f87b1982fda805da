package ledger

import (
	"encoding/json"
	"fmt"
	"path"
	"regexp"
	"strings"

	"turret/internal/store"
)

// what of a file's name tells when it is from, and of which sheet or copy it is: numbers, the
// names of months, and what joins them.
var when = regexp.MustCompile(`(?i)\b(fy|p|q|kw|w|v)?\d+\b|\b(` +
	`jan(uary|uar)?|feb(ruary|ruar)?|mar(ch)?|m(ä|ae)rz|apr(il)?|may|mai|june?|juni|july?|juli|aug(ust)?|sept?(ember)?|o[ck]t(ober)?|nov(ember)?|de[cz](ember)?)\d*\b`)

// sources tell of files whose they are: by the mapping that read one, or by its name, where
// totals were told of that name alone.
type sources struct {
	files map[int32]store.File
	said  map[string]bool  // that told a total
	known map[int32]string // by file
}

// of gives the source of a file.
func (s *sources) of(file int32) (string, error) {
	if name, ok := s.known[file]; ok {
		return name, nil
	}
	f := s.files[file]
	name, mapped := SourceOf(f.Name), struct{ Source string }{}
	if strings.Contains(f.Layout, `"source"`) {
		if err := json.Unmarshal([]byte(f.Layout), &mapped); err != nil {
			return "", fmt.Errorf("how %s was read: %w", f.Name, err)
		}
	}
	if m := normal(mapped.Source); m != "" && (s.said[m] || !s.said[name]) {
		name = m
	}
	s.known[file] = name
	return name, nil
}

// normal is a source's name as it is compared.
func normal(name string) string { return strings.ToLower(strings.TrimSpace(name)) }

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
