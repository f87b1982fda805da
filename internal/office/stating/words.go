package stating

import "context"

// layWords lays out the sections of the lead's words, each with what was written last.
func layWords(ctx context.Context, s *subject) (*Grid, error) {
	g := &Grid{Columns: []Column{
		{Name: "text", Title: "Text", Long: true},
		{Name: "stated_standing", Title: "Your standing", Choices: []string{"", "steady", "watch", "act", "unrated"}},
	}}
	said, err := s.snap.InForce(ctx, s.project.ID, s.Kind, s.at)
	if err != nil {
		return nil, err
	}
	for _, x := range s.snap.Office.Sections {
		r := Row{Key: x.Code, Title: x.Title, keys: map[string]string{"section": x.Code}}
		var is, last map[string]string
		for i := range said {
			if said[i].Cells["section"] != x.Code {
				continue
			}
			if last = said[i].Before; said[i].Said == s.at { // words are of their own period
				is = said[i].Cells
			}
		}
		g.fill(&r, is, last)
		if x.Code != "summary" {
			r.Cells = r.Cells[:1]
		}
		g.Rows = append(g.Rows, r)
	}
	return g, nil
}
