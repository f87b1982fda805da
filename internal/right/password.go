package right

import (
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"errors"
	"fmt"
	"strings"
	"unicode/utf8"

	"github.com/alexedwards/argon2id"
)

// cost of a hash: what OWASP's Password Storage Cheat Sheet asks of argon2id.
var cost = &argon2id.Params{Memory: 19 << 10, Iterations: 2, Parallelism: 1, SaltLength: 16, KeyLength: 32}

// atOnce bounds the hashes computed at once, as each takes memory.
var atOnce = make(chan struct{}, 2)

// Shortest is the number of characters that a password has at least.
const Shortest = 10

// ErrWeak is the error of a password that is too easy to guess.
var ErrWeak = errors.New("the password is too weak")

// CheckPassword says what is wrong with a new password of an account, or nil. It may be none
// of the names that everybody knows, such as the office's, with or without digits.
func CheckPassword(login, password string, known ...string) error {
	switch {
	case utf8.RuneCountInString(password) < Shortest:
		return fmt.Errorf("%w: take at least %d characters; a few words together are best", ErrWeak, Shortest)
	case len(password) > 200:
		return fmt.Errorf("%w: it is longer than 200 bytes", ErrWeak)
	case login != "" && strings.Contains(strings.ToLower(password), strings.ToLower(login)):
		return fmt.Errorf("%w: it contains the sign-in name", ErrWeak)
	case wellKnown(password):
		return fmt.Errorf("%w: it is among those that are tried first; a few words that do not belong together are best", ErrWeak)
	}
	for _, x := range known {
		if x = bare(x); len(x) >= shortName && bare(password) == x {
			return fmt.Errorf("%w: it is a name that everybody here knows", ErrWeak)
		}
	}
	return nil
}

// HashPassword gives what is kept of a password.
func HashPassword(password string) (string, error) {
	atOnce <- struct{}{}
	defer func() { <-atOnce }()
	return argon2id.CreateHash(password, cost)
}

// nobody is a hash that no password has, so that an unknown name takes as long
// as a known one.
var nobody = "$argon2id$v=19$m=19456,t=2,p=1$" + base64.RawStdEncoding.EncodeToString(make([]byte, 16)) + "$" + base64.RawStdEncoding.EncodeToString(
	make([]byte, 32),
)

// PasswordIs tells whether a password is the one whose hash was kept; of an
// empty hash it never is.
func PasswordIs(password, hash string) bool {
	atOnce <- struct{}{}
	defer func() { <-atOnce }()
	if hash == "" {
		hash, password = nobody, password+"\x00"
	}
	ok, err := argon2id.ComparePasswordAndHash(password, hash)
	return err == nil && ok
}

// NewCode makes a one-time code; only its hash is kept.
func NewCode() (code string, hash []byte) {
	code = rand.Text()
	return code, CodeHash(code)
}

// CodeHash is what is kept of a one-time code.
func CodeHash(code string) []byte {
	h := sha256.Sum256([]byte(strings.ToUpper(strings.TrimSpace(code))))
	return h[:]
}
