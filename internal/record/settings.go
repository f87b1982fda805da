package record

import (
	"fmt"
	"strconv"
	"strings"

	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// Settings are the office's settings, as export writes them.
var Settings = func() *settingsKind {
	k := &settingsKind{Kind: records("settings", "setting", "setting", "the office's settings, as export writes them")}
	k.Setting = k.text("setting", "name, reporting_currency, fiscal_start, calendar, moved_limit, near_critical, remind_before, remind_after, leads_read, executives_read, analysts_read, access_days, second_factor, discount_rate, or code_level_ with a role", Key)
	k.Value = k.text("value", "its value")
	k.Refuse = k.refuse
	k.Own = true
	return k
}()

type settingsKind struct {
	*Kind
	Setting, Value TextCol
}

func (k *settingsKind) refuse(r Run, x *Change) (column, why string) {
	name, value := k.Setting.Of(x.After), k.Value.Of(x.After)
	switch name {
	case "name", "calendar":
		return "", ""
	case "reporting_currency":
		c, ok := money.ParseCurrency(value)
		if !ok {
			return "value", fmt.Sprintf("%q is not a currency of ISO 4217, such as EUR", value)
		}
		rated := r.Stated()
		r.Each(Rates.Kind, func(*portfolio.Row) { rated = true })
		if c != r.ReportedIn() && rated {
			return "value", "the reporting currency cannot change once rates or statements are there; make a new database with it"
		}
	case "fiscal_start":
		n, err := strconv.Atoi(value)
		if err != nil || n < 1 || n > 12 {
			return "value", fmt.Sprintf("%q is not a month from 1 to 12", value)
		}
		if n != r.FiscalStart() && r.Stated() {
			return "value", "the fiscal year cannot change once something is stated; make a new database with it"
		}
	case MovedLimit:
		if n, err := strconv.ParseFloat(value, 64); value != "" && (err != nil || n <= 1 || n > mostMoved) {
			return "value", fmt.Sprintf("%q is not how many times more or less a forecast may be than the last: above 1, at most %d", value, mostMoved)
		}
	case NearCritical:
		if n, err := strconv.Atoi(value); value != "" && (err != nil || n < 1 || n > mostNear) {
			return "value", fmt.Sprintf("%q is no number of working days from 1 to %d of float within which an activity is near-critical", value, mostNear)
		}
	case RemindBefore, RemindAfter:
		if _, bad := DaysOf(value); bad != "" {
			return "value", fmt.Sprintf("%q is no number of days from 0 to %d; write some with blanks between them, such as 1 4, or none", bad, mostDays)
		}
	case LeadsRead, ExecutivesRead, AnalystsRead:
		if value != "" && value != ReadAll && value != ReadOwn {
			return "value", fmt.Sprintf("%q is neither %s nor %s: what those of the role read", value, ReadAll, ReadOwn)
		}
	case SecondFactor:
		for _, role := range strings.Fields(value) {
			if !r.Role(role) {
				return "value", fmt.Sprintf("%q is not a role that can be asked for a second factor", role)
			}
		}
	case DiscountRate:
		if n, err := money.ParseScaled(value, portfolio.QuantityScale); value != "" && (err != nil || n < 0 || n > hundred) {
			return "value", fmt.Sprintf("%q is no yearly rate in percent from 0 to 100, such as 3.5", value)
		}
	case AccessDays:
		if n, err := strconv.Atoi(value); value != "" && (err != nil || n < leastKept || n > mostKept) {
			return "value", fmt.Sprintf("%q is no number of days from %d to %d that the log of access is kept", value, leastKept, mostKept)
		}
	default:
		role, ok := strings.CutPrefix(name, CodeLevel)
		if !ok || !r.Role(role) {
			return "setting", fmt.Sprintf(
				"%q is not a setting; there are name, reporting_currency, fiscal_start, calendar, moved_limit, near_critical, remind_before, remind_after, leads_read, executives_read, analysts_read, access_days, second_factor, discount_rate, and code_level_ with a role",
				name,
			)
		}
		if n, err := strconv.Atoi(value); value != "" && (err != nil || n < 1 || n > 9) {
			return "value", fmt.Sprintf("%q is not a level from 1 to 9", value)
		}
	}
	return "", ""
}

// MovedLimit is the setting of how many times more or less a forecast may come to than the
// last, without being asked about.
const (
	MovedLimit = "moved_limit"
	mostMoved  = 1000
)

// NearCritical is the setting of how many working days of float an activity that is
// near-critical has at most.
const (
	NearCritical = "near_critical"
	mostNear     = 250
)

// RemindBefore and RemindAfter are the settings of how many days before and after a
// statement is due its writers are reminded of it.
const (
	RemindBefore = "remind_before"
	RemindAfter  = "remind_after"
	mostDays     = 60
)

// LeadsRead, and those of other roles, are the settings of what those of a role read: all
// projects, as without it, or those alone that they state for and that they are let read.
const (
	LeadsRead      = "leads_read"
	ExecutivesRead = "executives_read"
	AnalystsRead   = "analysts_read"
	ReadAll        = "all"
	ReadOwn        = "own"
)

// ReadSetting gives the setting of what those of a role read; "" where it cannot be said.
func ReadSetting(role string) string {
	for _, setting := range []string{LeadsRead, ExecutivesRead, AnalystsRead} {
		if ReadBy(setting) == role {
			return setting
		}
	}
	return ""
}

// ReadBy gives the role whose reading a setting tells; "" of any other.
func ReadBy(setting string) string {
	switch setting {
	case LeadsRead:
		return "lead"
	case ExecutivesRead:
		return "executive"
	case AnalystsRead:
		return "analyst"
	}
	return ""
}

// AccessDays is the setting of for how many days the log of access is kept; without it, for
// ever.
const (
	AccessDays = "access_days"
	leastKept  = 30
	mostKept   = 36_500
)

// DiscountRate is the setting of the yearly rate, in percent, by which what is to come is worth
// less than what is there.
const DiscountRate = "discount_rate"

// SecondFactor is the setting of which roles are asked for a second factor, with blanks
// between them.
const SecondFactor = "second_factor"

// DaysOf reads numbers of days with blanks or commas between them, and the first word that
// is none.
func DaysOf(text string) (days []int, bad string) {
	for _, word := range strings.FieldsFunc(text, func(r rune) bool { return r == ' ' || r == ',' || r == ';' }) {
		n, err := strconv.Atoi(word)
		if err != nil || n < 0 || n > mostDays {
			return nil, word
		}
		days = append(days, n)
	}
	return days, ""
}

// CodeLevel begins the setting of the level of cost codes that a role reads.
const CodeLevel = "code_level_"
