package right

import (
	_ "embed"
	"strings"
	"unicode"
)

//go:embed wellknown.txt
var wellKnownText string

// wellKnownWords are words that passwords are made of that are tried first: by themselves,
// twice, or with digits and signs around them.
var wellKnownWords = func() map[string]bool {
	out := make(map[string]bool)
	for _, line := range strings.Split(wellKnownText, "\n") {
		if line = strings.TrimSpace(line); line != "" && !strings.HasPrefix(line, "#") {
			out[line] = true
		}
	}
	return out
}()

// shortName is the length of a name that says something in a password.
const shortName = 4

// rows are what fingers run along.
var rows = []string{
	"abcdefghijklmnopqrstuvwxyz", "01234567890123456789", "qwertyuiopasdfghjklzxcvbnm", "qwertzuiopasdfghjklyxcvbnm", "azertyuiopqsdfghjklmwxcvbn",
	"1q2w3e4r5t6z7u8i9o0p", "1q2w3e4r5t6y7u8i9o0p", "1qaz2wsx3edc4rfv5tgb6yhn7ujm8ik,9ol.0p", "qazwsxedcrfvtgbyhnujmikolp", "qayxswedcvfrtgbnhzujmkiolp",
}

// leet are the signs that stand for letters.
var leet = strings.NewReplacer("0", "o", "1", "i", "3", "e", "4", "a", "5", "s", "7", "t", "@", "a", "$", "s", "!", "i")

// bare is a password without case, blanks and signs, nor digits at its ends.
func bare(s string) string {
	var b strings.Builder
	for _, r := range strings.ToLower(s) {
		if unicode.IsLetter(r) || unicode.IsDigit(r) {
			b.WriteRune(r)
		}
	}
	return strings.TrimFunc(b.String(), unicode.IsDigit)
}

// wellKnown tells whether a password is among those that are tried first: digits alone, one
// piece again and again, along the keys, or words of the list with digits about them.
func wellKnown(password string) bool {
	plain := strings.ToLower(strings.Join(strings.Fields(password), ""))
	if strings.Trim(plain, "0123456789.-/+") == "" || repeats(plain) || alongKeys(plain) {
		return true
	}
	for _, s := range []string{bare(password), bare(leet.Replace(plain)), strings.TrimRight(leet.Replace(strings.TrimRight(plain, "0123456789!?.-_")), "0123456789!?.-_")} {
		if s == "" || repeats(s) || alongKeys(s) || madeOf(s, 3) {
			return true
		}
	}
	return false
}

// madeOf tells whether a text is so many words of the list at most, one after the other.
func madeOf(s string, most int) bool {
	if s == "" {
		return true
	}
	if most == 0 {
		return false
	}
	for n := len(s); n > 0; n-- {
		if wellKnownWords[s[:n]] && madeOf(strings.Trim(s[n:], "0123456789"), most-1) {
			return true
		}
	}
	return false
}

// repeats tells whether a text is one piece of up to four letters again and again.
func repeats(s string) bool {
	for n := 1; n <= 4 && n < len(s); n++ {
		if strings.HasPrefix(strings.Repeat(s[:n], len(s)/n+1), s) {
			return true
		}
	}
	return false
}

// alongKeys tells whether a text runs along the keys, there or back, in two stretches at most.
func alongKeys(s string) bool {
	const shortest = 4
	for cut := 0; cut <= len(s)-shortest; cut++ {
		if (cut == 0 || cut >= shortest && along(s[:cut])) && along(s[cut:]) {
			return true
		}
	}
	return false
}

func along(s string) bool {
	back := []rune(s)
	for i, j := 0, len(back)-1; i < j; i, j = i+1, j-1 {
		back[i], back[j] = back[j], back[i]
	}
	for _, row := range rows {
		if strings.Contains(row, s) || strings.Contains(row, string(back)) {
			return true
		}
	}
	return false
}
