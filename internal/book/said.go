package book

import (
	"slices"

	"turret/internal/core/portfolio"
)

// Tables of records that change how projects are judged, or what was said about
// some of them, and nothing of what they are.
var (
	judging = []string{"rules", "dimensions", "policies", "checks"}
	said    = []string{"overrides", "answers", "checks_off"}
)

// light tells whether a table's records can change without loading anew.
func light(table string) bool {
	return slices.Contains(judging, table) || slices.Contains(said, table) || table == "periods"
}

// filled tells whether the parts of the projects are decoded.
func (s *Snapshot) filled() bool {
	s.parts.mu.Lock()
	defer s.parts.mu.Unlock()
	return s.parts.done
}

// say takes what light tables say now: rules, and, of the projects that it is
// about, what was said. Those get a value of their own.
func (s *Snapshot) say(tables []string, projects map[int64]*portfolio.Project) error {
	if slices.ContainsFunc(tables, func(t string) bool { return slices.Contains(judging, t) }) {
		var err error
		if s.Rules, err = s.Records.rules(); err != nil {
			return err
		}
	}
	if !slices.ContainsFunc(tables, func(t string) bool { return slices.Contains(said, t) }) {
		return nil
	}
	byID := make(map[int64]*portfolio.Project, len(projects))
	for id := range projects {
		byID[id] = &portfolio.Project{}
	}
	s.Records.sayOf(byID)
	for id, p := range projects {
		now := byID[id]
		if slices.Equal(now.Overrides, p.Overrides) && slices.Equal(now.Answers, p.Answers) && slices.Equal(now.Unchecked, p.Unchecked) {
			continue
		}
		c := *p
		c.Overrides, c.Answers, c.Unchecked = now.Overrides, now.Answers, now.Unchecked
		projects[id] = &c
	}
	return nil
}
