package server

import (
	"context"
	"sync"

	"idletimber/craft/plan"
)

// paces remembers what each workshop's log teaches of its maker's pace, until the log's stamp changes: it is all of the
// log, and is asked for with every draft.
type paces struct {
	mu sync.Mutex
	by map[string]learned
}

type learned struct {
	stamp   string
	samples []plan.Sample
}

func newPaces() *paces { return &paces{by: map[string]learned{}} }

// samples are the finished steps that teach a maker's pace.
func (s *Server) samples(ctx context.Context, workshop string) ([]plan.Sample, error) {
	stamp, err := s.Store.LogStamp(ctx, workshop) // before what is read: what comes meanwhile changes it
	if err != nil {
		return nil, err
	}
	p := s.paces
	p.mu.Lock()
	known, ok := p.by[workshop]
	p.mu.Unlock()
	if ok && known.stamp == stamp {
		return known.samples, nil
	}
	samples, err := s.Store.Samples(ctx, workshop)
	if err != nil {
		return nil, err
	}
	p.mu.Lock()
	defer p.mu.Unlock()
	if len(p.by) >= mostBenches {
		clear(p.by)
	}
	p.by[workshop] = learned{stamp, samples}
	return samples, nil
}
