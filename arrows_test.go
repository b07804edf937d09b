// Package uskel_test holds the layout to its promise: arrows point one way.
package uskel_test

import (
	"encoding/json"
	"errors"
	"go/ast"
	"go/parser"
	"go/token"
	"io"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"unicode/utf8"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// rooms says what each part of the tree may import of the others: ui -> api -> store -> core, devices -> core.
// The demo and the command stand on top of all of them.
var rooms = map[string][]string{
	"core":    {},
	"devices": {"core"},
	"store":   {"core"},
	"api":     {"core", "store", "devices"},
	"ui":      {},
	"demo":    {"core", "store", "devices", "api"},
	"cmd":     {"core", "store", "devices", "api", "demo", "ui"},
	"e2e":     {"core", "store", "devices", "api", "demo", "ui"},
}

// floors is the order inside the core: a package imports only those before it.
var floors = []string{"prove", "wrong", "measure", "table", "stats", "vehicle", "photo", "photo/phototest", "climate",
	"film", "contact", "condition", "procedure", "procedure/starters", "shelf", "visit",
	"schedule", "schedule/reference", "wash", "timing",
	"plan", "plan/fill", "plan/crew", "plan/wet", "plan/judge", "plan/mend", "plan/plantest", "day", "stock",
	"skills", "ready", "lesson", "recall", "cases", "drill", "audit", "practice", "shop", "device"}

type goPackage struct {
	ImportPath string
	Imports    []string
}

func packages(t *testing.T) []goPackage {
	t.Helper()
	text, err := exec.Command("go", "list", "-json=ImportPath,Imports", "./...").Output()
	require.NoError(t, err)
	var all []goPackage
	for d := json.NewDecoder(strings.NewReader(string(text))); ; {
		var p goPackage
		if err := d.Decode(&p); errors.Is(err, io.EOF) {
			return all
		} else if err != nil {
			t.Fatal(err)
		}
		all = append(all, p)
	}
}

func room(path string) (string, bool) {
	inside, ours := strings.CutPrefix(path, "uskel/")
	first, _, _ := strings.Cut(inside, "/")
	return first, ours
}

func TestArrowsPointOneWay(t *testing.T) {
	for _, p := range packages(t) {
		from, ours := room(p.ImportPath)
		if !ours {
			continue // the root holds tests only
		}
		allowed, known := rooms[from]
		require.True(t, known, "%s: say in this test what it may import", p.ImportPath)
		for _, imported := range p.Imports {
			to, ours := room(imported)
			if ours && to != from {
				assert.Contains(t, allowed, to, "%s imports %s", p.ImportPath, imported)
			}
			if from == "core" && !ours && strings.Contains(strings.SplitN(imported, "/", 2)[0], ".") {
				assert.True(
					t,
					strings.HasPrefix(imported, "gonum.org/") || imported == "golang.org/x/image/draw",
					"%s imports %s: the core has the standard library, gonum, and what scales a picture",
					p.ImportPath,
					imported,
				)
			}
			if strings.HasPrefix(imported, "gorm.io/") || strings.Contains(imported, "/pgx/") {
				assert.Contains(
					t,
					[]string{"store"},
					from,
					"%s imports %s: only the store knows PostgreSQL",
					p.ImportPath,
					imported,
				)
			}
		}
	}
}

func TestFloorsOfTheCore(t *testing.T) {
	level := map[string]int{}
	for i, name := range floors {
		level["uskel/core/"+name] = i + 1
	}
	for _, p := range packages(t) {
		if !strings.HasPrefix(p.ImportPath, "uskel/core/") {
			continue
		}
		require.NotZero(t, level[p.ImportPath], "%s: give it a floor in this test", p.ImportPath)
		for _, imported := range p.Imports {
			if strings.HasPrefix(imported, "uskel/core/") {
				assert.Less(t, level[imported], level[p.ImportPath], "%s imports %s", p.ImportPath, imported)
			}
		}
	}
}

// The core has no clock, no dice of its own, no files, no network and no log.
func TestTheCoreIsPure(t *testing.T) {
	forbiddenImports := []string{
		"os",
		"net",
		"net/http",
		"log",
		"log/slog",
		"io/fs",
		"os/exec",
		"database/sql",
		"crypto/rand",
	}
	forbiddenCalls := map[string]bool{
		"time.Now":    true,
		"time.Since":  true,
		"time.Until":  true,
		"time.Sleep":  true,
		"time.After":  true,
		"fmt.Println": true,
		"fmt.Printf":  true,
		"fmt.Print":   true,
	}
	seeded := []string{"New", "NewSource", "NewPCG", "Rand", "Source"}
	err := filepath.WalkDir("core", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return err
		}
		file, err := parser.ParseFile(token.NewFileSet(), path, nil, 0)
		if err != nil {
			return err
		}
		for _, i := range file.Imports {
			assert.NotContains(t, forbiddenImports, strings.Trim(i.Path.Value, `"`), path)
		}
		ast.Inspect(file, func(n ast.Node) bool {
			call, ok := n.(*ast.SelectorExpr)
			if !ok {
				return true
			}
			if pkg, ok := call.X.(*ast.Ident); ok && pkg.Obj == nil {
				name := pkg.Name + "." + call.Sel.Name
				assert.False(t, forbiddenCalls[name], "%s calls %s", path, name)
				assert.False(
					t,
					pkg.Name == "rand" && !slices.Contains(seeded, call.Sel.Name),
					"%s uses dice without a seed: %s",
					path,
					name,
				)
			}
			return true
		})
		return nil
	})
	require.NoError(t, err)
}

// longest is how many characters a line of Go has at most; most have 120.
const longest = 140

// Lines are short enough to be read by people.
func TestLinesAreShort(t *testing.T) {
	text, err := exec.Command("git", "ls-files", "*.go").Output()
	require.NoError(t, err)
	for _, path := range strings.Fields(string(text)) {
		code, err := os.ReadFile(path)
		if errors.Is(err, fs.ErrNotExist) { // removed and not yet committed
			continue
		}
		require.NoError(t, err)
		for n, line := range strings.Split(string(code), "\n") {
			assert.LessOrEqual(t, utf8.RuneCountInString(line), longest, "%s:%d", path, n+1)
		}
	}
}
