package tell

import (
	"fmt"
	"strings"

	"turret/internal/core/figure"
)

// Phrase is a stretch of a sentence. One that states a figure says which; one
// that leads to a list says to what: a standing, or what moved. The tone is
// that of a standing, or "".
type Phrase struct {
	Text   string
	States bool
	Figure figure.ID
	To     string
	Tone   string
}

// ToMoved is where a phrase about what recovered leads.
const ToMoved = "moved"

// Plain is a sentence without what it leads to.
func Plain(list []Phrase) string {
	var b strings.Builder
	for _, p := range list {
		b.WriteString(p.Text)
	}
	return b.String()
}

// speech is a sentence being said.
type speech struct{ out []Phrase }

func (s *speech) text(format string, args ...any) {
	s.out = append(s.out, Phrase{Text: fmt.Sprintf(format, args...)})
}

func (s *speech) figure(id figure.ID, text, tone string) {
	s.out = append(s.out, Phrase{Text: text, States: true, Figure: id, Tone: tone})
}

func (s *speech) link(to, text, tone string) {
	s.out = append(s.out, Phrase{Text: text, To: to, Tone: tone})
}
