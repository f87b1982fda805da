package gather

import (
	"fmt"
	"strings"
)

// Heads of percents tell what is done, what is left, what was to be, or what was done in a month.

// Words beside a sign of percent: of what is done, and of what was to be.
var (
	percentDone = wordsOf(`actual done complete completed completion phys physical current this progress work earned ist reported overall cum cumulative to
date of month period monat maned mois mes mese maand manad finished fertig fortschritt erledigt ferdig fremdrift avancement avance realise real reell avanzamento gereed voortgang fardigt klart utfort task
activity erreicht stated now new vollendet abgeschlossen complet`)
	percentPlanned = wordsOf("planned plan target baseline bl soll geplant planlagt prevu previsto gepland planerad scheduled should budget expected")
)

// percentLeft are words beside a sign of percent of what is left to do.
var percentLeft = wordsOf("remaining left open outstanding rest restlich verbleibend offen gjenstaende restant restante resta resterend kvar aterstar tilbage restarbeid")

// leftHead tells a head of the percent that is left to do.
func leftHead(head string) bool {
	left, percent := false, strings.Contains(head, "%")
	for w := range strings.FieldsSeq(Normal(head)) {
		switch {
		case percentLeft[w]:
			left = true
		case w == "percent" || w == "percentage" || w == "pct" || w == "prozent" || w == "prosent" || w == "procent" || w == "pourcentage" || w == "porcentaje":
			percent = true
		case w != "to" && w != "do" && w != "go" && w != "work":
			return false
		}
	}
	return left && percent
}

// ofMonthAlone tells a head of a percent that may be what was done in the month alone: it speaks
// of the month, and not of what is done in all.
func ofMonthAlone(head string) bool {
	n := " " + Normal(head) + " "
	month := false
	for _, w := range [...]string{"this month", "this period", "in month", "in period", "of month", "of period", "monthly", "month", "im monat", "i maneden", "du mois", "del mes", "del mese"} {
		month = month || strings.Contains(n, " "+w+" ")
	}
	gain := false
	for _, w := range [...]string{"progress", "earned", "increment", "incremental", "gain", "added", "fortschritt", "zuwachs", "fremdrift", "avancement", "avance", "avanzamento", "voortgang"} {
		gain = gain || strings.Contains(n, " "+w+" ")
	}
	for _, w := range [...]string{"complete", "completed", "done", "to date", "cum", "cumulative", "overall", "total", "status", "fertig", "ferdig"} {
		if strings.Contains(n, " "+w+" ") {
			return false
		}
	}
	return month && gain
}

// monthAlone asks about a percent that may be what was done in the month alone.
func (f *finder) monthAlone() {
	at := f.u.column("percent")
	if f.t.Name != "progress" || at < 0 || f.m.Columns[f.u.Heads[at]] != "" || !ofMonthAlone(f.u.Columns[at].Head) {
		return
	}
	f.u.ask(at, "columns", fmt.Sprintf(
		"%q may be what was done in the month alone; say percent if it is all that is done so far, else keep it beside", f.u.Columns[at].Head,
	), "percent", AsExtra)
}

// percentHead reads a head with a sign of percent: how far something is, or nothing where
// it says how far it was to be, or a share of something else.
func percentHead(head string) (column string, weight int) {
	for w := range strings.FieldsSeq(Normal(head)) {
		if percentPlanned[w] || !percentDone[w] {
			return "", 0
		}
	}
	return "percent", 2
}
