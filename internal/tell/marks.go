package tell

import "strings"

// Stretch is a part of a text that was said before as well, or is new, or was said before alone.
type Stretch struct {
	Text      string
	New, Gone bool
}

// Marks tells, word by word, what of a text is new beside what was said before, and what of that
// is gone: as many words as can be stay. Without something before it all is one stretch.
func Marks(was, is string) (out []Stretch) {
	a, b := strings.Fields(was), strings.Fields(is)
	if len(a) == 0 || len(b) == 0 {
		return []Stretch{{Text: is}}
	}
	// longest[i][j] is how many words a[i:] and b[j:] have in common, in their order.
	longest := make([][]int, len(a)+1)
	for i := range longest {
		longest[i] = make([]int, len(b)+1)
	}
	for i := len(a) - 1; i >= 0; i-- {
		for j := len(b) - 1; j >= 0; j-- {
			if a[i] == b[j] {
				longest[i][j] = longest[i+1][j+1] + 1
			} else {
				longest[i][j] = max(longest[i+1][j], longest[i][j+1])
			}
		}
	}
	add := func(word string, isNew, gone bool) {
		if n := len(out); n > 0 && out[n-1].New == isNew && out[n-1].Gone == gone {
			out[n-1].Text += " " + word
			return
		}
		out = append(out, Stretch{word, isNew, gone})
	}
	i, j := 0, 0
	for i < len(a) || j < len(b) {
		switch {
		case i < len(a) && j < len(b) && a[i] == b[j]:
			add(b[j], false, false)
			i, j = i+1, j+1
		case j == len(b) || i < len(a) && longest[i+1][j] >= longest[i][j+1]:
			add(a[i], false, true)
			i++
		default:
			add(b[j], true, false)
			j++
		}
	}
	return out
}
