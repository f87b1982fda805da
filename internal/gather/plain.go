package gather

import (
	"cmp"
	"fmt"
	"math/big"
	"regexp"
	"slices"
	"strings"

	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// plain writes a cell in the canonical form, by the column's form; "" says
// nothing.
func (r *reader) plain(c *record.Column, text string, kind CellKind, use *Use) (out, why string) {
	switch {
	case isNumeric(c.Type):
		return r.number(c, text, kind, use)
	case c.Type == record.Date, c.Type == record.Day:
		if c.Type == record.Day && !strings.ContainsAny(text, "0123456789") {
			return strings.ToLower(text)[:min(3, len(text))], ""
		}
		return r.date(text, kind, use)
	case c.Type == record.Period:
		if kind == Words {
			if p, _ := readMonth(text, r.InYear, r.o.Periods); p != 0 {
				return r.o.Periods.Code(p), ""
			}
		}
		d, why := r.date(text, kind, use)
		if why != "" || d == "" {
			return "", fmt.Sprintf("%q is not a period like %s or Nov 2026", text, "2026-11")
		}
		p, _ := readMonth(d, "", r.o.Periods)
		return r.o.Periods.Code(p), ""
	case c.Type == record.VersionRef:
		if allDigits(text) && len(text) < 5 {
			return text, ""
		}
		if p, _ := readMonth(text, "", r.o.Periods); p != 0 {
			return r.o.Periods.Code(p), ""
		}
		return text, ""
	case c.Type == record.Choice && use.Words[Normal(text)] != "":
		return use.Words[Normal(text)], ""
	case c.Type == record.Choice:
		return r.choice(c, text), ""
	case c.Type == record.CurrencyCode:
		if cur := cmp.Or(signs[strings.ToLower(text)], currencyNames[Normal(text)]); cur != "" {
			return string(cur), ""
		}
		return text, ""
	}
	if text == "-" || c.Name == "text" && r.t.Name == "narratives" && saysNothing(text) {
		return "", "" // in what people send it fills a cell that says nothing
	}
	return text, ""
}

func (r *reader) choice(c *record.Column, text string) string {
	if c.Name == "state" && r.t.Name == "risks" && readDay(text).any() {
		return "closed" // on that day
	}
	return chosen(r.t, c, text)
}

// chosen gives the value of a column of few that a text is a word for; else the text.
func chosen(t *record.Kind, c *record.Column, text string) string {
	n := Normal(lights.Replace(text))
	for _, d := range c.Domain {
		if n == Normal(d) {
			return d
		}
	}
	if to := cmp.Or(choices[t.Name+"."+c.Name][n], choices[c.Name][n]); to != "" {
		for _, d := range c.Domain {
			if d == to {
				return d
			}
		}
	}
	if k := kindOf(text); k != "" && c.Name == "kind" && t.Name == "costs" {
		return k
	}
	if s := sectionOf(text); s != "" && c.Name == "section" {
		return s
	}
	return text
}

func (r *reader) date(text string, kind CellKind, use *Use) (out, why string) {
	if kind == Number {
		if d := serialDay(text, r.From1904); d != 0 {
			return d.String(), ""
		}
		return "", fmt.Sprintf("%s is a number, and no day that a spreadsheet counts", text)
	}
	if isDash(text) || saysNothing(text) {
		return "", ""
	}
	if d := countedDay(text); d != 0 {
		return d.String(), ""
	}
	d := readDay(text)
	if day := d.in(use.Form); day != 0 {
		return day.String(), ""
	}
	if d.any() {
		return "", fmt.Sprintf("%q is no day with %s", text, strings.Replace(use.Form, " first", "s first", 1))
	}
	return "", fmt.Sprintf("%q is not a day that exists; write it like 2026-11-05", text)
}

func (r *reader) number(c *record.Column, text string, kind CellKind, use *Use) (out, why string) {
	if kind == Words && isDash(text) {
		if c.Type == record.Money && r.Dash == DashZero {
			return "0", ""
		}
		return "", ""
	}
	if kind == Words && saysNothing(text) {
		if c.Type == record.Money && yetToCome(text) {
			return "", fmt.Sprintf("%s says that the amount is not known yet; state it, or leave the cell empty", text)
		}
		return "", ""
	}
	if scaled(c.Name) && use.Scale != "" && use.Scale != AsTheyAre {
		if use.Share && kind == Number {
			text = moved(text, 2)
		}
		return onScale(text, use.Scale), ""
	}
	if scaled(c.Name) && kind == Words {
		n, word := stepOf(text)
		if n = cmp.Or(n, use.Words[word]); n != "" {
			return n, ""
		}
	}
	if c.Name == "percent" && kind == Words {
		if n := doneSaid(text); n != "" {
			return n, ""
		}
	}
	if c.Type == record.Money && kind == Words && strings.Contains(text, "%") {
		return "", fmt.Sprintf("%q is a percent, and no amount", text)
	}
	if c.Name == "percent" && strings.Contains(text, "%") {
		text = about.ReplaceAllString(text, "")
	}
	plain := text
	if kind == Words {
		var ok bool
		if plain, ok = plainNumber(text, use.Form); !ok {
			return "", fmt.Sprintf("%q is not a number with a %s", text, formName(use.Form))
		}
	}
	places := 0
	switch {
	case c.Type == record.Money:
		places = r.scaled
	case use.OfOne && !strings.Contains(text, "%"), use.Share && kind == Number:
		places = 2
	}
	if places > 0 {
		plain = moved(plain, places)
	}
	if use.Left {
		plain = lessHundred(plain)
	}
	switch c.Type {
	case record.Whole:
		plain = wholeOf(plain)
	case record.Decimal:
		plain = atMost(plain, portfolio.QuantityScale)
	}
	return plain, ""
}

// lessHundred gives what is done of what is left, in percent.
func lessHundred(left string) string {
	n, ok := new(big.Rat).SetString(left)
	if !ok {
		return left
	}
	n.Sub(big.NewRat(100, 1), n)
	return strings.TrimSuffix(strings.TrimRight(n.FloatString(portfolio.QuantityScale), "0"), ".")
}

// lights are signs of standings.
var lights = strings.NewReplacer("🟢", "green", "🟡", "amber", "🟠", "amber", "🔴", "red", "🟩", "green", "🟨", "amber", "🟧", "amber", "🟥", "red", "⚪", "grey")

// about are the words before a percent that is not exact, as all are.
var about = regexp.MustCompile(`(?i)^\s*(?:~|≈|ca\.?|c\.|circa|approx\.?|approximately|about|etwa|rund|omtrent|env\.?|environ)\s*`)

// doneWords say whether something is done.
var doneWords = map[string]string{
	"terminado": "100", "terminada": "100", "finalizado": "100", "completado": "100", "termine": "100", "terminee": "100", "acheve": "100", "fertig": "100",
	"erledigt": "100", "abgeschlossen": "100", "beendet": "100", "ferdig": "100", "fullfort": "100", "avsluttet": "100", "klar": "100", "klart": "100",
	"fardig": "100", "avslutad": "100", "faerdig": "100", "afsluttet": "100", "gereed": "100", "klaar": "100", "voltooid": "100", "afgerond": "100",
	"completato": "100", "finito": "100", "concluso": "100", "terminato": "100",
	"no iniciado": "0", "no iniciada": "0", "sin iniciar": "0", "pendiente": "0", "non commence": "0", "pas commence": "0", "a faire": "0",
	"nicht begonnen": "0", "nicht gestartet": "0", "offen": "0", "ikke begynt": "0", "ikke startet": "0", "ikke pabegynt": "0", "ej paborjad": "0",
	"ej startad": "0", "niet begonnen": "0", "niet gestart": "0", "non iniziato": "0", "da iniziare": "0", "not begun": "0", "not yet started": "0",
	"yet to start": "0", "to do": "0", "todo": "0",
	"yes": "100", "y": "100", "done": "100", "complete": "100", "completed": "100", "finished": "100", "achieved": "100", "ja": "100", "oui": "100", "si": "100", "x": "100",
	"no": "0", "n": "0", "open": "0", "not started": "0", "pending": "0", "nein": "0", "nei": "0", "nej": "0", "non": "0", "nee": "0",
}

// doneBeside is a percent with a word that says it is what is done.
var doneBeside = regexp.MustCompile(`^(\d{1,3}(?:[.,]\d+)?) ?% ?(?:is |are )?(?:done|complete|completed|finished|achieved|progress|fertig|erledigt|abgeschlossen|ferdig|ferdigstilt|utført|klart|färdigt|fait|réalisé|terminé|hecho|completado|fatto|completato|gereed|klaar)$`)

// doneBehind is a percent behind words that say that something has begun.
var doneBehind = regexp.MustCompile(`^(?:in progress|ongoing|started|running|under ?way|active|in arbeit|läuft|pågår|i gang|igang|en cours|en curso|in corso|bezig|onderweg|lopend)\s*[-–—:,(\[]?\s*(?:at |bei |ca\.? )?(\d{1,3}(?:[.,]\d+)?) ?%\s*[)\]]?$`)

// doneSaid gives the percent of what is done that words say: "not started", "80 % done";
// "" where they say none.
func doneSaid(text string) string {
	if n := doneWords[Normal(text)]; n != "" {
		return n
	}
	words := strings.ToLower(strings.Join(strings.Fields(text), " "))
	m := doneBeside.FindStringSubmatch(words)
	if m == nil {
		m = doneBehind.FindStringSubmatch(words)
	}
	if m == nil {
		return ""
	}
	return strings.Replace(m[1], ",", ".", 1)
}

// moved multiplies a plain decimal by a power of ten.
func moved(plain string, places int) string {
	neg := strings.HasPrefix(plain, "-")
	whole, part, _ := strings.Cut(strings.TrimPrefix(plain, "-"), ".")
	return assemble(whole, part, places, neg)
}

// wholeOf drops decimals that are nought.
func wholeOf(plain string) string {
	if whole, part, ok := strings.Cut(plain, "."); ok && strings.Trim(part, "0") == "" {
		return whole
	}
	return plain
}

// atMost rounds a quantity to the decimals that are kept.
func atMost(plain string, digits int) string {
	_, part, ok := strings.Cut(plain, ".")
	if !ok || len(part) <= digits {
		return plain
	}
	return money.RoundText(plain, digits)
}

// RowAt gives the header and the cells of a row of a file that was read by a
// layout; ok is false where there is none.
func RowAt(f *File, sheet string, l *Layout, row int, lim Limits) (head, cells []string, ok bool) {
	sheets, _ := Sheets(f, lim)
	if !slices.ContainsFunc(sheets, func(s *Sheet) bool { return s.Name == sheet }) {
		sheets, _ = open(f, lim) // it was read whole
	}
	for _, s := range sheets {
		if s.Name != sheet && !strings.HasPrefix(sheet, strings.TrimPrefix(s.Name+", rows ", ", ")) {
			continue // nor a part of it that someone made
		}
		s.Each(func(line *Line) bool {
			if line.N != l.Head && line.N != row {
				return line.N < row
			}
			out := make([]string, len(line.Cells))
			for i, c := range line.Cells {
				out[i] = strings.Clone(c.Text)
				if c.Kind == Number && i < len(l.Uses) && s.dates[i] {
					if d := serialDay(c.Text, s.from1904); d != 0 {
						out[i] = d.String()
					}
				}
			}
			if line.N == l.Head {
				head = out
				return row > l.Head
			}
			cells, ok = out, line.Wrong == ""
			return false
		})
	}
	return head, cells, ok
}
