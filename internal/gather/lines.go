package gather

import (
	"encoding/hex"
	"fmt"
	"hash/fnv"
	"hash/maphash"
	"slices"
	"strings"

	"turret/internal/core/portfolio"
)

// How postings get a number of their own, where a ledger numbers documents of several
// lines, or nothing.
const (
	ByItem    = "item"    // document and line
	ByContent = "content" // document and what the line says
)

// items are the heads under which ledgers number the lines of a document.
var items = wordsOf(
	"item line pos position lineno lineitem linje linjenr zeile posten positionsnr ligne linea regel rad lineno",
)

// documents finds whether documents have several lines that differ: then each line gets
// a number made of both. A ledger without numbers gets them from what its lines say.
type documents struct {
	at      int // the column of documents
	first   map[uint64]uint64
	several map[uint64]bool
	last    string // the document of the row before
	certain bool   // lines without a number are of the document above
}

// documents begins to look at the documents of postings; nil where there is nothing to
// look at.
func (f *finder) documents() *documents {
	if f.t.Name != "postings" || f.u.Skipped != "" {
		return nil
	}
	at := f.u.column("posting")
	if at >= 0 {
		return &documents{at: at, first: make(map[uint64]uint64), several: make(map[uint64]bool)}
	}
	if f.u.Fixed["posting"] == "" && !f.lacks("date") {
		f.u.Number = ByContent
		f.u.note(
			"No column numbers the postings: each gets a number made of what it says, so that the same lines again change nothing.",
		)
	}
	return nil
}

// see takes a row.
func (d *documents) see(u *Understanding, l *Line) {
	if d == nil {
		return
	}
	text := strings.TrimFunc(l.At(d.at).Text, isSpace)
	if text == "" && slices.Contains(u.Down, d.at) {
		text = d.last
		d.certain = true
	}
	if text == "" {
		return
	}
	d.last = strings.Clone(text)
	doc, says := hashOf(text), u.says(l)
	if was, ok := d.first[doc]; !ok {
		d.first[doc] = says
	} else if was != says {
		d.several[doc] = true
	}
}

// settle says how postings are numbered, once all rows were seen.
func (d *documents) settle(u *Understanding) {
	if d == nil || len(d.several) == 0 {
		return
	}
	const few = 3 // documents said twice may be an error of the file
	item := slices.IndexFunc(u.Columns, func(c Column) bool { return items[tight(c.Head)] && c.As == AsExtra })
	switch {
	case item >= 0:
		u.Number, u.Item = ByItem, item+1
		u.note(
			"%s with several lines: their postings are numbered by document and %q.",
			plural(len(d.several), "document", "documents"),
			u.Columns[item].Head,
		)
	case len(d.several) >= few || d.certain:
		u.Number = ByContent
		u.note(
			"%s with several lines, which nothing numbers: their postings get numbers made of what they say.",
			plural(len(d.several), "document", "documents"),
		)
	}
}

// seed is of hashes that are compared within one reading.
var seed = maphash.MakeSeed()

func hashOf(text string) uint64 { return maphash.String(seed, text) }

// says stands for what a row says, the columns that are only kept beside left out.
func (l *Layout) says(line *Line) uint64 {
	var h maphash.Hash
	h.SetSeed(seed)
	for i := range line.Cells {
		if i < len(l.Uses) && l.Uses[i].As != AsExtra && l.Uses[i].As != AsNone {
			_, _ = h.WriteString(strings.TrimFunc(line.Cells[i].Text, isSpace))
			_ = h.WriteByte(0)
		}
	}
	return h.Sum64()
}

// findSeveral finds which documents have several lines, before rows are read.
func (r *reader) findSeveral(s *Sheet) {
	at := r.column("posting")
	if r.Number == "" || at < 0 {
		return
	}
	r.several = make(map[string]bool)
	if s.Format == handed {
		return
	}
	seen := make(map[uint64]bool)
	above := ""
	r.data(s, func(l *Line) bool {
		text := strings.TrimFunc(l.At(at).Text, isSpace)
		if text == "" && slices.Contains(r.Down, at) {
			text = above
		}
		above = strings.Clone(text)
		if doc := hashOf(text); seen[doc] {
			r.several[strings.Clone(text)] = true
		} else {
			seen[doc] = true
		}
		return true
	})
}

// numbered gives a line of a document its own number.
func (r *reader) numbered(line *Line, handed bool) {
	if r.Number == "" {
		return
	}
	f := &r.out.Fields[r.t.Index("posting")]
	if f.Said == portfolio.Value && !r.several[f.Text] && !handed {
		return
	}
	var own string
	if r.Number == ByItem && r.Item > 0 {
		own = strings.TrimFunc(line.At(r.Item-1).Text, isSpace)
	}
	if own == "" {
		own = r.content()
	} else if strings.TrimLeft(own, "0") == "1" && f.Said == portfolio.Value {
		return // as where the document had this line alone
	}
	text := own
	if f.Said == portfolio.Value {
		text = f.Text + "-" + own
	}
	*f = portfolio.Field{Said: portfolio.Value, Text: text}
}

// content is a number made of what a posting says, and of its place among equals.
func (r *reader) content() string {
	h := fnv.New64a()
	for i := range r.t.Columns {
		fmt.Fprintf(h, "%d|%s|%d\x00", r.out.Fields[i].Said, r.out.Fields[i].Text, r.out.Fields[i].Int)
	}
	key := hex.EncodeToString(h.Sum(nil)[:5])
	if r.equals == nil {
		r.equals = make(map[string]int)
	}
	r.equals[key]++
	if n := r.equals[key]; n > 1 {
		return fmt.Sprintf("%s-%d", key, n)
	}
	return key
}
