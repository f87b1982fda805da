package gather

import (
	"regexp"
	"slices"
	"strings"
)

// Name is what a column of references can hold: a code that the office has, and the
// name of what it stands for, or "".
type Name struct{ Column, Code, Name, Parent string }

// Names find codes by what people write: the code itself, with another case, without
// its spaces, hyphens or leading zeros, as a spreadsheet's 110.0, or the name.
type Names struct {
	exact map[[2]string]string   // column and lower code, to the code
	loose map[[2]string][]string // column and loose code
	named map[[2]string][]string // column and normal name
	words map[string][]mention   // of projects, by the first word of name or code
	names map[[2]string]string   // column and code, to the normal name
	above map[string]string      // cost codes, to the one above
}

// mention is a run of words that names a project.
type mention struct {
	words []string
	code  string
}

// NewNames makes names of a list.
func NewNames(list []Name) *Names {
	n := &Names{
		exact: make(map[[2]string]string),
		loose: make(map[[2]string][]string),
		named: make(map[[2]string][]string),
		words: make(map[string][]mention),
		names: make(map[[2]string]string),
		above: make(map[string]string),
	}
	for _, x := range list {
		n.exact[[2]string{x.Column, strings.ToLower(x.Code)}] = x.Code
		add(n.loose, [2]string{x.Column, LooseCode(x.Code)}, x.Code)
		n.names[[2]string{x.Column, x.Code}] = Normal(x.Name)
		if x.Column == "cost_code" && x.Parent != "" {
			n.above[x.Code] = x.Parent
		}
		if name := Normal(x.Name); name != "" {
			add(n.named, [2]string{x.Column, name}, x.Code)
		}
		if x.Column != "project" {
			continue
		}
		for _, text := range [...]string{x.Code, x.Name} {
			words := strings.Fields(Normal(text))
			const few = 4 // letters of one word that may be a name in a sentence
			if len(words) == 0 || text == x.Name && len(words) == 1 && len(words[0]) < few {
				continue
			}
			n.words[words[0]] = append(n.words[words[0]], mention{words, x.Code})
		}
	}
	return n
}

func add(to map[[2]string][]string, key [2]string, code string) {
	if key[1] != "" && !slices.Contains(to[key], code) {
		to[key] = append(to[key], code)
	}
}

// Known tells whether the office has a code just so, but for its case.
func (n *Names) Known(column, code string) bool {
	if n == nil {
		return false
	}
	_, ok := n.exact[[2]string{column, strings.ToLower(code)}]
	return ok
}

// codes lists those of a column, sorted.
func (n *Names) codes(column string) (out []string) {
	if n == nil {
		return nil
	}
	for of, code := range n.exact {
		if of[0] == column {
			out = append(out, code)
		}
	}
	slices.Sort(out)
	return out
}

// Find gives the codes that a text can stand for: one where it is the code itself,
// else all whose code is the same but for how it is written, else all of that name.
func (n *Names) Find(column, text string) []string {
	if n == nil {
		return nil
	}
	text = strings.TrimFunc(text, isSpace)
	if code, ok := n.exact[[2]string{column, strings.ToLower(text)}]; ok {
		return []string{code}
	}
	if codes := n.loose[[2]string{column, LooseCode(text)}]; len(codes) > 0 {
		return codes
	}
	if codes := n.named[[2]string{column, Normal(text)}]; len(codes) > 0 {
		return codes
	}
	return n.codeAndName(column, text)
}

// codeAndName gives the code of a text that says a code and its name, either first, as
// "110 Civil works" or "Civil works (110)".
func (n *Names) codeAndName(column, text string) []string {
	words := strings.FieldsFunc(text, func(r rune) bool { return isSpace(r) || strings.ContainsRune("()[]:/–—", r) })
	if len(words) < 2 {
		return nil
	}
	for _, parts := range [...][2]string{
		{words[0], strings.Join(words[1:], " ")},
		{words[len(words)-1], strings.Join(words[:len(words)-1], " ")},
	} {
		codes := n.loose[[2]string{column, LooseCode(parts[0])}]
		if code, ok := n.exact[[2]string{column, strings.ToLower(parts[0])}]; ok {
			codes = []string{code}
		}
		if len(codes) == 1 && n.Called(column, codes[0], parts[1]) {
			return codes
		}
	}
	return nil
}

// begins gives the code of the project that a text begins with, and what follows it.
func (n *Names) begins(text string) (code, rest string) {
	text = strings.TrimFunc(text, isSpace)
	if len(n.Find("project", text)) > 0 {
		return "", ""
	}
	for i := len(text) - 1; i > 1; i-- {
		if !strings.ContainsRune("-./: _", rune(text[i])) {
			continue
		}
		if code, ok := n.exact[[2]string{"project", strings.ToLower(text[:i])}]; ok {
			return code, text[i+1:]
		}
		if codes := n.loose[[2]string{"project", LooseCode(text[:i])}]; len(codes) == 1 {
			return codes[0], text[i+1:]
		}
	}
	return "", ""
}

// follows gives the cost code that what follows a project is, or begins with before another
// sign; "" where it is none.
func (n *Names) follows(rest string) string {
	rest = strings.Trim(rest, "-./:_ ")
	first, _, _ := strings.Cut(strings.Map(func(r rune) rune {
		if strings.ContainsRune("-/:_", r) {
			return ' '
		}
		return r
	}, rest), " ")
	for _, text := range [...]string{rest, first} {
		if codes := n.Find("cost_code", text); text != "" && len(codes) == 1 {
			return codes[0]
		}
	}
	return ""
}

// LooseCode is a code without case, signs and leading zeros.
func LooseCode(code string) string {
	code = strings.TrimFunc(code, isSpace)
	if whole, zero, ok := strings.Cut(code, "."); ok && allDigits(whole) && strings.Trim(zero, "0") == "" {
		code = whole // as a spreadsheet writes a number
	}
	parts := strings.Split(code, ".") // 1.1 is not 11
	for i := range parts {
		if parts[i] = tight(parts[i]); strings.Contains(parts[i], "0") {
			parts[i] = zeros.ReplaceAllString(parts[i], "$1$2")
		}
	}
	return strings.Join(parts, ".")
}

// zeros lead a run of digits.
var zeros = regexp.MustCompile(`(^|[^0-9])0+([0-9])`)

// Mentioned gives the codes of the projects that a text names, by code or by whole
// name, each once: the longest run of words counts.
func (n *Names) Mentioned(text string) (codes []string) {
	codes, _ = n.mentions(text)
	return codes
}

// mentions gives the same, and how many words are left beside the names.
func (n *Names) mentions(text string) (codes []string, others int) {
	if n == nil {
		return nil, 0
	}
	words := strings.Fields(Normal(strings.Map(apart, text)))
	for i := 0; i < len(words); i++ {
		best := mention{}
		for _, m := range n.words[words[i]] {
			if len(m.words) > len(best.words) && i+len(m.words) <= len(words) &&
				slices.Equal(words[i:i+len(m.words)], m.words) {
				best = m
			}
		}
		if best.code != "" {
			if !slices.Contains(codes, best.code) {
				codes = append(codes, best.code)
			}
			i += len(best.words) - 1
		} else {
			others++
		}
	}
	return codes, others
}

// below tells whether a cost code stands below another.
func (n *Names) below(code, other string) bool {
	const deep = 20
	for range deep {
		if code = n.above[code]; code == "" || code == other {
			return code != ""
		}
	}
	return false
}

// Called tells whether a text is the name of what a code stands for.
func (n *Names) Called(column, code, text string) bool {
	return n.names[[2]string{column, code}] == Normal(text)
}
