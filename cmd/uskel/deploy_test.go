package main

import (
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"go.yaml.in/yaml/v3"
)

const deployed = "../../deploy"

// called are the words of the program in the files for a real installation: each is a command that there is.
var called = regexp.MustCompile(`uskel (serve|[a-z]+)\b`)

// What the files for a real installation call is there, and reads only settings that the server knows.
func TestTheDeploymentCallsWhatThereIs(t *testing.T) {
	files, err := filepath.Glob(filepath.Join(deployed, "*"))
	require.NoError(t, err)
	require.NotEmpty(t, files)
	for _, file := range files {
		text, err := os.ReadFile(file)
		require.NoError(t, err)
		for _, line := range strings.Split(string(text), "\n") {
			if !strings.Contains(line, "Exec") && !strings.Contains(line, "command:") {
				continue
			}
			for _, word := range called.FindAllStringSubmatch(line, -1) {
				_, known := commands[word[1]]
				assert.True(t, known, "%s: uskel %s", file, word[1])
			}
		}
	}
	env, err := os.ReadFile(filepath.Join(deployed, "env.example"))
	require.NoError(t, err)
	docs, err := os.ReadFile("../../docs/running.md")
	require.NoError(t, err)
	for _, name := range regexp.MustCompile(`(?m)^#?([A-Z_]+)=`).FindAllStringSubmatch(string(env), -1) {
		assert.Contains(t, string(docs), "`"+name[1]+"`", "docs/running.md tells of it")
	}
}

// The compose file is checked by the engine where there is one, and as a document where there is none.
func TestTheComposeFile(t *testing.T) {
	path := filepath.Join(deployed, "compose.yaml")
	text, err := os.ReadFile(path)
	require.NoError(t, err)
	var doc struct {
		Services map[string]struct {
			Image       string
			Environment map[string]string
			DependsOn   map[string]struct{ Condition string } `yaml:"depends_on"`
			Ports       []string
		}
		Volumes map[string]any
	}
	require.NoError(t, yaml.Unmarshal(text, &doc))
	require.Contains(t, doc.Services, "uskel")
	require.Contains(t, doc.Services, "database")
	for on := range doc.Services["uskel"].DependsOn {
		assert.Contains(t, doc.Services, on)
	}
	for _, port := range doc.Services["uskel"].Ports {
		assert.True(t, strings.HasPrefix(port, "127.0.0.1:"), "the proxy with TLS stands in front: %s", port)
	}
	for name := range doc.Services["uskel"].Environment {
		assert.Contains(
			t,
			[]string{
				"DATABASE_URL",
				"PGPASSWORD",
				"ADDRESS",
				"PUBLIC_URL",
				"TRUSTED_PROXIES",
				"READINGS",
				"BACKUPS",
				"METRICS",
				"LOG",
			},
			name,
		)
	}
	assert.NotContains(t, string(text), ":${POSTGRES_PASSWORD}@", "a password with signs in it would break the address")
	assert.Contains(t, doc.Services, "backup")
	assert.NotContains(t, doc.Services["uskel"].Environment["TRUSTED_PROXIES"], ":-}", "a proxy is trusted, or TLS is not known of")
	if exec.Command("docker", "compose", "version").Run() == nil {
		check := exec.Command("docker", "compose", "-f", path, "config", "--quiet")
		check.Env = append(os.Environ(), "POSTGRES_PASSWORD=x", "PUBLIC_URL=https://wash.example")
		said, err := check.CombinedOutput()
		assert.NoError(t, err, "%s", said)
	}
}

// section and setting are the two kinds of line that a unit file has besides comments (systemd.syntax(7), from memory).
var (
	section = regexp.MustCompile(`^\[(Unit|Service|Timer|Install)\]$`)
	setting = regexp.MustCompile(`^[A-Z][A-Za-z]+=.*$`)
)

// The units are what systemd reads; where its own check is there, it is asked.
func TestTheUnits(t *testing.T) {
	for _, name := range []string{"uskel.service", "uskel-backup.service", "uskel-backup.timer"} {
		text, err := os.ReadFile(filepath.Join(deployed, name))
		require.NoError(t, err)
		for n, line := range strings.Split(strings.TrimSpace(string(text)), "\n") {
			fine := line == "" || line[0] == '#' || section.MatchString(line) || setting.MatchString(line)
			assert.True(t, fine, "%s:%d: %s", name, n+1, line)
		}
		assert.Contains(t, string(text), "[Unit]")
	}
	if path, err := exec.LookPath("systemd-analyze"); err == nil {
		said, _ := exec.Command(path, "verify", "--man=no", filepath.Join(deployed, "uskel-backup.timer")).
			CombinedOutput()
		for _, bad := range []string{"Unknown key", "Failed to parse", "Unknown section"} {
			assert.NotContains(t, string(said), bad)
		}
	}
}
