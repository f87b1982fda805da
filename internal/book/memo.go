package book

import (
	"context"
	"sync"

	"turret/internal/book/cache"
	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/core/network"
	"turret/internal/core/portfolio"
	"turret/internal/core/rollup"
	"turret/internal/core/standing"
)

// room is how much a book keeps of what it derived, in the weights of its keys: the readings
// of the 24 periods that a sheet goes back, which weigh 22 each with the network and what they
// are judged by, tables of money in three ways, and the inputs of two cuts beside them. With
// less, a sheet that is read again makes all of its periods again.
const room = 640

// evaluated holds the figures of one project at one period, before anything is
// judged: they do not change with the rules.
type evaluated struct {
	asked          *sync.Mutex  // of who asks what is not computed yet
	own, reporting *figure.Eval // the same where the currencies are
	next           Next
}

// computed is the same with what was found in the data, and rated.
type computed struct {
	evaluated
	project  *portfolio.Project
	told     network.Told // by the network of all projects
	result   *standing.Result
	findings []finding.Finding
	readings [2]*Reading // in the own and in the reporting currency
}

// grouped is the reading of a group and the parts it was made of.
type grouped struct {
	parts   []*computed
	group   *rollup.Group
	reading *Reading
}

// lineage stands for inputs that do not change, in keys of what is made of them: all
// snapshots that have the same share it.
type lineage struct{ _ byte }

// memo tells what was derived of a snapshot from what was derived of others. A
// project is its own content: one that changes is another value.
type memo struct {
	cache   *cache.Cache // of the book, for all its snapshots
	id      *lineage     // all inputs
	figures *lineage     // what figures of projects depend on beside the project
	judging *lineage     // what they are checked and rated by, and with them groups
}

func newMemo(c *cache.Cache) *memo {
	return &memo{cache: c, id: new(lineage), figures: new(lineage), judging: new(lineage)}
}

// carry is the memo of a snapshot that knows the same but for some projects, and,
// where asBefore holds, judges them as before.
func (m *memo) carry(asBefore bool) *memo {
	out := *m
	out.id = new(lineage)
	if !asBefore {
		out.judging = new(lineage)
	}
	return &out
}

// table keeps something of each project.
type table[V any] struct {
	mu sync.Mutex
	by map[*portfolio.Project]V
}

// tableOf gives the table under a key, which weighs as much as it holds.
func tableOf[V any](ctx context.Context, m *memo, key any) (*table[V], error) {
	return cache.Get(ctx, m.cache, key, func(context.Context) (*table[V], error) {
		return &table[V]{by: make(map[*portfolio.Project]V)}, nil
	})
}

// get gives what is kept of a project.
func (t *table[V]) get(p *portfolio.Project) (v V, ok bool) {
	t.mu.Lock()
	defer t.mu.Unlock()
	v, ok = t.by[p]
	return v, ok
}

// each gives what is kept of some projects, by their places; missing are those of
// which nothing is.
func (t *table[V]) each(projects []*portfolio.Project, places []int, out []V) (missing []int) {
	t.mu.Lock()
	defer t.mu.Unlock()
	for _, i := range places {
		v, ok := t.by[projects[i]]
		if !ok {
			missing = append(missing, i)
			continue
		}
		out[i] = v
	}
	return missing
}

// put keeps something of projects, and lets go of those that are no more where they
// become many.
func (t *table[V]) put(s *Snapshot, projects []*portfolio.Project, give func(i int) V) {
	t.mu.Lock()
	defer t.mu.Unlock()
	for i, p := range projects {
		t.by[p] = give(i)
	}
	if now := s.Projects(); len(t.by) > 2*len(now)+64 {
		is := make(map[*portfolio.Project]bool, len(now))
		for _, p := range now {
			is[p] = true
		}
		for p := range t.by {
			if !is[p] {
				delete(t.by, p)
			}
		}
	}
}

// The keys of what is kept. Each weighs by what it takes beside a list of readings.
type (
	evalsKey struct {
		of      *lineage // figures
		period  calendar.Period
		against portfolio.Against
	}
	computedKey struct {
		of      *lineage // judging
		period  calendar.Period
		against portfolio.Against
	}
	partsKey struct {
		of      *lineage // the snapshot
		period  calendar.Period
		against portfolio.Against
	}
	groupsKey struct {
		of      *lineage // judging
		period  calendar.Period
		against portfolio.Against
	}
	readingsKey struct {
		of        *lineage // the snapshot
		period    calendar.Period
		against   portfolio.Against
		reporting bool
	}
	placesKey struct {
		of   *lineage // figures: master records are the same
		code string
	}
	setKey struct {
		of     *lineage // judging
		period calendar.Period
	}
	judgeKey struct {
		of     *lineage // the snapshot
		period calendar.Period
	}
)

func (evalsKey) Weight() int    { return 8 }
func (computedKey) Weight() int { return 6 }
func (readingsKey) Weight() int { return 2 }

// groups keep the last reading of each group.
type groups struct {
	mu sync.Mutex
	by map[string]grouped
}

func (g *groups) get(code string) (grouped, bool) {
	g.mu.Lock()
	defer g.mu.Unlock()
	x, ok := g.by[code]
	return x, ok
}

func (g *groups) put(code string, x grouped) {
	g.mu.Lock()
	defer g.mu.Unlock()
	g.by[code] = x
}
