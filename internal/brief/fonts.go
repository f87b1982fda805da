package brief

import (
	_ "embed"
	"strings"
	"sync"
	"unicode"

	"golang.org/x/image/font/sfnt"
	"golang.org/x/image/math/fixed"
)

//go:embed fonts/archivo-regular.ttf
var archivoRegular []byte

//go:embed fonts/archivo-bold.ttf
var archivoBold []byte

//go:embed fonts/dejavu.ttf
var dejavu []byte

//go:embed fonts/han.ttf
var droid []byte

//go:embed fonts/hangul.ttf
var nanum []byte

// The faces: Archivo at two weights, and others for what it lacks.
type face uint8

const (
	regular face = iota
	bold
	wide   // of wide coverage
	han    // Chinese and Japanese
	hangul // Korean
	faces
)

var fontBytes = [faces][]byte{archivoRegular, archivoBold, dejavu, droid, nanum}

// missing stands for what no font has.
const missing = '\u25af'

// fontSet measures texts. It keeps what it has measured.
type fontSet struct {
	mu    sync.Mutex
	fonts [faces]*sfnt.Font
	buf   sfnt.Buffer
	known [faces]map[rune]float64 // advance for size 1; below zero: the font lacks it
}

var fonts = sync.OnceValue(func() *fontSet {
	s := &fontSet{}
	for f := range faces {
		font, err := sfnt.Parse(fontBytes[f])
		if err != nil {
			panic(err) // they are embedded
		}
		s.fonts[f], s.known[f] = font, make(map[rune]float64)
	}
	return s
})

// advance gives the width of a character at size 1; ok is false where the font
// lacks it.
func (s *fontSet) advance(f face, r rune) (w float64, ok bool) {
	if w, known := s.known[f][r]; known {
		return w, w >= 0
	}
	w = -1
	if r > 0xffff {
		s.known[f][r] = w
		return w, false // PDF fonts cannot hold it
	}
	if i, err := s.fonts[f].GlyphIndex(&s.buf, r); err == nil && i != 0 {
		if a, err := s.fonts[f].GlyphAdvance(&s.buf, i, fixed.I(1000), 0); err == nil {
			w = float64(a) / 64 / 1000
		}
	}
	s.known[f][r] = w
	return w, w >= 0
}

// of gives the first face that has a character, and the character's width; below zero where
// none has it.
func (s *fontSet) of(first face, r rune) (face, float64) {
	w, ok := s.advance(first, r)
	for f := max(first, bold) + 1; !ok && f < faces; f++ {
		if w, ok = s.advance(f, r); ok {
			return f, w
		}
	}
	return first, w
}

// run is a stretch of a text in one face.
type run struct {
	face  face
	text  string
	width float64 // at size 1
}

// printed gives what stands for a character on paper; below zero where nothing does.
func printed(r rune) rune {
	switch {
	case r == '\t' || r == '\n' || r == '\r' || r == '\u00a0' || r == '\u2028':
		return ' '
	case r == unicode.ReplacementChar:
		return missing
	case unicode.IsControl(r) || unicode.Is(unicode.Cf, r) || unicode.Is(unicode.Variation_Selector, r):
		return -1
	}
	return r
}

// lacking gives the characters of a text that no font has.
func (s *fontSet) lacking(text string) (out []rune) {
	s.mu.Lock()
	defer s.mu.Unlock()
	for _, r := range text {
		if r = printed(r); r > 0 {
			if _, w := s.of(regular, r); w < 0 {
				out = append(out, r)
			}
		}
	}
	return out
}

// runs parts a text by the faces that have its characters. What no font has,
// and what PDF fonts cannot hold, becomes a box; what cannot be seen is left
// out.
func (s *fontSet) runs(text string, b bool) []run {
	s.mu.Lock()
	defer s.mu.Unlock()
	first := regular
	if b {
		first = bold
	}
	var out []run
	var now strings.Builder
	cur, width := first, 0.0
	flush := func() {
		if now.Len() > 0 {
			out = append(out, run{cur, now.String(), width})
			now.Reset()
			width = 0
		}
	}
	for _, r := range text {
		r = printed(r)
		if r < 0 {
			continue
		}
		f, w := s.of(first, r)
		if w < 0 {
			r = missing
			f, w = s.of(wide, r)
		}
		if f != cur {
			flush()
			cur = f
		}
		now.WriteRune(r)
		width += w
	}
	flush()
	return out
}

// width measures a text.
func width(text string, size float64, b bool) float64 {
	w := 0.0
	for _, r := range fonts().runs(visual(text), b) {
		w += r.width
	}
	return w * size
}

// wrap breaks a text into lines no wider than most, at spaces where it can. The lines of a
// paragraph that is read from the right say so of themselves.
func wrap(text string, size, most float64, b bool) []string {
	var out []string
	space := width(" ", size, b)
	for para := range strings.SplitSeq(strings.ReplaceAll(text, "\r\n", "\n"), "\n") {
		first := len(out)
		line, used := "", 0.0
		for word := range strings.FieldsSeq(para) {
			between := space
			for _, part := range breaks(word) {
				w := width(part, size, b)
				if line != "" && used+between+w > most {
					out = append(out, line)
					line, used = "", 0
				}
				if w > most { // longer than the line
					for head, rest := cut(part, size, most, b); rest != ""; head, rest = cut(part, size, most, b) {
						out = append(out, head)
						part = rest
					}
					w = width(part, size, b)
				}
				if line != "" && between > 0 {
					line += " "
					used += space
				}
				line += part
				used += w
				between = 0
			}
		}
		if out = append(out, line); fromRight(para) {
			for i := range out[first:] {
				out[first+i] = rightToLeft + out[first+i]
			}
		}
	}
	return out
}

// cut parts a word where it no longer fits.
func cut(word string, size, most float64, b bool) (head, rest string) {
	w := 0.0
	for i, r := range word {
		c := width(string(r), size, b)
		if w += c; w > most && i > 0 {
			return word[:i], word[i:]
		}
	}
	return word, ""
}

// fitted shortens a text to a width with an ellipsis.
func fitted(text string, size, most float64, b bool) string {
	if width(text, size, b) <= most {
		return text
	}
	r := []rune(text)
	for len(r) > 1 && width(string(r)+"…", size, b) > most {
		r = r[:len(r)-1]
	}
	return strings.TrimRight(string(r), " ") + "…"
}
