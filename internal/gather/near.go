package gather

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
)

// nearest gives the codes whose code or name is nearest to a text that stands for none,
// with the number of letters that differ; none where all differ by much.
func (n *Names) nearest(column, text string) (codes []string, distance int) {
	if n == nil {
		return nil, 0
	}
	const part = 6 // one letter of so many may differ
	word := Normal(text)
	most := len(word) / part
	if most == 0 {
		return nil, 0
	}
	best := most + 1
	see := func(name, code string) {
		d := differing(word, name, best+1)
		switch {
		case d < best:
			best, codes = d, []string{code}
		case d == best && d <= most && !slices.Contains(codes, code):
			codes = append(codes, code)
		}
	}
	for key, list := range n.named {
		if key[0] == column {
			for _, code := range list {
				see(key[1], code)
			}
		}
	}
	if best > most {
		return nil, 0
	}
	slices.Sort(codes)
	return codes, best
}

// differing is the number of letters by which two texts differ, put in, left out or
// changed; most where it is that or more.
func differing(a, b string, most int) int {
	x, y := []rune(a), []rune(b)
	if d := len(x) - len(y); max(d, -d) >= most {
		return most
	}
	row := make([]int, len(y)+1)
	for j := range row {
		row[j] = j
	}
	for i := range x {
		diagonal, least := row[0], i+1
		row[0] = i + 1
		for j := range y {
			d := diagonal
			if x[i] != y[j] {
				d = 1 + min(diagonal, row[j], row[j+1])
			}
			diagonal, row[j+1] = row[j+1], d
			least = min(least, d)
		}
		if least >= most {
			return most
		}
	}
	return min(row[len(y)], most)
}

// nearNames asks about names that stand for nothing that the office has, and are nearly
// those of something: each with what it may be.
func (f *finder) nearNames() {
	u := f.u
	if f.o.Names == nil || u.Skipped != "" || f.t.Name == "projects" || f.t.Name == "cost_codes" {
		return
	}
	const most = 5 // asked of one sheet
	asked := f.nearHeadings(most)
	for i, x := range u.Uses {
		if x.As != "project" && x.As != "cost_code" || x.Prefix {
			continue
		}
		seen, n := make(map[string]bool), 0
		u.data(f.s, func(l *Line) bool {
			const rows = 5_000 // that are looked at
			if n++; n > rows || len(seen) > sampled {
				return false
			}
			text := strings.TrimFunc(l.At(i).Text, isSpace)
			if text == "" || seen[text] {
				return true
			}
			seen[strings.Clone(text)] = true
			if _, told := Recode(append(u.Codes, f.o.Every...), x.As, text); told || len(f.o.Names.Find(x.As, text)) > 0 {
				return true
			}
			codes, d := f.o.Names.nearest(x.As, text)
			if len(codes) == 0 {
				return true
			}
			asked++
			u.ask(i, "codes."+x.As+"."+text, fmt.Sprintf(
				"%q is no %s that is known, and nearly that of %s, which differs by %s; say which it is",
				text, strings.ReplaceAll(x.As, "_", " "), f.o.Names.calls(x.As, codes), plural(d, "letter", "letters"),
			), codes...)
			return asked < most
		})
	}
}

// nearHeadings asks about headings that nearly name a project, in a sheet whose rows stand
// under headings of projects, and gives how many it asked about.
func (f *finder) nearHeadings(most int) (asked int) {
	u := f.u
	if u.Section != "project" || u.Nested > 0 {
		return 0
	}
	n := 0
	f.s.Each(func(l *Line) bool {
		const rows = 5_000
		if n++; n > rows || asked == most {
			return false
		}
		if l.N <= u.Head || l.Wrong != "" || l.Blank() || u.leaves(l) || u.repeatsHead(l) {
			return true
		}
		h, ok := u.headed(f.o.Names, l)
		if !ok || len(h.codes) > 0 || h.text == "" {
			return true
		}
		codes, d := f.o.Names.nearest("project", h.text)
		if len(codes) == 0 {
			return true
		}
		asked++
		u.ask(-1, "codes.project."+textOf(l), fmt.Sprintf(
			"the heading %q in row %d names no project that is known, and nearly %s, which differs by %s; say which it is",
			h.text, l.N, f.o.Names.calls("project", codes), plural(d, "letter", "letters"),
		), codes...)
		return true
	})
	return asked
}

// calls writes codes with their names.
func (n *Names) calls(column string, codes []string) string {
	var out []string
	for _, c := range codes {
		out = append(out, cmp.Or(strings.TrimSpace(c+" "+n.names[[2]string{column, c}]), c))
	}
	return strings.Join(out, " or ")
}
