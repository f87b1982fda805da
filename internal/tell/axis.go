package tell

import (
	"math"
	"strconv"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/money"
)

// Axis is a figure as people set it out and type it: shares in percent, money in
// thousands, days as dates, all else as it is.
type Axis struct {
	ID       figure.ID
	Currency money.Currency
}

// inPercent lists the shares that are written as percentages.
var inPercent = map[figure.ID]bool{
	figure.ComputedOver: true, figure.StatedOver: true, figure.SVShare: true, figure.CVShare: true,
	figure.LateShare: true, figure.EarnedShare: true, figure.PlannedShare: true, figure.SpentShare: true, figure.ElapsedShare: true, figure.StatedShare: true, figure.EarnedBase: true, figure.MarginShare: true, figure.EACSpread: true, figure.AddedShare: true, figure.NotReady: true,
}

// InPercent tells whether a figure is written in percent.
func InPercent(id figure.ID) bool { return inPercent[id] }

// Unit is what its values are in: "%", "k", "date", "days" or "".
func (a Axis) Unit() string {
	switch u := figure.Get(a.ID).Unit; {
	case inPercent[a.ID]:
		return "%"
	case u == figure.Money:
		return "k"
	case u == figure.Day:
		return "date"
	case u == figure.Workdays:
		return "days"
	}
	return ""
}

// Value gives a value in the axis' unit; NaN where it is not known.
func (a Axis) Value(v figure.Value) float64 {
	f := Float(v)
	switch a.Unit() {
	case "%":
		return f * 100
	case "k":
		return f / math.Pow10(a.Currency.Exponent()+3)
	}
	return f
}

// Write writes a place of the axis.
func (a Axis) Write(f float64) string {
	switch a.Unit() {
	case "%":
		return minus(short(f)) + "%"
	case "k":
		if math.Abs(f) >= 1000 {
			return symbolOf(a.Currency) + minus(short(f/1000)) + " M"
		}
		return symbolOf(a.Currency) + minus(short(f)) + " k"
	case "date":
		return calendar.Date(math.Round(f)).Time().Format("Jan 2006")
	case "days":
		return minus(short(f)) + " d"
	}
	return minus(short(f))
}

// Say writes a value of the axis as a sentence would: shares with one decimal,
// indices with two.
func (a Axis) Say(f float64) string {
	switch a.Unit() {
	case "%":
		return a.Write(math.Round(f*10) / 10)
	case "k":
		return a.Write(math.Round(f))
	}
	if figure.Get(a.ID).Unit == figure.Ratio {
		return minus(strconv.FormatFloat(f, 'f', 2, 64))
	}
	return a.Write(f)
}

func short(f float64) string {
	return strconv.FormatFloat(math.Round(f*1000)/1000, 'f', -1, 64)
}

// Text writes a place as people type it, and Parse reads it.
func (a Axis) Text(f float64) string {
	if a.Unit() == "date" {
		return calendar.Date(math.Round(f)).String()
	}
	return strconv.FormatFloat(f, 'g', 6, 64)
}

// Parse reads a place of the axis as people type it; ok is false where it is
// none.
func (a Axis) Parse(text string) (f float64, ok bool) {
	text = strings.TrimSpace(text)
	if a.Unit() == "date" {
		if d, err := calendar.ParseDate(text); err == nil {
			return float64(d), true
		}
	}
	f, err := strconv.ParseFloat(strings.TrimSuffix(strings.ReplaceAll(text, "−", "-"), "%"), 64)
	return f, err == nil && !math.IsNaN(f) && !math.IsInf(f, 0)
}
