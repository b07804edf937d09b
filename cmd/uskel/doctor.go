package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"syscall"
	"time"

	"uskel/store"
)

// finding is what the doctor says of one thing.
type finding struct {
	well bool
	what string
	says string
}

// What the doctor minds.
const (
	clockOff    = 30 * time.Second // between this machine and the database's
	leastFree   = 1 << 30          // bytes on the disk of the backups
	oldBackup   = 36 * time.Hour
	oldNotice   = time.Hour
	askingLimit = 5 * time.Second
)

// errIll is what doctor ends with when something is wrong.
var errIll = errors.New("something is wrong: see above")

// doctor says what is wrong with a shop's installation: database, schema, clock, disk, backups and notices.
func doctor(ctx context.Context, s *store.Store, out io.Writer) error {
	ctx, cancel := context.WithTimeout(ctx, askingLimit)
	defer cancel()
	findings := []finding{}
	if err := s.Ping(ctx); err != nil {
		findings = append(
			findings,
			finding{false, "database", "does not answer: look whether PostgreSQL runs, and at DATABASE_URL"},
		)
	} else {
		findings = append(
			findings,
			finding{true, "database", "answers"},
			schema(ctx, s),
			clock(ctx, s),
			notices(ctx, s),
		)
	}
	if dir := os.Getenv("BACKUPS"); dir == "" {
		findings = append(
			findings,
			finding{false, "backups", "BACKUPS names no directory: nobody knows whether there are any"},
		)
	} else {
		findings = append(findings, backupAge(dir, time.Now()), disk(dir))
	}
	ill := false
	for _, f := range findings {
		mark := "well"
		if !f.well {
			mark, ill = "ILL ", true
		}
		fmt.Fprintf(out, "%s  %-9s %s\n", mark, f.what, f.says)
	}
	if ill {
		return errIll
	}
	return nil
}

func schema(ctx context.Context, s *store.Store) finding {
	lacks, beyond, err := s.Schema(ctx)
	switch {
	case err != nil:
		return finding{false, "schema", err.Error()}
	case beyond > 0:
		return finding{
			false,
			"schema",
			fmt.Sprintf("%d migrations newer than this program: start the newer uskel", beyond),
		}
	case lacks > 0:
		return finding{false, "schema", fmt.Sprintf("lacks %d migrations: run uskel migrate", lacks)}
	}
	return finding{true, "schema", "is this program's"}
}

func clock(ctx context.Context, s *store.Store) finding {
	before := time.Now()
	theirs, err := s.Clock(ctx)
	if err != nil {
		return finding{false, "clock", err.Error()}
	}
	ours := before.Add(time.Since(before) / 2)
	if off := theirs.Sub(ours).Abs(); off > clockOff {
		return finding{
			false,
			"clock",
			fmt.Sprintf("the database's is %s off this machine's: set both by the network", off.Round(time.Second)),
		}
	}
	return finding{true, "clock", "agrees with the database's"}
}

func notices(ctx context.Context, s *store.Store) finding {
	waiting, oldest, err := s.Unsent(ctx)
	switch {
	case err != nil:
		return finding{false, "notices", err.Error()}
	case waiting > 0 && time.Since(oldest) > oldNotice:
		return finding{
			false,
			"notices",
			fmt.Sprintf(
				"%d were not sent, the oldest since %s: look at the outbox",
				waiting,
				oldest.Format(time.DateTime),
			),
		}
	}
	return finding{true, "notices", "none is left unsent"}
}

func backupAge(dir string, now time.Time) finding {
	all, err := backups(dir)
	if err != nil || len(all) == 0 {
		return finding{
			false,
			"backups",
			"there is none in " + dir + ": run uskel backup, and set the timer up (docs/running.md)",
		}
	}
	info, err := os.Stat(all[0])
	if err != nil {
		return finding{false, "backups", err.Error()}
	}
	age := now.Sub(info.ModTime()).Round(time.Minute)
	if age > oldBackup {
		return finding{false, "backups", fmt.Sprintf("the newest is %s old: look whether the timer runs", age)}
	}
	return finding{true, "backups", fmt.Sprintf("the newest is %s old", age)}
}

func disk(dir string) finding {
	var at syscall.Statfs_t
	if err := syscall.Statfs(dir, &at); err != nil {
		return finding{false, "disk", err.Error()}
	}
	free := at.Bavail * uint64(at.Bsize)
	if free < leastFree {
		return finding{false, "disk", fmt.Sprintf("%d MB are free for backups: make room", free>>20)}
	}
	return finding{true, "disk", fmt.Sprintf("%d GB are free for backups", free>>30)}
}
