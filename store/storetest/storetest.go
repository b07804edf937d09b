// Package storetest gives each test a database of its own on a real PostgreSQL.
package storetest

import (
	"context"
	"crypto/rand"
	"fmt"
	"net/url"
	"os"
	"sync"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/require"

	"uskel/store"
)

var template = struct {
	once sync.Once
	name string
	err  error
}{}

// server is the address of the test server, which ./run test starts.
func server(t testing.TB) string {
	t.Helper()
	address := os.Getenv("USKEL_TEST_DATABASE")
	require.NotEmpty(t, address, "these tests need PostgreSQL: start them with ./run test, which sets USKEL_TEST_DATABASE")
	return address
}

func name(prefix string) string { return prefix + "_" + fmt.Sprintf("%x", []byte(rand.Text()[:10])) }

func exec(address, sql string) error {
	ctx, cancel := context.WithTimeout(context.Background(), 30*time.Second)
	defer cancel()
	conn, err := pgx.Connect(ctx, address)
	if err != nil {
		return err
	}
	defer conn.Close(ctx)
	_, err = conn.Exec(ctx, sql)
	return err
}

func at(address, database string) string {
	u, err := url.Parse(address)
	if err != nil {
		panic(err)
	}
	u.Path = "/" + database
	return u.String()
}

// prepare makes the template database: migrated once per test binary, then copied.
func prepare(address string) (string, error) {
	template.once.Do(func() {
		template.name = name("template")
		if template.err = exec(address, "CREATE DATABASE "+template.name); template.err != nil {
			return
		}
		var s *store.Store
		if s, template.err = store.Open(context.Background(), at(address, template.name)); template.err == nil {
			template.err = s.Migrate(context.Background())
			s.Close()
		}
	})
	return template.name, template.err
}

// URL makes a migrated, empty database and gives its address.
func URL(t testing.TB) string {
	t.Helper()
	address := server(t)
	from, err := prepare(address)
	require.NoError(t, err)
	database := name("test")
	require.NoError(t, exec(address, fmt.Sprintf("CREATE DATABASE %s TEMPLATE %s", database, from)))
	t.Cleanup(func() { _ = exec(address, "DROP DATABASE IF EXISTS "+database+" WITH (FORCE)") })
	return at(address, database)
}

// Open makes a migrated, empty database and opens it.
func Open(t testing.TB) *store.Store {
	t.Helper()
	s, err := store.Open(context.Background(), URL(t))
	require.NoError(t, err)
	t.Cleanup(s.Close)
	return s
}
