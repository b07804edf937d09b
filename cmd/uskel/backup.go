package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"uskel/store"
)

// postgresTool finds one of PostgreSQL's own programs: on the path, or where Debian puts them.
func postgresTool(name string) (string, error) {
	if path, err := exec.LookPath(name); err == nil {
		return path, nil
	}
	found, err := filepath.Glob("/usr/lib/postgresql/*/bin/" + name)
	if err != nil || len(found) == 0 {
		return "", fmt.Errorf("%s is missing: install PostgreSQL's client programs (postgresql-client)", name)
	}
	return slices.Max(found), nil
}

// runTool runs one of them. The database's password travels in the environment, where other users of the machine do not
// see it.
func runTool(ctx context.Context, name, database string, args ...string) error {
	path, err := postgresTool(name)
	if err != nil {
		return err
	}
	address, err := url.Parse(database)
	if err != nil {
		return errors.New("the database's address cannot be read")
	}
	password, _ := address.User.Password()
	address.User = url.User(address.User.Username())
	command := exec.CommandContext(ctx, path, append(args, "--dbname="+address.String())...)
	command.Env = os.Environ()
	if password != "" {
		command.Env = append(command.Env, "PGPASSWORD="+password)
	}
	if said, err := command.CombinedOutput(); err != nil {
		return fmt.Errorf("%s: %w: %s", name, err, strings.TrimSpace(string(said)))
	}
	return nil
}

const dumpEnd = ".dump"

// backup writes the shop into a file of its own in a directory. It is written beside and put in place when it is
// whole, so that a backup that was broken off is never taken for one. Sign-ins are left out.
func backup(ctx context.Context, database string, args []string, out io.Writer) error {
	flags := flag.NewFlagSet("backup", flag.ContinueOnError)
	flags.SetOutput(out)
	dir := flags.String("to", os.Getenv("BACKUPS"), "directory for the backups (BACKUPS)")
	keep := flags.Int("keep", 30, "how many of the newest backups stay")
	if err := flags.Parse(args); err != nil {
		return err
	}
	if *dir == "" || *keep < 1 {
		return errors.New("backup: say where with --to DIRECTORY or BACKUPS, and keep one at least")
	}
	if err := os.MkdirAll(*dir, 0o700); err != nil {
		return fmt.Errorf("backup: %w", err)
	}
	file := filepath.Join(*dir, "uskel-"+time.Now().UTC().Format("20060102-150405")+dumpEnd)
	if err := dump(ctx, database, file); err != nil {
		return err
	}
	fmt.Fprintln(out, file)
	all, err := backups(*dir)
	if err != nil {
		return err
	}
	for _, old := range all[min(*keep, len(all)):] {
		if err := os.Remove(old); err != nil {
			return fmt.Errorf("backup: an old one stays: %w", err)
		}
	}
	return nil
}

func dump(ctx context.Context, database, file string) error {
	part := file + ".part"
	// Made before PostgreSQL's program writes into it, so that nobody else on the machine reads it at any moment.
	held, err := os.OpenFile(part, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return fmt.Errorf("backup: %w", err)
	}
	_ = held.Close()
	err = runTool(
		ctx,
		"pg_dump",
		database,
		"--format=custom",
		"--no-owner",
		"--exclude-table-data=sessions",
		"--file="+part,
	)
	if err != nil {
		_ = os.Remove(part)
		return fmt.Errorf("backup: %w", err)
	}
	return os.Rename(part, file)
}

// backups are those in a directory, the newest first.
func backups(dir string) ([]string, error) {
	files, err := filepath.Glob(filepath.Join(dir, "uskel-*"+dumpEnd))
	slices.Sort(files)
	slices.Reverse(files)
	return files, err
}

// restore puts a backup into an empty database, or rehearses that: into one that is made for it and dropped again. It
// overwrites nothing.
func restore(ctx context.Context, database string, args []string, out io.Writer) error {
	flags := flag.NewFlagSet("restore", flag.ContinueOnError)
	flags.SetOutput(out)
	into := flags.String("into", "", "address of an empty database")
	rehearse := flags.Bool(
		"rehearse",
		false,
		"restore into a database that is made for it beside DATABASE_URL's and dropped again",
	)
	if err := flags.Parse(args); err != nil {
		return err
	}
	if flags.NArg() != 1 || (*into == "") == !*rehearse {
		return errors.New(
			"restore: say the backup's file, and either --into with an empty database's address or --rehearse",
		)
	}
	file := flags.Arg(0)
	if _, err := os.Stat(file); err != nil {
		return fmt.Errorf("restore: %w", err)
	}
	if !*rehearse {
		return restoreInto(ctx, *into, file, out)
	}
	return beside(ctx, database, func(made string) error { return restoreInto(ctx, made, file, out) })
}

// beside makes a database beside another, and drops it again whatever came of the work.
func beside(ctx context.Context, database string, work func(made string) error) error {
	address, err := url.Parse(database)
	if err != nil {
		return errors.New("DATABASE_URL cannot be read")
	}
	s, err := store.Open(ctx, database)
	if err != nil {
		return err
	}
	defer s.Close()
	name := "uskel_rehearsal_" + time.Now().UTC().Format("20060102150405")
	if _, err := s.Pool.Exec(ctx, "CREATE DATABASE "+name); err != nil {
		return fmt.Errorf("restore: a database to rehearse in: %w", err)
	}
	defer func() { _, _ = s.Pool.Exec(context.WithoutCancel(ctx), "DROP DATABASE "+name+" WITH (FORCE)") }()
	address.Path = "/" + name
	return work(address.String())
}

func restoreInto(ctx context.Context, database, file string, out io.Writer) error {
	s, err := store.Open(ctx, database)
	if err != nil {
		return err
	}
	defer s.Close()
	if empty, err := s.Empty(ctx); err != nil {
		return err
	} else if !empty {
		return errors.New("restore: that database holds a shop: name an empty one, and nothing is overwritten")
	}
	// A database that was migrated but never used has tables; they make way.
	if err := s.Clear(ctx); err != nil {
		return err
	}
	if err := runTool(
		ctx,
		"pg_restore",
		database,
		"--no-owner",
		"--exit-on-error",
		"--single-transaction",
		file,
	); err != nil {
		return fmt.Errorf("restore: %w", err)
	}
	counts, err := s.Counts(ctx)
	if err != nil {
		return err
	}
	fmt.Fprintf(out, "Restored %s: %d people, %d vehicles, %d washes, %d taps, %d audits.\n", filepath.Base(file),
		counts["people"], counts["vehicles"], counts["washes"], counts["wash_events"], counts["audits"])
	return nil
}
