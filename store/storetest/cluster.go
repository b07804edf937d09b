package storetest

import (
	"fmt"
	"net"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// Cluster is a PostgreSQL server of a test's own, to be killed and filled up. Commits wait for the log as in a shop.
type Cluster struct {
	t    testing.TB
	dir  string
	port int
}

// NewCluster makes and starts a server whose files are in a folder.
func NewCluster(t testing.TB, dir string) *Cluster {
	t.Helper()
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	c := &Cluster{t, dir, listener.Addr().(*net.TCPAddr).Port}
	require.NoError(t, listener.Close())
	require.NoError(t, os.Mkdir(c.data(), 0o700))
	if os.Getuid() == 0 { // the server refuses to run as root
		owner, err := user.Lookup("postgres")
		require.NoError(t, err)
		uid, _ := strconv.Atoi(owner.Uid)
		gid, _ := strconv.Atoi(owner.Gid)
		require.NoError(t, os.Chown(c.data(), uid, gid))
	}
	c.run("initdb", "-D", c.data(), "-U", "uskel", "--auth=trust", "-E", "UTF8", "--locale=C.UTF-8", "--no-sync")
	c.Start()
	t.Cleanup(func() { _ = c.kill() })
	return c
}

func (c *Cluster) data() string { return filepath.Join(c.dir, "pg") }

// run runs one of PostgreSQL's programs as the user the server runs as.
func (c *Cluster) run(program string, args ...string) {
	c.t.Helper()
	require.NoError(c.t, c.try(program, args...))
}

func (c *Cluster) try(program string, args ...string) error {
	bins, _ := filepath.Glob("/usr/lib/postgresql/*/bin/" + program)
	if len(bins) == 0 {
		return fmt.Errorf("%s comes with Debian's postgresql package", program)
	}
	line := append([]string{bins[len(bins)-1]}, args...)
	if os.Getuid() == 0 {
		line = append([]string{"setpriv", "--reuid=postgres", "--regid=postgres", "--init-groups"}, line...)
	}
	command := exec.Command(line[0], line[1:]...)
	command.Dir = "/"
	log, err := os.CreateTemp("", "uskel-cluster-*.log") // not a pipe: the server would hold it open
	if err != nil {
		return err
	}
	defer os.Remove(log.Name())
	command.Stdout, command.Stderr = log, log
	if err := command.Run(); err != nil {
		said, _ := os.ReadFile(log.Name())
		return fmt.Errorf("%s: %w: %s", program, err, said)
	}
	return nil
}

// Start starts the server. After a kill it may take some tries, until the last of what the old one started has gone.
func (c *Cluster) Start() {
	c.t.Helper()
	var err error
	for range 20 {
		if err = c.TryStart(); err == nil {
			return
		}
		time.Sleep(200 * time.Millisecond)
	}
	require.NoError(c.t, err)
}

// TryStart reports why the server does not start.
func (c *Cluster) TryStart() error {
	return c.try(
		"pg_ctl",
		"-D",
		c.data(),
		"-l",
		filepath.Join(c.data(), "server.log"),
		"-w",
		"-t",
		"20",
		"-o",
		fmt.Sprintf(
			"-p %d -c listen_addresses=127.0.0.1 -c unix_socket_directories=%s -c fsync=off -c "+
				"synchronous_commit=on -c min_wal_size=32MB -c max_wal_size=48MB -c wal_recycle=off",
			c.port,
			c.data(),
		),
		"start",
	)
}

// Kill is kill -9 of the server and of everything it started.
func (c *Cluster) Kill() { c.t.Helper(); require.NoError(c.t, c.kill()) }

func (c *Cluster) kill() error {
	text, err := os.ReadFile(filepath.Join(c.data(), "postmaster.pid"))
	if err != nil {
		return err
	}
	pid, err := strconv.Atoi(strings.Fields(string(text))[0])
	if err != nil {
		return err
	}
	pids := append([]int{pid}, childrenOf(pid)...)
	for _, p := range pids {
		_ = syscall.Kill(p, syscall.SIGKILL)
	}
	for range 200 {
		if !slices.ContainsFunc(pids, alive) {
			return nil
		}
		time.Sleep(20 * time.Millisecond)
	}
	return fmt.Errorf("the server %d does not die", pid)
}

// alive reports whether a process runs; one that is dead and not yet collected does not.
func alive(pid int) bool {
	stat, err := os.ReadFile(fmt.Sprintf("/proc/%d/stat", pid))
	if err != nil {
		return false
	}
	_, rest, _ := strings.Cut(string(stat), ") ")
	return !strings.HasPrefix(rest, "Z")
}

// childrenOf lists the processes that one started.
func childrenOf(pid int) []int {
	var children []int
	stats, _ := filepath.Glob("/proc/[0-9]*/stat")
	for _, path := range stats {
		stat, err := os.ReadFile(path)
		if err != nil {
			continue
		}
		_, rest, found := strings.Cut(string(stat), ") ")
		fields := strings.Fields(rest)
		if found && len(fields) > 1 && fields[1] == strconv.Itoa(pid) {
			child, _ := strconv.Atoi(filepath.Base(filepath.Dir(path)))
			children = append(children, child)
		}
	}
	return children
}

// URL is the address of one of its databases.
func (c *Cluster) URL(database string) string {
	return fmt.Sprintf("postgres://uskel@127.0.0.1:%d/%s?sslmode=disable", c.port, database)
}

// Make makes a database and gives its address.
func (c *Cluster) Make(database string) string {
	c.t.Helper()
	require.NoError(c.t, execute(c.URL("postgres"), "CREATE DATABASE "+database))
	return c.URL(database)
}

// Folder is a new folder that PostgreSQL can reach, gone when the test is over.
func Folder(t testing.TB) string {
	t.Helper()
	dir, err := os.MkdirTemp("/tmp", "uskel-cluster-")
	require.NoError(t, err)
	require.NoError(t, os.Chmod(dir, 0o755))
	t.Cleanup(func() { _ = os.RemoveAll(dir) })
	return dir
}

// SmallDisk is a folder on a disk of its own, of some megabytes. It takes root to mount one.
func SmallDisk(t testing.TB, megabytes int) string {
	t.Helper()
	dir := Folder(t)
	out, err := exec.Command("mount", "-t", "tmpfs", "-o", fmt.Sprintf("size=%dm,mode=755", megabytes), "none", dir).
		CombinedOutput()
	require.NoError(t, err, "mounting a small disk takes root: %s", out)
	t.Cleanup(func() { _ = exec.Command("umount", "-l", dir).Run() })
	return dir
}
