package gather

import (
	"context"
	"fmt"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/intake"
	"turret/internal/web/shell"
)

// PostPreview corrects a draft, accepts it, or throws it away.
func PostPreview(site *shell.Site) fiber.Handler {
	again := GetPreview(site)
	return func(c fiber.Ctx) error {
		d, err := draftOf(c, site)
		if err != nil {
			return err
		}
		if d == nil {
			return again(c)
		}
		to, err := act(c, site, d)
		return shell.Settle(c, err, again, to)
	}
}

// act does what a form of the preview says, and gives the address to go to.
func act(c fiber.Ctx, site *shell.Site, d *intake.Draft) (to string, err error) {
	ctx, a, state := c.Context(), shell.Actor(c), shell.StateOf(c)
	here := state.To(fmt.Sprintf("/gather/draft/%d", d.ID))
	switch c.FormValue("do") {
	case "all":
		return here, intake.In(site.Office).SayAll(ctx, a, d, intake.Say{
			Period: c.FormValue("period"),
			Whole:  c.FormValue("whole") != "",
			Trust:  c.FormValue("trust") != "",
		})
	case "say":
		label := c.FormValue("sheet")
		if strings.HasPrefix(c.FormValue("point"), "join|") {
			say := d.Answer(whole(label))
			point(&say, c.FormValue("point"))
			return here, intake.In(site.Office).SayOf(ctx, a, d, whole(label), say)
		}
		say, err := answer(c, d.Answer(label))
		if err != nil {
			return "", err
		}
		if err := intake.In(site.Office).SayOf(ctx, a, d, label, say); err != nil {
			return "", err
		}
		if c.FormValue("words") != "" {
			if err := entry.In(site.Office).KeepWords(ctx, a, columnsOf(c)); err != nil {
				return "", err
			}
		}
		if name := strings.TrimSpace(c.FormValue("keep")); name != "" {
			r, err := intake.In(site.Office).Preview(ctx, a, d, entry.Watch{})
			if err != nil {
				return "", err
			}
			for _, s := range r.Sheets {
				if s.Label() == label {
					if err := entry.In(site.Office).KeepMapping(ctx, a, name, s.Understanding, d.Answer(label).Mapping); err != nil {
						return "", err
					}
				}
			}
		}
		return here + "#" + c.FormValue("place"), nil
	case "drop":
		return state.To("/gather"), intake.In(site.Office).DropDraft(ctx, a, d.ID)
	case "accept":
		away := context.WithoutCancel(ctx)
		site.Jobs.Deed(acceptKey(strconv.FormatInt(d.ID, 10)), func(j *shell.Job) (any, error) {
			j.Tell("Taking the files")
			return intake.In(site.Office).Accept(away, a, d, func(file string, rows int) { j.Tell(told(file, rows)) })
		})
		return here, nil
	}
	return "", shell.Unclear()
}

// columnsOf is what a form says that each column is, by its head.
func columnsOf(c fiber.Ctx) map[string]string {
	out := make(map[string]string)
	for k, v := range c.Request().PostArgs().All() {
		if head, ok := strings.CutPrefix(string(k), "col."); ok {
			out[head] = string(v)
		}
	}
	return out
}

func sep(address string) string {
	if strings.Contains(address, "?") {
		return "&"
	}
	return "?"
}

// answer reads what a form says about a sheet: what differs from how it was
// understood, over what was said before.
func answer(c fiber.Ctx, was entry.Answer) (entry.Answer, error) {
	out := was
	out.Columns, out.Forms, out.Fixed = copied(was.Columns), copied(was.Forms), copied(was.Fixed)
	for k, v := range c.Request().PostArgs().All() {
		key, value := string(k), string(v)
		kind, head, ok := strings.Cut(key, ".")
		if !ok || value == c.FormValue("was."+key) {
			continue
		}
		switch kind {
		case "col":
			out.Columns[head] = value
		case "form":
			out.Forms[head] = value
		case "fix":
			out.Fixed[head] = strings.TrimSpace(value)
		case "heads":
			out.Settle("codes.project."+head, "", strings.TrimSpace(value))
		}
	}
	if t := c.FormValue("table"); t != c.FormValue("was.table") {
		out.Table, out.Columns = t, map[string]string{}
	}
	if h := c.FormValue("head"); h != c.FormValue("was.head") {
		n, err := strconv.Atoi(strings.TrimSpace(h))
		if err != nil && h != "" {
			return out, office.Refusef("%q is not the number of a row.", h)
		}
		out.Head = n
	}
	if v := c.FormValue("places"); v != c.FormValue("was.places") {
		n, err := strconv.Atoi(v)
		if err != nil {
			return out, office.Refusef("%q is not a unit of amounts.", v)
		}
		out.Places = &n
	}
	if v := c.FormValue("running"); v != c.FormValue("was.running") {
		out.Running = v
	}
	if v := c.FormValue("dash"); v != c.FormValue("was.dash") {
		out.Dash = v
	}
	if v := c.FormValue("named"); v != c.FormValue("was.named") {
		out.Named = v
	}
	out.Negate, out.Without = c.FormValue("negate") != "", c.FormValue("without") != ""
	settle(&out, c.FormValue("answer"))
	var err error
	out.Leave, err = rowNumbers(c.FormValue("leave"))
	point(&out, c.FormValue("point"))
	return out, err
}

// settle takes the answer of a button: what it is about, the head of a column or "",
// and the choice.
func settle(out *entry.Answer, text string) {
	about, rest, _ := strings.Cut(text, "|")
	i := strings.LastIndexByte(rest, '|')
	if i < 0 {
		return
	}
	out.Settle(about, rest[:i], rest[i+1:])
}

func copied(m map[string]string) map[string]string {
	out := make(map[string]string, len(m))
	for k, v := range m {
		out[k] = v
	}
	return out
}

// rowNumbers reads "5, 9-12".
func rowNumbers(text string) ([]int, error) {
	var out []int
	for part := range strings.FieldsFuncSeq(text, func(r rune) bool { return r == ',' || r == ';' || r == ' ' }) {
		from, to, many := strings.Cut(strings.ReplaceAll(part, "–", "-"), "-")
		a, err := strconv.Atoi(from)
		b := a
		if err == nil && many {
			b, err = strconv.Atoi(to)
		}
		if err != nil || a < 1 || b < a || b-a > 10_000 {
			return nil, office.Refusef("%q is not a row, nor a range of rows such as 9-12.", part)
		}
		for n := a; n <= b; n++ {
			out = append(out, n)
		}
	}
	return out, nil
}
