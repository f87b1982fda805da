package book

import (
	"context"
	"fmt"

	"turret/internal/core/calendar"
	"turret/internal/core/earned"
	"turret/internal/core/forecast"
	"turret/internal/core/portfolio"
	"turret/internal/store/format"
)

// forecastsKey is of the records of projects at a period: they are small beside the
// statements that they are made of.
type forecastsKey struct {
	of     *lineage // figures
	period calendar.Period
}

func (forecastsKey) Weight() int { return 8 }

// Forecasts gives what every statement of projects, by code, said against what
// came through a period, each in its own currency. Codes that are not there have
// no record.
func (s *Snapshot) Forecasts(ctx context.Context, codes []string, p calendar.Period) ([]*forecast.Record, error) {
	if err := s.fill(ctx); err != nil {
		return nil, err
	}
	known, err := tableOf[*forecast.Record](ctx, s.memo, forecastsKey{s.memo.figures, p})
	if err != nil {
		return nil, err
	}
	projects, places := make([]*portfolio.Project, len(codes)), []int{}
	for i, code := range codes {
		if projects[i] = s.Project(code); projects[i] != nil {
			places = append(places, i)
		}
	}
	out := make([]*forecast.Record, len(codes))
	todo := known.each(projects, places, out)
	made := make([]*portfolio.Project, len(todo))
	err = parallel(ctx, len(todo), func(ctx context.Context, k int) error {
		i := todo[k]
		made[k] = projects[i]
		full, err := s.stating(ctx, projects[i])
		if err != nil {
			return err
		}
		out[i] = forecast.Of(earned.NewProgress(portfolio.At(s.Office, full, p, portfolio.Latest)), full.Currency)
		return nil
	})
	if err != nil {
		return nil, err
	}
	known.put(s, made, func(k int) *forecast.Record { return out[todo[k]] })
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
