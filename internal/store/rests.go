package store

import (
	"context"

	"github.com/jmoiron/sqlx"

	"turret/internal/core/portfolio"
)

// Rests is what a batch was planned on, where that is not everything: others may have
// written meanwhile, as long as it was nothing of this.
type Rests struct {
	Free    map[string]bool           // SQL tables that do not matter
	Records map[string]map[int64]bool // SQL tables of which these records matter, and no others
	Parts   map[portfolio.Part]bool
	Ledger  bool // postings matter
}

// still tells whether what a batch rests on is as it was, and its files can have their
// numbers. A batch that takes another back changes what nobody lists.
func (b *Batch) still(ctx context.Context, tx *sqlx.Tx) (bool, error) {
	if b.Rests == nil || b.Undoes != 0 {
		return false, nil
	}
	var undone bool
	if err := tx.GetContext(ctx, &undone, "SELECT EXISTS (SELECT 1 FROM batch WHERE id > ? AND origin = 'undo')", b.Base); err != nil || undone {
		return false, err
	}
	var records []struct {
		Table  string `db:"tbl"`
		Record int64  `db:"record"`
	}
	if err := tx.SelectContext(ctx, &records, "SELECT DISTINCT tbl, record FROM change WHERE batch > ?", b.Base); err != nil {
		return false, err
	}
	for _, r := range records {
		if b.Rests.Free[r.Table] {
			continue
		}
		if some, ok := b.Rests.Records[r.Table]; !ok || some[r.Record] {
			return false, nil
		}
	}
	var parts []portfolio.Part
	if err := tx.SelectContext(ctx, &parts, "SELECT project, kind, version FROM part_change WHERE batch > ?", b.Base); err != nil {
		return false, err
	}
	for _, p := range parts {
		if b.Rests.Parts[p] || b.Rests.Ledger && p.Kind == portfolio.LedgerPart {
			return false, nil
		}
	}
	for i := range b.Files {
		var taken bool
		f := &b.Files[i]
		if err := tx.GetContext(ctx, &taken, "SELECT EXISTS (SELECT 1 FROM file WHERE id = ? OR hash = ? AND name = ? AND sheet = ?)", f.ID, f.Hash[:], f.Name, f.Sheet); err != nil || taken {
			return false, err
		}
	}
	return true, nil
}
