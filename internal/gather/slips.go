package gather

import "turret/internal/record"

// slipped gives the column that a head of five letters or more nearly names: one letter is
// another, missing or too many; of nine or more, two are. "" where it nearly names several.
func (f *finder) slipped(t *record.Kind, tightly string) (column string, weight int) {
	const short, long = 5, 9
	if len(tightly) < short {
		return "", 0
	}
	most := 1
	if len(tightly) >= long {
		most = 2
	}
	for word, x := range heads()[t.Name] {
		if len(word) < short || len(word)-len(tightly) > most || len(tightly)-len(word) > most || differing(word, tightly, most+1) > most {
			continue
		}
		if column != "" && column != x.column {
			return "", 0
		}
		column, weight = x.column, 1
	}
	if weight > 0 {
		if f.slipOf == nil {
			f.slipOf = make(map[string]string)
		}
		f.slipOf[tightly] = column
	}
	return column, weight
}
