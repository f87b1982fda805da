package gather

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"turret/internal/record"
)

// storyWords are the words by which people head the sections of what a lead tells: a
// head that has one of them is that section. Longer ones count before shorter ones.
var storyWords = map[string]string{
	"help": `help|support|decision|decisions|escalation|escalations|ask|asks|needs|hilfe|unterstutzung|entscheidung|entscheidungen|hjelp|bistand|
beslutning|beslutninger|besoin|besoins|aide|soutien|decision attendue|ayuda|apoyo|aiuto|supporto|hulp|ondersteuning|hjalp|stod`,
	"next": `next|upcoming|planned|nachste|nachsten|naechste|ausblick|neste|planlagt|prochain|prochaine|prochains|prochaines|a venir|proximo|proximos|proximas|
prossimi|prossime|volgende|nasta|naeste|kommende`,
	"done": `this month|this period|this week|done|achieved|achievements|accomplished|accomplishments|completed|progress|erreicht|erledigt|fortschritt|utfort|oppnadd|ferdig|realise|realises|realisations|
fait|accompli|hecho|logros|avance|fatto|realizzato|bereikt|gedaan|gjort|uppnatt|opnaet`,
	"summary": `summary|overview|executive|highlights|headline|situation|zusammenfassung|uberblick|lage|sammendrag|oppsummering|synthese|resume|resumen|
riepilogo|sintesi|samenvatting|sammanfattning`,
}

// section gives the section that a head names: one of the office's own by its code or title,
// else one of those that everyone has.
func (f *finder) section(head string) string {
	if own := f.o.Names.Find("section", head); len(own) == 1 {
		return own[0]
	}
	return sectionOf(head)
}

// sectionOf gives the section that a head names, or ""; a head of many words names
// none, nor does one that names two.
func sectionOf(head string) string {
	const few = 5
	words := strings.Fields(Normal(head))
	if len(words) == 0 || len(words) > few {
		return ""
	}
	text := " " + strings.Join(words, " ") + " "
	found := ""
	for _, section := range [...]string{"next", "help", "done", "summary"} {
		for w := range strings.SplitSeq(strings.ReplaceAll(storyWords[section], "\n", ""), "|") {
			if !strings.Contains(text, " "+w+" ") {
				continue
			}
			if found == "" || found == "done" && section == "summary" {
				found = section
			} else if found != section && !(found == "next" && section == "done") { // "planned progress" comes next
				return ""
			}
			break
		}
	}
	return found
}

// loneComment takes the one column of what a lead says, where no head names a section: it
// is the summary.
func (f *finder) loneComment() {
	u := f.u
	at := u.column("text")
	if at < 0 || f.m.Fixed["section"] != "" {
		return
	}
	for i := range u.Uses {
		if i != at && f.section(u.Columns[i].Head) != "" && f.mayTell(i) {
			return
		}
	}
	if f.section(u.Columns[at].Head) != "" {
		return
	}
	f.summary = true
	u.note("%s is taken as the summary: no head and no cell names a section.", f.called(at))
}

// stories takes columns that are each headed by a section of what a lead tells: each
// gives a row. heads tells how many a row of heads has.
func (f *finder) stories() {
	if f.t.Name != "narratives" || f.uses("section") || f.m.Columns["section"] != "" || f.m.Fixed["section"] != "" {
		return
	}
	u := f.u
	f.loneComment()
	taken := make(map[string]int)
	for i := range u.Uses {
		if s := f.section(u.Columns[i].Head); s == "" || !f.mayTell(i) {
			continue
		} else if _, before := without(u.Columns[i].Head, ofBefore); before {
			u.Uses[i].As, u.Columns[i].As = AsNone, AsNone
			u.Columns[i].Why = "it is what was said before"
			u.note("%s is left out: it is what was said before.", f.called(i))
		} else {
			taken[s]++
		}
	}
	few := 2
	if f.uses("project") && (f.uses("stated_standing") || f.hint() == record.Narratives.Kind) {
		few = 1
	}
	if len(taken) < few ||
		slices.ContainsFunc(slices.Collect(maps.Values(taken)), func(n int) bool { return n > 1 }) {
		return
	}
	for i := range u.Uses {
		if _, before := without(u.Columns[i].Head, ofBefore); before && u.Uses[i].As == AsNone {
			continue
		}
		if s := f.section(u.Columns[i].Head); s != "" && f.mayTell(i) {
			u.Uses[i] = Use{As: "text", Kind: s}
			u.Columns[i].As, u.Columns[i].Certainty, u.Columns[i].Why = "text", Sure, fmt.Sprintf(
				"its head says that it is the section %s",
				s,
			)
		} else if u.Uses[i].As == "text" {
			u.Uses[i].As, u.Columns[i].As = AsExtra, AsExtra
		}
	}
	u.Questions = slices.DeleteFunc(
		u.Questions,
		func(q Question) bool { return q.Column >= 0 && u.Uses[q.Column].Kind != "" },
	)
}

// mayTell tells a column that nobody said is something else.
func (f *finder) mayTell(i int) bool {
	said := f.m.Columns[f.u.Heads[i]]
	as := f.u.Uses[i].As
	return (said == "" || said == "text") && (as == "text" || as == AsExtra || as == AsNone)
}

// sectionsIn counts the sections that a row of heads names.
func (f *finder) sectionsIn(at int) int {
	found := make(map[string]bool)
	standing := false
	for _, c := range f.rows[at].cells {
		if s := f.section(c.Text); s != "" && c.Kind == Words {
			found[s] = true
			continue
		}
		column, weight := called(record.Narratives.Kind, c.Text, f.o.Words)
		standing = standing || weight > 0 && column == "stated_standing"
	}
	if standing && len(found) == 1 {
		return len(found) + 1
	}
	return len(found)
}

func (f *finder) toldBySections() bool {
	return slices.ContainsFunc(f.u.Uses, func(x Use) bool { return x.As == "text" && x.Kind != "" })
}
