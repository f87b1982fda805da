package brief

import (
	"context"
	"net/url"
	"slices"
	"strings"

	"turret/internal/office"
)

// askedPages are the pages of a brief that ask something: their names begin so,
// and what an address asks follows.
var askedPages = []struct {
	prefix string
	title  func(url.Values) string
	write  func(*briefWriter, context.Context, Part, url.Values) error
}{
	{"bridge:", bridgeTitle, (*briefWriter).bridge},
	{"found:", foundTitle, (*briefWriter).exceptionPage},
	{"road:", roadTitle, (*briefWriter).roadmap},
	{"money:", moneyTitle, (*briefWriter).moneyPage},
	{"decide:", decideTitle, (*briefWriter).decidePage},
	{"each:", eachTitle, (*briefWriter).eachPage},
	{"forecasts:", forecastsTitle, (*briefWriter).forecastsPage},
	{"since:", sinceTitle, (*briefWriter).sincePage},
	{"trend:", trendTitle, (*briefWriter).trendPage},
	{"text:", textTitle, (*briefWriter).textPage},
}

// askedPage names a page by what it asks.
func askedPage(prefix string, ask map[string]string) string {
	v := make(url.Values)
	for k, text := range ask {
		if text != "" {
			v.Set(k, text)
		}
	}
	return prefix + strings.NewReplacer("+", "%20", "-", "%2D").Replace(v.Encode()) // a sign at the end turns a page
}

// PageAsking names a page that asks something, by the beginning of its name and the query of an
// address; pages that ask nothing are named as they are.
func PageAsking(name, query string) string {
	prefix, fixed, asks := strings.Cut(name, ":")
	if !asks || fixed != "" {
		return name
	}
	v, err := url.ParseQuery(query)
	if err != nil {
		return name
	}
	ask := make(map[string]string, len(v))
	for k := range v {
		ask[k] = v.Get(k)
	}
	return askedPage(prefix+":", ask)
}

// BridgePart names the page of a brief that shows a bridge, by the parts of its
// address: of, vs, against, plan, beside, per, span, amounts, rows, row, flow,
// class, code, centre, activity, rates, currency and scope.
func BridgePart(ask map[string]string) string { return askedPage("bridge:", ask) }

// ExceptionsPart names the page of a brief that lists exceptions, by the parts
// of their address: cause, sort, the limits, and what projects are filtered by.
func ExceptionsPart(ask map[string]string) string { return askedPage("found:", ask) }

// PartNamed finds a page among those that a brief can have, by its name
// without a sign behind it.
func PartNamed(all []Part, name string) (Part, bool) {
	for _, x := range askedPages {
		query, ok := strings.CutPrefix(name, x.prefix)
		if !ok {
			continue
		}
		v, err := url.ParseQuery(query)
		return Part{Name: name, Title: x.title(v), Wide: x.prefix == "road:"}, err == nil
	}
	i := slices.IndexFunc(all, func(p Part) bool { return p.Name == name })
	if i < 0 {
		return Part{}, false
	}
	return all[i], true
}

// asked writes a page that asks something.
func (w *briefWriter) asked(ctx context.Context, p Part) error {
	for _, x := range askedPages {
		query, ok := strings.CutPrefix(p.Name, x.prefix)
		if !ok {
			continue
		}
		v, err := url.ParseQuery(query)
		if err != nil {
			return office.Refusef("What the page %q asks for cannot be read; take it from its screen again.", p.Title)
		}
		return x.write(w, ctx, p, v)
	}
	return office.Refusef("There is no page %q in this brief.", p.Name)
}
