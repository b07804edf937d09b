package store

import (
	"context"

	"github.com/pressly/goose/v3"
)

// MigrateTo brings the schema to an older version, for tests that begin from what an older server left.
func (s *Store) MigrateTo(ctx context.Context, version int64) error {
	return s.migrations(func(provider *goose.Provider) error {
		_, err := provider.UpTo(ctx, version)
		return err
	})
}
