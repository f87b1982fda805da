package packs

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"turret/internal/book"
	"turret/internal/change"
	"turret/internal/core/pack"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/right"
)

// Shipped are packs that an office can begin with; nobody gets them until it says who.
var Shipped = []Pack{
	{Code: "SHEETS", Name: "One page per project", Scopes: []string{pack.Everything}, Pages: []string{"each:"}, Forms: []string{"pdf"}},
	{Code: "TABLE", Name: "All projects in one table", Scopes: []string{pack.Everything}, Pages: []string{"board"}, Forms: []string{"pdf", "xlsx"}},
	{Code: "ROADMAP", Name: "Roadmap and milestones", Scopes: []string{pack.Everything}, Pages: []string{"road:", "milestones"}, Forms: []string{"pdf", "pptx"}},
	{Code: "MONEY", Name: "Money by cost code and year", Scopes: []string{pack.Everything}, Pages: []string{"money:rows=code&per=year", "money:per=year", "trend:"}, Forms: []string{"pdf", "xlsx"}},
	{Code: "DECIDE", Name: "What needs a decision", Scopes: []string{pack.Everything}, Pages: []string{"decide:", "exceptions"}, Forms: []string{"pdf"}},
	{Code: "TRUST", Name: "How good forecasts and figures are", Scopes: []string{pack.Everything}, Pages: []string{"forecasts:", "trust"}, Forms: []string{"pdf"}},
	{Code: "SINCE", Name: "What changed since the last brief", Scopes: []string{pack.Everything}, Pages: []string{"since:", "moved", "trend:"}, Forms: []string{"pdf"}},
}

// Beginning lists those of Shipped that the office has not set up.
func (o Room) Beginning(m *office.Moment) (out []Pack) {
	have := packsOf(m.Snapshot())
	for _, p := range Shipped {
		if !slices.ContainsFunc(have, func(x Pack) bool { return x.Code == p.Code }) {
			out = append(out, p)
		}
	}
	return out
}

// Set sets one of Shipped up, with the actor as its reader, who then says who else gets it.
func (o Room) Set(ctx context.Context, a right.Actor, code string) error {
	if err := right.Check(a, right.Found); err != nil {
		return err
	}
	i := slices.IndexFunc(Shipped, func(p Pack) bool { return p.Code == code })
	if i < 0 {
		return office.Refusef("There is no pack %q to begin with.", code)
	}
	if a.Login == "" {
		return office.Refusef("Nobody is signed in, so nobody would get it.")
	}
	p := Shipped[i]
	rows := func(_ context.Context, s *book.Snapshot) ([]entry.Rows, error) {
		for _, x := range packsOf(s) {
			if x.Code == code {
				return nil, office.Refusef("%s was set up meanwhile.", code)
			}
		}
		return []entry.Rows{entry.Of("packs", entry.Row{
			"pack": p.Code, "name": p.Name, "scopes": strings.Join(p.Scopes, ","), "pages": strings.Join(p.Pages, ","), "forms": strings.Join(p.Forms, ","), "readers": a.Login,
		})}, nil
	}
	_, err := entry.In(o.Office).Enter(ctx, a, &entry.Form{
		Origin: office.Registered, Note: fmt.Sprintf("the pack %s, as it comes", code), Seen: change.Unseen, Takes: right.Found, Rows: rows,
	})
	return err
}
