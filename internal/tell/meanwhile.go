package tell

import (
	"fmt"
	"strings"
	"time"
)

// Clash is a field that two people changed: as it was when the second looked, as
// the first has left it, and as the second would. Empty texts are nothing.
type Clash struct{ Name, Was, Is, Would string }

// Meanwhile is a record that someone else changed since a form was shown.
type Meanwhile struct {
	Who    string
	At     int64 // UTC milliseconds
	Batch  int64
	What   string   // the kind of record, in the singular
	Key    []string // that tells it apart
	Fields []Clash
	More   int // records of which the same is true
}

// String says what happened, both values of each field, and what to do.
func (m Meanwhile) String() string {
	var b strings.Builder
	who := m.Who
	if who == "" {
		who = "Someone"
	}
	fmt.Fprintf(
		&b,
		"%s changed the %s %s meanwhile (%s UTC, batch %d): ",
		who,
		m.What,
		strings.Join(m.Key, ", "),
		time.UnixMilli(m.At).UTC().Format("2 Jan 2006 15:04"),
		m.Batch,
	)
	or := func(s string) string {
		if s == "" {
			return "nothing"
		}
		return s
	}
	for i, f := range m.Fields {
		if i > 0 {
			b.WriteString("; ")
		}
		fmt.Fprintf(
			&b,
			"%s was %s, is %s now, and yours is %s",
			strings.ReplaceAll(f.Name, "_", " "),
			or(f.Was),
			or(f.Is),
			or(f.Would),
		)
	}
	b.WriteString(". ")
	if m.More > 0 {
		fmt.Fprintf(&b, "The same is true of %s. ", Plural(m.More, "other", "others"))
	}
	b.WriteString(
		"Nothing was kept. What you typed is still in the form: send it again to put it in the place of theirs.",
	)
	return b.String()
}
