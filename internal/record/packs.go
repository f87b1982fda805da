package record

import (
	"fmt"
	"slices"
	"strings"

	"turret/internal/core/pack"
)

// BriefForms are the forms that a brief is written in.
var BriefForms = []string{"pdf", "html", "xlsx", "pptx", "zip"}

// Packs are briefs that are made again and again for the same readers.
var Packs = func() *packsKind {
	k := &packsKind{Kind: records("packs", "pack", "pack", "briefs that are made again and again for the same readers")}
	k.Pack = k.code("pack", "code of your choice", Key)
	k.NameCol = k.text("name", "what it is called")
	k.Scopes = k.text("scopes", "programmes and projects by their codes, with commas; * is the whole portfolio, programmes and projects are each of them", Default("*"))
	k.Pages = k.text("pages", "the pages in their order, with commas, as the address of a brief has them; empty: all", Blank)
	k.Forms = k.text("forms", "pdf, html, xlsx, pptx or zip (tables as CSV), with commas", Default("pdf"))
	k.Readers = k.text("readers", "mail addresses and sign-in names, with commas; leads and sponsors each get their projects")
	k.When = k.text("send", `by itself: "2 working days after closing" or "each Monday"; empty: by hand`, Blank)
	k.As = k.choice("as", []string{"link", "attachment"}, "how it reaches its readers: by a link that ends, or enclosed with the letter, with the link beside", Default("link"), As("sent_as"))
	k.Refuse = k.refuse
	k.Touches = Names
	k.Form = &Form{
		Title: "Packs", Needs: founding,
		Says: "A pack is a brief that goes to the same readers each time: of what, which pages, in which forms, to whom and when. It is sent on its own page under Brief.",
	}
	k.Own = true
	return k
}()

type packsKind struct {
	*Kind
	Pack, NameCol, Scopes, Pages, Forms, Readers, When, As TextCol
}

func (k *packsKind) refuse(_ Run, x *Change) (column, why string) {
	if _, err := pack.ParseWhen(k.When.Of(x.After)); err != nil {
		return "send", err.Error()
	}
	for _, form := range pack.List(k.Forms.Of(x.After)) {
		if !slices.Contains(BriefForms, form) {
			return "forms", fmt.Sprintf("%q is no form of a brief; there are %s", form, strings.Join(BriefForms, ", "))
		}
	}
	if len(pack.List(k.Readers.Of(x.After))) == 0 {
		return "readers", "nobody would get it; name a mail address, a sign-in name, leads or sponsors"
	}
	return "", ""
}
