package closing

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/right"
	"turret/internal/store"
	"turret/internal/tell"
)

// CutSummary tells what a close made.
type CutSummary struct {
	Period   string `json:"period"`
	Hash     string `json:"hash"`
	Projects int    `json:"projects"`
	Parts    int    `json:"parts"`
	Bytes    int    `json:"bytes"` // before compression
}

// ClosePeriod closes a period over whatever is open, and makes its cut: what was stated for it can no
// longer change, and its readings answer the same for ever.
func (o Room) ClosePeriod(ctx context.Context, a right.Actor, p calendar.Period) (*CutSummary, error) {
	if err := right.Check(a, right.Close); err != nil {
		return nil, err
	}
	return o.CloseWith(ctx, a, p, OverNothing)
}

// OverNothing closes whatever is open, as demonstrations and measurements do.
func OverNothing(context.Context, *book.Snapshot) ([]Over, error) { return nil, nil }

// CloseWith closes a period over what is open of it as it is closed.
func (o Room) CloseWith(
	ctx context.Context,
	a right.Actor,
	p calendar.Period,
	over func(context.Context, *book.Snapshot) ([]Over, error),
) (*CutSummary, error) {
	var sum *CutSummary
	_, err := o.Write(ctx, a, func(ctx context.Context, s *book.Snapshot) (*store.Batch, error) {
		if err := o.closable(s, p); err != nil {
			return nil, err
		}
		points, err := over(ctx, s)
		if err != nil {
			return nil, err
		}
		code := s.Office.Periods.Code(p)
		cut, err := o.cutNow(ctx, s, p, "close of "+code)
		if err != nil {
			return nil, err
		}
		cut.Over = overText(points)
		parts := 0
		for _, list := range s.Stated {
			parts += len(list)
		}
		sum = &CutSummary{
			Period:   code,
			Hash:     fmt.Sprintf("%x", cut.Hash),
			Projects: len(s.Projects()),
			Parts:    parts,
			Bytes:    len(cut.Inputs) + len(cut.Readings),
		}
		return &store.Batch{
			Origin:  "close",
			Note:    code,
			Records: []store.RecordChange{office.PeriodRecord(s, p, "closed")},
			Cut:     cut,
		}, nil
	})
	if err != nil {
		return nil, err
	}
	return sum, nil
}

// closable gives the reason why a period cannot be closed at all, or nil.
func (o Room) closable(s *book.Snapshot, p calendar.Period) error {
	code := s.Office.Periods.Code(p)
	switch {
	case s.Closed[p]:
		return office.Refusef("%s is closed already; reopen it with a reason to change it", code)
	case s.Last == 0:
		return office.Refusef("nothing is stated yet, so there is nothing to close")
	case p < s.First():
		return office.Refusef(
			"%s lies before %s, the first period in which something was stated",
			code,
			s.Office.Periods.Code(s.First()),
		)
	case !s.Office.Periods.Exists(p + 1):
		return office.Refusef(
			"%s is the last period of the office's calendar; draw those after it in Setup first",
			code,
		)
	case p > s.Last+1:
		return office.Refusef(
			"%s lies ahead: the last period in which something was stated is %s",
			code,
			s.Office.Periods.Code(s.Last),
		)
	case p > s.Latest() && calendar.DateIn(o.Clock()) <= s.Office.Periods.Last(p):
		return office.Refusef(
			"nothing is stated for %s yet, and it lasts until %s; what ends without a statement can be closed from then on",
			code,
			tell.Date(s.Office.Periods.Last(p)),
		)
	}
	return nil
}

// ReopenCode opens a closed period again, by its code.
func (o Room) ReopenCode(ctx context.Context, a right.Actor, code, reason string) error {
	p, err := o.ParsePeriod(ctx, a, code)
	if err != nil {
		return err
	}
	return o.ReopenPeriod(ctx, a, p, reason)
}

// ReopenPeriod opens a closed period again; its cut stays, marked with the
// reason.
func (o Room) ReopenPeriod(ctx context.Context, a right.Actor, p calendar.Period, reason string) error {
	if err := right.Check(a, right.Close); err != nil {
		return err
	}
	if strings.TrimSpace(reason) == "" {
		return office.Refusef("reopening takes a reason, which is kept with the cut")
	}
	_, err := o.Write(ctx, a, func(_ context.Context, s *book.Snapshot) (*store.Batch, error) {
		if !s.Closed[p] {
			return nil, office.Refusef("%s is not closed", s.Office.Periods.Code(p))
		}
		return &store.Batch{
			Origin:   "reopen",
			Note:     reason,
			Reopened: int64(p),
			Records:  []store.RecordChange{office.PeriodRecord(s, p, "open")},
		}, nil
	})
	return err
}

func overText(over []Over) string {
	if len(over) == 0 {
		return ""
	}
	b, err := json.Marshal(over)
	if err != nil {
		return "" // texts always encode
	}
	return string(b)
}

// cutNow makes the cut of a period as a snapshot has it.
func (o Room) cutNow(ctx context.Context, s *book.Snapshot, p calendar.Period, name string) (*store.Cut, error) {
	own, err := s.Live(ctx, p, portfolio.Latest, false)
	if err != nil {
		return nil, err
	}
	reporting, err := s.Live(ctx, p, portfolio.Latest, true)
	if err != nil {
		return nil, err
	}
	inputs, hash, err := s.Inputs(ctx)
	if err != nil {
		return nil, err
	}
	return &store.Cut{
		Period:    int64(p),
		Name:      name,
		Catalogue: figure.Version,
		Hash:      hash,
		Inputs:    inputs,
		Readings:  book.EncodeReadings(own, reporting),
	}, nil
}

// Over is an open point that was closed over, with the reason.
type Over struct {
	Kind   string `json:"kind,omitempty"` // of the point; "" in cuts made before kinds were kept
	Point  string `json:"point"`
	Reason string `json:"reason"`
}

// kind is that of the point, told by its words where it was not kept.
func (x Over) kind() string {
	if x.Kind != "" {
		return x.Kind
	}
	for _, k := range pointWords {
		if strings.HasSuffix(x.Point, " "+k.one) || strings.HasSuffix(x.Point, " "+k.many) {
			return k.kind
		}
	}
	return ""
}
