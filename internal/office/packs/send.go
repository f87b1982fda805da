package packs

import (
	"bytes"
	"cmp"
	"context"
	"errors"
	"fmt"
	"reflect"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/pack"
	"turret/internal/office"
	"turret/internal/office/brief"
	"turret/internal/office/closing"
	"turret/internal/office/letters"
	"turret/internal/right"
	"turret/internal/store"
	"turret/internal/tell"
)

// Result is what came of sending a pack.
type Result struct {
	Briefs, Readers int
	Left            []string // whom it did not reach, and what it has not
}

// Send makes the briefs of a pack at a period, each once for all who see the same, and writes to
// its readers. Told of progress, it can be cancelled: then nothing is sent.
func (o Room) Send(ctx context.Context, a right.Actor, code, at string, to Addresses, tell func(string)) (*Result, error) {
	return o.send(ctx, a, code, at, fmt.Sprintf("by hand %d", o.Now()), to, tell)
}

func (o Room) send(ctx context.Context, a right.Actor, code, at, occasion string, to Addresses, tell func(string)) (*Result, error) {
	if err := right.Check(a, right.Brief); err != nil {
		return nil, err
	}
	m, err := o.Moment(ctx, a, office.Ask{At: at})
	if err != nil {
		return nil, err
	}
	list := packsOf(m.Snapshot())
	i := slices.IndexFunc(list, func(p Pack) bool { return p.Code == code })
	switch {
	case i < 0:
		return nil, office.Refusef("There is no pack %q; it may have been taken away meanwhile.", code)
	case list[i].Fault != "":
		return nil, office.Refusef("It cannot be sent: %s.", list[i].Fault)
	case m.Empty || m.Waits():
		return nil, office.Refusef("Nothing is stated for that period yet, so there is nothing to send.")
	}
	p := &list[i]
	readers, left, err := o.readers(ctx, a, m, p)
	if err != nil {
		return nil, err
	}
	if len(readers) == 0 {
		return nil, office.Refusef("It reaches nobody: %s.", strings.Join(left, "; "))
	}
	s := &sender{o: o, a: a, m: m, p: p, occasion: occasion, to: to, made: make(map[string]int64), out: Result{Left: left}}
	if s.changed, err = o.corrected(ctx, a, m, code); err != nil {
		return nil, err
	}
	all := 0
	for i := range readers {
		all += len(readers[i].scopes)
	}
	done := 0
	for i := range readers {
		for _, scope := range readers[i].scopes {
			if tell != nil {
				tell(fmt.Sprintf("Brief %d of %d", done+1, all))
			}
			if err := s.one(ctx, &readers[i], scope); err != nil {
				return nil, err
			}
			done++
		}
	}
	if len(s.list) == 0 {
		return nil, office.Refusef("There is nothing to send: %s.", strings.Join(s.out.Left, "; "))
	}
	s.out.Briefs, s.out.Readers = len(s.made), len(readers)
	if err := s.unchanged(ctx); err != nil {
		return nil, err
	}
	err = o.Store().Send(ctx, s.list, s.letters)
	if errors.Is(err, store.ErrSent) {
		err = office.Refusef("It was sent meanwhile.")
	}
	return &s.out, err
}

// unchanged refuses what was changed while its briefs were made: to whom it goes, above all.
func (s *sender) unchanged(ctx context.Context) error {
	m, err := s.o.Moment(ctx, s.a, office.Ask{At: s.m.Period.Code})
	if err != nil {
		return err
	}
	for _, p := range packsOf(m.Snapshot()) {
		if p.Code == s.p.Code && reflect.DeepEqual(p, *s.p) {
			return nil
		}
	}
	return office.Refusef("The pack %s was changed while its briefs were made, so nothing was sent. See whom it goes to, and send it again.", s.p.Code)
}

// sender gathers what is sent.
type sender struct {
	o        Room
	a        right.Actor
	m        *office.Moment
	p        *Pack
	occasion string
	to       Addresses
	made     map[string]int64 // briefs by scope and by who sees the same
	changed  []string         // since the period was closed before, figure by figure
	list     []store.Sending
	letters  []store.Letter
	out      Result
}

// one makes the brief of a scope for a reader, and their letter.
func (s *sender) one(ctx context.Context, r *reader, scope string) error {
	spec := brief.Spec{Scope: scope, At: s.m.Period.Code}
	if scope == pack.Everything {
		spec.Scope = ""
	}
	if x, _ := s.m.Find(scope); scope == pack.Everything || x != nil && x.Group {
		spec.Parts = s.p.Pages // a project has pages of its own
	}
	key := scope + " " + r.actor.Sight.Key()
	id, ok := s.made[key]
	if !ok {
		var err error
		if id, err = brief.In(s.o.Office).MakeFor(ctx, s.a, r.actor, spec, s.p.Forms, nil); err != nil {
			if errors.Is(err, office.ErrRefused) {
				s.out.Left = append(s.out.Left, fmt.Sprintf("%s for %s: %s", scope, r.name, strings.TrimSuffix(err.Error(), ".")))
				return nil
			}
			return err
		}
		s.made[key] = id
	}
	b, err := s.o.Store().BriefOf(ctx, id)
	if err != nil {
		return err
	}
	token, hash := right.NewCode()
	now := s.o.Now()
	until := now + lasts.Milliseconds()
	x := store.Sending{
		Pack: s.p.Code, Occasion: s.occasion, Brief: id, Forms: strings.Join(s.p.Forms, ","), Account: r.account, Address: r.address, Reader: r.name,
		Hash: hash, At: now, Until: until, Actor: s.a.Name,
	}
	note := letters.Note{
		Letter: store.LetterOf(hash), Account: r.account, Name: r.name, Address: r.address,
		Subject: b.Title, Opening: fmt.Sprintf("%s sends you: %s.", s.a.Name, s.p.Name),
		Text: b.Title, Link: s.to.Shared(token), Remark: remark(b, until),
	}
	if len(s.changed) > 0 {
		note.Subject = "Corrected: " + b.Title
		note.Opening = fmt.Sprintf("%s sends you again: %s. The period was opened and closed again since.", s.a.Name, s.p.Name)
		note.Title, note.More = "What has changed", s.changed
	}
	enclosed := ""
	if s.p.Enclosed {
		if enclosed, err = s.enclosed(ctx, id); err != nil {
			return err
		}
		if enclosed == "" {
			note.Remark += "; it is too large to be enclosed"
		}
	}
	l, err := note.Written(now, s.to.Addresses)
	if err != nil {
		return err
	}
	l.Enclosed = enclosed
	s.list, s.letters = append(s.list, x), append(s.letters, l)
	return nil
}

// largest is how many bytes a letter encloses at most; mail servers seldom take more than 20 MB,
// of which writing files as text takes a quarter.
const largest = 12 << 20

// enclosed is what a letter encloses of a brief, as store.Letter has it; "" where it is too large.
func (s *sender) enclosed(ctx context.Context, brief int64) (string, error) {
	all := 0
	for _, form := range s.p.Forms {
		body, err := s.o.Store().BriefForm(ctx, brief, form)
		if err != nil {
			return "", err
		}
		all += len(body)
	}
	if all > largest {
		return "", nil
	}
	return fmt.Sprintf("%d:%s", brief, strings.Join(s.p.Forms, ",")), nil
}

// remark says of a link what it opens, and until when.
func remark(b *store.Brief, until int64) string {
	return fmt.Sprintf("%d pages; the link opens this brief alone, through %s", b.Leaves, tell.Date(dayOf(until)))
}

// mostChanges bounds what a correction tells.
const mostChanges = 24

// corrected tells what has changed, figure by figure, since a pack was sent of a period that was
// opened and closed again: nothing where it was not.
func (o Room) corrected(ctx context.Context, a right.Actor, m *office.Moment, code string) (out []string, err error) {
	cut, closed := m.Snapshot().Cuts[m.Period.Number]
	if !closed {
		return nil, nil
	}
	list, err := o.Store().Sendings(ctx, code, mostSent)
	if err != nil {
		return nil, err
	}
	var was int64
	for _, x := range list {
		b, err := o.Store().BriefOf(ctx, x.Brief)
		if err != nil {
			return nil, err
		}
		if b == nil || calendar.Period(b.Period) != m.Period.Number || bytes.Equal(b.Hash, cut.Hash[:]) {
			continue
		}
		for _, c := range m.Snapshot().History {
			if c.Period == b.Period && bytes.Equal(c.Hash[:], b.Hash) {
				was = c.ID
			}
		}
		break
	}
	if was == 0 {
		return nil, nil
	}
	d, err := closing.In(o.Office).CompareCuts(ctx, a, m, was, cut.ID)
	if err != nil {
		return nil, err
	}
	type line struct {
		rank int
		text string
	}
	var lines []line
	for _, c := range d.Changes {
		if c.Was == nil || c.Is == nil {
			lines = append(lines, line{-1, c.Name + " is new in it, or gone from it"})
			continue
		}
		for _, id := range c.Figures {
			rank := slices.Index(pointed, id)
			if rank < 0 {
				rank = len(pointed) // figures that readers seldom ask for come last
			}
			if c.Is.Group {
				rank += len(pointed) + 1
			}
			lines = append(lines, line{rank, fmt.Sprintf("%s: %s %s, was %s", c.Name, tell.Lower(figure.Get(id).Title),
				tell.Figure(id, c.Is.Value(id), c.Is.Currency, true).Text, tell.Figure(id, c.Was.Value(id), c.Was.Currency, true).Text)})
		}
	}
	slices.SortStableFunc(lines, func(x, y line) int { return cmp.Compare(x.rank, y.rank) })
	for i, l := range lines {
		if i == mostChanges {
			return append(out, fmt.Sprintf("and %d more", len(lines)-i)), nil
		}
		out = append(out, l.text)
	}
	return out, nil
}

// Again sends a link anew to the same reader: the one before opens nothing any more.
func (o Room) Again(ctx context.Context, a right.Actor, id int64, to Addresses) error {
	if err := right.Check(a, right.Brief); err != nil {
		return err
	}
	x, err := o.Store().SendingOf(ctx, id, nil)
	if err != nil {
		return err
	}
	if x == nil {
		return office.Refusef("Nothing of the kind was sent.")
	}
	b, err := o.Store().BriefOf(ctx, x.Brief)
	if err != nil {
		return err
	}
	if b.Withdrawn.Valid {
		return office.Refusef("%s was withdrawn: %s. Send the pack itself again.", b.Title, strings.TrimSuffix(b.Withdrawn.String, "."))
	}
	token, hash := right.NewCode()
	was := x.ID
	x.Hash, x.At, x.Until, x.Actor, x.Occasion = hash, o.Now(), o.Now()+lasts.Milliseconds(), a.Name, fmt.Sprintf("again %d", was)
	note := letters.Note{
		Letter: store.LetterOf(hash), Account: x.Account, Name: x.Reader, Address: x.Address, Subject: b.Title,
		Opening: a.Name + " sends you this again; the link of before opens nothing any more.", Text: b.Title, Link: to.Shared(token),
		Remark: remark(b, x.Until),
	}
	l, err := note.Written(o.Now(), to.Addresses)
	if err != nil {
		return err
	}
	l.Enclosed = x.Enclosed
	err = o.Store().Send(ctx, []store.Sending{*x}, []store.Letter{l}, was)
	if errors.Is(err, store.ErrEnded) || errors.Is(err, store.ErrSent) {
		return office.Refusef("The link of %s was revoked or sent again meanwhile; nothing was sent.", x.Reader)
	}
	return err
}

// Revoke ends the link of what was sent.
func (o Room) Revoke(ctx context.Context, a right.Actor, id int64) error {
	if err := right.Check(a, right.Brief); err != nil {
		return err
	}
	return o.Store().RevokeSending(ctx, id, o.Now())
}
