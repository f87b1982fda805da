package tell

import (
	"strconv"

	"turret/internal/chart"
	"turret/internal/core/figure"
	"turret/internal/core/money"
)

// Band draws the money of a group: spent, on order and to go beyond orders, with marks
// for what is earned, planned and computed: in millions, or in thousands where
// nothing reaches one. ok is false where plan or cost is not known.
func Band(
	title string,
	value func(figure.ID) figure.Value,
	cur money.Currency,
	link func(figure.ID) string,
) (b chart.Band, ok bool) {
	unit, scale := MillionUnit(cur), 1.0
	if small(value, cur) {
		unit, scale = Unit(figure.Money, cur), 1000
	}
	in := func(id figure.ID) (float64, bool) {
		v, ok := InMillions(value(id), cur)
		return v * scale, ok
	}
	write := func(v float64) string { return strconv.FormatFloat(v, 'f', 1, 64) }
	text := func(id figure.ID) string {
		v, _ := in(id)
		return Amount(write(v), 1)
	}
	plan, ok := in(figure.BAC)
	spent, ok2 := in(figure.AC)
	if !ok || !ok2 {
		return b, false
	}
	b = chart.Band{Title: title, Unit: unit, Plan: plan}
	b.Segments = append(
		b.Segments,
		chart.Segment{Class: "spent", Name: "spent", Value: spent, Text: text(figure.AC), Link: link(figure.AC)},
	)
	toGo, known := in(figure.ETCStated)
	name, id := "to go, as stated", figure.ETCStated
	if order, ok := in(figure.OnOrder); ok && known {
		b.Segments = append(
			b.Segments,
			chart.Segment{
				Class: "order",
				Name:  "on order",
				Value: order,
				Text:  text(figure.OnOrder),
				Link:  link(figure.OnOrder),
			},
		)
		toGo, name, id = toGo-order, "to go beyond orders, as stated", figure.BeyondOrders
	}
	if known && toGo > 0 {
		b.Segments = append(
			b.Segments,
			chart.Segment{Class: "togo", Name: name, Value: toGo, Text: text(id), Link: link(id)},
		)
	}
	mark := func(class, name string, id figure.ID) {
		if v, ok := in(id); ok {
			b.Marks = append(b.Marks, chart.BandMark{Class: class, Name: name, At: v, Text: text(id), Link: link(id)})
		}
	}
	mark("earned", "earned", figure.EV)
	mark("planned", "plan", figure.BAC)
	mark("computed", "computed", figure.EACComputed)
	if stated, ok := in(figure.EACStated); ok && stated > plan {
		b.Marks = append(
			b.Marks,
			chart.BandMark{
				Class: "stated",
				Name:  "beyond plan, as stated",
				At:    stated,
				Text:  Amount(write(stated-plan), 1),
				Link:  link(figure.EACStated),
			},
		)
	}
	return b, true
}

// small tells whether neither the plan nor any outlook reaches a million.
func small(value func(figure.ID) figure.Value, cur money.Currency) bool {
	for _, id := range [...]figure.ID{figure.BAC, figure.AC, figure.EACStated, figure.EACComputed} {
		if v, ok := InMillions(value(id), cur); ok && v >= 1 {
			return false
		}
	}
	return true
}
