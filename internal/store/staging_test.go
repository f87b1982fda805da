package store

import (
	"context"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/portfolio"
)

func postings(from, n int, file int32) (out []Posting) {
	for i := from; i < from+n; i++ {
		out = append(out, Posting{
			ID: int64(i + 1), Code: fmt.Sprint("P", i), Day: 7, Period: 2, Project: 1, CostCode: 2, Class: "opex", Amount: int64(i), Currency: "EUR",
			Text: "booked", Extra: map[string]string{"a": fmt.Sprint(i)}, Source: portfolio.Source{File: file, Row: int32(i)},
		})
	}
	return out
}

// TestStaged: postings that were laid ready are written as they are, also where their file
// has got another number or the batch was outpaced meanwhile; others never in their place.
func TestStaged(t *testing.T) {
	for name, c := range map[string]func(t *testing.T, s *Store) []Posting{
		"at once": func(t *testing.T, s *Store) []Posting {
			list := postings(0, 2*stagedFrom+7, 3)
			_, err := s.Commit(ctx, &Batch{Postings: list})
			require.NoError(t, err)
			return list
		},
		"outpaced, with another file": func(t *testing.T, s *Store) []Posting {
			_, err := s.Commit(ctx, &Batch{Base: 9, Postings: postings(0, stagedFrom, 3)})
			require.ErrorIs(t, err, ErrOutpaced)
			list := postings(0, stagedFrom, 8)
			require.NoError(t, s.Alone(ctx, func(commit func(context.Context, *Batch) (int64, error)) error {
				_, ok := fitting(s.staged, list)
				require.True(t, ok, "they are at hand")
				_, err := commit(ctx, &Batch{Postings: list})
				return err
			}))
			return list
		},
		"outpaced, and other ones": func(t *testing.T, s *Store) []Posting {
			_, err := s.Commit(ctx, &Batch{Base: 9, Postings: postings(0, stagedFrom, 3)})
			require.ErrorIs(t, err, ErrOutpaced)
			list := postings(0, stagedFrom, 3)
			list[stagedFrom-1].Amount++
			require.NoError(t, s.Alone(ctx, func(commit func(context.Context, *Batch) (int64, error)) error {
				_, err := commit(ctx, &Batch{Postings: list})
				return err
			}))
			return list
		},
		"replacing others": func(t *testing.T, s *Store) []Posting {
			old := postings(0, 5, 1)
			_, err := s.Commit(ctx, &Batch{Postings: old})
			require.NoError(t, err)
			list := postings(0, stagedFrom, 2)
			for i := range old {
				list[i].Amount, list[i].Was = 100, &old[i]
			}
			_, err = s.Commit(ctx, &Batch{Base: 1, Postings: list})
			require.NoError(t, err)
			return list
		},
	} {
		t.Run(name, func(t *testing.T) {
			s := open(t, temp(t))
			want := c(t, s)
			var got []Posting
			require.NoError(t, s.EachPosting(ctx, func(p *Posting) error { got = append(got, *p); return nil }))
			require.Len(t, got, len(want))
			rev, err := s.Revision(ctx)
			require.NoError(t, err)
			for i := range want {
				want[i].Batch, want[i].Was = int32(rev), nil
				require.Equal(t, want[i], got[i])
			}
			require.Nil(t, s.staged)
			var left int
			require.NoError(t, s.writer.Get(&left, "SELECT count(*) FROM temp.staged"))
			require.Zero(t, left)
		})
	}
}

// TestFitting: each thing that a posting says is looked at.
func TestFitting(t *testing.T) {
	for name, change := range map[string]func(p *Posting){
		"id": func(p *Posting) { p.ID++ }, "code": func(p *Posting) { p.Code = "X" }, "day": func(p *Posting) { p.Day++ }, "period": func(p *Posting) { p.Period++ },
		"late": func(p *Posting) { p.Late = true }, "project": func(p *Posting) { p.Project++ }, "cost code": func(p *Posting) { p.CostCode++ },
		"class": func(p *Posting) { p.Class = "capex" }, "centre": func(p *Posting) { p.Centre = "X" }, "activity": func(p *Posting) { p.Activity++ },
		"amount": func(p *Posting) { p.Amount++ }, "currency": func(p *Posting) { p.Currency = "NOK" }, "supplier": func(p *Posting) { p.Supplier = "X" },
		"text": func(p *Posting) { p.Text = "X" }, "row": func(p *Posting) { p.Source.Row++ }, "file": func(p *Posting) { p.Source.File++ },
		"extra": func(p *Posting) { p.Extra = nil },
	} {
		list := postings(0, 3, 1)
		change(&list[1])
		_, ok := fitting(postings(0, 3, 1), list)
		require.False(t, ok, name)
	}
	moved, ok := fitting(postings(0, 3, 1), postings(0, 3, 5))
	require.True(t, ok)
	require.Equal(t, int32(4), moved)
	_, ok = fitting(postings(0, 3, 1), postings(0, 2, 1))
	require.False(t, ok)
	_, ok = fitting(nil, nil)
	require.False(t, ok)
}

// TestLedgerIsReadAgainWhereItMoved: what was read before holds as long as no posting has
// come, changed or gone.
func TestLedgerIsReadAgainWhereItMoved(t *testing.T) {
	s := open(t, temp(t))
	_, err := s.Commit(ctx, &Batch{Postings: postings(0, 3, 1)})
	require.NoError(t, err)
	first, err := s.Ledger(ctx, nil)
	require.NoError(t, err)
	require.Len(t, first.Known, 3)
	_, err = s.Commit(ctx, &Batch{Base: 1, Records: []RecordChange{setting(1, "a", "b")}})
	require.NoError(t, err)
	same, err := s.Ledger(ctx, first)
	require.NoError(t, err)
	require.Same(t, first, same)

	list := postings(2, 1, 1)
	was := list[0]
	list[0].Amount, list[0].Was = 99, &was
	_, err = s.Commit(ctx, &Batch{Base: 2, Postings: list})
	require.NoError(t, err)
	changed, err := s.Ledger(ctx, first)
	require.NoError(t, err)
	require.NotSame(t, first, changed)
	require.Equal(t, list[0].Digest(), changed.Known[PostingKey("P2")].Digest)

	_, err = s.Commit(ctx, &Batch{Base: 3, Undoes: 3, Origin: "undo"})
	require.NoError(t, err)
	back, err := s.Ledger(ctx, changed)
	require.NoError(t, err)
	require.Equal(t, was.Digest(), back.Known[PostingKey("P2")].Digest)

	_, err = s.Commit(ctx, &Batch{Base: 4, Postings: postings(3, 1, 1)})
	require.NoError(t, err)
	more, err := s.Ledger(ctx, back)
	require.NoError(t, err)
	require.Len(t, more.Known, 4)
}
