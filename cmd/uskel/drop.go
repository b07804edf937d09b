package main

import (
	"context"
	"errors"
	"io/fs"
	"log/slog"
	"os"
	"path/filepath"
	"time"

	"uskel/api"
	"uskel/core/climate"
	"uskel/store"
)

// lookEvery is how often the directory for files of readings is looked at.
const lookEvery = 15 * time.Second

// What a file of readings is called once it was looked at.
const (
	takenEnd   = ".taken"
	refusedEnd = ".refused"
)

// watchDrop takes files of readings (docs/formats/readings.md) out of a directory until the context ends.
func watchDrop(ctx context.Context, s *store.Store, dir string, told func(), log *slog.Logger) {
	tick := time.NewTicker(lookEvery)
	defer tick.Stop()
	for {
		took, err := takeDropped(ctx, s, dir, time.Now().UTC())
		if err != nil {
			log.Warn("readings", "directory", dir, "error", err)
		}
		if took > 0 {
			log.Info("readings taken", "directory", dir, "readings", took)
			told()
		}
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
	}
}

// takeDropped takes every file of readings in a directory, and says how many readings that were. A file is taken as a
// whole: then it is renamed, to .taken, or to .refused with the reason beside it. While the database is away it stays.
// Whoever drops one writes it under another name first and renames it to end in .csv, in capitals or not.
func takeDropped(ctx context.Context, s *store.Store, dir string, now time.Time) (int, error) {
	files, err := filepath.Glob(filepath.Join(dir, "*.[cC][sS][vV]"))
	if err != nil {
		return 0, err
	}
	took := 0
	var errs []error
	for _, file := range files {
		n, err := takeFile(ctx, s, file, now)
		switch {
		case err == nil:
			took += n
			errs = append(errs, os.Rename(file, file+takenEnd))
		case store.Away(err) || errors.Is(err, fs.ErrPermission):
			errs = append(errs, err)
		default:
			errs = append(
				errs,
				err,
				os.WriteFile(file+refusedEnd+".txt", []byte(err.Error()+"\n"), 0o644),
				os.Rename(file, file+refusedEnd),
			)
		}
	}
	return took, errors.Join(errs...)
}

func takeFile(ctx context.Context, s *store.Store, path string, now time.Time) (int, error) {
	file, err := os.Open(path)
	if err != nil {
		return 0, err
	}
	defer file.Close()
	told, err := climate.ReadReadings(file)
	if err != nil {
		return 0, err
	}
	rows, err := api.ReadingRows(told, store.Reading{Source: "the file " + filepath.Base(path)}, now)
	if err != nil {
		return 0, err
	}
	return len(rows), s.AddReadings(ctx, rows)
}
