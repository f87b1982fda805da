package gather

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"hash/fnv"
	"log/slog"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/core/finding"
	"turret/internal/office"
	"turret/internal/office/board"
	"turret/internal/office/entry"
	"turret/internal/office/intake"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// Preview is what the template shows of a draft. Report is nil while it is
// being read.
type Preview struct {
	shell.Frame
	Lacking    []intake.Lacking // records that refused rows refer to, and that are not there
	Unseen     bool             // what was changed is shown first, before it is accepted
	Draft      *intake.Draft
	Progress   string
	Met        []entry.Met // the last tables that were understood, while they are read
	Understood int         // all of them
	Report     *entry.Report
	Sentence   []shell.Phrase
	Sheets     []Sheet
	Effects    []Effect
	More       int     // effects that are not listed
	Brings     []Found // findings that it would bring, the worst first
	Settles    int     // findings that it would settle
	Brought    int
	Asked      int // questions that wait for an answer
	Tables     []string
	Mappings   []string
	Periods    []board.RailPeriod
	Notes      []string // of no one sheet
	For        string   // the period that effects are told for
}

// Sheet is a sheet as it was understood.
type Sheet struct {
	entry.SheetReport
	ID      string
	Label   string
	Said    entry.Answer
	Sum     entry.Tally
	Columns []Column
	Left    bool // someone left it out
	Leave   string
	Wrong   int // totals that do not agree
	Options []string
	Fixes   []Fix
	Asked   []Ask
	Rows    []Row  // the first of it, as it was sent
	NoRows  string // what is not taken of it
	All     string // what all its rows say
}

// Ask is a question with the answers that settle it; none where something is to be
// typed or chosen above.
type Ask struct {
	Text    string
	Answers []Answer
}

// Answer is a choice, and what a button of it sends.
type Answer struct{ Text, Value string }

// Column is a column of a sheet with what it became.
type Column struct {
	Head, Shown, Above string
	As, Certainty, Why string
	Period             string
	Forms              []string // that it could have
	Form               string
	Sample             []string
	Asks               bool
}

// Fix is what all rows say of a column that the sheet lacks.
type Fix struct{ Name, Value, Text string }

// Found is a finding that a draft would bring.
type Found struct{ Code, Severity, Text string }

// Effect is a project that a draft moves.
type Effect struct {
	shell.Effect
	Code, Name, Link string
	New              bool
	Dates            []string // what its schedule changes, in words
}

const (
	mostEffects = 12
	mostMoves   = 5
)

// GetPreview answers /gather/draft/{id}.
func GetPreview(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Preview", "")
		if err != nil {
			return err
		}
		f.Step = "gather"
		p := &Preview{Frame: f, Unseen: c.Query("unseen") != ""}
		d, err := draftOf(c, site)
		if err != nil {
			return err
		}
		p.Draft = d
		switch to, err := p.accepting(c, site); {
		case err != nil:
			return err
		case to != "":
			return shell.GoOn(c, to)
		case d == nil:
			c.Status(fiber.StatusNotFound)
			return shell.Render(c, PreviewTemplate, p)
		case p.Progress != "":
			return shell.Render(c, PreviewTemplate, p)
		}
		rev, err := site.Office.Revision(c.Context(), p.Actor)
		if err != nil {
			return err
		}
		h := fnv.New64a() // what was said about it, and how sources are read
		h.Write([]byte(d.Said()))
		known, err := entry.In(site.Office).Mappings(c.Context(), p.Actor)
		if err != nil {
			return err
		}
		for _, m := range known {
			fmt.Fprintf(h, " %d.%d", m.ID, m.Version)
		}
		words, err := entry.In(site.Office).Words(c.Context(), p.Actor)
		if err != nil {
			return err
		}
		fmt.Fprint(h, words)
		actor := p.Actor
		job := site.Jobs.Do(c.Context(), actor.Account, fmt.Sprintf("%s%x %d", previewKey(d.ID), h.Sum64(), rev), func(ctx context.Context, j *shell.Job) (any, error) {
			return intake.In(site.Office).Preview(ctx, actor, d, entry.Watch{
				Tick: func(file string, rows int) { j.Tell(told(file, rows)) },
				Met:  func(m entry.Met) { j.Show(m) },
			})
		})
		if !job.Wait(shell.Patience) {
			p.Progress = job.Text()
			p.understood(job.Shown())
			if p.Progress == "" {
				p.Progress = "Reading the files"
			}
			return shell.Render(c, PreviewTemplate, p)
		}
		if job.Err != nil {
			return job.Err
		}
		p.Report = job.Value.(*entry.Report)
		if p.For = p.Moment.Period.Name; p.Report.At != 0 {
			p.For = p.Moment.PeriodName(p.Report.At)
		}
		p.fill(known)
		p.Lacking = intake.LackingIn(p.Report)
		return shell.Render(c, PreviewTemplate, p)
	}
}

// understood takes what was understood so far, the last first.
func (p *Preview) understood(parts []any) {
	const most = 30
	p.Understood = len(parts)
	for _, m := range slices.Backward(parts) {
		if met, ok := m.(entry.Met); ok && len(p.Met) < most {
			p.Met = append(p.Met, met)
		}
	}
}

// previewKey begins the names of the works that read a draft.
func previewKey(draft int64) string { return fmt.Sprintf("preview %d ", draft) }

// acceptKey names the work of taking a draft's files.
func acceptKey(draft string) string { return "accept " + draft }

// told says how far a file is read.
func told(file string, rows int) string {
	return fmt.Sprintf("%s: %s rows read", file, tell.Amount(strconv.Itoa(rows), 0))
}

// accepting looks whether the draft's files are being taken: then it says how
// far that is, or, once they are, where to go.
func (p *Preview) accepting(c fiber.Ctx, site *shell.Site) (to string, err error) {
	key := acceptKey(shell.Param(c, "id"))
	job := site.Jobs.Find(key)
	if job == nil {
		return "", nil
	}
	if !job.Wait(shell.Patience) {
		p.Progress = job.Text()
		return "", nil
	}
	site.Jobs.Drop(key)
	var denied *office.Denied
	if errors.Is(job.Err, office.ErrRefused) || errors.As(job.Err, &denied) {
		p.Wrong = job.Err.Error()
		return "", nil
	}
	if fault := office.Fault(job.Err); fault != "" {
		slog.Error("the disk refused", "path", c.Path(), "err", job.Err)
		p.Wrong = fault
		return "", nil
	}
	if job.Err != nil {
		return "", job.Err
	}
	gather := p.State.To("/gather")
	r := job.Value.(*entry.Report)
	if !r.Written {
		return gather + sep(gather) + "done=" + url.QueryEscape(
			"Everything in these files is here already; nothing was changed.",
		), nil
	}
	return p.State.To(fmt.Sprintf("/gather/run/%d", r.Revision)), nil
}

func draftOf(c fiber.Ctx, site *shell.Site) (*intake.Draft, error) {
	id, err := strconv.ParseInt(shell.Param(c, "id"), 10, 64)
	if err != nil {
		return nil, nil
	}
	return intake.In(site.Office).DraftOf(c.Context(), shell.Actor(c), id)
}

func (p *Preview) fill(known []entry.NamedMapping) {
	p.Tables = entry.TableNames()
	for _, m := range known {
		if m.Look != "" {
			p.Mappings = append(p.Mappings, m.Name)
		}
	}
	for i := range p.Report.Sheets {
		s := p.sheet(&p.Report.Sheets[i])
		s.ID = fmt.Sprintf("s%d", i+1)
		if !s.Left {
			p.Asked += len(s.Questions)
		}
		p.Sheets = append(p.Sheets, s)
	}
	for _, n := range p.Report.Notes {
		if !slices.ContainsFunc(p.Sheets, func(s Sheet) bool {
			return strings.HasPrefix(n, s.Label+":") || strings.HasPrefix(n, s.Label+",") ||
				strings.HasPrefix(n, s.Label+" was")
		}) {
			p.Notes = append(p.Notes, n)
		}
	}
	for k := range p.Report.Effects {
		settled, brought := p.Report.Effects[k].Settles()
		p.Settles, p.Brought = p.Settles+len(settled), p.Brought+len(brought)
		for _, f := range brought {
			p.Brings = append(p.Brings, Found{p.Report.Effects[k].Code, string(f.Severity), f.Text})
		}
	}
	slices.SortStableFunc(p.Brings, func(a, b Found) int {
		return finding.Severity(a.Severity).Rank() - finding.Severity(b.Severity).Rank()
	})
	p.Brings = p.Brings[:min(len(p.Brings), mostEffects)]
	for i, e := range p.Report.Effects {
		if i == mostEffects {
			p.More = len(p.Report.Effects) - i
			break
		}
		p.Effects = append(p.Effects, p.effect(e))
	}
	for _, r := range p.Rail {
		if !r.Ahead() && !r.Closed {
			p.Periods = append(p.Periods, r)
		}
	}
	p.Sentence = p.say()
}

func (p *Preview) sheet(r *entry.SheetReport) Sheet {
	s := Sheet{SheetReport: *r, Label: r.Label(), Said: p.Draft.Answer(r.Label()), Sum: r.Sum()}
	s.Left = s.Said.Without
	for i, n := range s.Said.Leave {
		if i > 0 {
			s.Leave += ", "
		}
		s.Leave += strconv.Itoa(n)
	}
	for _, x := range r.Sums {
		if !x.Agrees {
			s.Wrong++
		}
	}
	s.Rows, s.NoRows, s.All = rows(r, s.Said, p.Draft.Answer(whole(r.Label())).Split), notTaken(r), common(r)
	s.Options = entry.Uses(r.Table)
	for i, c := range r.Columns {
		x := Column{
			Head:      r.Heads[i],
			Shown:     c.Head,
			Above:     c.Above,
			As:        c.As,
			Certainty: c.Certainty,
			Why:       c.Why,
			Period:    r.Uses[i].Period,
			Sample:    c.Sample,
		}
		x.Forms = entry.FormsOf(r.Table, c.As)
		if slices.Contains(x.Forms, r.Uses[i].Form) && (c.Form != "" || s.Said.Forms[x.Head] != "") {
			x.Form = r.Uses[i].Form
		}
		for _, q := range r.Questions {
			x.Asks = x.Asks || q.Column == i
		}
		if x.Shown == "" {
			x.Shown = x.Head
		}
		s.Columns = append(s.Columns, x)
	}
	for _, q := range r.Questions {
		s.Asked = append(s.Asked, asked(r, q))
	}
	for _, name := range entry.Fixable(r.Table) {
		if v := r.Fixed[name]; v != "" ||
			slices.ContainsFunc(r.Questions, func(q entry.Question) bool { return q.About == "fixed."+name }) {
			s.Fixes = append(s.Fixes, Fix{name, v, strings.ReplaceAll(name, "_", " ")})
		}
	}
	return s
}

// answerWords are what choices are called.
var answerWords = map[string]string{
	"to date": "all up to the period", "year to date": "all of the year up to it", "single": "each of its period",
	"yes": "it is right as it stands", "whole": "whole units", "thousands": "thousands", "millions": "millions",
	"turn": "turn the sign", "keep": "keep the sign", "add": "add them up",
	"of five": "steps of five", "of three, 1-3-5": "of three: 1, 3, 5", "of three, 2-3-4": "of three: 2, 3, 4",
	"ignore": "leave it out", "extra": "keep it beside", "month": "a period",
}

// asked gives a question its answers.
func asked(r *entry.SheetReport, q entry.Question) Ask {
	out := Ask{Text: tell.Capital(q.Text)}
	head := ""
	if q.Column >= 0 {
		head = r.Heads[q.Column]
	}
	for _, c := range q.Choices {
		out.Answers = append(out.Answers, Answer{cmp.Or(answerWords[c], c), strings.Join([]string{q.About, head, c}, "|")})
	}
	return out
}

func (p *Preview) effect(e entry.Effect) Effect {
	out := Effect{Code: e.Code, Name: e.Name, Link: p.State.Project(e.Code), New: e.New(), Effect: shell.EffectOf(&e, mostMoves)}
	if e.New() {
		out.Link = ""
	}
	if e.Dates != nil {
		out.Dates = redated(e.Dates)
	}
	return out
}

// redated says what a schedule changes.
func redated(d *entry.Redated) (out []string) {
	const most = 3
	named := func(list []entry.Named) string {
		var names []string
		for _, x := range list[:min(most, len(list))] {
			names = append(names, strings.TrimSpace(x.Code+" "+x.Name))
		}
		if len(list) > most {
			names = append(names, "…")
		}
		return strings.Join(names, ", ")
	}
	say := func(format string, args ...any) { out = append(out, fmt.Sprintf(format, args...)) }
	if n := len(d.New); n > 0 {
		say("%s: %s", tell.Plural(n, "new activity", "new activities"), named(d.New))
	}
	if n := len(d.Gone); n > 0 {
		say("%s not in it and %s: %s", tell.Plural(n, "activity is", "activities are"), map[bool]string{true: "stays", false: "stay"}[n == 1], named(d.Gone))
	}
	if n := len(d.Moved); n > 0 {
		var furthest []string
		for _, m := range d.Moved[:min(most, n)] {
			furthest = append(furthest, fmt.Sprintf("%s %s d to %s", strings.TrimSpace(m.Code+" "+m.Name), tell.Signed(m.Days), tell.Date(m.Is)))
		}
		if n > most {
			furthest = append(furthest, "…")
		}
		say("%s another finish: %s", tell.Plural(n, "activity is given", "activities are given"), strings.Join(furthest, ", "))
	}
	if d.NewLinks > 0 {
		say("%s", tell.Plural(d.NewLinks, "new link", "new links"))
	}
	switch n := d.GoneLinks; {
	case n > 0 && d.Dropped:
		say("%s not in it and dropped", tell.Plural(n, "link is", "links are"))
	case n > 0:
		say("%s not in it and %s", tell.Plural(n, "link is", "links are"), map[bool]string{true: "stays", false: "stay"}[n == 1])
	}
	return out
}

// say tells what the draft would do.
func (p *Preview) say() []shell.Phrase {
	var out []shell.Phrase
	text := func(format string, args ...any) { out = append(out, shell.Phrase{Text: fmt.Sprintf(format, args...)}) }
	var fresh, changed, same, refused, sheets int
	for _, s := range p.Sheets {
		if s.Left || s.NoTable && s.Refused == 0 {
			continue
		}
		sheets++
		fresh, changed, same, refused = fresh+s.Sum.New, changed+s.Sum.Changed, same+s.Sum.Unchanged, refused+s.Refused
	}
	count := func(n int) string { return tell.Amount(strconv.Itoa(n), 0) }
	text(
		"%s in %s: %s %s would be new, %s changed, %s unchanged",
		tell.Plural(sheets, "table", "tables"),
		tell.Plural(len(p.Draft.Names), "file", "files"),
		count(fresh), map[bool]string{true: "row", false: "rows"}[fresh == 1],
		count(changed),
		count(same),
	)
	if n := p.Report.Dropped; n > 0 {
		text(", %s dropped", count(n))
	}
	text("; ")
	tone := ""
	if refused > 0 {
		tone = "watch"
	}
	out = append(out, shell.Phrase{Text: count(refused) + " refused", Tone: tone})
	text(". ")
	switch n := len(p.Report.Effects); {
	case n == 0 && fresh+changed > 0:
		text("No project's readings move.")
	case n > 0:
		text("%s.", tell.Plural(n, "project moves", "projects move"))
	}
	switch {
	case p.Brought > 0 && p.Settles > 0:
		text(" The checks would bring %s and settle %d.", tell.Plural(p.Brought, "finding", "findings"), p.Settles)
	case p.Brought > 0:
		text(" The checks would bring %s.", tell.Plural(p.Brought, "finding", "findings"))
	case p.Settles > 0:
		text(" It settles %s.", tell.Plural(p.Settles, "finding", "findings"))
	}
	if p.Asked > 0 {
		out = append(
			out,
			shell.Phrase{
				Text: " " + tell.Capital(tell.Number(p.Asked)) + " " + map[bool]string{true: "question waits", false: "questions wait"}[p.Asked == 1] + " for an answer.",
				Tone: "act",
			},
		)
	}
	return out
}
