package store_test

import (
	"os/exec"
	"path/filepath"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/store"
	"uskel/store/storetest"
)

// tool finds one of PostgreSQL's programs where Debian puts them.
func tool(t *testing.T, name string) string {
	t.Helper()
	if path, err := exec.LookPath(name); err == nil {
		return path
	}
	found, err := filepath.Glob("/usr/lib/postgresql/*/bin/" + name)
	require.NoError(t, err)
	require.NotEmpty(t, found, "%s comes with PostgreSQL", name)
	return slices.Max(found)
}

// The two commands of the README: a backup, and a restore over a shop that went on meanwhile. Both end well, and the
// shop is what it was.
func TestBackupAndRestore(t *testing.T) {
	url := storetest.URL(t, "demo at noon", fillDemo)
	s, err := store.Open(ctx, url)
	require.NoError(t, err)
	before, err := s.People(ctx)
	require.NoError(t, err)
	file := filepath.Join(t.TempDir(), "uskel.dump")
	said, err := exec.Command(tool(t, "pg_dump"), "--format=custom", "--no-owner", "--exclude-table-data=sessions",
		"--file="+file, url).CombinedOutput()
	require.NoError(t, err, "%s", said)

	_, err = s.Pool.Exec(ctx, "UPDATE people SET name = 'Somebody else'")
	require.NoError(t, err)
	s.Close()
	said, err = exec.Command(tool(t, "pg_restore"), "--clean", "--if-exists", "--no-owner", "--exit-on-error",
		"--single-transaction", "--dbname="+url, file).CombinedOutput()
	require.NoError(t, err, "%s", said)

	again, err := store.Open(ctx, url)
	require.NoError(t, err)
	defer again.Close()
	after, err := again.People(ctx)
	require.NoError(t, err)
	assert.Equal(t, before, after)
	lacks, _, err := again.Schema(ctx)
	require.NoError(t, err)
	assert.Zero(t, lacks)
	_, err = again.Bookings(ctx, noon.AddDate(0, 0, -20), noon)
	require.NoError(t, err)
}
