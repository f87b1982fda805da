package packs

import (
	"context"
	"fmt"
	"net/mail"
	"slices"
	"strings"
	"time"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/pack"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/account"
	"turret/internal/record"
	"turret/internal/right"
	"turret/internal/store"
	"turret/internal/tell"
)

// Pack is a pack as it is kept.
type Pack struct {
	Code, Name string
	Scopes     []string
	Pages      []string
	Forms      []string
	Readers    []string
	When       pack.When
	Enclosed   bool   // its forms go with the letter
	Fault      string // why it cannot be sent, or ""
}

// packsOf reads the packs of the office.
func packsOf(s *book.Snapshot) (out []Pack) {
	k := record.Packs
	for _, r := range s.Records.Of(k.Kind) {
		p := Pack{
			Code: k.Pack.Of(&r), Name: k.NameCol.Of(&r),
			Scopes: pack.List(k.Scopes.Of(&r)), Pages: pack.List(k.Pages.Of(&r)),
			Forms: pack.List(k.Forms.Of(&r)), Readers: pack.List(k.Readers.Of(&r)), Enclosed: k.As.Or(&r) == "attachment",
		}
		if len(p.Scopes) == 0 {
			p.Scopes = []string{pack.Everything}
		}
		if len(p.Forms) == 0 {
			p.Forms = []string{"pdf"}
		}
		when, err := pack.ParseWhen(k.When.Of(&r))
		if err != nil {
			p.Fault = err.Error()
		}
		p.When = when
		out = append(out, p)
	}
	return out
}

// List lists the packs, each with why it could not be sent now.
func (o Room) List(ctx context.Context, a right.Actor, m *office.Moment) ([]Pack, error) {
	if err := right.Check(a, right.Brief); err != nil {
		return nil, err
	}
	out := packsOf(m.Snapshot())
	for i := range out {
		p := &out[i]
		if p.Fault != "" {
			continue
		}
		_, left, err := o.readers(ctx, a, m, p)
		if err != nil {
			return nil, err
		}
		p.Fault = strings.Join(left, "; ")
	}
	return out, nil
}

// reader is someone whom a pack goes to, with the scopes that they get.
type reader struct {
	account int64
	name    string
	address string
	actor   right.Actor
	scopes  []string
}

// scopes are those of a pack, the words for many spelled out; what is none is told.
func (p *Pack) scopes(m *office.Moment) (out, left []string) {
	add := func(code string) {
		if !slices.Contains(out, code) {
			out = append(out, code)
		}
	}
	for _, s := range p.Scopes {
		switch s {
		case pack.Everything:
			add(s)
		case pack.Programmes:
			for _, g := range m.Programmes() {
				add(g.Code)
			}
		case pack.Projects:
			for _, r := range m.Readings().Rows {
				if !r.Group && r.State == portfolio.Active {
					add(r.Code)
				}
			}
		default:
			if r, _ := m.Find(s); r == nil {
				left = append(left, fmt.Sprintf("no programme and no project is called %s in %s", s, m.Period.Name))
				continue
			}
			add(s)
		}
	}
	return out, left
}

// readers finds whom a pack goes to, and tells whom it cannot reach. Who does not sign in gets
// what the sender sees.
func (o Room) readers(ctx context.Context, a right.Actor, m *office.Moment, p *Pack) (out []reader, left []string, err error) {
	if m.Empty {
		return nil, []string{"nothing is stated yet"}, nil
	}
	scopes, left := p.scopes(m)
	people, err := o.Store().Accounts(ctx)
	if err != nil {
		return nil, nil, err
	}
	add := func(x *store.Account, scopes []string) error {
		if x.Address == "" {
			left = append(left, x.Name+" has no mail address")
			return nil
		}
		actor, ok, err := account.In(o.Office).ActorOf(ctx, x.ID)
		if err != nil {
			return err
		}
		if ok && !actor.Lacks {
			out = append(out, reader{x.ID, x.Name, x.Address, actor, scopes})
		}
		return nil
	}
	for _, name := range p.Readers {
		switch {
		case name == pack.Leads || name == pack.Sponsors:
			of := byPerson(m, scopes, name)
			for _, person := range people {
				if mine := of[person.Name]; len(mine) > 0 && !person.Disabled {
					if err := add(&person, mine); err != nil {
						return nil, nil, err
					}
				}
				delete(of, person.Name)
			}
			if rest := sorted(of); len(rest) > 0 {
				left = append(left, tell.Plural(len(rest), "person", "people")+" with no account: "+strings.Join(tell.Few(rest), ", "))
			}
		case strings.Contains(name, "@"):
			at, err := mail.ParseAddress(name)
			if err != nil {
				left = append(left, fmt.Sprintf("%q is no mail address", name))
				continue
			}
			out = append(out, reader{name: at.Address, address: at.Address, actor: a, scopes: scopes})
		default:
			i := slices.IndexFunc(people, func(x store.Account) bool { return strings.EqualFold(x.Login, name) && !x.Disabled })
			if i < 0 {
				left = append(left, fmt.Sprintf("nobody signs in as %s", name))
				continue
			}
			if err := add(&people[i], scopes); err != nil {
				return nil, nil, err
			}
		}
	}
	return out, left, nil
}

// byPerson gives the projects among scopes that each lead or sponsor has; of groups their
// projects too.
func byPerson(m *office.Moment, scopes []string, who string) map[string][]string {
	out := make(map[string][]string)
	for _, r := range m.Readings().Rows {
		if r.Group || r.State != portfolio.Active {
			continue
		}
		person := r.Lead
		if who == pack.Sponsors {
			person = r.Sponsor
		}
		if person != "" && slices.ContainsFunc(scopes, func(s string) bool { return s == pack.Everything || s == r.Code || office.Within(m.Readings(), r, s) }) {
			out[person] = append(out[person], r.Code)
		}
	}
	return out
}

func sorted(of map[string][]string) (out []string) {
	for name := range of {
		out = append(out, name)
	}
	slices.Sort(out)
	return out
}

// Sent is what was sent, as it is listed.
type Sent struct {
	store.Sending
	Title string
	Ended bool // its link opens nothing any more
}

// Sent lists what was sent last, of all packs or of one.
func (o Room) Sent(ctx context.Context, a right.Actor, code string) ([]Sent, error) {
	if err := right.Check(a, right.Brief); err != nil {
		return nil, err
	}
	list, err := o.Store().Sendings(ctx, code, mostSent)
	if err != nil {
		return nil, err
	}
	briefs, err := o.Store().Briefs(ctx)
	if err != nil {
		return nil, err
	}
	titles := make(map[int64]string, len(briefs))
	for i := range briefs {
		titles[briefs[i].ID] = briefs[i].Title
	}
	out := make([]Sent, len(list))
	for i, x := range list {
		out[i] = Sent{x, titles[x.Brief], x.Revoked != 0 || x.Until < o.Now()}
	}
	return out, nil
}

const (
	mostSent = 100
	lasts    = 60 * 24 * time.Hour // of a link
)

// dayOf is the day of a moment.
func dayOf(ms int64) calendar.Date { return calendar.DateIn(time.UnixMilli(ms)) }
