package account

import (
	"bytes"
	"cmp"
	"context"
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/base32"
	"encoding/base64"
	"fmt"
	"image/png"
	"slices"
	"strings"
	"time"

	"github.com/pquerna/otp"
	"github.com/pquerna/otp/totp"

	"turret/internal/office"
	"turret/internal/office/access"
	"turret/internal/office/entry"
	"turret/internal/record"
	"turret/internal/right"
)

// Second is how it stands with someone's second factor: codes of the moment (RFC 6238), of an
// application that they keep.
type Second struct {
	On    bool
	Since time.Time
	Codes int  // recovery codes that are left
	Must  bool // their role asks for one
}

// Second tells how it stands with the actor's second factor.
func (o Room) Second(ctx context.Context, a right.Actor) (Second, error) {
	s, err := o.Book().Snapshot(ctx)
	if err != nil {
		return Second{}, err
	}
	out := Second{Must: slices.Contains(s.Office.Second, string(a.Role))}
	x, err := o.Store().SecondOf(ctx, a.Account)
	if err != nil || x == nil {
		return out, err
	}
	out.On, out.Since, out.Codes = true, time.UnixMilli(x.Since).UTC(), x.Codes
	return out, nil
}

// HasSecond tells whether an account has a second factor.
func (o Room) HasSecond(ctx context.Context, account int64) (bool, error) {
	x, err := o.Store().SecondOf(ctx, account)
	return x != nil, err
}

// Offer is a secret that an application is to take: as text, and as a picture of it (the
// address of a PNG).
type Offer struct{ Secret, Picture string }

// Offer makes a secret for the actor, or shows one again; nothing is kept of it.
func (o Room) Offer(ctx context.Context, a right.Actor, secret string) (*Offer, error) {
	if err := right.Check(a, right.Keep); err != nil {
		return nil, err
	}
	s, err := o.Book().Snapshot(ctx)
	if err != nil {
		return nil, err
	}
	opts := totp.GenerateOpts{Issuer: "Turret, " + cmp.Or(s.Office.Name, "an office"), AccountName: a.Login}
	if raw, err := decode(secret); err == nil && len(raw) > 0 {
		opts.Secret = raw
	}
	key, err := totp.Generate(opts)
	if err != nil {
		return nil, err
	}
	picture, err := key.Image(220, 220)
	if err != nil {
		return nil, err
	}
	var b bytes.Buffer
	if err := png.Encode(&b, picture); err != nil {
		return nil, err
	}
	return &Offer{Secret: key.Secret(), Picture: "data:image/png;base64," + base64.StdEncoding.EncodeToString(b.Bytes())}, nil
}

const recoveryCodes = 10

var badCodeOfMoment = office.Refusef("This code is not right, or was used already. Take the one that your application shows now.")

// TurnOn gives the actor a second factor, once their application shows the code of the
// moment, and gives the recovery codes, each good once, which are told nowhere again.
func (o Room) TurnOn(ctx context.Context, a right.Actor, secret, code string) ([]string, error) {
	if err := right.Check(a, right.Keep); err != nil {
		return nil, err
	}
	if raw, err := decode(secret); err != nil || len(raw) < 16 {
		return nil, office.Refusef("The form has lost its secret; open the page anew.")
	}
	step, ok := stepOf(secret, code, time.Now())
	if !ok {
		return nil, badCodeOfMoment
	}
	var codes []string
	var hashes [][]byte
	for range recoveryCodes {
		text := strings.ToLower(rand.Text())
		codes = append(codes, text[:5]+"-"+text[5:10]+"-"+text[10:15])
		hashes = append(hashes, recoveryHash(codes[len(codes)-1]))
	}
	if err := o.Store().SetSecond(ctx, a.Account, secret, hashes, o.Now()); err != nil {
		return nil, err
	}
	if _, err := o.Store().SpendStep(ctx, a.Account, step); err != nil {
		return nil, err
	}
	access.In(o.Office).Note(ctx, a, access.Rights, a.Login+": second factor on")
	return codes, nil
}

// TurnOff takes the actor's second factor away, with a code of it, unless their role asks for
// one.
func (o Room) TurnOff(ctx context.Context, a right.Actor, code string) error {
	if err := right.Check(a, right.Keep); err != nil {
		return err
	}
	now, err := o.Second(ctx, a)
	if err != nil {
		return err
	}
	if now.Must {
		return office.Refusef("The office asks every %s for a second factor, so it stays.", a.Role)
	}
	if err := o.CheckSecond(ctx, a.Account, code); err != nil {
		return err
	}
	if err := o.Store().SetSecond(ctx, a.Account, "", nil, o.Now()); err != nil {
		return err
	}
	access.In(o.Office).Note(ctx, a, access.Rights, a.Login+": second factor off")
	return nil
}

// CheckSecond uses up a code of the moment, or a recovery code, of an account. It is
// ErrRefused where it is none.
func (o Room) CheckSecond(ctx context.Context, account int64, code string) error {
	x, err := o.Store().SecondOf(ctx, account)
	if err != nil {
		return err
	}
	if x == nil {
		return office.Refusef("The account has no second factor any more; sign in again.")
	}
	if step, ok := stepOf(x.Secret, code, time.Now()); ok {
		ok, err = o.Store().SpendStep(ctx, account, step)
		if err == nil && !ok {
			err = badCodeOfMoment
		}
		return err
	}
	ok, err := o.Store().SpendRecovery(ctx, account, recoveryHash(code))
	if err == nil && !ok {
		err = badCodeOfMoment
	}
	return err
}

// stepOf finds the step of time whose code this is: that of a moment, the one before, or the
// one after, since clocks differ.
func stepOf(secret, code string, now time.Time) (step int64, ok bool) {
	const seconds, digits = 30, 6
	code = strings.Join(strings.Fields(code), "")
	if len(code) != digits {
		return 0, false
	}
	for _, d := range []int64{0, -1, 1} {
		at := now.Add(time.Duration(d) * seconds * time.Second)
		want, err := totp.GenerateCodeCustom(secret, at, totp.ValidateOpts{Period: seconds, Digits: otp.DigitsSix, Algorithm: otp.AlgorithmSHA1})
		if err == nil && subtle.ConstantTimeCompare([]byte(want), []byte(code)) == 1 {
			return at.Unix() / seconds, true
		}
	}
	return 0, false
}

func recoveryHash(code string) []byte {
	plain := strings.NewReplacer("-", "", " ", "").Replace(strings.ToLower(strings.TrimSpace(code)))
	sum := sha256.Sum256([]byte("recovery\x00" + plain)) // its 75 bits are not guessed from it
	return sum[:]
}

func decode(secret string) ([]byte, error) {
	return base32NoPadding.DecodeString(strings.ToUpper(secret))
}

// Required lists the roles that the office asks for a second factor.
func (o Room) Required(ctx context.Context) ([]string, int64, error) {
	s, err := o.Book().Snapshot(ctx)
	if err != nil {
		return nil, 0, err
	}
	return s.Office.Second, s.Revision, nil
}

// Require says which roles are asked for a second factor.
func (o Room) Require(ctx context.Context, a right.Actor, seen int64, roles []string) error {
	if err := right.Check(a, right.Admit); err != nil {
		return err
	}
	_, err := entry.In(o.Office).Enter(ctx, a, &entry.Form{
		Origin: office.Structured, Note: "who is asked for a second factor", Seen: seen, Takes: right.Admit,
		Rows: entry.These(entry.Of(record.Settings.Name, entry.Row{"setting": record.SecondFactor, "value": record.OrClear(strings.Join(roles, " "))})),
	})
	if err == nil {
		access.In(o.Office).Note(ctx, a, access.Rights, fmt.Sprintf("second factor asked of: %s", cmp.Or(strings.Join(roles, ", "), "nobody")))
	}
	return err
}

var base32NoPadding = base32.StdEncoding.WithPadding(base32.NoPadding)
