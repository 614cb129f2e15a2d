package store

import (
	"context"
	"database/sql"
	"errors"
	"time"

	"idletimber/craft/fill"
)

// Instrument is a device that pushes readings with a key of its own.
type Instrument struct {
	ID           string
	Workshop     string `db:"workshop_id"`
	Name         string
	Kind         string
	SimulatedKey *string `db:"simulated_key"`
}

// Taken is a reading that an instrument pushed. A meter gives percent, a room
// sensor temperature and humidity, a scale grams.
type Taken struct {
	ID          int64
	Instrument  string `db:"instrument_id"`
	At          time.Time
	Percent     *float64
	Temperature *float64
	Humidity    *float64
	Grams       *float64
}

const instrumentColumns = `id, workshop_id, name, kind, simulated_key`

// NewInstrument registers a device by the hash of its key.
func (s *Store) NewInstrument(
	ctx context.Context,
	workshop string,
	i Instrument,
	keyHash []byte,
) (id string, err error) {
	err = s.q.GetContext(
		ctx,
		&id,
		`INSERT INTO instruments (workshop_id, name, kind, key_hash, simulated_key, created_at)
			VALUES ($1, $2, $3, $4, $5, $6) RETURNING id`,
		workshop,
		i.Name,
		i.Kind,
		keyHash,
		i.SimulatedKey,
		s.now(),
	)
	return id, err
}

// Instruments lists the workshop's devices.
func (s *Store) Instruments(ctx context.Context, workshop string) ([]Instrument, error) {
	out := []Instrument{}
	err := s.q.SelectContext(
		ctx,
		&out,
		`SELECT `+instrumentColumns+` FROM instruments WHERE workshop_id = $1 ORDER BY created_at, id`,
		workshop,
	)
	return out, err
}

// InstrumentByKey finds a device by the hash of its key.
func (s *Store) InstrumentByKey(ctx context.Context, keyHash []byte) (Instrument, error) {
	var i Instrument
	err := s.q.GetContext(ctx, &i, `SELECT `+instrumentColumns+` FROM instruments WHERE key_hash = $1`, keyHash)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	}
	return i, err
}

// RemoveInstrument forgets a device; its key opens nothing any more.
func (s *Store) RemoveInstrument(ctx context.Context, workshop, id string) error {
	return s.change(ctx, workshop, id, `DELETE FROM instruments WHERE workshop_id = $1 AND id = $2`)
}

// mostTaken is how many readings of a device are kept: a week of one a minute, for a pour cures
// by the warmth of days.
const mostTaken = 10_000

// Take keeps a reading that a device pushed.
func (s *Store) Take(ctx context.Context, t Taken) (Taken, error) {
	if err := s.q.GetContext(ctx, &t.ID,
		`INSERT INTO readings (instrument_id, at, percent, temperature, humidity, grams) VALUES ($1, $2, $3, $4, $5, $6)
			RETURNING id`, t.Instrument, t.At, t.Percent, t.Temperature, t.Humidity, t.Grams); err != nil {
		return t, err
	}
	_, err := s.q.ExecContext(
		ctx,
		`DELETE FROM readings WHERE instrument_id = $1 AND id <= (SELECT id FROM readings WHERE instrument_id = $1
			ORDER BY id DESC OFFSET $2 LIMIT 1)`,
		t.Instrument,
		mostTaken,
	)
	return t, err
}

// Warmth is what the workshop's room sensors read since a moment, °C, oldest first: one reading an
// hour, the first of it: what comes later in the hour does not move what is remembered of it.
func (s *Store) Warmth(ctx context.Context, workshop string, since time.Time) ([]fill.Warmth, error) {
	out := []fill.Warmth{}
	err := s.q.SelectContext(
		ctx,
		&out,
		`SELECT at, celsius FROM (SELECT DISTINCT ON (date_trunc('hour', r.at)) r.at, r.temperature AS celsius
			FROM readings r JOIN instruments i ON i.id = r.instrument_id
			WHERE i.workshop_id = $1 AND r.temperature IS NOT NULL AND r.at >= $2
			ORDER BY date_trunc('hour', r.at), r.id) hourly ORDER BY at`,
		workshop,
		since,
	)
	return out, err
}

// LastTaken is the latest reading of each of the workshop's devices.
func (s *Store) LastTaken(ctx context.Context, workshop string) ([]Taken, error) {
	out := []Taken{}
	err := s.q.SelectContext(
		ctx,
		&out,
		`SELECT DISTINCT ON (r.instrument_id) r.* FROM readings r JOIN instruments i ON i.id = r.instrument_id
			WHERE i.workshop_id = $1 ORDER BY r.instrument_id, r.id DESC`,
		workshop,
	)
	return out, err
}

// TakenBy is the latest reading of a device.
func (s *Store) TakenBy(ctx context.Context, instrument string) (Taken, error) {
	var t Taken
	err := s.q.GetContext(
		ctx,
		&t,
		`SELECT * FROM readings WHERE instrument_id = $1 ORDER BY id DESC LIMIT 1`,
		instrument,
	)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	}
	return t, err
}
