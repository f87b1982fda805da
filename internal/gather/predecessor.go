package gather

import (
	"cmp"
	"fmt"
	"regexp"
	"strings"
)

// A cell of predecessors names several activities, each with the kind of link and its lag:
// "14FS+2 d; 9". What it calls them by, their codes, the numbers of their rows or their
// names, is found by the column; the letters of the kind are those of the writer's language.

// An entry is one link that such a cell tells.
type entry struct {
	ref   string // as it is written
	found bool   // ref is known
	kind  string // FS, SS, FF or SF
	lag   int    // working days
	open  bool   // it can be read in two ways
}

// linkLetters are the kinds of links by what they are called: begin and end in English,
// German, French, Spanish, Italian and Dutch.
var linkLetters = map[string]string{
	"FS": "FS", "SS": "SS", "FF": "FF", "SF": "SF",
	"EA": "FS", "EE": "FF", "AE": "SF",
	"FD": "FS", "DD": "SS", "DF": "SF",
	"FC": "FS", "CC": "SS", "CF": "SF",
	"FI": "FS", "II": "SS", "IF": "SF",
	"EB": "FS", "BB": "SS", "BE": "SF",
}

// AA is start-start in German and finish-finish in Swedish and Danish, where AS and SA
// stand beside it.
const (
	bothWays    = "AA"
	finishStart = "AS"
	startFinish = "SA"
)

// tongue is how a column of links names their kinds.
type tongue struct {
	german, nordic bool
	unit           string // of a bare lag, and of a vague one
	week           int    // working days of a week
}

// kind gives the kind of link that two letters name, "" for none.
func (t tongue) kind(letters string) string {
	switch letters = strings.ToUpper(letters); {
	case letters == bothWays && t.german && !t.nordic:
		return "SS"
	case letters == bothWays && t.nordic && !t.german:
		return "FF"
	case letters == finishStart && t.nordic:
		return "FS"
	case letters == startFinish && t.nordic:
		return "SF"
	}
	return linkLetters[letters]
}

var (
	kindBehind = regexp.MustCompile(`^(.*?)[\s:([]*([A-Za-z]{2})$`)
	kindBefore = regexp.MustCompile(`^([A-Za-z]{2})[\s:.-]+(.+)$`)
	lagBehind  = regexp.MustCompile(`^(.*?)[\s:]*([+\-−–]\s*[0-9][0-9.,]*\s*[\pL% .]*)$`)
	lagUnsaid  = regexp.MustCompile(`^(.*?[\s:([]*[A-Za-z]{2})[\s:]*([0-9][0-9.,]*\s*[\pL%]*)$`)
	// shapes are the letters of kinds behind what a cell names, before a lag or the end.
	shapes = regexp.MustCompile(`(?i)[0-9\s:(\[]([A-Z]{2})(?:$|[\s)\]]*(?:[+\-−–;,\n]|$))`)
)

// tongueOf begins with what the head of a column tells of its language.
func tongueOf(head string) (t tongue) {
	switch h := tight(head); {
	case strings.HasPrefix(h, "vorgang"), strings.HasPrefix(h, "nachfolger"):
		t.german = true
	case strings.HasPrefix(h, "forega"), strings.HasPrefix(h, "forgang"), strings.HasPrefix(h, "efterf"):
		t.nordic = true
	}
	return t
}

// hear learns from a cell which language its kinds are in.
func (t *tongue) hear(text string) {
	for _, m := range shapes.FindAllStringSubmatch(text, -1) {
		switch strings.ToUpper(m[1]) {
		case "EA", "AE", "EE":
			t.german = true
		case finishStart, startFinish:
			t.nordic = true
		}
	}
}

// entries parts a cell. Known tells the names that its column uses.
func (t tongue) entries(text string, known func(string) bool) (out []entry, why string) {
	text = strings.TrimFunc(text, isSpace)
	if isBlank(text) || isDash(text) {
		return nil, ""
	}
	if known(text) {
		return []entry{{ref: text, found: true, kind: "FS"}}, ""
	}
	for piece := range strings.FieldsFuncSeq(text, func(r rune) bool { return r == ';' || r == '\n' || r == '|' }) {
		if piece = strings.TrimFunc(piece, isSpace); piece == "" {
			continue
		}
		list, why := t.piece(piece, known)
		if why != "" {
			return nil, why
		}
		out = append(out, list...)
	}
	return out, ""
}

// piece reads what stands between semicolons: one entry, or several that commas or, at
// last, spaces part. A comma is a decimal one where nothing else makes sense of it.
func (t tongue) piece(text string, known func(string) bool) ([]entry, string) {
	one, why := t.entry(text, known)
	if one.found && (why == "" || one.open) {
		return []entry{one}, why
	}
	for _, parts := range [...][]string{strings.Split(text, ","), strings.Fields(text), strings.Split(text, "/")} {
		if len(parts) < 2 { //nolint:mnd // one part is the whole
			continue
		}
		var all []entry
		found := true
		for _, p := range parts {
			e, why := t.entry(strings.TrimFunc(p, isSpace), known)
			found = found && e.found && why == ""
			all = append(all, e)
		}
		if found {
			return all, ""
		}
	}
	if parts := strings.Split(text, ","); len(parts) > 1 && !one.found {
		var all []entry
		for _, p := range parts {
			if p = strings.TrimFunc(p, isSpace); p == "" {
				continue
			}
			e, why := t.entry(p, known)
			if why != "" {
				return nil, why
			}
			all = append(all, e)
		}
		return all, ""
	}
	return []entry{one}, why
}

// entry reads one link. Of several ways to read it the first whose activity is known
// counts: whole, with a kind, with a lag, with both.
func (t tongue) entry(text string, known func(string) bool) (entry, string) {
	bare := strings.TrimFunc(strings.TrimSuffix(strings.TrimSuffix(text, ")"), "]"), isSpace)
	if known(text) {
		return entry{ref: text, found: true, kind: "FS"}, ""
	}
	heads, lags := []string{bare}, []string{""}
	if m := lagBehind.FindStringSubmatch(bare); m != nil {
		heads, lags = append(heads, m[1]), append(lags, m[2])
	}
	if m := lagUnsaid.FindStringSubmatch(bare); m != nil {
		heads, lags = append(heads, m[1]), append(lags, "+"+m[2])
	}
	var guess entry
	guessed := ""
	for i, head := range heads {
		head = strings.TrimRight(head, " \t:([")
		if known(head) && !(strings.HasPrefix(lags[i], "+") && i > 1) {
			e := entry{ref: head, found: true, kind: "FS"}
			var why string
			e.lag, why = t.lag(lags[i], text)
			return e, why
		}
		for _, p := range [...][]string{kindBehind.FindStringSubmatch(head), turned(kindBefore.FindStringSubmatch(head))} {
			if p == nil || t.kind(p[2]) == "" {
				continue
			}
			ref := strings.TrimRight(p[1], " \t:([,")
			e := entry{ref: ref, found: known(ref), kind: t.kind(p[2])}
			lag, why := t.lag(lags[i], text)
			if rest := strings.TrimPrefix(lags[i], "+"); i > 0 && rest != lags[i] && !strings.Contains(text, "+") && known(rest) {
				why = fmt.Sprintf("%q: %s can be a lag or another activity; write +%s d, or part them by a semicolon", text, rest, rest)
				e.open = true
			}
			e.lag = lag
			if e.found {
				return e, why
			}
			if guess.ref == "" || lags[i] != "" {
				guess, guessed = e, why
			}
		}
		if p := kindBehind.FindStringSubmatch(head); p != nil && strings.EqualFold(p[2], bothWays) && known(strings.TrimRight(p[1], " :([,")) {
			return entry{ref: p[1], found: true}, fmt.Sprintf("%q: %s is start-start in one language and finish-finish in another; write SS or FF", text, bothWays)
		}
	}
	if guess.ref == "" {
		guess = entry{ref: cmp.Or(heads[len(heads)-1], bare), kind: "FS"}
		if last := lags[len(lags)-1]; guess.ref == bare || !strings.HasPrefix(last, "+") {
			return entry{ref: bare, kind: "FS"}, "" // a dash may be part of a code
		}
		guess.lag, guessed = t.lag(lags[len(lags)-1], text)
		if guessed != "" {
			return entry{ref: bare, kind: "FS"}, ""
		}
	}
	return guess, guessed
}

// turned gives the parts of a kind that stands before its activity as those of one behind.
func turned(m []string) []string {
	if m == nil {
		return nil
	}
	return []string{m[0], m[2], m[1]}
}

// lag reads what is added to a link, in working days of its successor.
func (t tongue) lag(text, whole string) (int, string) {
	if text = strings.TrimFunc(text, isSpace); text == "" {
		return 0, ""
	}
	minus := !strings.HasPrefix(text, "+")
	rest := strings.TrimLeft(text, "+-−– ")
	if strings.Contains(rest, "%") {
		return 0, fmt.Sprintf("%q: a lag in percent of a duration is not kept; write it in working days", whole)
	}
	s, why := readSpan(strings.ToLower(rest), cmp.Or(t.unit, t.vague()), t.week)
	if why != "" {
		return 0, fmt.Sprintf("%q: the lag %s", whole, why)
	}
	if s.elapsed && s.days.Sign() != 0 {
		return 0, fmt.Sprintf("%q: a lag in days of any kind is not kept; write it in working days", whole)
	}
	n, ok := s.whole()
	if !ok {
		return 0, fmt.Sprintf("%q: the lag is %s working days; write a whole number", whole, s.days.FloatString(2))
	}
	if minus {
		n = -n
	}
	return n, ""
}

// vague is the unit of a lag whose word is days in one language and hours in another: a
// German one means days.
func (t tongue) vague() string {
	if t.german {
		return InDays
	}
	return ""
}
