package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"os/exec"
	"strings"
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
		findings = append(findings, finding{false, "database", whyAway(err)})
	} else {
		findings = append(
			findings,
			finding{true, "database", "answers"},
			schema(ctx, s),
			clock(ctx, s),
			room(ctx, s),
			notices(ctx, s),
			dumper(ctx, s),
		)
	}
	if dir := os.Getenv("READINGS"); dir != "" {
		findings = append(findings, readings(dir))
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

// whyAway says why the database cannot be asked.
func whyAway(err error) string {
	switch {
	case store.Denied(err):
		return "refuses the name or the password: look at DATABASE_URL; signs in a password are written with %, a colon as %3A"
	case store.NoDatabase(err):
		return "has no database of that name: look at the end of DATABASE_URL"
	}
	return "does not answer: look whether PostgreSQL runs, and at DATABASE_URL"
}

// room says whether there is room to write.
func room(ctx context.Context, s *store.Store) finding {
	switch err := s.Room(ctx); {
	case store.Full(err):
		return finding{false, "room", "the disk of the database is full: nothing is saved until you make room"}
	case err != nil:
		return finding{false, "room", err.Error()}
	}
	return finding{true, "room", "the database can write"}
}

// readings says whether the folder that readings are taken from can be read.
func readings(dir string) finding {
	if _, err := os.ReadDir(dir); err != nil {
		return finding{false, "readings", fmt.Sprintf("the folder READINGS names cannot be read: %v", err)}
	}
	return finding{true, "readings", "are taken from " + dir}
}

// dumper says whether backups can be made: pg_dump refuses a server that is newer than itself.
func dumper(ctx context.Context, s *store.Store) finding {
	path, err := postgresTool("pg_dump")
	if err != nil {
		return finding{false, "pg_dump", err.Error()}
	}
	text, err := exec.CommandContext(ctx, path, "--version").Output()
	var ours int
	if err == nil {
		_, err = fmt.Sscanf(strings.TrimSpace(string(text)), "pg_dump (PostgreSQL) %d", &ours)
	}
	theirs, failed := s.ServerVersion(ctx)
	switch {
	case err != nil || failed != nil:
		return finding{false, "pg_dump", fmt.Sprintf("its version cannot be read: %v", errors.Join(err, failed))}
	case ours < theirs:
		return finding{false, "pg_dump", fmt.Sprintf("is of PostgreSQL %d and the server of %d: install postgresql-client-%d, "+
			"or every backup fails", ours, theirs, theirs)}
	}
	return finding{true, "pg_dump", fmt.Sprintf("is of PostgreSQL %d, the server of %d", ours, theirs)}
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
	if says := brokenDump(all[0]); says != "" {
		return finding{false, "backups", "the newest cannot be restored: " + says}
	}
	if info.Mode().Perm()&0o077 != 0 {
		return finding{false, "backups", fmt.Sprintf("others on this machine can read the newest: chmod 600 %s", all[0])}
	}
	age := now.Sub(info.ModTime()).Round(time.Minute)
	if age > oldBackup {
		return finding{false, "backups", fmt.Sprintf("the newest is %s old: look whether the timer runs", age)}
	}
	return finding{true, "backups", fmt.Sprintf("the newest is %s old", age)}
}

// brokenDump says what is wrong with a backup by its list of contents; nothing when it can be read.
func brokenDump(file string) string {
	path, err := postgresTool("pg_restore")
	if err != nil {
		return err.Error()
	}
	text, err := exec.Command(path, "--list", file).CombinedOutput()
	switch {
	case err != nil:
		return strings.TrimSpace(string(text))
	case !strings.Contains(string(text), "TABLE DATA public washes"):
		return "it holds no washes"
	}
	return ""
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
