package gather

import (
	"fmt"
	"slices"
	"strings"

	"turret/internal/record"
)

// What is decided where two columns are taken for one.

// otherTimes are words above columns of what was or is to be, beside those of what is now.
var otherTimes = wordsOf("target targeted goal planned after future previous prior last initial original before old residual ziel vorher nachher mal malsetting objectif cible objetivo obiettivo doel")

// otherTime gives which of two columns is of another time: what stands above one says that
// it is now, and above the other that it was or is to be; -1 where they do not.
func (f *finder) otherTime(i, at int) int {
	says := func(column int, words map[string]bool) bool {
		return slices.ContainsFunc(f.high[column], func(text string) bool {
			return slices.ContainsFunc(strings.Fields(Normal(text)), func(w string) bool { return words[w] })
		})
	}
	now, then := func(c int) bool { return says(c, nowWords) || says(c, wordsOfNow) }, func(c int) bool { return says(c, otherTimes) }
	switch {
	case now(at) && then(i) && !now(i):
		return i
	case now(i) && then(at) && !now(at):
		return at
	}
	return -1
}

var wordsOfNow = wordsOf("now today present heute jetzt actual aujourd'hui hoy oggi vandaag")

// settleTwice decides where a column is what another to its left is already:
// what was said wins, then the column's own name; two of the same head, or two
// words for what is counted or dated, are asked about.
func (f *finder) settleTwice(i int, taken map[string]int) {
	u := f.u
	as := u.Uses[i].As
	j := f.t.Index(as)
	if j < 0 {
		return
	}
	at, twice := taken[as]
	if !twice {
		taken[as] = i
		return
	}
	if u.Uses[i].Code != "" || u.Uses[i].Class != "" || u.Uses[i].Project != "" || u.Uses[i].Activity != "" || f.anotherKind(i) {
		return
	}
	if f.sameInAnother(i, at, taken) {
		return
	}
	if drop := f.plannedBeside(i, at); drop >= 0 {
		f.setAside(drop, i, taken, AsNone, "it is what was planned, beside what is forecast")
		return
	}
	if drop := f.leftBeside(i, at); drop >= 0 {
		f.setAside(drop, i, taken, AsExtra, "it is what is left, beside what is done")
		return
	}
	if drop := f.otherTime(i, at); drop >= 0 {
		f.setAside(drop, i, taken, AsExtra, "what stands above it says that it is of another time than now")
		return
	}
	if drop, why := f.otherDay(i, at); drop >= 0 {
		f.setAside(drop, i, taken, AsExtra, why)
		return
	}
	keep, drop := at, i
	if now, before := f.surely(i), f.surely(at); now > before {
		keep, drop, taken[as] = i, at, i
	} else if now == before && now < said {
		kind := f.t.Columns[j].Type
		if Normal(u.Columns[i].Head) == Normal(u.Columns[at].Head) {
			u.ask(i, "columns", fmt.Sprintf("two columns are headed %q; say which is %s, and what the other is", u.Columns[i].Head, as), as, AsExtra, AsNone)
		} else if isNumeric(kind) || isDay(kind) {
			u.ask(i, "columns", fmt.Sprintf("%q and %q both can be %s; say which is, and what the other is", u.Columns[at].Head, u.Columns[i].Head, as), as, AsExtra, AsNone)
		}
	}
	u.Uses[drop].As = AsExtra
	col := &u.Columns[drop]
	col.As, col.Certainty, col.Why = AsExtra, Guess, fmt.Sprintf("column %s is %s already", letters(keep), as)
}

// setAside takes one of two columns for nothing or as an extra, and the later one, i, for what
// both were where that stays.
func (f *finder) setAside(drop, i int, taken map[string]int, as, why string) {
	u := f.u
	if drop != i {
		taken[u.Uses[i].As] = i
	}
	u.Uses[drop].As, u.Uses[drop].Left, u.Columns[drop].As = as, false, as
	u.Columns[drop].Certainty, u.Columns[drop].Why = Likely, why
	how := "kept beside"
	if as == AsNone {
		how = "left out"
	}
	u.note("%s is %s: %s.", f.called(drop), how, why)
}

// leftBeside gives the one of two percents that is what is left, beside what is done; else -1.
func (f *finder) leftBeside(i, at int) int {
	switch left := f.u.Uses[i].Left; {
	case left == f.u.Uses[at].Left:
		return -1
	case left:
		return i
	}
	return at
}

// Words of heads of dates as they were planned, and as they are forecast.
var (
	datesPlanned  = wordsOf("planned plan scheduled original target geplant soll planlagt prevu previsto gepland planerad")
	datesAside    = wordsOf("updated update status reported report review reviewed checked entered created modified baseline bl printed data")
	datesForecast = wordsOf("forecast current expected projected estimated latest prognose prognos forventet voraussichtlich prevision actual now revised new neu ny")
)

// plannedBeside gives the one of two columns of the same days that holds what was planned,
// where the other holds what is forecast; else -1.
func (f *finder) plannedBeside(i, at int) int {
	j := f.t.Index(f.u.Uses[i].As)
	if j < 0 || !isDay(f.t.Columns[j].Type) {
		return -1
	}
	switch {
	case f.hasWord(i, datesPlanned) && f.hasWord(at, datesForecast):
		return i
	case f.hasWord(at, datesPlanned) && f.hasWord(i, datesForecast):
		return at
	}
	return -1
}

// Words of heads of the day on which something was booked, and of the days of its document.
var (
	dayBooked = wordsOf(`posting posted post pst pstg booking booked book bk buch buchung buchungsdatum buchungstag bokfort bokforing bokforings bokforingsdatum
bogforingsdato bogfort posteringsdato comptable comptabilisation contable contabile registrazione boekdatum boeking gl`)
	dayOfPaper = wordsOf(`document doc invoice value due entry voucher delivery payment service tax beleg belegdatum belegtag bilag bilagsdato factuur factuurdatum
faktura fakturadato fakturadatum rechnungsdatum rechnung valuta valutadatum wertstellung piece facture echeance documento factura fattura vencimiento scadenza forfall
forfallsdato leistungsdatum erfassungsdatum`)
)

// otherDay gives the one of two columns of days of bookings that is the document's, where
// the other is that of the booking; else -1.
func (f *finder) otherDay(i, at int) (drop int, why string) {
	if f.t != record.Postings.Kind || f.u.Uses[i].As != "date" {
		return -1, ""
	}
	booked := func(i int) bool { return f.hasWord(i, dayBooked) }
	paper := func(i int) bool { return f.hasWord(i, dayOfPaper) && !booked(i) }
	switch {
	case booked(i) && paper(at):
		return at, letters(i) + " is the day of booking"
	case booked(at) && paper(i):
		return i, letters(at) + " is the day of booking"
	}
	return -1, ""
}

// plannedAlone asks about days that were planned, beside other days of which no word says
// what they are: those may be what is forecast.
func (f *finder) plannedAlone() {
	u := f.u
	if f.t != record.Progress.Kind {
		return
	}
	for _, as := range [...]string{"finish", "start"} {
		at := u.column(as)
		if at < 0 || f.m.Columns[u.Heads[at]] != "" || !f.hasWord(at, datesPlanned) || f.hasWord(at, datesForecast) {
			continue
		}
		for i, x := range u.Uses {
			if x.As != AsExtra || f.m.Columns[u.Heads[i]] != "" || u.Columns[i].Head == "" || f.hasWord(i, datesAside) || !f.holdsDays(f.at, i) {
				continue
			}
			u.ask(i, "columns", fmt.Sprintf(
				"%q is what was planned, and no word says which days %q holds; say whether they are the %s that is forecast",
				u.Columns[at].Head, u.Columns[i].Head, as,
			), as, AsExtra)
			return
		}
	}
}

// hasWord tells whether the head of a column has one of some words.
func (f *finder) hasWord(column int, words map[string]bool) bool {
	for w := range strings.FieldsSeq(Normal(f.u.Columns[column].Head)) {
		if words[w] {
			return true
		}
	}
	return false
}

// sameInAnother decides between two columns of amounts of which one names a currency in
// its head: beside a column of currencies the other is what was booked, and that one is
// only the same in another currency. A sum up to the period is beside the period's own.
func (f *finder) sameInAnother(i, at int, taken map[string]int) bool {
	u := f.u
	if u.Uses[i].As != "amount" {
		return false
	}
	drop, why := -1, ""
	_, unit := unitOf(u.Columns[i].Head)
	_, before := unitOf(u.Columns[at].Head)
	switch runs, ran := runningIn(u.Columns[i].Head), runningIn(u.Columns[at].Head); {
	case runs != "" && ran == "":
		drop, why = i, "it is all up to the period, and "+letters(at)+" is the period's own"
	case ran != "" && runs == "":
		drop, why = at, "it is all up to the period, and "+letters(i)+" is the period's own"
	case isOpen(u.Columns[i].Head) && !isOpen(u.Columns[at].Head):
		drop, why = at, letters(i)+" is what of it is still open"
	case isOpen(u.Columns[at].Head) && !isOpen(u.Columns[i].Head):
		drop, why = i, letters(at)+" is what of it is still open"
	case f.currencies() && unit != "" && before == "":
		drop, why = i, "it is the same in another currency"
	case f.currencies() && before != "" && unit == "":
		drop, why = at, "it is the same in another currency"
	default:
		return false
	}
	if drop == at {
		taken["amount"] = i
	}
	u.Uses[drop].As, u.Columns[drop].As = AsNone, AsNone
	u.Columns[drop].Certainty, u.Columns[drop].Why = Likely, why
	u.note("%s is left out: %s.", f.called(drop), why)
	return true
}

// isOpen tells the head of what is still open of orders.
func isOpen(head string) bool {
	for w := range strings.FieldsSeq(Normal(head)) {
		switch w {
		case "open", "outstanding", "remaining", "offen", "offener", "apen", "restant", "pendiente", "aperto":
			return true
		}
	}
	return false
}

// besideOpen are the words beside one that says that something is still open of an order.
var besideOpen = wordsOf("balance value amount amounts commitment commitments order orders po net to be invoiced delivered uninvoiced betrag wert bestellwert saldo belop verdi montant valeur importe valor importo valore bedrag waarde")

// openAmount tells the head of what is still open of orders in words that are nothing else.
func openAmount(head string) bool {
	words, open := strings.Fields(Normal(head)), false
	for _, w := range words {
		switch {
		case isOpen(w):
			open = true
		case !besideOpen[w]:
			return false
		}
	}
	return open && len(words) > 1
}

// currencies tells whether a head names a column of currencies.
func (f *finder) currencies() bool {
	for i := range f.rows[f.at].cells {
		if column, _ := called(f.t, f.head(f.at, i), f.o.Words); column == "currency" {
			return true
		}
	}
	return false
}

// riskTitles tells the title of risks from their number: where one column is headed
// Risk and holds sentences, and another numbers them, the other is the risk.
func (f *finder) riskTitles() {
	if f.t.Name != "risks" {
		return
	}
	u := f.u
	code, sentences := -1, -1
	for i := range u.Uses {
		label, _ := unitOf(u.Columns[i].Head)
		column, _ := called(f.t, label, f.o.Words)
		switch {
		case f.m.Columns[u.Heads[i]] != "":
			if u.Uses[i].As == "risk" || u.Uses[i].As == "title" {
				return // someone said which is which
			}
		case column != "risk":
		case f.mostlySentences(i):
			sentences = i
		case code < 0:
			code = i
		}
	}
	if code < 0 || sentences < 0 {
		return
	}
	u.Questions = slices.DeleteFunc(
		u.Questions,
		func(q Question) bool { return q.Column == code || q.Column == sentences },
	)
	u.Uses[code].As, u.Columns[code].As = "risk", "risk"
	u.Columns[code].Certainty, u.Columns[code].Why = Sure, "it numbers the risks"
	as := "title"
	if f.uses("title") {
		as = AsExtra
	}
	u.Uses[sentences].As, u.Columns[sentences].As = as, as
	u.Columns[sentences].Certainty, u.Columns[sentences].Why = Sure, "it says what the risk is"
}

// mostlySentences tells a column that holds more than codes.
func (f *finder) mostlySentences(i int) bool {
	long, all := 0, 0
	for _, r := range f.rows[f.at+1:] {
		if i >= len(r.cells) {
			continue
		}
		if text := strings.TrimFunc(r.cells[i].Text, isSpace); text != "" {
			all++
			if len(strings.Fields(text)) > 1 {
				long++
			}
		}
	}
	return long*2 > all
}

// anotherKind takes columns of amounts that each name a kind of their own, as Budget
// and Actual, side by side.
func (f *finder) anotherKind(i int) bool {
	u := f.u
	if f.t.Name != "costs" || u.Uses[i].As != "amount" || f.m.Columns["kind"] != "" || f.m.Fixed["kind"] != "" {
		return false
	}
	kinds := make(map[string]bool)
	for j := range u.Uses[:i+1] {
		if u.Uses[j].As == "kind" {
			return false
		}
		if u.Uses[j].As == "amount" {
			k := kindIn(u.Columns[j].Head)
			if k == "" || kinds[k] || (f.m.Columns[u.Heads[j]] != "") != (f.m.Columns[u.Heads[i]] != "") {
				return false // or someone said which is the amount
			}
			kinds[k] = true
		}
	}
	for j := range u.Uses[:i+1] {
		if x := &u.Uses[j]; x.As == "amount" {
			x.Kind = kindIn(u.Columns[j].Head)
			u.Columns[j].Why = fmt.Sprintf("its head says that it is the %s of the row", x.Kind)
		}
	}
	return true
}
