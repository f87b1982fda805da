package tell

// Placed is a risk by how likely it is and how much it would do, 1 to 5.
type Placed struct {
	Code               string
	Likelihood, Impact int64
}

// MatrixRow is a likelihood of the risk matrix, the highest first.
type MatrixRow struct {
	Likelihood int
	Cells      []MatrixCell // by impact, the lowest first
}

// MatrixCell holds the risks of one likelihood and impact. Its class tells a score, which
// is their product, from 20 on, and from 12 on.
type MatrixCell struct {
	Class string
	Codes []string
}

// Matrix lays risks out by likelihood and impact; nil where none has both.
func Matrix(list []Placed) (out []MatrixRow) {
	const steps, high, mid = 5, 20, 12
	by := make(map[[2]int64][]string)
	for _, r := range list {
		if r.Likelihood > 0 && r.Impact > 0 {
			key := [2]int64{min(r.Likelihood, steps), min(r.Impact, steps)}
			by[key] = append(by[key], r.Code)
		}
	}
	if len(by) == 0 {
		return nil
	}
	for l := int64(steps); l >= 1; l-- {
		row := MatrixRow{Likelihood: int(l)}
		for i := int64(1); i <= steps; i++ {
			c := MatrixCell{Codes: by[[2]int64{l, i}]}
			switch score := l * i; {
			case score >= high:
				c.Class = "high"
			case score >= mid:
				c.Class = "mid"
			}
			row.Cells = append(row.Cells, c)
		}
		out = append(out, row)
	}
	return out
}
