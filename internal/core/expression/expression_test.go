package expression

import (
	"math/big"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/figure"
)

var names = map[string]Unit{
	"cpi": Of(
		figure.Ratio,
	), "bac": Of(figure.Money), "eac": Of(figure.Money), "finish_slip": Of(figure.Workdays), "finish": Of(figure.Day),
	"es": Of(figure.Periods), "errors": Of(figure.Count), "lead": Text, "gone": Of(figure.Money), "late": Truth,
}

func get(name string) Value {
	rat := func(s string) Value { r, _ := new(big.Rat).SetString(s); return Num(r) }
	switch name {
	case "cpi":
		return rat("0.93")
	case "bac":
		return rat("1000")
	case "eac":
		return rat("1100.50")
	case "finish_slip":
		return rat("12")
	case "finish":
		return rat(strconv.Itoa(int(calendar.DateOf(2026, 11, 30))))
	case "es":
		return rat("4.5")
	case "errors":
		return rat("2")
	case "lead":
		return Str("Ada Brannock")
	case "late":
		return Value{Known: true, B: true}
	}
	return Unknown("it was never stated")
}

func TestEval(t *testing.T) {
	for source, want := range map[string]any{
		"cpi < 0.95":                                    true,
		"cpi < 0.93":                                    false, // exactly 0.93, not 0.93000000000000005
		"cpi <= 0.93":                                   true,
		"cpi <= 0.92":                                   false,
		"cpi >= 0.93 and not (cpi > 0.93)":              true,
		"cpi == 0.93 and eac > bac":                     true,
		"(eac - bac) / bac":                             "201/2000", // 100.50 ÷ 1000
		"eac > bac * 1.1":                               true,       // 1100.50 > 1100
		"bac * cpi":                                     "930",
		"max(bac, eac, 5) - min(bac, eac)":              "201/2",
		"abs(bac - eac)":                                "201/2",
		"finish_slip >= 12 ? bac : eac":                 "1000",
		"finish > date(\"2026-11-29\")":                 true,
		"finish - date(\"2026-11-01\") > 28":            true,
		"date(\"2026-11-30\") == finish":                true,
		"lead contains \"brannock\"":                    true,
		"lead in [\"Piet Halloran\", \"Ada Brannock\"]": true,
		"lead != \"Ada Brannock\"":                      false,
		"not late":                                      false,
		"-errors + 3":                                   "1",
		"errors * 2 / 4":                                "1",
		"bac / es":                                      "2000/9", // money per period
		// unknown values
		"gone > 5":                 nil,
		"gone > 5 or cpi < 1":      true,
		"gone > 5 and cpi > 1":     false,
		"cpi > 1 or gone > 5":      nil,
		"known(gone)":              false,
		"known(cpi) and cpi < 1":   true,
		"bac / (errors - 2)":       nil,
		"gone == gone":             nil,
		"max(bac, gone)":           nil,
		"known(gone) ? gone : bac": "1000",
	} {
		x, err := Parse(source, names)
		require.NoError(t, err, source)
		v := x.Eval(get)
		switch w := want.(type) {
		case nil:
			require.False(t, v.Known, source)
			require.NotEmpty(t, v.Why, source)
		case bool:
			require.True(t, v.Known, source)
			require.Equal(t, w, v.B, source)
			require.Equal(t, Truth, x.Unit, source)
		case string:
			require.True(t, v.Known, source)
			require.Equal(t, w, v.R.RatString(), source)
		}
	}
}

func TestUnits(t *testing.T) {
	for source, want := range map[string]Unit{
		"bac": Of(figure.Money), "bac / eac": Of(figure.Ratio), "cpi * cpi": Of(figure.Ratio), "bac * 2": Of(figure.Money), "2 * bac": Of(figure.Money),
		"errors * errors": Of(figure.Count), "finish_slip / 5": Of(figure.Workdays), "finish - finish": Number, "finish + 5": Of(figure.Day), "bac + 5": Of(figure.Money), "cpi > 1": Truth,
	} {
		x, err := Parse(source, names)
		require.NoError(t, err, source)
		require.Equal(t, want, x.Unit, source)
	}
}

// TestRefusals: each with a sentence that names what and where.
func TestRefusals(t *testing.T) {
	for source, want := range map[string]string{
		"":                                    "says nothing",
		"cpii < 1":                            "like cpi",
		"bac > finish_slip":                   "compares money with working days",
		"bac + cpi":                           "adds money with a ratio",
		"bac * bac":                           "makes no figure",
		"finish > 5":                          "a date with a number",
		"cpi <":                               "cannot be read",
		"cpi < 1 and bac":                     "this is money",
		"lead < \"x\"":                        "does not go with text",
		"1..1000000000":                       "is not known here",
		"map(1..9, # * 2)":                    "nothing that loops",
		"repeat(\"x\", 1000000000)":           "nothing that loops",
		"all([1, 2], cpi > 1)":                "nothing that loops",
		"[1, 2, 3]":                           "loops, lists",
		"cpi ** 99999999":                     "\"**\" is not known here",
		"bac.x":                               "fields within fields",
		"let x = 1; x":                        "loops, lists",
		"cpi ? 1 : 2":                         "must be yes or no",
		"cpi > 1 ? bac : lead":                "chooses between money with text",
		"date(\"2026-13-40\") > finish":       "no day",
		"abs(lead)":                           "does not go with text",
		"min(bac)":                            "takes 2 to 8",
		"abs(bac, eac)":                       "takes 1",
		"known(bac, eac)":                     "takes 1",
		"max(1, 2, 3, 4, 5, 6, 7, 8, 9)":      "takes 2 to 8",
		"2 * finish":                          "makes no figure",
		"2 * lead":                            "makes no figure",
		"finish / finish":                     "makes no figure",
		"-finish":                             "does not go with a date",
		"-lead":                               "does not go with text",
		"not bac":                             "does not go with money",
		"cpi in lead":                         "looks in a list",
		"lead contains 5":                     "looks for",
		"bac contains 5":                      "contains",
		"cpi startsWith cpi":                  "looks in texts, and this is a ratio",
		"cpi matches \"x\"":                   "is not known here",
		strings.Repeat("cpi + ", 300) + "cpi": "longer than",
		strings.Repeat("1+", 150) + "1":       "more than 200 parts",
		strings.Repeat("(", 400) + "1":        "cannot be read",
	} {
		_, err := Parse(source, names)
		require.ErrorContains(t, err, want, source)
	}
}

// FuzzParse: whatever is written either is refused or computes at once.
func FuzzParse(f *testing.F) {
	for _, s := range []string{"cpi < 0.9", "max(bac, 1e300) / 7 > eac", "not (late or known(gone))", "finish - date(\"2026-01-01\")", "lead in [\"a\"]", "((1))", "cpi ?? 1"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		x, err := Parse(s, names)
		if err != nil {
			require.NotEmpty(t, err.Error())
			return
		}
		v := x.Eval(get)
		if v.Known && x.Unit < Truth && x.Unit != Text {
			require.NotNil(t, v.R, s)
		}
	})
}

func TestNear(t *testing.T) {
	for at, want := range map[int]string{0: ` at "cpi +"`, 4: ` at "+"`, 5: " at its end", 6: " at its end", -1: " at its end"} {
		require.Equal(t, want, near("cpi +", at), "%d", at)
	}
}

// Two letters are enough to be offered a name, one is not.
func TestLike(t *testing.T) {
	x := &typing{names: map[string]Unit{"cpi": 0, "cv": 0, "eac_stated": 0}}
	for name, want := range map[string]string{"cp": ", like cpi", "Stated": ", like eac_stated", "c": "", "xy": ""} {
		require.Equal(t, want, x.like(name), name)
	}
}
