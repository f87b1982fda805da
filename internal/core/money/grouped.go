package money

import "strings"

// Grouped writes a plain decimal, such as "-1234567.5", with commas between its thousands:
// "-1,234,567.5". Another text comes out as groups of its own letters; nothing is refused.
func Grouped(plain string) string {
	whole, part, pointed := strings.Cut(plain, ".")
	sign := ""
	if rest, negative := strings.CutPrefix(whole, "-"); negative {
		sign, whole = "-", rest
	}
	const group = 3
	var b strings.Builder
	b.WriteString(sign)
	for i := range len(whole) {
		if i > 0 && (len(whole)-i)%group == 0 {
			b.WriteByte(',')
		}
		b.WriteByte(whole[i])
	}
	if pointed {
		b.WriteByte('.')
		b.WriteString(part)
	}
	return b.String()
}
