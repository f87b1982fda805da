package gather

import (
	"fmt"
	"maps"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
)

// scales5 are the words by which people state likelihood and impact, from 1 to 5. Those
// of three steps stand beside them: the words that both have mean one or the other, and
// are asked about unless the column has a word that only five steps have.
var scales5 = func() (out []map[string]string) {
	five := func(list string) {
		m := make(map[string]string)
		for i, words := range strings.Split(list, "|") {
			for w := range strings.SplitSeq(words, "/") {
				m[Normal(w)] = strconv.Itoa(i + 1)
			}
		}
		out = append(out, m)
	}
	five("rare/remote|unlikely|possible|likely/probable|almost certain/certain")
	five("very unlikely|unlikely|possible|likely|very likely")
	five("improbable|remote|occasional|probable|frequent")
	five("very low|low|medium/moderate|high|very high")
	five("insignificant/negligible|minor|moderate|major|severe/catastrophic/critical/extreme")
	five("negligible|minor|moderate|significant|severe")
	five("sehr unwahrscheinlich|unwahrscheinlich|möglich|wahrscheinlich|sehr wahrscheinlich")
	five("sehr gering/sehr niedrig|gering/niedrig|mittel|hoch|sehr hoch")
	five("svært lite sannsynlig|lite sannsynlig|mulig|sannsynlig|svært sannsynlig")
	five("svært lav/meget lav|lav|middels|høy|svært høy/meget høy")
	five("mycket låg|låg|medel|hög|mycket hög")
	five("très faible|faible|moyen/moyenne|élevé/élevée|très élevé/très élevée")
	five("rare|peu probable|possible|probable|quasi certain")
	five("muy bajo/muy baja|bajo/baja|medio/media|alto/alta|muy alto/muy alta")
	for _, three := range [...]string{
		"low/l|medium/m|high/h", "gering/niedrig|mittel|hoch", "lav|middels|høy", "låg|medel|hög",
		"faible|moyen/moyenne|élevé/élevée", "bajo/baja|medio/media|alto/alta", "unlikely|possible|likely", "minor|moderate|major",
	} {
		m := make(map[string]string)
		for i, words := range strings.Split(three, "|") {
			for w := range strings.SplitSeq(words, "/") {
				m[Normal(w)] = "of three, " + strconv.Itoa(i+1)
			}
		}
		out = append(out, m)
	}
	return out
}()

// scaled are the columns of steps from 1 to 5.
func scaled(column string) bool { return column == "likelihood" || column == "impact" }

// stepBehind is a step behind its word: "Likely (4)".
var stepBehind = regexp.MustCompile(`^[^0-9]+[(\[]([1-5])[)\]]$`)

// stepOf reads "4", "4 - High", "(3) possible" and "Likely (4)", and else gives the word.
func stepOf(text string) (n, word string) {
	word = Normal(text)
	if text != "" && text[0] >= '1' && text[0] <= '5' {
		word = Normal(brackets.ReplaceAllString(text, "")) // 4 (60-80%)
	}
	first, rest, _ := strings.Cut(word, " ")
	if len(first) == 1 && first >= "1" && first <= "5" && (rest == "" || !strings.ContainsAny(rest, "0123456789")) {
		return first, ""
	}
	if m := stepBehind.FindStringSubmatch(strings.TrimFunc(text, isSpace)); m != nil {
		return m[1], ""
	}
	return "", word
}

// scaleOf gives the numbers of the words of a column, where all are words of one scale,
// and all scales that have them agree; nil where they are not, or do not.
func scaleOf(words map[string]bool) map[string]string {
	var found map[string]string
	for _, s := range scales5 {
		all := true
		for w := range words {
			all = all && s[w] != ""
		}
		if !all {
			continue
		}
		means := make(map[string]string, len(words))
		for w := range words {
			means[w] = s[w]
		}
		if found != nil && !maps.Equal(found, means) {
			return nil
		}
		found = means
	}
	return found
}

// How words of likelihood and impact that fit several scales can count.
const (
	FiveSteps = "of five"         // each as the word of five steps that it is
	OneTo5    = "of three, 1-3-5" // low, middle and high of three
	TwoTo4    = "of three, 2-3-4"
	TenSteps  = "of ten"       // 1 to 10, two of which are one of five
	Hundred   = "of a hundred" // percents, twenty of which are one of five
	FromTop   = "one is most"  // 1 is the highest of five
	AsTheyAre = "one is least" // 1 is the lowest
)

// ScaleNames are the scales that words can be said to be of.
var ScaleNames = []string{FiveSteps, OneTo5, TwoTo4, TenSteps, Hundred, FromTop, AsTheyAre}

// threeSteps are the numbers that three steps stand for.
var threeSteps = map[string]map[string]string{
	OneTo5: {"1": "1", "2": "3", "3": "5"},
	TwoTo4: {"1": "2", "2": "3", "3": "4"},
}

// fits gives what words mean on each scale that has them all.
func fits(words map[string]bool) map[string]map[string]string {
	out := make(map[string]map[string]string)
	for _, s := range scales5 {
		five, three := make(map[string]string), make(map[string]string)
		for w := range words {
			switch n, of := s[w], ""; {
			case n == "":
			case strings.HasPrefix(n, "of three, "):
				of = strings.TrimPrefix(n, "of three, ")
				three[w] = of
			default:
				five[w] = n
			}
		}
		if len(five) == len(words) && out[FiveSteps] == nil {
			out[FiveSteps] = five
		}
		if len(three) == len(words) {
			for _, name := range [...]string{OneTo5, TwoTo4} {
				if out[name] == nil {
					out[name] = make(map[string]string)
					for w, n := range three {
						out[name][w] = threeSteps[name][n]
					}
				}
			}
		}
	}
	return out
}

// scales finds what words mean in the columns of likelihood and impact. Words that are of
// several scales are asked about.
func (f *finder) scales() {
	for i, x := range f.u.Uses {
		if !scaled(x.As) {
			continue
		}
		if f.otherScale(i) {
			continue
		}
		words := make(map[string]bool)
		f.u.data(f.s, func(l *Line) bool {
			if n, w := stepOf(l.At(i).Text); n == "" && w != "" && !saysNothing(l.At(i).Text) && !isDash(l.At(i).Text) {
				words[w] = true
			}
			return len(words) < 20
		})
		if len(words) == 0 {
			continue
		}
		means := scaleOf(words)
		all := fits(words)
		switch {
		case all[f.m.Scale] != nil:
			means = all[f.m.Scale]
		case means != nil && !slices.ContainsFunc(slices.Collect(maps.Values(means)), func(n string) bool { return len(n) > 1 }):
		case len(all) > 0:
			f.askScale(i, words, all)
			continue
		default:
			continue
		}
		f.u.Uses[i].Words = means
		var told []string
		for _, w := range slices.SortedFunc(maps.Keys(means), func(a, b string) int { return strings.Compare(means[a]+a, means[b]+b) }) {
			told = append(told, means[w]+" "+w)
		}
		f.u.note("%s: its words are taken as %s.", f.called(i), strings.Join(told, ", "))
	}
}

// topFirst are legends by which one is the highest step.
var topFirst = regexp.MustCompile(`(?i)\b1\s*[=:–-]+\s*(?:very high|highest|high|critical|severe|certain|almost certain|sehr hoch|hoch|svært høy|høy|très élevé|élevé|muy alto|alto)`)

// otherScale finds numbers that are on no scale of one to five, or on one whose first is
// the highest, and asks how they count; true where it did, or was told.
func (f *finder) otherScale(i int) bool {
	const five, ten, hundred = 5, 10, 100
	most, where := 0.0, ""
	f.u.data(f.s, func(l *Line) bool {
		text := strings.TrimSuffix(strings.TrimFunc(l.At(i).Text, isSpace), "%")
		n, err := strconv.ParseFloat(strings.TrimSpace(text), 64)
		if f.s.shares[i] && l.At(i).Kind == Number {
			n *= hundred
		}
		if err == nil && n > most {
			most, where = n, strings.Clone(l.At(i).Text)
		}
		return true
	})
	legend := ""
	for _, r := range f.rows {
		if text := textOf(&Line{Cells: r.cells}); topFirst.MatchString(text) {
			legend = text
		}
	}
	asks := func(text string, choices ...string) bool {
		if slices.Contains(choices, f.m.Scale) {
			f.u.Uses[i].Scale = f.m.Scale
		} else if !slices.ContainsFunc(f.u.Questions, func(q Question) bool { return q.About == "scale" }) {
			f.u.ask(i, "scale", text, choices...)
		}
		return true
	}
	switch {
	case most > five && most <= ten:
		return asks(fmt.Sprintf("%s: %s is above five; say on which scale it is", f.called(i), where), TenSteps)
	case most > ten && most <= hundred:
		return asks(fmt.Sprintf("%s: %s is above five; say on which scale it is", f.called(i), where), Hundred)
	case legend != "" && most > 0:
		return asks(fmt.Sprintf("%q says that one is the highest; here it is the lowest: say how %s counts", shorten(legend, 60), f.called(i)), FromTop, AsTheyAre)
	}
	return false
}

// onScale gives the step of five that a number of another scale is.
func onScale(n, scale string) string {
	v, err := strconv.ParseFloat(strings.TrimSpace(strings.TrimSuffix(n, "%")), 64)
	if err != nil {
		return n
	}
	const five = 5
	step := 0
	switch scale {
	case TenSteps:
		step = int(math.Ceil(v / 2))
	case Hundred:
		step = int(math.Ceil(v / 20))
	case FromTop:
		step = five + 1 - int(v)
	default:
		return n
	}
	return strconv.Itoa(min(max(step, 1), five))
}

// askScale asks on which scale words are, once for a sheet.
func (f *finder) askScale(i int, words map[string]bool, all map[string]map[string]string) {
	if slices.ContainsFunc(f.u.Questions, func(q Question) bool { return q.About == "scale" }) {
		return
	}
	var choices []string
	for _, name := range ScaleNames {
		if all[name] != nil {
			choices = append(choices, name)
		}
	}
	f.u.ask(i, "scale", fmt.Sprintf(
		"%s: %s can be words of several scales; say on which they are",
		f.called(i), strings.Join(slices.Sorted(maps.Keys(words)), ", "),
	), choices...)
}

// yetToCome tells the words by which people say that a number is yet to come.
func yetToCome(text string) bool {
	switch Normal(text) {
	case "tbd", "tba", "tbc":
		return true
	}
	return false
}

// saysNothing tells the words by which people fill a cell of a number or a day that
// has none.
func saysNothing(text string) bool {
	const most = 8 // letters and points
	if text == "" || len(text) > most || text[0] >= '0' && text[0] <= '9' {
		return false
	}
	switch Normal(text) {
	case "na", "n a", "nv", "n v", "tbd", "tba", "tbc", "k a", "i t", "n v t", "s o", "n d", "entf":
		return true
	}
	return false
}
