package claim

import "regexp"

// living is a name in braces, or a milestone by its code.
var living = regexp.MustCompile(`\{([a-z][a-z0-9_]*|milestone [^{}\n]{1,60})\}`)

// Lives tells whether a text has names in braces.
func Lives(text string) bool { return living.MatchString(text) }

// Living fills the names in braces of a text; a name that fill does not know stays as it
// stands.
func Living(text string, fill func(name string) (string, bool)) string {
	return living.ReplaceAllStringFunc(text, func(m string) string {
		if s, ok := fill(m[1 : len(m)-1]); ok {
			return s
		}
		return m
	})
}

// Unknown lists the names in braces that are still in a text that was filled.
func Unknown(text string) (out []string) {
	for _, m := range living.FindAllStringSubmatch(text, -1) {
		out = append(out, m[1])
	}
	return out
}
