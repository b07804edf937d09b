package uskel_test

import (
	"bytes"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// mostTracked is how large a file of the tree may be, bytes.
const mostTracked = 1 << 20

// largeFiles are those that may be larger. There are none: pictures are shrunk and test data is made.
var largeFiles = []string{}

// binaryKinds are the kinds of file that are not text and belong into the tree.
var binaryKinds = []string{".png", ".woff2", ".ico", ".jpg"}

// unfit says why a file does not belong into the tree; empty when it does.
func unfit(name string, size int64, head []byte) string {
	switch {
	case size > mostTracked && !slices.Contains(largeFiles, name):
		return "it is larger than a megabyte"
	case bytes.IndexByte(head, 0) >= 0 && !slices.Contains(binaryKinds, filepath.Ext(name)):
		return "it is binary: what is built is not kept"
	}
	return ""
}

// The tree holds what was written, and nothing that was built from it.
func TestTreeHoldsNothingBuilt(t *testing.T) {
	listed, err := exec.Command("git", "ls-files", "-z").Output()
	require.NoError(t, err, "the tests run in a clone")
	names := strings.Split(strings.Trim(string(listed), "\x00"), "\x00")
	require.Greater(t, len(names), 100)
	for _, name := range names {
		info, err := os.Lstat(name)
		if err != nil || !info.Mode().IsRegular() {
			continue // taken away and not yet committed
		}
		text, err := os.ReadFile(name)
		require.NoError(t, err)
		assert.Empty(t, unfit(name, info.Size(), text[:min(len(text), 8000)]), name)
	}
}

func TestUnfitFilesAreTold(t *testing.T) {
	elf := []byte("\x7fELF\x02\x01\x01\x00")
	assert.NotEmpty(t, unfit("api.test", 60<<20, elf))
	assert.NotEmpty(t, unfit("bin/tool", 4000, elf), "small ones too")
	assert.NotEmpty(t, unfit("docs/notes.md", 2<<20, []byte("text")))
	assert.Empty(t, unfit("docs/screenshots/bay.png", 90_000, []byte("\x89PNG\r\n\x1a\n\x00\x00")))
	assert.Empty(t, unfit("run", 900, []byte("#!/usr/bin/env bash")))
}
