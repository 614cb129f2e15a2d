package server

import (
	"context"

	"idletimber/craft/plan"
)

// learned is what a workshop's log has taught of its maker's pace, as of a stamp.
type learned struct {
	stamp   string
	samples []plan.Sample
}

// samples are the finished steps that teach a maker's pace. They are all of the log, and are asked for with every
// draft: they are remembered until the log changes.
func (s *Server) samples(ctx context.Context, workshop string) ([]plan.Sample, error) {
	stamp, err := s.Store.LogStamp(ctx, workshop) // before what is read: what comes meanwhile changes it
	if err != nil {
		return nil, err
	}
	if known, ok := s.paces.recall(workshop); ok && known.stamp == stamp {
		return known.samples, nil
	}
	samples, err := s.Store.Samples(ctx, workshop)
	if err == nil {
		s.paces.remember(workshop, learned{stamp, samples})
	}
	return samples, err
}
