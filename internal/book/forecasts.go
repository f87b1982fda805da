package book

import (
	"context"
	"fmt"
	"maps"
	"sync"

	"turret/internal/core/calendar"
	"turret/internal/core/earned"
	"turret/internal/core/forecast"
	"turret/internal/core/portfolio"
	"turret/internal/store/format"
)

// forecastsMemo keeps the records of projects at the period that was asked for
// last: they are small beside the statements that they are made of.
type forecastsMemo struct {
	mu sync.Mutex
	at calendar.Period
	by map[*portfolio.Project]*forecast.Record
}

// carry keeps the records of projects that are still the same.
func (m *forecastsMemo) carry(same map[*portfolio.Project]bool) *forecastsMemo {
	m.mu.Lock()
	defer m.mu.Unlock()
	out := &forecastsMemo{at: m.at, by: maps.Clone(m.by)}
	maps.DeleteFunc(out.by, func(p *portfolio.Project, _ *forecast.Record) bool { return !same[p] })
	return out
}

// Forecasts gives what every statement of projects, by code, said against what
// came through a period, each in its own currency. Codes that are not there have
// no record.
func (s *Snapshot) Forecasts(ctx context.Context, codes []string, p calendar.Period) ([]*forecast.Record, error) {
	if err := s.fill(ctx); err != nil {
		return nil, err
	}
	memo := s.memo.forecasts
	memo.mu.Lock()
	defer memo.mu.Unlock()
	if memo.at != p || memo.by == nil {
		memo.at, memo.by = p, make(map[*portfolio.Project]*forecast.Record)
	}
	out := make([]*forecast.Record, len(codes))
	err := parallel(ctx, len(codes), func(ctx context.Context, i int) error {
		pr := s.Project(codes[i])
		if pr == nil || memo.by[pr] != nil {
			return nil
		}
		full, err := s.stating(ctx, pr)
		if err != nil {
			return err
		}
		out[i] = forecast.Of(earned.NewProgress(portfolio.At(s.Office, full, p, portfolio.Latest)), full.Currency)
		return nil
	})
	if err != nil {
		return nil, err
	}
	for i, code := range codes {
		pr := s.Project(code)
		switch {
		case pr == nil:
		case out[i] != nil:
			memo.by[pr] = out[i]
		default:
			out[i] = memo.by[pr]
		}
	}
	return out, nil
}

// stating gives a project with the lines of every forecast loaded.
func (s *Snapshot) stating(ctx context.Context, p *portfolio.Project) (*portfolio.Project, error) {
	places := make(map[int64][]int) // statements that say the same are one part
	var ids []int64
	for i := range p.Forecast {
		if id := p.Forecast[i].Pending; id != 0 {
			if places[id] == nil {
				ids = append(ids, id)
			}
			places[id] = append(places[id], i)
		}
	}
	if len(ids) == 0 {
		return p, nil
	}
	c := *p
	c.Forecast = append([]portfolio.Version(nil), p.Forecast...)
	err := s.bodies(ctx, ids, func(id int64, body []byte) error {
		lines, err := format.DecodeLines(body)
		for _, i := range places[id] {
			c.Forecast[i].Lines, c.Forecast[i].Pending = lines, 0
		}
		return err
	})
	if err != nil {
		return nil, fmt.Errorf("project %s: %w", p.Code, err)
	}
	return &c, nil
}
