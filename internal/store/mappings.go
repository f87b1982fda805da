package store

import (
	"context"
	"database/sql"
	"errors"

	"github.com/jmoiron/sqlx"

	"turret/internal/store/format"
)

// Mapping is a version of how files of one source are read. An empty body is
// one that was taken away.
type Mapping struct {
	ID      int64
	Version int
	Name    string
	Look    string
	Body    string // JSON
	At      int64
	Actor   string
}

const inForce = "SELECT id, version, name, look, body, at, actor FROM mapping m WHERE version = (SELECT max(version) FROM mapping n WHERE n.id = m.id) "

// Mappings lists the mappings in force by name.
func (s *Store) Mappings(ctx context.Context) (out []Mapping, err error) {
	err = s.readers.SelectContext(ctx, &out, inForce+"AND body <> '' ORDER BY name, id")
	return out, plain(err)
}

// MappingVersions lists the versions of a mapping, the last first.
func (s *Store) MappingVersions(ctx context.Context, id int64) (out []Mapping, err error) {
	err = s.readers.SelectContext(
		ctx,
		&out,
		"SELECT id, version, name, look, body, at, actor FROM mapping WHERE id = ? ORDER BY version DESC",
		id,
	)
	return out, plain(err)
}

// SaveMapping keeps a new version of a mapping; with id zero a new mapping.
func (s *Store) SaveMapping(ctx context.Context, m Mapping) (id int64, err error) {
	err = s.write(ctx, func(tx *sqlx.Tx) error {
		id = m.ID
		if id == 0 {
			if err := tx.GetContext(ctx, &id, "SELECT coalesce(max(id), 0) + 1 FROM mapping"); err != nil {
				return err
			}
		}
		_, err := tx.ExecContext(
			ctx,
			"INSERT INTO mapping (id, version, name, look, body, at, actor) SELECT ?1, coalesce(max(version), 0) + 1, ?2, ?3, ?4, ?5, ?6 FROM mapping WHERE id = ?1",
			id,
			m.Name,
			m.Look,
			m.Body,
			m.At,
			m.Actor,
		)
		return err
	})
	return id, err
}

// Word is a word of the office's own for a column.
type Word struct {
	Word  string
	Col   string
	Actor string
	At    int64
}

// Words lists the office's own words for columns.
func (s *Store) Words(ctx context.Context) (out []Word, err error) {
	err = s.readers.SelectContext(ctx, &out, "SELECT word, col, actor, at FROM word ORDER BY word")
	return out, plain(err)
}

// SaveWord keeps a word; with an empty column it takes it away.
func (s *Store) SaveWord(ctx context.Context, w Word) error {
	return s.write(ctx, func(tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, "DELETE FROM word WHERE word = ?", w.Word); err != nil || w.Col == "" {
			return err
		}
		_, err := tx.ExecContext(
			ctx,
			"INSERT INTO word (word, col, actor, at) VALUES (?, ?, ?, ?)",
			w.Word,
			w.Col,
			w.Actor,
			w.At,
		)
		return err
	})
}

// Draft is a set of files that wait to be accepted.
type Draft struct {
	ID      int64
	Account int64
	Actor   string
	At      int64
	Answers string // JSON
	Files   []DraftFile
}

// DraftFile is a file of a draft. Body is what was received.
type DraftFile struct {
	Name string
	Hash [32]byte
	Body []byte
}

// SaveDraft keeps files that were sent.
func (s *Store) SaveDraft(ctx context.Context, d Draft) (id int64, err error) {
	packed := make([][]byte, len(d.Files))
	for i, f := range d.Files {
		packed[i] = format.Compress(f.Body)
	}
	err = s.write(ctx, func(tx *sqlx.Tx) error {
		if err := tx.GetContext(ctx, &id, "INSERT INTO draft (account, actor, at, answers) VALUES (?, ?, ?, ?) RETURNING id", d.Account, d.Actor, d.At, d.Answers); err != nil {
			return err
		}
		for i, f := range d.Files {
			if _, err := tx.ExecContext(ctx, "INSERT INTO content (hash, size, body) VALUES (?, ?, ?) ON CONFLICT (hash) DO NOTHING", f.Hash[:], len(f.Body), packed[i]); err != nil {
				return err
			}
			if _, err := tx.ExecContext(ctx, "INSERT INTO draft_file (draft, place, name, hash) VALUES (?, ?, ?, ?)", id, i, f.Name, f.Hash[:]); err != nil {
				return err
			}
		}
		return nil
	})
	return id, err
}

// SetAnswers keeps what was said about a draft.
func (s *Store) SetAnswers(ctx context.Context, id int64, answers string) error {
	return s.write(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "UPDATE draft SET answers = ? WHERE id = ?", answers, id)
		return err
	})
}

// DropDraft removes a draft, and the contents that nothing else refers to.
func (s *Store) DropDraft(ctx context.Context, id int64) error {
	return s.write(ctx, func(tx *sqlx.Tx) error {
		var hashes [][]byte
		if err := tx.SelectContext(ctx, &hashes, "SELECT hash FROM draft_file WHERE draft = ?", id); err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, "DELETE FROM draft WHERE id = ?", id); err != nil {
			return err
		}
		for _, h := range hashes {
			if _, err := tx.ExecContext(ctx, "DELETE FROM content WHERE hash = ?1 AND NOT EXISTS (SELECT 1 FROM file WHERE hash = ?1) AND NOT EXISTS (SELECT 1 FROM draft_file WHERE hash = ?1)", h); err != nil {
				return err
			}
		}
		return nil
	})
}

// Drafts lists the drafts of everyone, latest first, with their files' names.
func (s *Store) Drafts(ctx context.Context) ([]Draft, error) {
	var out []Draft
	if err := s.readers.SelectContext(ctx, &out, "SELECT id, account, actor, at, answers FROM draft ORDER BY id DESC"); err != nil {
		return nil, plain(err)
	}
	for i := range out {
		var names []string
		if err := s.readers.SelectContext(ctx, &names, "SELECT name FROM draft_file WHERE draft = ? ORDER BY place", out[i].ID); err != nil {
			return nil, plain(err)
		}
		for _, n := range names {
			out[i].Files = append(out[i].Files, DraftFile{Name: n})
		}
	}
	return out, nil
}

// DraftOf gives a draft with its files; nil where there is none.
func (s *Store) DraftOf(ctx context.Context, id int64) (*Draft, error) {
	var d Draft
	err := s.readers.GetContext(ctx, &d, "SELECT id, account, actor, at, answers FROM draft WHERE id = ?", id)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	if err != nil {
		return nil, plain(err)
	}
	rows, err := s.readers.QueryContext(
		ctx,
		"SELECT f.name, f.hash, c.body FROM draft_file f JOIN content c ON c.hash = f.hash WHERE f.draft = ? ORDER BY f.place",
		id,
	)
	if err != nil {
		return nil, plain(err)
	}
	defer rows.Close()
	for rows.Next() {
		var f DraftFile
		var hash, body []byte
		if err := rows.Scan(&f.Name, &hash, &body); err != nil {
			return nil, err
		}
		copy(f.Hash[:], hash)
		if f.Body, err = format.Expand(body); err != nil {
			return nil, err
		}
		d.Files = append(d.Files, f)
	}
	return &d, plain(rows.Err())
}
