package book

import (
	"slices"

	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// touches gives the most that changes of some tables touch.
func touches(tables []string) record.Touch {
	most := record.Names
	for _, t := range tables {
		if k := record.Named(t); k != nil {
			most = min(most, k.Touches)
		}
	}
	return most
}

// touching tells whether one of some tables touches just that.
func touching(tables []string, what record.Touch) bool {
	return slices.ContainsFunc(tables, func(t string) bool { return touches([]string{t}) == what })
}

// filled tells whether the parts of the projects are decoded.
func (s *Snapshot) filled() bool {
	s.parts.mu.Lock()
	defer s.parts.mu.Unlock()
	return s.parts.done
}

// say takes what tables that touch no figure say now: rules, and, of the projects
// that it is about, what was said. Those get a value of their own.
func (s *Snapshot) say(tables []string, projects map[int64]*portfolio.Project) error {
	if touching(tables, record.Workings) {
		var err error
		if s.Office, err = s.Records.office(); err != nil {
			return err
		}
	}
	if touching(tables, record.Judgement) {
		var err error
		if s.Rules, err = s.Records.rules(); err != nil {
			return err
		}
	}
	if !touching(tables, record.Sayings) {
		return nil
	}
	byID := make(map[int64]*portfolio.Project, len(projects))
	for id := range projects {
		byID[id] = &portfolio.Project{}
	}
	s.Records.sayOf(byID)
	for id, p := range projects {
		now := byID[id]
		if slices.Equal(now.Overrides, p.Overrides) && slices.Equal(now.Answers, p.Answers) &&
			slices.Equal(now.Unchecked, p.Unchecked) {
			continue
		}
		c := *p
		c.Overrides, c.Answers, c.Unchecked = now.Overrides, now.Answers, now.Unchecked
		projects[id] = &c
	}
	return nil
}
