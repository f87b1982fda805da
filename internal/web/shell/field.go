package shell

import (
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/record"
	"turret/internal/tell"
)

// Field is a field of a form, made from a column.
type Field struct {
	Name, Label, About string
	Value              string
	Type               string   // of the input
	Choices            []string // of a choice
	Among              []string // what it may well be
	Must               bool
	Wrong              string // why it was refused, or ""
}

// cellPrefix begins the names of fields that are columns.
const cellPrefix = "cell."

// FieldsOf makes the fields of a form from the columns of a kind: with the cells
// of a record, or what was typed where the form is shown again.
func (p Page) FieldsOf(k *record.Kind, cells map[string]string) []Field {
	var out []Field
	for i := range k.Columns {
		c := &k.Columns[i]
		f := Field{
			Name: cellPrefix + c.Name, Label: tell.Capital(strings.ReplaceAll(c.Name, "_", " ")), About: c.About,
			Value: p.Field(cellPrefix+c.Name, cells[c.Name]), Type: "text", Must: c.Key && !c.Blank,
		}
		if strings.EqualFold(f.About, f.Label) {
			f.About = "" // it would say the same twice
		}
		switch c.Type {
		case record.Choice:
			f.Choices = c.Domain
			if f.Value == "" {
				f.Value = c.Default
			}
		case record.Date:
			f.Type = "date"
		}
		if p.WrongAt == c.Name {
			f.Wrong = p.Wrong
		}
		out = append(out, f)
	}
	return out
}

// Cells reads the fields of a form that was made from a kind, by column.
func Cells(c fiber.Ctx) map[string]string {
	out := make(map[string]string)
	for k, v := range c.Request().PostArgs().All() {
		if name, ok := strings.CutPrefix(string(k), cellPrefix); ok {
			out[name] = string(v)
		}
	}
	return out
}

// MostTyped is how many rows a page is typed on; a browser is slow with more.
const MostTyped = 3000
