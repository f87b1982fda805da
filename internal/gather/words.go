package gather

import (
	"regexp"
	"slices"
	"strings"
	"sync"
	"unicode"

	"golang.org/x/text/unicode/norm"

	"turret/internal/record"
)

// Normal is a text without case, accents, signs and double spaces: how heads are
// compared.
func Normal(s string) string {
	ascii := true
	for i := 0; i < len(s); i++ {
		if s[i] >= utf8Self {
			ascii = false
			break
		}
	}
	if !ascii {
		s = norm.NFKD.String(plainer.Replace(s))
	}
	var b strings.Builder
	space := false
	for _, r := range s {
		switch {
		case unicode.Is(unicode.Mn, r):
		case unicode.IsLetter(r) || unicode.IsDigit(r):
			if space && b.Len() > 0 {
				b.WriteByte(' ')
			}
			space = false
			b.WriteRune(unicode.ToLower(r))
		default:
			space = true
		}
	}
	return b.String()
}

const utf8Self = 0x80

// plainer writes letters that have no accent to take off.
var plainer = strings.NewReplacer("ß", "ss", "ø", "o", "Ø", "o", "ł", "l", "æ", "ae")

// synonyms are the words by which people call a column, beside its own name;
// "table.column" holds for one table alone. The office adds its own.
var synonyms = map[string]string{
	"project":                    "proyecto|progetto|codigo de proyecto|projectnummer|code projet|project code|project no|project number|project id|project nr|proj|proj no|prj|job|job no|projekt|projekt nr|projektnr|projektnummer|prosjekt|prosjektnr|projet|no projet|projekt nummer|projektnamn|projektname|projektbezeichnung|prosjektnavn|projectnaam|nom du projet|nombre del proyecto|nome progetto|numero de projet|sag|sagsnr|project ref|project reference|site",
	"cost_code":                  "acct|acct no|acc|cost category|category|cost head|kostnadsslag|kostnadsart|kostensoort|cost item|kostenstellenart|tipo de coste|voce di costo|nature|codice di costo|cuenta|conto|rekening|art|code de cout|codigo de coste|kostnadskod|cost code|costcode|account|account no|account code|gl account|g l account|cost element|cost type|budget line|cbs|konto|kontonr|kostenart|kode|kostnadskode|compte|code comptable|sachkonto|kostenelement|rubrique|poste de cout|partida|voce|grootboekrekening|artskonto|omkostningsart|kontonummer|konto nr|account number|nominal|nominal code|wbs cost code|cost line|resource code",
	"costs.cost_code":            "row labels|zeilenbeschriftungen|radetiketter|etiquettes de lignes|etiquetas de fila|code|line|element|item",
	"costs.period":               "invoice month|payment month|spend month|cash month|month of invoice|due in|delivery|expected|due|due month|invoice expected",
	"progress.activity":          "code|nr|no|lfd nr|name|activity name|task name|milestone name",
	"activities.activity":        "nr|no|lfd nr",
	"postings.cost_code":         "code|element",
	"kind":                       "kind of amount|amount kind|value type|scenario|amount type|type of amount|wertart|betragsart|belopstype|type de montant",
	"flow":                       "direction",
	"class":                      "capex opex|capex or opex|capitalisation|capital",
	"period":                     "payment date|payment month|delivery date|due month|delivery month|expected month|cost month|month|reporting period|reporting month|accounting period|fiscal period|posting period|stated in|as of period|monat|periode|buchungsperiode|mois|buchungsmonat|periodo|mese|maand|maned|manad|period ending|month ending|for month|delivery date month",
	"version":                    "baseline no|statement|stated|stated in|as of|forecast version|plan version",
	"cost_centre":                "centre|center|cost center|cost centre|cc|department|kostenstelle|kst|kostnadssted|centre de cout",
	"activity":                   "actividad|activite|activiteit|tatigkeit|arbeitspaket|arbeidspakke|opgave|work package|activity name|tache|tarea|attivita|taak|aktivitat|aufgabe|oppgave|uppgift|jalon|meilenstein|milepael|n tache|activity id|activity code|activity no|task|task id|task no|wbs|id|aktivitet|vorgang|vorgangsnr|act|milestone|milestone id",
	"amount":                     "amt lc|amt in lc|loc amt|amount eur|betrag eur|amount lc|amount in lc|lc amount|local amount|amount local|amount loc curr|amount in company code currency|betrag hw|betrag in hw|betrag hauswahrung|document amount|amount dc|amount in document currency|importe|importo|bedrag|summa|value|sum|net amount|net|amount net|cost|costs|booked|booking amount|posted amount|betrag|belop|beloep|montant|netto|amt|belopp|belob|wert|valor|importe neto|importo netto|total cost|line amount|amount in local currency|posting amount|betrag netto|netto betrag|nettobetrag|montant ht",
	"-amount":                    "haber|abono|credito|avere|credit amount|credit|haben|kredit",
	"costs.amount":               "istkosten|ist kosten|prognosekosten|kosten ist|kosten prognose|open|still open|open value|order amount|outstanding|outstanding amount|remaining amount|remaining order value|actual|actuals|actual cost|actual costs|actual amount|spend|spent|open amount|open orders|order value|committed|committed amount|commitment|commitments|budget|budget amount|planned cost|plan amount|planned amount|forecast|forecast amount|forecast cost|accrual|accruals|accrued|accrued amount|plan|ist|obligo",
	"postings.amount":            "debe|cargo|dare|debito|debit amount|debit|soll|debet|actual|actual cost",
	"currency":                   "ccy|cur|curr|iso|wahrung|waehrung|valuta|devise|moneda|divisa|munt|doc currency|transaction currency|belegwahrung",
	"note":                       "commentaire|commentaires|remarque|comentario|commento|opmerking|merknad|anmerkung|anmarkning|notes|comment|comments|remark|remarks|bemerkung|kommentar",
	"posting":                    "docno|doc nr|docnum|posting no|posting number|posting id|document|document no|document number|doc|doc no|voucher|voucher no|entry|entry no|journal|journal no|journal id|transaction|transaction id|beleg|belegnr|beleg nr|belegnummer|bilag|bilagsnr|piece|reference no|verifikat|verifikation|verifikationsnr|ver nr|boekstuk|boekstuknr|boekstuknummer|bilagsnummer|asiento|documento|numero documento|registrazione|num piece|no piece|numero de piece|buchungsnummer|posting ref|trans no|transaction no|jnl|invoice no|invoice number|rechnungsnr|fakturanr",
	"date":                       "pst date|post date|pstg date|bk date|buch dat|fecha|data|boekdatum|bokforingsdatum|date comptable|date piece|posting date|booking date|booked on|document date|doc date|entry date|value date|buchungsdatum|belegdatum|datum|dato|bilagsdato|fecha contable|data registrazione|data contabile|date de comptabilisation|bogforingsdato|posteringsdato|bokfort|transaksjonsdato|transaktionsdatum|buchungstag|gl date|posted|posted on|transaction date|trans date|invoice date|factuurdatum",
	"supplier":                   "proveedor|fornitore|leverancier|leverantor|vendor|vendor name|supplier name|creditor|lieferant|kreditor|leverandor|fournisseur|party|crediteur|tiers|leverandornavn|vendor supplier|supplier vendor|counterparty|payee|name of vendor",
	"text":                       "narrative|booking text|explanation|purpose|description|posting text|details|narration|buchungstext|tekst|libelle|memo|omschrijving|descrizione|descripcion|beskrivelse|beskrivning|verwendungszweck|texte|concepto|causale|bilagstekst|line description|item text|line text|posting description|kommentar|particulars",
	"narratives.stated_standing": "feu|meteo|ampel|trafikklys|semaforo|stoplicht|rag status|status|health|colour|color",
	"narratives.text":            "narrative|words|story|report text|comment|summary text",
	"name":                       "nom de tache|nom de la tache|nom tache|nom de l activite|nombre de tarea|nombre de la tarea|nombre tarea|nome attivita|nome dell attivita|taaknaam|naam taak|activiteitnaam|uppgiftsnamn|opgavenavn|opgavens navn|vorgangsname|aufgabenname|aktivitatsname|oppgavenavn|aktivitetsnavn|aktivitetsnamn|libelle|intitule|nombre|nome|naam|namn|benaming|title|description|project name|project title|activity name|task name|milestone name|designation|bezeichnung|navn|nom",
	"programme":                  "program|programme code|portfolio|group|programm",
	"lead":                       "project lead|project manager|pm|manager|leader|projektleiter|prosjektleder|responsible",
	"sponsor":                    "project sponsor|owner|executive sponsor|auftraggeber",
	"owner":                      "responsable|proprietaire|responsabile|eigenaar|eier|agare|risikoeigner|risk owner|responsible|assigned to|owned by|who|verantwortlich|ansvarlig|ansvarig|risikoansvarlig|risk holder|propietario|titolare|eigentumer|verantwortlicher|lead",
	"stage":                      "phase|project stage|gate",
	"state":                      "statut|etat|estado|stato|tilstand|status|project status|zustand",
	"activities.finish":          "forecast date|forecast finish date",
	"progress.finish":            "now expected|now|latest|latest date|revised|revised date|revised finish|current|current date|new date|expected now|eta|latest finish|neuer termin|ny dato|fin prevue|fin prevista|ende voraussichtlich|forventet slutt|forecast|forecast date|finish forecast|expected|expected date|expected finish|projected finish|estimated finish|prognose|termin",
	"progress.actual_finish":     "actual|actual date|achieved|achieved on|ist",
	"start":                      "early start|inicio|inizio|startdatum|start|debut prevu|start date|planned start|planned begin|current start|forecast start|begin|beginn|anfang|begynnelse|debut|startdag|geplanter start|prevu debut|comienzo|fecha inicio|data inizio|startdato|begindatum|plan start date",
	"finish":                     "early finish|fine|einde|einddatum|slut|sluttdato|ende soll|finish date|end|end date|planned end|planned finish|current finish|forecast finish|due|due date|ende|slutt|fin|completion|finish forecast|slutdatum|geplantes ende|fecha fin|data fine|fecha de fin|date de fin|date fin|einddatum gepland|forecast end|expected end|current end|enddatum|endtermin",
	"actual_start":               "tatsachlicher anfang|tatsachlicher start|istbeginn|ist beginn|debut reel|inicio real|inizio effettivo|werkelijke start|faktisk start|tatsachlicher beginn|verklig start|started|started on|actual start date|ist start|begun|act start|ist anfang|reell start|fecha inicio real|data inizio effettiva|date debut reelle|verklig startdag|faktisk startdato|actual begin",
	"actual_finish":              "tatsachliches enddatum|istende|fin reelle|fin real|fine effettiva|werkelijk einde|faktisk slutt|tatsachliches ende|verkligt slut|finished|finished on|actual finish date|completed|completed on|ist ende|done on|act finish|ist fertig|faktisk slutt dato|fecha fin real|data fine effettiva|date fin reelle|verkligt slutdatum|faktisk slutdato|actual end|actual end date|completion date",
	"baseline_start":             "bl start|base start|baseline start date|plan start|original start|baseline begin|basis start|contract start|plan beginn|debut baseline",
	"baseline_finish":            "bl finish|base finish|baseline finish date|baseline end|plan finish|original finish|baseline date|baseline end date|contract date|contract finish|target finish|plan ende|basis slutt|referanse slutt|fin baseline|original end",
	"percent":                    "abgeschlossen|percent abgeschlossen|erledigt|completion|percentage complete|physical complete|physical percent complete|phys complete|percent done|pct done|work complete|complete percent|avanzamento fisico|avance fisico|avance|avanzamento|voortgang|fremdrift|framdrift|done|percent complete|pct|pct complete|complete|progress|physical progress|fertigstellung|fortschritt|ferdig|done|avancement|prozent|grad|fardigt|andel klart|fardigstallandegrad|faerdig|gereed|percentage gereed|completado|completamento|realise|ferdigstilt|fertig|fertigstellungsgrad|fertigstellung in|complete percentage|progress percent|actual progress|earned percent|percent progress|work done|progres|avancement physique",
	"units_done":                 "units complete|quantity done|qty done|installed|menge fertig",
	"units":                      "quantity|qty|units in all|total units|menge",
	"budget":                     "budgeted cost|budget amount|planned cost",
	"parent":                     "parent id|parent activity|parent task|summary task|parent code",
	"level":                      "milestone level",
	"rule":                       "earning rule|progress rule|measure",
	"from":                       "predecessor|pred|predecessor id",
	"to":                         "successor|succ|successor id",
	"type":                       "link type|relation|relationship",
	"lag":                        "lag days",
	"risk":                       "n|numero|num|risque|risiko|riesgo|rischio|risico|risk id|risk no|risk code|issue|issues|issue id|ref|reference|id|no|nr",
	"title":                      "risque|intitule|beskrivelse|beschreibung|descripcion|descrizione|omschrijving|libelle|risk title|description|risk description|risk name|name|what|bezeichnung|hendelse|handelse|event|rischio|riesgo|risico|risico omschrijving|risk event|risiko|risikobeschreibung|beskrivning|cause and effect",
	"likelihood":                 "eintritt|eintrittswahrsch|ew|l 1 5|probabilite|probabilidad|probabilita|kans|eintrittswahrscheinlichkeit|probability|prob|p|wahrscheinlichkeit|sannsynlighet|chance|sannolikhet|sandsynlighed|probabilite d occurrence|likelihood 1 5|l",
	"impact":                     "c|cons|gravite|impacto|impatto|gevolg|schadenshohe|severity|consequence|i|auswirkung|konsekvens|effect|paverkan|pavirkning|schaden|schadenausmass|ausmass|impact 1 5|danno|dano",
	"cost_impact":                "cout|cost|coste|costo|kosten|impact financier|cost effect|exposure|impact cost|financial impact|impact amount|kosteneffekt",
	"due":                        "target date|target|echeance|vencimiento|scadenza|vervaldatum|zieltermin|faellig|fallig|due date|action due|review date|frist|forfallsdato|slutdato for tiltak|deadline|by when|fecha limite|termine|einde datum",
	"response":                   "reponse|mesure|respuesta|risposta|maatregel|gegenmassnahme|atgard|plan d action|mitigation|action|actions|measure|response plan|massnahme|tiltak|atgarder|handling|foranstaltning|maatregelen|contromisura|medida|mesures|massnahmen|mitigations|treatment|control|controls",
	"section":                    "heading|topic|part",
	"stated_standing":            "standing|rag|overall|stated status|lead s standing|own view",
	"rates.currency":             "pair|currency pair|currencies|wahrungspaar|valutapar|from|from currency",
	"rate":                       "exchange rate|fx rate|fx|kurs|wechselkurs|valutakurs|taux",
	"set":                        "rate set|rate type|kind of rate",
	"reserve":                    "reserve kind",
	"step":                       "step no|step code|schritt",
	"weight":                     "weighting|gewicht",
	"item":                       "item id|story|story id|ticket|backlog item",
	"size":                       "points|story points|estimate",
	"created":                    "created on|opened|raised|raised on",
	"items.accepted":             "accepted on|closed|closed on",
	"dropped":                    "dropped on|removed on",
	"blocked":                    "blocked since",
	"receiver":                   "handed to|recipient",
	"handed_over":                "handed over on|delivered on",
	"constraint":                 "constraint type",
	"constraint_date":            "constraint day",
	"approved":                   "approval date|approved on",
	"reason":                     "why|justification|grund",
	"approver":                   "approved by",
	"baseline":                   "baseline number|baseline no|bl no",
	"calendar":                   "calendar code|work calendar",
	"programmes.programme":       "code|id",
	"cost_codes.cost_code":       "code|id|no",
	"cost_centres.cost_centre":   "code|id|no",
	"projects.project":           "code|id|no",
	"cost_codes.name":            "account name",
}

// totals are words that begin the label of a sum, in rows and in heads.
var totals = strings.Split(
	"overall result|gesamtergebnis|all projects|all accounts|all cost codes|alle konten|alle kostenarten|alle kontoer|alla konton|tous les comptes|todas las cuentas|tutti i conti|alle rekeningen|all codes|alle projekte|alle prosjekter|tous les projets|todos los proyectos|tutti i progetti|alle projecten|alla projekt|i alt|ialt|totaal|totale|summa|somma|endsumme|gesamtbetrag|total|totals|sum|subtotal|sub total|grand total|overall|summe|zwischensumme|gesamt|gesamtsumme|totalt|delsum|somme|sous total|total general|suma|year total|full year|ubertrag|carried forward|brought forward|balance forward|report",
	"|",
)

// isTotal tells whether a label says that it stands for a sum.
func isTotal(label string) bool {
	n := Normal(label)
	return slices.ContainsFunc(totals, func(w string) bool {
		rest, ok := strings.CutPrefix(n, w)
		return ok && (rest == "" || rest[0] == ' ')
	})
}

// sumTails are words that end the label of a row of sums: "North quay Total".
var sumTails = wordsOf("result results ergebnis gesamtergebnis resultat resultado total totals subtotal totalt totaal totale summe gesamt zwischensumme delsum")

// isTotalRow tells whether the label of a row says that it stands for a sum.
func isTotalRow(label string) bool {
	words := strings.Fields(Normal(label))
	return isTotal(label) || len(words) > 1 && sumTails[words[len(words)-1]]
}

// kinds are the words that tell which kind of amount a sheet, a head or a file
// holds.
var kinds = map[string]string{
	"prevision": "forecast", "previsions": "forecast", "prevision de couts": "forecast", "previsione": "forecast", "previsioni": "forecast", "pronostico": "forecast", "verwachting": "forecast", "forecast": "forecast", "fcst": "forecast", "fc": "forecast", "prognose": "forecast", "prognos": "forecast", "prognoser": "forecast", "utfall": "actual", "begroting": "plan", "presupuesto": "plan", "preventivo": "plan", "consuntivo": "actual", "realisatie": "actual", "budsjett": "plan", "faktisk": "actual", "palopt": "actual", "forpliktelser": "commitment", "bestellungen": "commitment", "verplichtingen": "commitment", "prognosis": "forecast", "etc": "forecast", "outlook": "forecast", "vorschau": "forecast",
	"kostenprognose": "forecast", "kostenvorschau": "forecast", "hochrechnung": "forecast", "kostnadsprognose": "forecast", "kostnadsprognos": "forecast",
	"kostenplan": "plan", "plankosten": "plan", "kostenbudget": "plan", "kostnadsbudget": "plan", "istkosten": "actual", "obligos": "commitment",
	"forecasts": "forecast", "fcsts": "forecast", "outlooks": "forecast", "prognosen": "forecast", "prognosene": "forecast", "budgets": "plan",
	"plan": "plan", "planned": "plan", "budget": "plan", "baseline": "plan",
	"open": "commitment", "outstanding": "commitment", "order": "commitment", "po": "commitment", "pos": "commitment", "commitment": "commitment", "commitments": "commitment", "committed": "commitment", "orders": "commitment", "obligo": "commitment",
	"accrued": "accrual", "avsatt": "accrual", "avsetning": "accrual", "abgegrenzt": "accrual", "provisionne": "accrual", "accrual": "accrual", "accruals": "accrual", "abgrenzung": "accrual",
	"reel": "actual", "realise": "actual", "engage": "commitment", "engagements": "commitment", "engagement": "commitment", "regnskap": "actual", "real": "actual", "bestellt": "commitment", "bestilt": "commitment",
	"reales": "actual", "reels": "actual", "effettivi": "actual", "effettivo": "actual", "werkelijk": "actual", "werkelijke": "actual", "faktiske": "actual", "faktiska": "actual",
	"actual": "actual", "actuals": "actual", "spent": "actual", "ist": "actual", "booked": "actual",
}

// kindsIn gives the kinds that a text names, each once. A long text is a remark, and names
// none.
func kindsIn(text string) (out []string) {
	const most = 12 // words of a title
	words := strings.Fields(strings.Map(apart, Normal(paymentPlan.ReplaceAllString(text, ""))))
	if len(words) > most {
		return nil
	}
	for _, w := range words {
		if k := kinds[w]; k != "" && !slices.Contains(out, k) {
			out = append(out, k)
		}
	}
	return out
}

// kindIn finds the one kind that a text names, or "".
func kindIn(texts ...string) string {
	found := ""
	for _, t := range texts {
		t = paymentPlan.ReplaceAllString(t, "")
		for w := range strings.FieldsSeq(strings.Map(apart, Normal(t))) {
			if k := kinds[w]; k != "" && found != "" && k != found {
				return ""
			} else if k != "" {
				found = k
			}
		}
	}
	return found
}

// paymentPlan says when orders are paid, and is no plan of cost.
var paymentPlan = regexp.MustCompile(`(?i)\b(?:payment|delivery|cash) (?:plan|schedule|forecast)\b|zahlungsplan|betalingsplan|betalningsplan`)

// kindOf gives the kind of amount that a cell is the word for, beside words that say that
// it is an amount; "" where it says anything else.
func kindOf(text string) string {
	found := ""
	for w := range strings.FieldsSeq(Normal(text)) {
		switch k := kinds[w]; {
		case k != "" && (found == "" || found == k):
			found = k
		case k != "" || !besideUnits[w]:
			return ""
		}
	}
	return found
}

// apart puts a space between what a file name joins.
func apart(r rune) rune {
	if r == '_' || r == '.' || r == '-' {
		return ' '
	}
	return r
}

// tableWords are words in the names of files and sheets that tell a table.
var tableWords = map[string]string{
	"orders": "costs", "bestellungen": "costs", "bestillinger": "costs", "commandes": "costs", "accrued": "costs", "actuals": "costs", "huvudbok": "postings", "grootboek": "postings", "hovedbok": "postings", "hovedbog": "postings", "mastro": "postings", "giornale": "postings", "diario": "postings", "mayor": "postings", "livre": "postings", "invoices": "postings", "transactions": "postings", "ledger": "postings", "timesheet": "postings", "timesheets": "postings", "stundenzettel": "postings", "timelister": "postings", "postings": "postings", "journal": "postings", "vouchers": "postings", "hauptbuch": "postings", "bookings": "postings", "buchungen": "postings",
	"forecast": "costs", "forecasts": "costs", "budgets": "costs", "outlooks": "costs", "prognosen": "costs", "costs": "costs", "cost": "costs", "kosten": "costs", "kostnader": "costs", "couts": "costs", "costes": "costs", "costi": "costs", "prognos": "costs", "previsione": "costs", "outlook": "costs", "plan": "costs", "budget": "costs", "commitments": "costs", "accruals": "costs", "prognose": "costs",
	"progress": "progress", "fortschritt": "progress", "activities": "activities", "schedule": "activities", "milestones": "activities", "tasks": "activities",
	"risques": "risks", "risiken": "risks", "risikoer": "risks", "riesgos": "risks", "rischi": "risks", "commentary": "narratives", "commentaires": "narratives", "comments": "narratives", "kommentarer": "narratives", "updates": "narratives", "avancement": "progress", "fremdrift": "progress", "status": "progress", "previsions": "costs", "prevision": "costs",
	"risks": "risks", "risk": "risks", "issues": "risks", "register": "risks", "narratives": "narratives", "story": "narratives", "narrative": "narratives",
	"rates": "rates", "projects": "projects", "programmes": "programmes", "centres": "cost_centres", "centre": "cost_centres", "center": "cost_centres", "centers": "cost_centres", "kostenstellen": "cost_centres", "programs": "programmes", "programme": "programmes", "chart": "cost_codes", "accounts": "cost_codes", "codes": "cost_codes", "links": "links", "steps": "steps", "items": "items", "backlog": "items", "calendars": "calendars", "holidays": "calendars", "baselines": "baselines",
}

// choices are words for the values of columns that take one of a few.
var choices = map[string]map[string]string{
	"kind": {
		"budget":    "plan",
		"planned":   "plan",
		"fcst":      "forecast",
		"committed": "commitment",
		"order":     "commitment",
		"actuals":   "actual",
		"spent":     "actual",
		"accrued":   "accrual",
		"ms":        "milestone",
		"group":     "summary",
		"threat":    "risk",
		"problem":   "issue",
		"workday":   "week",
	},
	"risks.kind": {
		"r": "risk", "t": "risk", "risks": "risk", "threats": "risk", "risiko": "risk", "risque": "risk", "riesgo": "risk", "rischio": "risk",
		"risico": "risk", "bedrohung": "risk", "trussel": "risk", "menace": "risk", "amenaza": "risk", "minaccia": "risk", "bedreiging": "risk", "hot": "risk",
		"i": "issue", "issues": "issue", "probleem": "issue", "probleme": "issue", "problema": "issue", "sak": "issue",
	},
	"class": {
		"capital":    "capex",
		"investment": "capex",
		"operating":  "opex",
		"expense":    "opex",
		"revenue":    "opex",
	},
	"flow": {"expense": "cost", "revenue": "income", "saving": "benefit"},
	"state": {
		"running":     "active",
		"in progress": "doing",
		"hold":        "on hold",
		"paused":      "on hold",
		"done":        "done",
		"complete":    "finished",
		"completed":   "finished",
		"closed":      "closed",
		"stopped":     "cancelled",
		"canceled":    "cancelled",
		"planned":     "proposed",
		"live":        "open",
	},
	"projects.state": {
		"in progress": "active", "ongoing": "active", "running": "active", "live": "active", "open": "active", "started": "active",
		"in execution": "active", "execution": "active", "laufend": "active", "in arbeit": "active", "aktiv": "active", "pagar": "active",
		"en cours": "active", "en curso": "active", "in corso": "active", "lopend": "active", "pagaende": "active", "igang": "active",
		"planned": "proposed", "not started": "proposed", "idea": "proposed", "pipeline": "proposed", "draft": "proposed", "initiation": "proposed",
		"geplant": "proposed", "planlagt": "proposed", "prevu": "proposed", "planificado": "proposed", "gepland": "proposed", "planerad": "proposed",
		"hold": "on hold", "paused": "on hold", "suspended": "on hold", "pausiert": "on hold", "ruht": "on hold", "pa vent": "on hold",
		"suspendu": "on hold", "en pause": "on hold", "en pausa": "on hold", "sospeso": "on hold", "vilande": "on hold",
		"complete": "finished", "completed": "finished", "closed": "finished", "done": "finished", "delivered": "finished",
		"abgeschlossen": "finished", "fertig": "finished", "beendet": "finished", "avsluttet": "finished", "ferdig": "finished",
		"termine": "finished", "terminado": "finished", "completato": "finished", "afgerond": "finished", "avslutad": "finished",
		"canceled": "cancelled", "stopped": "cancelled", "terminated": "cancelled", "abandoned": "cancelled", "abgebrochen": "cancelled",
		"storniert": "cancelled", "kansellert": "cancelled", "annule": "cancelled", "cancelado": "cancelled", "annullato": "cancelled",
	},
	"risks.state": {
		"active": "open", "live": "open", "new": "open", "in progress": "open", "mitigating": "open", "monitored": "open", "offen": "open",
		"apen": "open", "ouvert": "open", "ouverte": "open", "abierto": "open", "aperto": "open", "oppen": "open",
		"retired": "closed", "resolved": "closed", "expired": "closed", "done": "closed", "geschlossen": "closed", "erledigt": "closed",
		"lukket": "closed", "clos": "closed", "close": "closed", "ferme": "closed", "fermee": "closed", "cerrado": "closed", "chiuso": "closed",
		"gesloten": "closed", "stangd": "closed",
	},
	"stated_standing": {
		"g": "steady", "a": "watch", "y": "watch", "r": "act",
		"grun": "steady", "gelb": "watch", "rot": "act", "gronn": "steady", "gul": "watch", "rod": "act",
		"vert": "steady", "orange": "watch", "jaune": "watch", "rouge": "act", "verde": "steady", "amarillo": "watch", "rojo": "act",
		"giallo": "watch", "rosso": "act", "groen": "steady", "oranje": "watch", "geel": "watch", "rood": "act", "gron": "steady",
		"delayed": "act", "late": "act", "critical": "act", "ok": "steady", "good": "steady",
		"green":     "steady",
		"amber":     "watch",
		"yellow":    "watch",
		"red":       "act",
		"on track":  "steady",
		"at risk":   "watch",
		"off track": "act",
		"grey":      "unrated",
	},
	"type":         {"finish start": "FS", "start start": "SS", "finish finish": "FF", "start finish": "SF"},
	"earned_value": {"yes": "on", "no": "off", "true": "on", "false": "off"},
	"section": {
		"overview":    "summary",
		"achieved":    "done",
		"next steps":  "next",
		"support":     "help",
		"help needed": "help",
	},
	"set": {"budget": "plan", "planned": "plan", "month": "period", "actual": "period"},
}

// named is what a word says of a table: a column, and how surely, from 3 for
// the column's own name.
type named struct {
	column string
	weight int
}

// heads are the words for the columns of each table, normal and without
// spaces.
var heads = sync.OnceValue(func() map[string]map[string]named {
	out := make(map[string]map[string]named)
	for _, t := range record.Kinds() {
		words := make(map[string]named)
		put := func(word, column string, weight int) {
			if _, there := words[tight(word)]; !there && word != "" {
				words[tight(word)] = named{column, weight}
			}
		}
		for i := range t.Columns {
			put(t.Columns[i].Name, t.Columns[i].Name, 3)
		}
		for _, scope := range [...]string{t.Name + ".", ""} {
			for i := range t.Columns {
				for word := range strings.SplitSeq(synonyms[scope+t.Columns[i].Name], "|") {
					put(word, t.Columns[i].Name, 2)
				}
			}
		}
		if t.Index("amount") >= 0 {
			for word := range strings.SplitSeq(synonyms[AsCredit], "|") {
				put(word, AsCredit, 2)
			}
		}
		out[t.Name] = words
	}
	return out
})

// tight is a normal text without spaces.
func tight(s string) string {
	if strings.TrimFunc(s, isSpace) == "#" {
		return "no"
	}
	return strings.ReplaceAll(Normal(s), " ", "")
}

// called gives the column of a table that a head names, and how surely.
func called(t *record.Kind, head string, own map[string]string) (column string, weight int) {
	if name := own[Normal(head)]; name != "" && t.Index(name) >= 0 {
		return name, 3
	}
	return calledSo(t, tight(head), head)
}

// Means tells whether a head is a word for a column, in any table, without the office's own.
func Means(head, column string) bool {
	return slices.ContainsFunc(record.Kinds(), func(t *record.Kind) bool {
		as, weight := called(t, head, nil)
		return weight > 1 && as == column
	})
}

// calledSo does the same of a head whose tight form is known.
func calledSo(t *record.Kind, tightly, head string) (column string, weight int) {
	if x := heads()[t.Name][tightly]; x.weight > 0 {
		return x.column, x.weight
	}
	if tightly == "" && strings.Contains(head, "%") && t.Index("percent") >= 0 {
		return percentHead(head)
	}
	return tailed(t, head)
}

// tails are words that heads of codes and names end with.
var tails = wordsOf("name names title code codes no nr number id ref description nummer bezeichnung navn nom nombre nome naam namn")

// tailed gives, weakly, the column of codes that a head names but for its last word, as
// "Project name".
func tailed(t *record.Kind, head string) (column string, weight int) {
	if !strings.ContainsAny(head, " _-./()") {
		return "", 0
	}
	words := strings.Fields(Normal(head))
	if len(words) < 2 || !tails[words[len(words)-1]] {
		return "", 0
	}
	x := heads()[t.Name][strings.Join(words[:len(words)-1], "")]
	j := t.Index(x.column)
	if x.weight == 0 || j < 0 || !refers(&t.Columns[j]) && t.Columns[j].Type != record.ActivityRef {
		return "", 0
	}
	return x.column, 1
}
