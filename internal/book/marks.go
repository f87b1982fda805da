package book

import (
	"context"
	"slices"

	"turret/internal/book/cache"
	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
)

// Marks are what a closed period's cut says of overall standings, of each
// project and how many of a group's parts stood where, and of the figures of groups.
type Marks struct {
	Checked  bool              // findings were kept
	ByCode   map[string]Counts // findings by project
	Projects map[string]standing.Standing
	Groups   map[string][4]int
	Figures  map[string][]figure.Value // of groups, by figure.ID
}

// Marks gives the overall standings of a closed period; nil where it is not
// closed.
func (b *Book) Marks(ctx context.Context, s *Snapshot, p calendar.Period) (*Marks, error) {
	cut, closed := s.Cuts[p]
	if !closed {
		return nil, nil
	}
	if s.full != nil { // each page asks for those of all periods
		return cache.Get(ctx, b.cache, seenMarksKey{cut.ID, s.sight.Key()}, func(ctx context.Context) (*Marks, error) {
			rs, err := b.seenReadings(ctx, s, cut, portfolio.Latest, true)
			if err != nil {
				return nil, err
			}
			return MarksOf(rs), nil
		})
	}
	return cache.Get(ctx, b.cache, marksKey{cut.ID}, func(ctx context.Context) (*Marks, error) {
		rs, err := onlyRead(ctx, b.cache, b.store, cut.ID)
		if err != nil {
			return nil, err
		}
		return MarksOf(rs), nil
	})
}

// MarksOf gives the overall standings of readings.
func MarksOf(rs *Readings) *Marks {
	m := &Marks{
		ByCode:   make(map[string]Counts),
		Projects: make(map[string]standing.Standing),
		Groups:   make(map[string][4]int),
		Figures:  make(map[string][]figure.Value),
	}
	for _, r := range rs.Rows {
		if r.Group {
			m.Groups[r.Code] = r.Counts
			m.Figures[r.Code] = slices.Clone(r.Values)
		} else {
			m.Projects[r.Code] = r.Standing[standing.Overall]
			var n Counts
			for i := range r.Findings {
				n.Add(&r.Findings[i])
			}
			m.ByCode[r.Code] = n
			m.Checked = m.Checked || r.Version != ""
		}
	}
	return m
}

// Counts are numbers of open findings by severity, the worst first: errors,
// warnings and notes; and of those that are accepted.
type Counts [4]int

// Open counts the open ones.
func (c Counts) Open() int { return c[0] + c[1] + c[2] }

// Add counts a finding.
func (c *Counts) Add(f *finding.Finding) {
	if f.Counts() {
		c[f.Severity.Rank()]++
	} else {
		c[3]++
	}
}

// Set computes the reading of any set of projects as a group, from the inputs
// that answer for a period. Codes that it does not know are left out.
func (b *Book) Set(
	ctx context.Context,
	s *Snapshot,
	codes []string,
	p calendar.Period,
	against portfolio.Against,
) (*Reading, error) {
	in, err := b.InputsAt(ctx, s, p)
	if err != nil {
		return nil, err
	}
	places := in.placesOf(codes)
	parts, err := in.evaluate(ctx, places, p, against)
	if err != nil {
		return nil, err
	}
	set, err := in.set(ctx, p)
	if err != nil {
		return nil, err
	}
	some := picked(parts, places)
	return in.groupReading(set, in.rollup(set, p, some), p, some), nil
}

// placesOf gives the places of projects, in order.
func (s *Snapshot) placesOf(codes []string) []int {
	wanted := make(map[string]bool, len(codes))
	for _, c := range codes {
		wanted[c] = true
	}
	var out []int
	for i, p := range s.Projects() {
		if wanted[p.Code] {
			out = append(out, i)
		}
	}
	return out
}

func (s *Snapshot) everyPlace() []int {
	return upTo(len(s.Projects()))
}

// upTo lists 0 to n−1.
func upTo(n int) []int {
	out := make([]int, n)
	for i := range out {
		out[i] = i
	}
	return out
}
