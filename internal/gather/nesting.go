package gather

import (
	"regexp"
	"strconv"
	"strings"

	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// A list of activities without a column of what is above each may still tell it: by outline
// numbers, by a column of levels, or by how far names are indented. What has others below
// is a summary, and counts no work of its own.

// outlineCode is an outline number: 2.1.3.
var outlineCode = regexp.MustCompile(`^\d+(\.\d+)*\.?$`)

// levelHeads are heads of how deep activities are nested.
var levelHeads = wordsOf("level outlinelevel wbslevel indentlevel indent ebene gliederungsebene niveau niva livello nivel nivell tasklevel depth hierarchylevel")

// nesting finds how activities are nested, where no column says what is above each.
func (f *finder) nesting() {
	if f.t != record.Activities.Kind || f.uses("parent") || f.u.Canonical {
		return
	}
	at := f.u.column("activity")
	if at < 0 {
		return
	}
	if f.outlined(at) {
		f.u.Outline = true
		f.u.note("%q numbers activities by their place: it tells which is above which.", f.called(at))
		return
	}
	for i := range f.u.Uses {
		if f.u.Uses[i].As == AsExtra && f.m.Columns[f.u.Heads[i]] == "" && f.outlined(i) {
			f.u.Outline, f.u.OutlineAt = true, i+1
			f.u.note("%q numbers activities by their place: it tells which is above which.", f.called(i))
			return
		}
	}
	for i := range f.u.Uses {
		as := f.u.Uses[i].As
		if levelHeads[tight(f.u.Columns[i].Head)] && (as == AsExtra || as == "level") && f.m.Columns[f.u.Heads[i]] == "" && f.leveled(i, false) {
			f.u.Depth = i + 1
			f.u.Uses[i].As, f.u.Columns[i].As = AsNone, AsNone
			f.u.Columns[i].Certainty, f.u.Columns[i].Why = Sure, "it tells how deep activities are nested"
			f.u.note("%q tells how deep activities are nested: what has deeper ones below is a summary.", f.called(i))
			return
		}
	}
	if name := f.u.column("name"); name >= 0 && f.leveled(name, true) {
		f.u.Depth, f.u.Indent = name+1, true
		f.u.note("The names of activities are indented: what has others indented below is a summary.")
	}
}

// outlined tells a column of outline numbers, each its own, of which some are below others.
func (f *finder) outlined(at int) bool {
	codes := make(map[string]bool)
	nested, all, numbered := 0, 0, 0
	f.u.walk(f.s, f.o, everyRow, func(_ int, e end, l *Line) bool {
		text := strings.TrimFunc(l.At(at).Text, isSpace)
		if text == "" {
			return true
		}
		all++
		if outlineCode.MatchString(text) && !codes[e.project+"/"+outlineOf(text)] {
			numbered++
			codes[strings.Clone(e.project+"/"+outlineOf(text))] = true
			if codes[e.project+"/"+above(outlineOf(text))] {
				nested++
			}
		}
		return true
	})
	return nested > 0 && numbered*10 >= all*9
}

// leveled tells a column of which each row is at most one level deeper than the one before,
// by its number or by how far its text is indented, and some are.
func (f *finder) leveled(at int, indent bool) bool {
	deeper, fits, last := 0, true, -1
	f.u.walk(f.s, f.o, everyRow, func(_ int, _ end, l *Line) bool {
		d, ok := depthOf(l.At(at).Text, indent)
		if !ok {
			fits = indent
			return fits
		}
		if last >= 0 && d > last {
			deeper++
			fits = fits && (indent || d == last+1)
		}
		fits = fits && (last >= 0 || !indent || d == 0)
		last = d
		return fits
	})
	return fits && deeper > 0
}

// depthOf reads how deep a row is.
func depthOf(text string, indent bool) (int, bool) {
	trimmed := strings.TrimFunc(text, isSpace)
	if trimmed == "" {
		return 0, false
	}
	if indent {
		return strings.Index(text, trimmed), true
	}
	const most = 30
	n, err := strconv.Atoi(trimmed)
	return n, err == nil && n >= 0 && n < most
}

// outlineOf is an outline number without a point at its end.
func outlineOf(text string) string { return strings.TrimSuffix(text, ".") }

// above is the outline number one level up, or "".
func above(code string) string {
	i := strings.LastIndexByte(code, '.')
	if i < 0 {
		return ""
	}
	return code[:i]
}

// takesNoTime tells "0", "0 days" and "0d".
func takesNoTime(text string) bool {
	number := strings.TrimRight(strings.TrimFunc(text, isSpace), "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZéåø.? ")
	return number != "" && strings.Trim(number, "0.,") == "" && strings.ContainsRune(number, '0')
}

// nest finds what is above each activity, before rows are read.
func (r *reader) nest(s *Sheet) {
	if !r.Outline && r.Depth == 0 || r.Within != "" {
		return
	}
	r.nests, r.parents = make(map[int]string), make(map[int]bool)
	if r.Outline {
		r.nestByNumber(s)
		return
	}
	type open struct {
		depth, row int
		end
	}
	var stack []open
	r.walk(s, r.o, everyRow, func(_ int, e end, l *Line) bool {
		d, ok := depthOf(l.At(r.Depth-1).Text, r.Indent)
		if !ok || e.activity == "" {
			return true
		}
		for len(stack) > 0 && (stack[len(stack)-1].depth >= d || stack[len(stack)-1].project != e.project) {
			stack = stack[:len(stack)-1]
		}
		if len(stack) > 0 {
			up := stack[len(stack)-1]
			r.nests[l.N], r.parents[up.row] = up.activity, true
		}
		stack = append(stack, open{d, l.N, e})
		return true
	})
}

// nestByNumber does so by outline numbers.
func (r *reader) nestByNumber(s *Sheet) {
	at := r.OutlineAt - 1
	if at < 0 {
		at = r.column("activity")
	}
	type place struct {
		row int
		end
	}
	places := make(map[[2]string]place)
	r.walk(s, r.o, everyRow, func(_ int, e end, l *Line) bool {
		if text := strings.TrimFunc(l.At(at).Text, isSpace); outlineCode.MatchString(text) {
			places[[2]string{e.project, strings.Clone(outlineOf(text))}] = place{l.N, e}
		}
		return true
	})
	for key, p := range places {
		if up, ok := places[[2]string{key[0], above(key[1])}]; ok {
			r.nests[p.row], r.parents[up.row] = up.activity, true
		}
	}
}

// placed gives an activity its parent and kind by its place and how long it takes, where
// nothing else says them.
func (r *reader) placed(line *Line) {
	if r.t != record.Activities.Kind || r.Canonical || r.Within != "" {
		return
	}
	say := func(column, text string) {
		if f := &r.out.Fields[r.t.Index(column)]; f.Said == portfolio.Nothing {
			*f = portfolio.Field{Said: portfolio.Value, Text: text}
		}
	}
	if up := r.nests[line.N]; up != "" {
		say("parent", up)
	}
	switch {
	case r.parents[line.N]:
		say("kind", "summary")
	case r.Duration > 0 && takesNoTime(line.At(r.Duration-1).Text):
		say("kind", "milestone")
	case r.nests != nil:
		say("kind", "task")
	}
}
