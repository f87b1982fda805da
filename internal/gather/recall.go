package gather

import (
	"path"
	"slices"
	"strings"
)

// PlaceOf is where a sheet comes from, as it stays the same from month to month: the names
// of file and sheet without days, months, numbers and kinds of files.
func PlaceOf(file, sheet string) string {
	var out []string
	for _, text := range [...]string{strings.TrimSuffix(path.Base(file), path.Ext(file)), sheet} {
		for _, w := range strings.Fields(strings.Map(apart, Normal(text))) {
			if monthNamed(w) == 0 && !strings.ContainsAny(w, "0123456789") {
				out = append(out, w)
			}
		}
		out = append(out, "/")
	}
	return strings.Trim(strings.Join(out, " "), " /")
}

// Recallable gives what was said about a sheet as it holds for the next of its kind: nothing
// of rows by their numbers, of periods, or of this file alone.
func (u *Understanding) Recallable(said Mapping) Mapping {
	out := said.Lasting()
	out.Place = PlaceOf(u.File, u.Sheet)
	out.HeadSaid = said.Head != 0
	out.NoSums = append(slices.Clone(said.NoSums), u.labels(said.Keep)...)
	out.Fixed = laid(nil, said.Fixed)
	delete(out.Fixed, "period")
	delete(out.Fixed, "version")
	return out
}

// Covers tells whether a mapping says all that another does.
func (m Mapping) Covers(other Mapping) bool {
	has := func(mine, theirs map[string]string) bool {
		for k, v := range theirs {
			if mine[k] != v {
				return false
			}
		}
		return true
	}
	one := func(mine, theirs string) bool { return theirs == "" || mine == theirs }
	return !other.Empty() && has(m.Columns, other.Columns) && has(m.Forms, other.Forms) && has(m.Fixed, other.Fixed) &&
		one(m.Table, other.Table) && one(m.Running, other.Running) && one(m.Dash, other.Dash) && one(m.Lines, other.Lines) &&
		one(m.Scale, other.Scale) && (other.Places == nil || m.Places != nil && *m.Places == *other.Places) &&
		(!other.Negate || m.Negate) && (!other.HeadSaid || m.HeadSaid) && len(other.Codes)+len(other.Skip)+len(other.NoSums) == 0
}

// labels gives the first words of rows, normal.
func (u *Understanding) labels(rows []int) (out []string) {
	if len(rows) == 0 {
		return nil
	}
	u.sheet.Each(func(l *Line) bool {
		if slices.Contains(rows, l.N) {
			for i := range l.Cells {
				if l.Cells[i].Kind == Words && !isBlank(l.Cells[i].Text) {
					out = append(out, Normal(l.Cells[i].Text))
					break
				}
			}
		}
		return true
	})
	return out
}

// recall takes what was said before of what all rows say, where the sheet itself says
// nothing of it, and as the answer to what it asks. What it says itself counts.
func (f *finder) recall() {
	u := f.u
	for k, v := range f.past.Fixed {
		if f.t.Index(k) < 0 || v == "" || f.m.Fixed[k] != "" {
			continue
		}
		asked := slices.IndexFunc(u.Questions, func(q Question) bool { return q.About == "fixed."+k })
		switch {
		case asked >= 0 && (len(u.Questions[asked].Choices) == 0 || slices.Contains(u.Questions[asked].Choices, v)):
			u.Questions = slices.Delete(u.Questions, asked, asked+1)
		case !f.lacks(k):
			if own := u.Fixed[k]; own != "" && own != v {
				u.note("Its own words say that %s is %s; of such a sheet it was said before that it is %s.", k, own, v)
			}
			continue
		}
		u.Fixed[k] = v
		u.note("All rows are taken as %s %s, as was said of such a sheet before.", strings.ReplaceAll(k, "_", " "), v)
	}
}
