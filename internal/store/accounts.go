package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"errors"
	"time"

	"github.com/jmoiron/sqlx"
)

// Account is someone who may sign in. Moments are UTC milliseconds.
type Account struct {
	ID       int64  `db:"id"`
	Login    string `db:"login"`
	Name     string `db:"name"`
	Role     string `db:"role"`
	Password string `db:"password"` // hash, or "" until one is set
	Disabled bool   `db:"disabled"`
	Made     int64  `db:"made"`
	Address  string `db:"address"` // where they read letters, or ""
	Letters  string `db:"letters"` // which they want
}

// AccountEvent is something that was done to an account.
type AccountEvent struct {
	At      int64  `db:"at"`
	Actor   string `db:"actor"`
	Account string `db:"login"`
	What    string `db:"what"`
}

// ErrNamed is the error of a displayed name that another account has.
var ErrNamed = errors.New("another account has the name")

// ErrTaken is the error of a sign-in name or view name that exists already.
var ErrTaken = errors.New("the name is taken")

// Accounts lists all accounts by name.
func (s *Store) Accounts(ctx context.Context) (out []Account, err error) {
	err = s.readers.SelectContext(ctx, &out, "SELECT * FROM account ORDER BY name, id")
	return out, plain(err)
}

// AccountBy finds an account by id, or by login where the id is zero; nil where there is
// none.
func (s *Store) AccountBy(ctx context.Context, id int64, login string) (*Account, error) {
	var a Account
	err := s.readers.GetContext(ctx, &a, "SELECT * FROM account WHERE id = ? OR (? = 0 AND login = ?)", id, id, login)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	return &a, plain(err)
}

// AccountProjects gives the ids of the projects of each account.
func (s *Store) AccountProjects(ctx context.Context) (map[int64][]int64, error) {
	var rows []struct{ Account, Project int64 }
	if err := s.readers.SelectContext(ctx, &rows, "SELECT account, project FROM account_project ORDER BY account, project"); err != nil {
		return nil, plain(err)
	}
	out := make(map[int64][]int64)
	for _, r := range rows {
		out[r.Account] = append(out[r.Account], r.Project)
	}
	return out, nil
}

// ProjectsOf gives the ids of the projects of one account.
func (s *Store) ProjectsOf(ctx context.Context, account int64) (out []int64, err error) {
	err = s.readers.SelectContext(
		ctx,
		&out,
		"SELECT project FROM account_project WHERE account = ? ORDER BY project",
		account,
	)
	return out, plain(err)
}

// AccountEvents lists what was done to accounts, last first.
func (s *Store) AccountEvents(ctx context.Context, most int) (out []AccountEvent, err error) {
	err = s.readers.SelectContext(
		ctx,
		&out,
		"SELECT e.at, e.actor, coalesce(a.login, '') AS login, e.what FROM account_event e LEFT JOIN account a ON a.id = e.account ORDER BY e.id DESC LIMIT ?",
		most,
	)
	return out, plain(err)
}

// AccountChange is one change to accounts, written whole with its event.
type AccountChange struct {
	At       int64
	Actor    string
	What     string
	Account  Account  // made where its id is zero
	Was      Account  // as it was seen, where it is not made
	Projects []int64  // nil: as they were
	Pass     []byte   // hash of a one-time code to keep; nil: none
	Expires  int64    // of the pass
	Spent    []byte   // hash of the one-time code that is used up
	SignOut  bool     // ends the account's sessions
	Identity Identity // that becomes the account's; the zero value: none
}

// Errors of changes that may not be.
var (
	ErrNobodyLeft = errors.New("nobody would be left to administer")
	ErrMoved      = errors.New("the account was changed meanwhile")
)

// ErrSpent is the error of a one-time code that was used meanwhile.
var ErrSpent = errors.New("the one-time code is used up")

// ChangeAccount writes a change and gives the account's id.
func (s *Store) ChangeAccount(ctx context.Context, c *AccountChange) (id int64, err error) {
	err = s.write(ctx, func(tx *sqlx.Tx) error {
		if c.Spent != nil {
			r, err := tx.ExecContext(ctx, "DELETE FROM pass WHERE hash = ?", c.Spent)
			if err != nil {
				return err
			}
			if n, err := r.RowsAffected(); err != nil || n == 0 {
				return errors.Join(ErrSpent, err)
			}
		}
		a := c.Account
		if a.ID == 0 {
			others := 0
			if err := tx.GetContext(ctx, &others, "SELECT count(*) FROM account WHERE lower(trim(name)) = lower(trim(?)) AND login <> ?", a.Name, a.Login); err != nil {
				return err
			}
			if others > 0 {
				return ErrNamed
			}
		}
		if id = a.ID; id == 0 {
			if err := tx.GetContext(ctx, &id, "INSERT INTO account (login, name, role, password, made) VALUES (?, ?, ?, ?, ?) ON CONFLICT DO NOTHING RETURNING id", a.Login, a.Name, a.Role, a.Password, c.At); errors.Is(
				err,
				sql.ErrNoRows,
			) {
				return ErrTaken
			} else if err != nil {
				return err
			}
		} else if err := c.expect(ctx, tx); err != nil {
			return err
		} else if _, err := tx.ExecContext(ctx, "UPDATE account SET name = ?, role = ?, password = ?, disabled = ? WHERE id = ?", a.Name, a.Role, a.Password, a.Disabled, id); err != nil {
			return err
		}
		if left, err := administrators(ctx, tx); err != nil {
			return err
		} else if left == 0 && c.Was.administers() {
			return ErrNobodyLeft
		}
		if c.Projects != nil {
			if _, err := tx.ExecContext(ctx, "DELETE FROM account_project WHERE account = ?", id); err != nil {
				return err
			}
			for _, p := range c.Projects {
				if _, err := tx.ExecContext(ctx, "INSERT INTO account_project (account, project) VALUES (?, ?) ON CONFLICT DO NOTHING", id, p); err != nil {
					return err
				}
			}
		}
		if c.Pass != nil {
			if _, err := tx.ExecContext(ctx, "DELETE FROM pass WHERE account = ? OR expires < ?", id, c.At); err != nil {
				return err
			}
			if _, err := tx.ExecContext(ctx, "INSERT INTO pass (hash, account, expires) VALUES (?, ?, ?)", c.Pass, id, c.Expires); err != nil {
				return err
			}
		}
		if c.Identity != (Identity{}) {
			if err := link(ctx, tx, c.Identity, id, c.At); err != nil {
				return err
			}
		}
		if c.SignOut {
			if _, err := tx.ExecContext(ctx, "DELETE FROM session WHERE account = ?", id); err != nil {
				return err
			}
		}
		_, err := tx.ExecContext(
			ctx,
			"INSERT INTO account_event (at, actor, account, what) VALUES (?, ?, ?, ?)",
			c.At,
			c.Actor,
			id,
			c.What,
		)
		return err
	})
	return id, err
}

// expect fails where the account is no longer as it was seen.
func (c *AccountChange) expect(ctx context.Context, tx *sqlx.Tx) error {
	var now Account
	if err := tx.GetContext(ctx, &now, "SELECT * FROM account WHERE id = ?", c.Account.ID); err != nil {
		return err
	}
	if now != c.Was {
		return ErrMoved
	}
	return nil
}

// administers tells whether an account can administer others: in the words of the
// roles that right grants it to.
func (a *Account) administers() bool {
	return a.Role == "administrator" && !a.Disabled && a.Password != ""
}

func administrators(ctx context.Context, tx *sqlx.Tx) (n int, err error) {
	err = tx.GetContext(
		ctx,
		&n,
		"SELECT count(*) FROM account WHERE role = 'administrator' AND disabled = 0 AND password <> ''",
	)
	return n, err
}

// KeepFirstPass keeps the one-time code of the first administrator in place of
// an earlier one.
func (s *Store) KeepFirstPass(ctx context.Context, hash []byte, expires int64) error {
	return s.write(ctx, func(tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, "DELETE FROM pass WHERE account = 0"); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, "INSERT INTO pass (hash, account, expires) VALUES (?, 0, ?)", hash, expires)
		return err
	})
}

// Pass gives the account of a one-time code that is still good at a moment.
func (s *Store) Pass(ctx context.Context, hash []byte, at int64) (account int64, ok bool, err error) {
	err = s.readers.GetContext(ctx, &account, "SELECT account FROM pass WHERE hash = ? AND expires > ?", hash, at)
	if errors.Is(err, sql.ErrNoRows) {
		return 0, false, nil
	}
	return account, err == nil, plain(err)
}

// Session is an open session of an account.
type Session struct {
	Hash    []byte `db:"hash"`
	Begun   int64  `db:"begun"`
	Expires int64  `db:"expires"`
	Agent   string `db:"agent"`
}

// SessionHash is what a session is kept under: its key stays with the browser.
func SessionHash(key string) []byte {
	h := sha256.Sum256([]byte(key))
	return h[:]
}

// SessionsOf lists the open sessions of an account, last begun first.
func (s *Store) SessionsOf(ctx context.Context, account, at int64) (out []Session, err error) {
	err = s.readers.SelectContext(
		ctx,
		&out,
		"SELECT hash, begun, expires, agent FROM session WHERE account = ? AND expires > ? ORDER BY begun DESC",
		account,
		at,
	)
	return out, plain(err)
}

// ClaimSession says whose a session is, and drops what has expired.
func (s *Store) ClaimSession(ctx context.Context, key string, account int64, agent string, at int64) error {
	return s.write(ctx, func(tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, "UPDATE session SET account = ?, agent = ? WHERE hash = ?", account, agent, SessionHash(key)); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, "DELETE FROM session WHERE expires <= ?", at)
		return err
	})
}

// UseSession notes that a session is used at a moment, once in so many milliseconds, and ends
// it where it was not for longer than idle; ok is false then. An idle of zero ends none.
func (s *Store) UseSession(ctx context.Context, key string, at, once, idle int64) (ok bool, err error) {
	var used int64
	err = s.readers.GetContext(ctx, &used, "SELECT max(used, begun) FROM session WHERE hash = ?", SessionHash(key))
	switch {
	case errors.Is(err, sql.ErrNoRows):
		return false, nil
	case err != nil:
		return false, plain(err)
	case idle > 0 && at-used > idle:
		return false, s.write(ctx, func(tx *sqlx.Tx) error {
			_, err := tx.ExecContext(ctx, "DELETE FROM session WHERE hash = ? AND max(used, begun) = ?", SessionHash(key), used)
			return err
		})
	case at-used < once:
		return true, nil
	}
	return true, s.write(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "UPDATE session SET used = ? WHERE hash = ?", at, SessionHash(key))
		return err
	})
}

// EndSessions ends sessions of an account: one, or with nil all but one.
func (s *Store) EndSessions(ctx context.Context, account int64, one, but []byte) error {
	return s.write(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(
			ctx,
			"DELETE FROM session WHERE account = ? AND (hash = ? OR ? IS NULL) AND hash <> coalesce(?, x'')",
			account,
			one,
			one,
			but,
		)
		return err
	})
}

// SessionStorage keeps sessions in the database, in the form that the web
// framework asks for.
type SessionStorage struct{ s *Store }

// Sessions gives the storage of sessions.
func (s *Store) Sessions() SessionStorage { return SessionStorage{s} }

// GetWithContext gives the value of a session that has not expired, or nil.
func (t SessionStorage) GetWithContext(ctx context.Context, key string) ([]byte, error) {
	var b []byte
	err := t.s.readers.GetContext(
		ctx,
		&b,
		"SELECT value FROM session WHERE hash = ? AND expires > ?",
		SessionHash(key),
		time.Now().UnixMilli(),
	)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	return b, plain(err)
}

// SetWithContext keeps the value of a session.
func (t SessionStorage) SetWithContext(ctx context.Context, key string, value []byte, lasts time.Duration) error {
	now := time.Now()
	return t.s.write(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(
			ctx,
			"INSERT INTO session (hash, value, begun, expires) VALUES (?, ?, ?, ?) ON CONFLICT (hash) DO UPDATE SET value = excluded.value, expires = excluded.expires",
			SessionHash(key),
			value,
			now.UnixMilli(),
			now.Add(lasts).UnixMilli(),
		)
		return err
	})
}

// DeleteWithContext ends a session.
func (t SessionStorage) DeleteWithContext(ctx context.Context, key string) error {
	return t.s.write(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "DELETE FROM session WHERE hash = ?", SessionHash(key))
		return err
	})
}

// ResetWithContext ends all sessions.
func (t SessionStorage) ResetWithContext(ctx context.Context) error {
	return t.s.write(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "DELETE FROM session")
		return err
	})
}

// Get is GetWithContext.
func (t SessionStorage) Get(key string) ([]byte, error) {
	return t.GetWithContext(context.Background(), key)
}

// Set is SetWithContext.
func (t SessionStorage) Set(key string, value []byte, lasts time.Duration) error {
	return t.SetWithContext(context.Background(), key, value, lasts)
}

// Delete is DeleteWithContext.
func (t SessionStorage) Delete(key string) error {
	return t.DeleteWithContext(context.Background(), key)
}

// Reset is ResetWithContext.
func (t SessionStorage) Reset() error { return t.ResetWithContext(context.Background()) }

// Close does nothing: the store is closed by its owner.
func (SessionStorage) Close() error { return nil }
