package tell

import (
	"fmt"
	"strings"

	"turret/internal/core/figure"
	"turret/internal/core/money"
)

// compared are the amounts of a project that are compared with those of others, and
// what a line calls them.
var compared = [...]struct {
	id   figure.ID
	name string
}{
	{figure.BAC, "plan"},
	{figure.AC, "spent"},
	{figure.EACComputed, "computed outlook"},
	{figure.EACStated, "stated outlook"},
	{figure.AtStake, "at stake"},
}

// InOwn says that amounts are in a project's own currency, with those in the reporting
// one that are compared with others.
func InOwn(own, reporting money.Currency, value func(figure.ID) figure.Value) string {
	var list []string
	var all []figure.Value
	for _, x := range compared {
		all = append(all, value(x.id))
	}
	amounts := AmountsOf(reporting, all...)
	why := ""
	for _, x := range compared {
		switch v := value(x.id); {
		case v.Known && (x.id != figure.AtStake || v.N != 0):
			list = append(list, x.name+" "+amounts.Write(v))
		case why == "":
			why = v.Why
		}
	}
	out := fmt.Sprintf("Amounts are in %s, the project's own currency.", own)
	if len(list) == 0 {
		if why != "" {
			return out + fmt.Sprintf(" None is known in %s: %s.", reporting, why)
		}
		return out
	}
	return out + fmt.Sprintf(" In %s: %s.", reporting, strings.Join(list, ", "))
}

// InReporting says that a project's amounts are shown in the reporting currency.
func InReporting(own, reporting money.Currency) string {
	return fmt.Sprintf(
		"Amounts are shown in %s; shares, indices and dates are those of the project's own currency, %s.", reporting, own,
	)
}

// CurrencyPart says what amounts as shown would give, divided, in place of a share or an
// index of the project's own currency; "" where they give the same to the digits told.
func CurrencyPart(id figure.ID, own, divided figure.Value, shown money.Currency) string {
	if !own.Known || !divided.Known || own.Equal(divided) {
		return ""
	}
	is, was := Figure(id, own, shown, true), Figure(id, divided, shown, true)
	if is.Text == was.Text {
		return ""
	}
	by := figure.Exact(own.Unit, divided.Ratio().Sub(own.Ratio()).Abs())
	return fmt.Sprintf(
		"The amounts as shown in %s would give %s; %s of that is currency.",
		shown, was.Text, strings.TrimPrefix(Figure(id, by, shown, true).Text, "+"),
	)
}
