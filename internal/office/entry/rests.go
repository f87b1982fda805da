package entry

import (
	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/store"
)

// rests tells what a batch was planned on, so that it holds though others write something
// else meanwhile; nil is everything. It is told of statements and postings in canonical
// tables of which nothing was refused: they rest on the projects and cost codes that they
// name, on the parts that they change, and on whatever the office goes by.
func (g *gathering) rests(p *plan, in *intake, b *store.Batch) *store.Rests {
	if g.opts.form != nil || g.opts.Settle != nil || len(b.Records)+len(b.Refusals)+len(b.Settled)+len(g.report.Refusals)+len(g.closing) > 0 {
		return nil
	}
	for i := range in.sheets {
		if !in.sheets[i].Read.Layout.Canonical {
			return nil
		}
	}
	out := &store.Rests{Free: make(map[string]bool), Records: make(map[string]map[int64]bool), Parts: make(map[portfolio.Part]bool), Ledger: p.ledger != nil}
	for _, k := range record.OfRecords() {
		if k.Touches != record.Everything && k != record.Periods.Kind {
			out.Free[k.SQL] = true
		}
	}
	for _, k := range [...]*record.Kind{record.Projects.Kind, record.CostCodes.Kind} {
		out.Records[k.SQL] = p.looked[k.Name]
	}
	for key := range p.parts {
		out.Parts[key] = true
	}
	for key := range p.lines {
		out.Parts[key] = true
	}
	return out
}
