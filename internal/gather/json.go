package gather

import (
	"bytes"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
)

// Systems export lists of objects. Each list is a table, its heads the names of the fields;
// a list within an object is a table whose rows repeat what the object says beside it.

// isJSON tells an export by how it begins: with a list or an object.
func isJSON(body []byte) bool {
	body = bytes.TrimSpace(bytes.TrimPrefix(body, bom))
	return len(body) > 1 && (body[0] == '[' && bytes.IndexByte(body, '{') > 0 || body[0] == '{' && bytes.IndexByte(body, '"') > 0)
}

// openJSON gives the tables of an export, also of one object a line.
func openJSON(f *File, lim Limits, refuse func(string, ...any) []Refusal) ([]*Sheet, []Refusal) {
	d := json.NewDecoder(bytes.NewReader(bytes.TrimPrefix(f.Body, bom)))
	d.UseNumber()
	x := &export{lim: lim, by: make(map[string]*listed)}
	for d.More() {
		v, err := field(d)
		if err != nil {
			return nil, refuse("it begins like an export of objects, and cannot be read as one (%v); export it again, or save it as CSV", err)
		}
		x.value("", v, nil)
	}
	if x.over != "" {
		return nil, refuse("%s", x.over)
	}
	var out []*Sheet
	for _, l := range x.lists {
		s := &Sheet{File: f.Name, Name: l.name, Format: "an export of objects", Lines: len(l.rows) + 1}
		s.each = l.each
		out = append(out, s)
	}
	if len(out) == 0 {
		return nil, refuse("it is an export of objects that holds none; export it again, or save it as CSV")
	}
	return out, nil
}

// told is a field of an object; its value is nil, a text, a number, a list or an object.
type told struct {
	name  string
	value any
}

// field reads a value, the fields of objects in their order.
func field(d *json.Decoder) (any, error) {
	t, err := d.Token()
	if err != nil {
		return nil, err
	}
	switch t {
	case json.Delim('{'):
		out := []told{}
		for d.More() {
			name, err := d.Token()
			if err != nil {
				return nil, err
			}
			v, err := field(d)
			if err != nil {
				return nil, err
			}
			out = append(out, told{fmt.Sprint(name), v})
		}
		_, err := d.Token()
		return out, err
	case json.Delim('['):
		out := []any{}
		for d.More() {
			v, err := field(d)
			if err != nil {
				return nil, err
			}
			out = append(out, v)
		}
		_, err := d.Token()
		return out, err
	}
	return t, nil
}

// export collects the rows of lists, by the names that lead to them.
type export struct {
	lim   Limits
	by    map[string]*listed
	lists []*listed
	over  string // why it is too much
}

// listed is a list as a table.
type listed struct {
	name  string
	heads []string
	rows  []map[string]Cell
}

func (l *listed) each(f func(*Line) bool) {
	head := Line{N: 1}
	for _, h := range l.heads {
		head.Cells = append(head.Cells, Cell{Text: h})
	}
	if !f(&head) {
		return
	}
	for i, row := range l.rows {
		line := Line{N: i + 2}
		for _, h := range l.heads {
			line.Cells = append(line.Cells, row[h])
		}
		if !f(&line) {
			return
		}
	}
}

// value takes a list, or an object, below what is said of it.
func (x *export) value(path string, v any, said []told) {
	switch v := v.(type) {
	case []any:
		for _, one := range v {
			x.value(path, one, said)
		}
	case []told:
		x.object(path, v, said)
	}
}

// object takes an object as a row, or, where it has lists of objects, each of those as rows
// that say what it says too.
func (x *export) object(path string, fields, said []told) {
	said = slices.Clone(said)
	var lists []told
	for _, f := range flat("", fields) {
		if list, ok := f.value.([]any); ok && slices.ContainsFunc(list, func(v any) bool { _, is := v.([]told); return is }) {
			lists = append(lists, f)
			continue
		}
		said = append(said, f)
	}
	if len(lists) == 0 {
		x.row(path, said)
	}
	for _, l := range lists {
		x.value(strings.TrimSpace(path+" "+l.name), l.value, said)
	}
}

// flat gives the fields of an object with those of objects within it: the value or the code of
// one that stands for a thing is the thing's own, and its currency that of the row.
func flat(before string, fields []told) (out []told) {
	for _, f := range fields {
		switch name := strings.ToLower(f.name); {
		case before == "":
		case name == "value" || name == "amount" || name == "code" || name == "id" || name == "key":
			f.name = before
		case name == "currency":
		default:
			f.name = before + " " + f.name
		}
		if within, ok := f.value.([]told); ok {
			out = append(out, flat(f.name, within)...)
			continue
		}
		out = append(out, f)
	}
	return out
}

func (x *export) row(path string, said []told) {
	l := x.by[path]
	if l == nil {
		l = &listed{name: path}
		x.by[path], x.lists = l, append(x.lists, l)
	}
	row := make(map[string]Cell, len(said))
	for _, f := range said {
		if !slices.Contains(l.heads, f.name) {
			l.heads = append(l.heads, f.name)
		}
		row[f.name] = cellOf(f.value)
	}
	l.rows = append(l.rows, row)
	switch {
	case len(l.heads) > x.lim.Columns:
		x.over = fmt.Sprintf("it has more fields than the limit of %d", x.lim.Columns)
	case len(l.rows) > x.lim.Rows:
		x.over = fmt.Sprintf("the file has more than %d rows; split it", x.lim.Rows)
	}
}

// cellOf writes a value; a list of texts is one text.
func cellOf(v any) Cell {
	switch v := v.(type) {
	case nil:
		return Cell{}
	case json.Number:
		return Cell{Text: v.String(), Kind: Number}
	case []any:
		var out []string
		for _, one := range v {
			out = append(out, cellOf(one).Text)
		}
		return Cell{Text: strings.Join(out, ", ")}
	}
	return Cell{Text: fmt.Sprint(v)}
}
