package gather

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"net/url"
	"slices"
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

// act does what the form of the preview says, and gives the address to go to. Whatever
// button was pressed, what was changed of any sheet is kept; files of which something was
// changed and not looked at since are not accepted.
func act(c fiber.Ctx, site *shell.Site, d *intake.Draft) (to string, err error) {
	ctx, a, state := c.Context(), shell.Actor(c), shell.StateOf(c)
	here := state.To(fmt.Sprintf("/gather/draft/%d", d.ID))
	do := c.FormValue("do")
	switch do {
	case "drop":
		return state.To("/gather"), intake.In(site.Office).DropDraft(ctx, a, d.ID)
	case "stop":
		return stop(site, state, d)
	case "", "say", "accept":
	default:
		return "", shell.Unclear()
	}
	if do == "" && c.FormValue("sheet") == "" {
		return "", shell.Unclear()
	}
	changed, at, err := said(c, site, d)
	if err != nil {
		return "", err
	}
	if table := c.FormValue("add"); table != "" {
		return here, intake.In(site.Office).AddLacking(ctx, a, d, table)
	}
	if do != "accept" {
		return here + at, nil
	}
	if changed {
		return here + sep(here) + "unseen=1", nil
	}
	site.Jobs.Deed(ctx, a.Account, acceptKey(strconv.FormatInt(d.ID, 10)), func(ctx context.Context, j *shell.Job) (any, error) {
		j.Tell("Taking the files")
		return intake.In(site.Office).Accept(ctx, a, d, func(file string, rows int) { j.Tell(told(file, rows)) })
	})
	return here, nil
}

// stop ends the reading or the taking of a draft, which waits again.
func stop(site *shell.Site, state shell.State, d *intake.Draft) (to string, err error) {
	gather := state.To("/gather")
	if site.Jobs.Stop(acceptKey(strconv.FormatInt(d.ID, 10))) || site.Jobs.Stop(previewKey(d.ID)) {
		return gather + sep(gather) + "done=" + url.QueryEscape("It is stopped. The files wait below, as they were."), nil
	}
	return state.To(fmt.Sprintf("/gather/draft/%d", d.ID)), nil
}

// said keeps what the form says of every sheet, and of all of them. It tells whether
// anything of it is new, and the place of the page where the person was.
func said(c fiber.Ctx, site *shell.Site, d *intake.Draft) (changed bool, at string, err error) {
	ctx, a := c.Context(), shell.Actor(c)
	all := intake.Say{Period: c.FormValue("period"), Whole: c.FormValue("whole") != "", Trust: c.FormValue("trust") != ""}
	if was := (intake.Say{Period: d.Period, Whole: d.Whole, Trust: d.Trust}); c.FormValue("all") != "" && all != was {
		changed = true
		if err := intake.In(site.Office).SayAll(ctx, a, d, all); err != nil {
			return false, "", err
		}
	}
	for _, id := range c.Request().PostArgs().PeekMulti("sheet") {
		s := sheetForm{c, string(id) + ":"}
		new, err := s.take(site, d)
		if err != nil {
			return false, "", err
		}
		changed = changed || new
		if s.pressed() {
			at = "#" + string(id)
		}
	}
	return changed, at, nil
}

// sheetForm reads the fields of one sheet, which begin with its name on the page.
type sheetForm struct {
	c      fiber.Ctx
	prefix string
}

func (s sheetForm) value(name string) string { return s.c.FormValue(s.prefix + name) }

// differs tells whether a field is another than the page showed.
func (s sheetForm) differs(name string) bool { return s.value(name) != s.value("was."+name) }

// pressed tells whether a button of the sheet was.
func (s sheetForm) pressed() bool {
	return s.c.FormValue("say")+":" == s.prefix || s.value("answer") != "" || s.value("point") != ""
}

// each hands over the fields.
func (s sheetForm) each(do func(name, value string)) {
	for k, v := range s.c.Request().PostArgs().All() {
		if name, ok := strings.CutPrefix(string(k), s.prefix); ok {
			do(name, string(v))
		}
	}
}

// take keeps what is said of the sheet, and tells whether it is new.
func (s sheetForm) take(site *shell.Site, d *intake.Draft) (changed bool, err error) {
	ctx, a, label := s.c.Context(), shell.Actor(s.c), s.value("label")
	if strings.HasPrefix(s.value("point"), "join|") {
		say := d.Answer(whole(label))
		point(&say, s.value("point"))
		return true, intake.In(site.Office).SayOf(ctx, a, d, whole(label), say)
	}
	was := d.Answer(label)
	say, err := s.answer(was)
	if err != nil {
		return false, err
	}
	if changed = !same(was, say); changed {
		if err := intake.In(site.Office).SayOf(ctx, a, d, label, say); err != nil {
			return false, err
		}
	}
	if s.value("words") != "" {
		if err := entry.In(site.Office).KeepWords(ctx, a, s.columns()); err != nil {
			return false, err
		}
	}
	name := strings.TrimSpace(s.value("keep"))
	if name == "" || !s.differs("keep") && s.c.FormValue("say")+":" != s.prefix {
		return changed, nil
	}
	r, err := intake.In(site.Office).Preview(ctx, a, d, entry.Watch{})
	if err != nil {
		return false, err
	}
	for _, x := range r.Sheets {
		if x.Label() == label {
			if err := entry.In(site.Office).KeepMapping(ctx, a, name, x.Understanding, d.Answer(label).Mapping); err != nil {
				return false, err
			}
		}
	}
	return changed, nil
}

// same tells whether two answers say the same: what is empty says nothing.
func same(a, b entry.Answer) bool {
	x, err := json.Marshal(a)
	y, err2 := json.Marshal(b)
	return err == nil && err2 == nil && bytes.Equal(x, y)
}

// columns is what the form says that each column is, by its head.
func (s sheetForm) columns() map[string]string {
	out := make(map[string]string)
	s.each(func(name, value string) {
		if head, ok := strings.CutPrefix(name, "col."); ok {
			out[head] = value
		}
	})
	return out
}

func sep(address string) string {
	if strings.Contains(address, "?") {
		return "&"
	}
	return "?"
}

// answer reads what the form says about the sheet: what differs from how it was
// understood, over what was said before.
func (s sheetForm) answer(was entry.Answer) (entry.Answer, error) {
	out := was
	out.Columns, out.Forms, out.Fixed = copied(was.Columns), copied(was.Forms), copied(was.Fixed)
	out.Codes, out.Leave = slices.Clone(was.Codes), slices.Clone(was.Leave)
	s.each(func(key, value string) {
		kind, head, ok := strings.Cut(key, ".")
		if !ok || !s.differs(key) {
			return
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
	})
	if t := s.value("table"); s.differs("table") {
		out.Table, out.Columns = t, map[string]string{}
	}
	if h := s.value("head"); s.differs("head") {
		n, err := strconv.Atoi(strings.TrimSpace(h))
		if err != nil && h != "" {
			return out, office.Refusef("%q is not the number of a row.", h)
		}
		out.Head = n
	}
	if v := s.value("places"); s.differs("places") {
		n, err := strconv.Atoi(v)
		if err != nil {
			return out, office.Refusef("%q is not a unit of amounts.", v)
		}
		out.Places = &n
	}
	if v := s.value("running"); s.differs("running") {
		out.Running = v
	}
	if v := s.value("dash"); s.differs("dash") {
		out.Dash = v
	}
	if v := s.value("named"); s.differs("named") {
		out.Named = v
	}
	if s.differs("negate") {
		out.Negate = s.value("negate") != ""
	}
	if s.differs("without") {
		out.Without = s.value("without") != ""
	}
	settle(&out, s.value("answer"))
	var err error
	if s.differs("leave") {
		out.Leave, err = rowNumbers(s.value("leave"))
	}
	point(&out, s.value("point"))
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
