package gather

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"turret/internal/office/entry"
	"turret/internal/record"
)

// Row is a row as it was sent, what it was taken for, and what someone can say it is.
type Row struct {
	entry.Part
	Class string
	Acts  []Answer
	Marks []string // by cell: how it looks
	Heads string   // its words, where someone may say whose rows it heads; else ""
	Of    string   // the project that it heads, where that is known
}

// rows gives the first rows of a sheet as they were sent, as wide as its columns.
// joins are the rows at which someone said that a table begins.
func rows(r *entry.SheetReport, said entry.Answer, joins []int) (out []Row) {
	wide := len(r.Columns)
	if wide == 0 {
		for _, p := range r.Parts {
			wide = max(wide, len(p.Cells))
		}
	}
	for _, p := range r.Parts {
		x := Row{Part: p, Class: strings.ReplaceAll(p.As, " ", "-")}
		x.Cells = append(slices.Clone(p.Cells), make([]string, max(0, wide-len(p.Cells)))...)[:wide]
		x.Marks = make([]string, wide)
		for i := range x.Marks {
			if i < len(r.Columns) && (r.Columns[i].As == "total" || slices.Contains(entry.FormsOf(r.Table, r.Columns[i].As), "point")) {
				x.Marks[i] = "n"
			}
		}
		for _, f := range r.Refusals {
			if f.Row != p.Row {
				continue
			}
			x.As, x.Why = "refused", f.Reason
			if i := slices.Index(r.Heads, f.Column); i >= 0 && i < wide {
				x.Marks[i] += " wrong-cell"
			}
		}
		for _, s := range r.Sums {
			if i := slices.Index(r.Heads, s.Head); s.Row == p.Row && !s.Agrees && i >= 0 && i < wide {
				x.Marks[i] += " wrong-cell"
			}
		}
		point := func(text, what string) {
			x.Acts = append(x.Acts, Answer{text, fmt.Sprintf("%s|%d", what, p.Row)})
		}
		switch {
		case slices.Contains(said.Leave, p.Row):
			point("Put back", "back")
		case p.As == entry.PartSum:
			point("It is a row", "keep")
		case slices.Contains(said.Keep, p.Row):
			point("It is a sum", "sum")
		case p.As == entry.PartRow:
			point("Leave out", "leave")
		case p.As == entry.PartTitle || p.As == entry.PartBand || p.As == entry.PartWords && !r.Ready():
			point("These are the heads", "head")
		}
		if of := record.Named(r.Table); of != nil && of.Index("project") >= 0 && (p.As == entry.PartWords || p.As == entry.PartHeading) {
			x.Of, _, _ = strings.Cut(strings.TrimPrefix(p.Why, entry.HeadsProject), ",")
			if !strings.HasPrefix(p.Why, entry.HeadsProject) {
				x.Of = ""
			}
			x.Heads = strings.Join(strings.Fields(strings.Join(p.Cells, " ")), " ")
		}
		switch {
		case slices.Contains(joins, p.Row):
			point("It goes on from above", "join")
		case p.Row > r.Head && r.Head > 0 && p.As != entry.PartSum:
			point("A table begins here", "split")
		}
		out = append(out, x)
	}
	return out
}

// whole is the label of the sheet of which someone parted one.
func whole(label string) string {
	if i := strings.LastIndex(label, ", rows "); i > 0 {
		return label[:i]
	}
	return label
}

// notTaken says how many rows of a sheet are not taken, and as what.
func notTaken(r *entry.SheetReport) string {
	words := []struct{ as, one, many string }{
		{entry.PartSum, "sum", "sums"},
		{entry.PartAgain, "line of heads again", "lines of heads again"},
		{entry.PartHeading, "heading", "headings"},
		{entry.PartWords, "line of words", "lines of words"},
		{entry.PartLeft, "left out by hand", "left out by hand"},
	}
	var out []string
	if !r.Ready() {
		return ""
	}
	for _, w := range words {
		switch n := r.Counts[w.as]; {
		case n == 1:
			out = append(out, "1 "+w.one)
		case n > 1:
			out = append(out, fmt.Sprintf("%d %s", n, w.many))
		}
	}
	return strings.Join(out, ", ")
}

// common says what all rows of a sheet say.
func common(r *entry.SheetReport) string {
	var out []string
	for _, k := range slices.Sorted(maps.Keys(r.Fixed)) {
		if r.Fixed[k] != "" {
			out = append(out, strings.ReplaceAll(k, "_", " ")+" "+r.Fixed[k])
		}
	}
	if unit := map[int]string{3: "thousands", 6: "millions"}[r.Places]; unit != "" {
		out = append(out, "amounts in "+unit)
	}
	if r.Negate {
		out = append(out, "signs turned")
	}
	return strings.Join(out, ", ")
}

// point takes what someone says a row is: the heads, no row, a row after all, or a sum.
func point(out *entry.Answer, text string) {
	var row int
	what, number, _ := strings.Cut(text, "|")
	if _, err := fmt.Sscanf(number, "%d", &row); err != nil || row < 1 {
		return
	}
	without := func(list []int) []int {
		return slices.DeleteFunc(slices.Clone(list), func(n int) bool { return n == row })
	}
	switch what {
	case "head":
		out.Head = row
	case "leave":
		out.Leave = append(without(out.Leave), row)
	case "back":
		out.Leave = without(out.Leave)
	case "keep":
		out.Keep = append(without(out.Keep), row)
	case "split":
		out.Split = append(slices.DeleteFunc(slices.Clone(out.Split), func(n int) bool { return n == row }), row)
	case "join":
		out.Split = slices.DeleteFunc(slices.Clone(out.Split), func(n int) bool { return n == row })
	case "sum":
		out.Keep = without(out.Keep)
	}
}
