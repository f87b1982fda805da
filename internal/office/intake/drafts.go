package intake

import (
	"context"
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"path"
	"strings"
	"time"

	"turret/internal/core/calendar"
	"turret/internal/gather"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/right"
	"turret/internal/store"
)

// Draft is a set of files that someone sent and has not accepted yet.
type Draft struct {
	ID     int64
	Actor  string
	At     time.Time
	Names  []string
	Period string // of rows that state none
	Whole  bool
	Trust  bool // what looks unlikely is right
	Own    bool // the asker sent it

	answers answers
	files   []gather.File
}

// answers are what was said about a draft.
type answers struct {
	Period string                  `json:"period,omitempty"`
	Whole  bool                    `json:"whole,omitempty"`
	Trust  bool                    `json:"trust,omitempty"`
	Sheets map[string]entry.Answer `json:"sheets,omitempty"`
}

// SaveDraft keeps files that were sent until they are accepted.
func (o Room) SaveDraft(ctx context.Context, a right.Actor, files []entry.File) (int64, error) {
	if err := right.Check(a, right.Gather); err != nil {
		return 0, err
	}
	if len(files) == 0 {
		return 0, office.Refusef("No file came; choose one or more, or paste rows.")
	}
	d := store.Draft{Account: a.Account, Actor: a.Name, At: o.Now(), Answers: "{}"}
	used := make(map[string]int)
	for _, f := range files {
		if len(f.Body) == 0 {
			return 0, office.Refusef("%s is empty; nothing was kept.", f.Name)
		}
		if int64(len(f.Body)) > gather.DefaultLimits.FileBytes {
			return 0, office.Refusef(
				"%s has %d bytes and the limit is %d; split it.",
				f.Name,
				len(f.Body),
				gather.DefaultLimits.FileBytes,
			)
		}
		name := path.Base(strings.ReplaceAll(f.Name, `\`, "/"))
		if n := used[name]; n > 0 { // two of one name are told apart
			ext := path.Ext(name)
			name = fmt.Sprintf("%s (%d)%s", strings.TrimSuffix(name, ext), n+1, ext)
		}
		used[path.Base(f.Name)]++
		d.Files = append(d.Files, store.DraftFile{Name: name, Hash: sha256.Sum256(f.Body), Body: f.Body})
	}
	return o.Store().SaveDraft(ctx, d)
}

// Drafts lists what waits to be accepted, of everyone, latest first.
func (o Room) Drafts(ctx context.Context, a right.Actor) ([]Draft, error) {
	if err := right.Check(a, right.Gather); err != nil {
		return nil, err
	}
	list, err := o.Store().Drafts(ctx)
	if err != nil {
		return nil, err
	}
	var out []Draft
	for i := range list {
		d, err := draft(&list[i], a)
		if err != nil {
			return nil, err
		}
		out = append(out, *d)
	}
	return out, nil
}

func draft(d *store.Draft, a right.Actor) (*Draft, error) {
	out := &Draft{ID: d.ID, Actor: d.Actor, At: time.UnixMilli(d.At).UTC(), Own: d.Account == a.Account}
	if err := json.Unmarshal([]byte(d.Answers), &out.answers); err != nil {
		return nil, fmt.Errorf("draft %d: %w", d.ID, err)
	}
	out.Period, out.Whole, out.Trust = out.answers.Period, out.answers.Whole, out.answers.Trust
	for _, f := range d.Files {
		out.Names = append(out.Names, f.Name)
		out.files = append(out.files, gather.File{Name: f.Name, Body: f.Body})
	}
	return out, nil
}

// DraftOf gives a draft with its files; nil where there is none.
func (o Room) DraftOf(ctx context.Context, a right.Actor, id int64) (*Draft, error) {
	if err := right.Check(a, right.Gather); err != nil {
		return nil, err
	}
	d, err := o.Store().DraftOf(ctx, id)
	if err != nil || d == nil {
		return nil, err
	}
	return draft(d, a)
}

// Answer gives what was said about a sheet of a draft.
func (d *Draft) Answer(label string) entry.Answer { return d.answers.Sheets[label] }

// SayOf keeps what someone says about one sheet of a draft.
func (o Room) SayOf(ctx context.Context, a right.Actor, d *Draft, label string, say entry.Answer) error {
	if err := right.Check(a, right.Gather); err != nil {
		return err
	}
	if err := entry.In(o.Office).CheckMapping(ctx, &say.Mapping); err != nil {
		return err
	}
	if d.answers.Sheets == nil {
		d.answers.Sheets = make(map[string]entry.Answer)
	}
	d.answers.Sheets[label] = say
	return o.setAnswers(ctx, d)
}

// Say is what is said of all files of a draft.
type Say struct {
	Period string // of rows that state none, or ""
	Whole  bool   // they are whole statements
	Trust  bool   // what looks unlikely beside what is known is right
}

// SayAll says something of all files of a draft.
func (o Room) SayAll(ctx context.Context, a right.Actor, d *Draft, say Say) error {
	if err := right.Check(a, right.Gather); err != nil {
		return err
	}
	if say.Period != "" {
		if _, err := o.ParsePeriod(ctx, a, say.Period); err != nil {
			return office.Refusef("%s.", strings.TrimPrefix(err.Error(), office.ErrUnknownPeriod.Error()+": "))
		}
	}
	d.answers.Period, d.answers.Whole, d.answers.Trust = say.Period, say.Whole, say.Trust
	return o.setAnswers(ctx, d)
}

func (o Room) setAnswers(ctx context.Context, d *Draft) error {
	b, err := json.Marshal(d.answers)
	if err != nil {
		return err
	}
	return o.Store().SetAnswers(ctx, d.ID, string(b))
}

// DropDraft throws a draft away.
func (o Room) DropDraft(ctx context.Context, a right.Actor, id int64) error {
	if err := right.Check(a, right.Gather); err != nil {
		return err
	}
	return o.Store().DropDraft(ctx, id)
}

// options are how a draft's files are taken.
func (o Room) options(ctx context.Context, a right.Actor, d *Draft) (entry.Options, error) {
	opts := entry.Options{Whole: d.answers.Whole, Trust: d.answers.Trust, Answers: d.answers.Sheets, Offer: true, Limits: gather.DefaultLimits}
	var err error
	if d.answers.Period != "" {
		var p calendar.Period
		if p, err = o.ParsePeriod(ctx, a, d.answers.Period); err == nil {
			opts.Period = p
		}
	}
	return opts, err
}

// Preview tells how a draft was understood and what it would do, and writes
// nothing.
func (o Room) Preview(ctx context.Context, a right.Actor, d *Draft, watch entry.Watch) (*entry.Report, error) {
	opts, err := o.options(ctx, a, d)
	if err != nil {
		return nil, err
	}
	opts.DryRun, opts.Effect, opts.Watch = true, true, watch
	files, refused := unpacked(d.files)
	return entry.In(o.Office).Gather(ctx, a, files, refused, opts)
}

// Accept takes a draft's files and drops the draft. Where a sheet still asks
// something, or one row refuses all, it refuses and the draft stays.
func (o Room) Accept(ctx context.Context, a right.Actor, d *Draft, tick func(string, int)) (*entry.Report, error) {
	opts, err := o.options(ctx, a, d)
	if err != nil {
		return nil, err
	}
	opts.Tick, opts.Settled = tick, true
	files, refused := unpacked(d.files)
	r, err := entry.In(o.Office).Gather(ctx, a, files, refused, opts)
	if err != nil {
		return nil, err
	}
	if r.Stopped {
		return nil, office.Refusef("Nothing was taken, and the files wait: %s.", r.Refusals[len(r.Refusals)-1])
	}
	if err := entry.In(o.Office).Remember(ctx, a, r.Sheets, d.answers.Sheets); err != nil {
		r.Notes = append(r.Notes, fmt.Sprintf("What was said of these files could not be kept for the next: %v.", err))
	}
	return r, o.Store().DropDraft(ctx, d.ID)
}

func unpacked(received []gather.File) (files []gather.File, refused []gather.Refusal) {
	for _, f := range received {
		some, bad := gather.Unpack(f.Name, f.Body, gather.DefaultLimits)
		files, refused = append(files, some...), append(refused, bad...)
	}
	return files, refused
}

// Said is all that was said about a draft, as text: two drafts that were told
// the same read the same.
func (d *Draft) Said() string {
	b, err := json.Marshal(d.answers)
	if err != nil {
		return "" // texts and numbers always encode
	}
	return string(b)
}
