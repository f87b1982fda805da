package demo

import "strconv"

// A grant is paid in quarterly parts, each of them a month after it was due.

// grantParts gives the months of a project in which a part is due.
func grantParts(months int) (out []int) {
	for m := 2; m < months; m += 3 {
		out = append(out, m)
	}
	return out
}

// grantPart is one part of a project's grant.
func (l *life) grantPart(months int) string {
	return cents(float64(l.budget) * 1000 * l.grant / float64(len(grantParts(months))))
}

// grantPlan writes the income that a plan counts on.
func grantPlan(co *sheet, l *life, version, months int) {
	if l.grant == 0 {
		return
	}
	for _, m := range grantParts(months) {
		co.row(
			l.code,
			"800",
			"plan",
			"income",
			"capex",
			code(l.start+m),
			strconv.Itoa(version),
			l.grantPart(months),
			"",
			"",
		)
	}
}

// grantRows write what was paid in a period, and what is still to be.
func grantRows(co *sheet, l *life, p int) {
	if l.grant == 0 {
		return
	}
	for _, m := range grantParts(l.months) {
		switch paid := l.start + m + 1; {
		case paid == p:
			co.row(
				l.code,
				"800",
				"actual",
				"income",
				"capex",
				code(p),
				"",
				l.grantPart(l.months),
				"",
				"paid by the harbour fund",
			)
		case paid > p:
			co.row(l.code, "800", "forecast", "income", "capex", code(paid), code(p), l.grantPart(l.months), "", "")
		}
	}
}
