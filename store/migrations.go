package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"fmt"
	"log/slog"

	"github.com/riverqueue/river/riverdriver/riverdatabasesql"
	"github.com/riverqueue/river/rivermigrate"

	"idletimber/craft/tool"
)

// listTools is migration 9: a shop lists its tools one by one.
func listTools(ctx context.Context, tx *sql.Tx) error {
	docs := map[string][]byte{}
	rows, err := tx.QueryContext(ctx, `SELECT id, doc FROM workshops`)
	if err != nil {
		return err
	}
	defer rows.Close()
	for rows.Next() {
		var id string
		var doc []byte
		if err := rows.Scan(&id, &doc); err != nil {
			return err
		}
		docs[id] = doc
	}
	if err := rows.Err(); err != nil {
		return err
	}
	for id, doc := range docs {
		var kit map[string]any
		if err := json.Unmarshal(doc, &kit); err != nil {
			return err
		}
		tool.Renew(kit)
		renewed, err := json.Marshal(kit)
		if err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, `UPDATE workshops SET doc = $2 WHERE id = $1`, id, string(renewed))
		if err != nil {
			return err
		}
	}
	return nil
}

// makeQueue is migration 17: the tables of River, in as many transactions as it takes; begun again, it goes on.
func makeQueue(ctx context.Context, db *sql.DB) error {
	const version = 8 // of River's tables
	migrator, err := rivermigrate.New(riverdatabasesql.New(db), &rivermigrate.Config{
		Logger: slog.New(slog.DiscardHandler),
	})
	if err != nil {
		return err
	}
	_, err = migrator.Migrate(ctx, rivermigrate.DirectionUp, &rivermigrate.MigrateOpts{TargetVersion: version})
	if err != nil {
		return fmt.Errorf("the tables of the queue: %w", err)
	}
	return nil
}
