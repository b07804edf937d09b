// Command mutate says how well tests bite: it draws small changes of the code with a seed, runs for each the tests of the package that it
// is in, and names those that nobody noticed. Run it in the root of the tree:
//
//	go run -C tools ./mutate -root .. -n 100 ./core/...
//
// A change is one of: a comparison turned or moved by one, a number made a fifth larger, a condition negated, a guard dropped, and and or
// exchanged. Whatever does not compile is drawn again. The tree is not touched: go test reads the changed file by an overlay.
package main

import (
	"bytes"
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"go/ast"
	"go/format"
	"go/parser"
	"go/token"
	"math/rand"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"time"
)

// change is a place in a file where something may be changed, and what that is.
type change struct {
	file, says string
	line       int
	nth        int // which of the changes of its file
}

// comparisons are what each is turned into.
var comparisons = map[token.Token]token.Token{token.LSS: token.LEQ, token.LEQ: token.LSS, token.GTR: token.GEQ, token.GEQ: token.GTR,
	token.EQL: token.NEQ, token.NEQ: token.EQL, token.LAND: token.LOR, token.LOR: token.LAND, token.ADD: token.SUB, token.SUB: token.ADD}

// walk calls do for each place where a file may be changed: mutate changes the tree.
func walk(file *ast.File, do func(pos token.Pos, says string, mutate func())) {
	ast.Inspect(file, func(n ast.Node) bool {
		switch x := n.(type) {
		case *ast.GenDecl:
			return x.Tok != token.IMPORT
		case *ast.BinaryExpr:
			if to, known := comparisons[x.Op]; known && !isText(x.X) && !isText(x.Y) {
				do(x.OpPos, fmt.Sprintf("%s for %s", to, x.Op), func() { x.Op = to })
			}
		case *ast.BasicLit:
			if larger := fifth(x); larger != "" {
				do(x.Pos(), fmt.Sprintf("%s for %s", larger, x.Value), func() { x.Value = larger })
			}
		case *ast.IfStmt:
			do(x.Pos(), "the condition negated", func() { x.Cond = &ast.UnaryExpr{Op: token.NOT, X: &ast.ParenExpr{X: x.Cond}} })
			if len(x.Body.List) == 1 && x.Else == nil {
				if _, returns := x.Body.List[0].(*ast.ReturnStmt); returns {
					do(x.Pos(), "the guard dropped", func() {
						x.Cond = &ast.BinaryExpr{X: ast.NewIdent("false"), Op: token.LAND, Y: &ast.ParenExpr{X: x.Cond}}
					})
				}
			}
		}
		return true
	})
}

func isText(x ast.Expr) bool {
	lit, is := x.(*ast.BasicLit)
	return is && lit.Kind == token.STRING
}

// fifth is a number a fifth larger, at least by one; nothing for what is no number, and for nought.
func fifth(x *ast.BasicLit) string {
	switch x.Kind {
	case token.INT:
		if n, err := strconv.ParseInt(x.Value, 10, 64); err == nil && n > 0 && n < 1<<40 {
			return fmt.Sprint(n + max(1, n/5))
		}
	case token.FLOAT:
		if f, err := strconv.ParseFloat(x.Value, 64); err == nil && f > 0 {
			return strconv.FormatFloat(f*1.2, 'g', 12, 64)
		}
	}
	return ""
}

// changesOf lists where a file may be changed.
func changesOf(file string) ([]change, error) {
	set := token.NewFileSet()
	tree, err := parser.ParseFile(set, file, nil, parser.ParseComments)
	if err != nil {
		return nil, err
	}
	var all []change
	walk(tree, func(pos token.Pos, says string, _ func()) {
		all = append(all, change{file, says, set.Position(pos).Line, len(all)})
	})
	return all, nil
}

// changed is the file as it is with the change.
func (c change) changed() ([]byte, error) {
	set := token.NewFileSet()
	tree, err := parser.ParseFile(set, c.file, nil, parser.ParseComments)
	if err != nil {
		return nil, err
	}
	n := 0
	walk(tree, func(_ token.Pos, _ string, mutate func()) {
		if n == c.nth {
			mutate()
		}
		n++
	})
	var text bytes.Buffer
	err = format.Node(&text, set, tree)
	return text.Bytes(), err
}

func main() {
	root := flag.String("root", ".", "root of the tree")
	n := flag.Int("n", 100, "how many changes")
	seed := flag.Int64("seed", 1, "seed of the draw")
	patience := flag.Duration("patience", 4*time.Minute, "a test that takes longer has noticed")
	flag.Parse()
	if err := run(*root, *n, *seed, *patience, flag.Args()); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

func run(root string, n int, seed int64, patience time.Duration, packages []string) error {
	root, err := filepath.Abs(root)
	if err != nil {
		return err
	}
	list := exec.Command("go", append([]string{"list", "-f", `{{if .TestGoFiles}}{{$d := .Dir}}{{range .GoFiles}}{{$d}}/{{.}}
{{end}}{{else if .XTestGoFiles}}{{$d := .Dir}}{{range .GoFiles}}{{$d}}/{{.}}
{{end}}{{end}}`}, packages...)...)
	list.Dir = root
	files, err := list.Output()
	if err != nil {
		return fmt.Errorf("go list: %w", err)
	}
	var all []change
	for _, file := range strings.Fields(string(files)) {
		found, err := changesOf(file)
		if err != nil {
			return err
		}
		all = append(all, found...)
	}
	dice := rand.New(rand.NewSource(seed))
	dice.Shuffle(len(all), func(i, k int) { all[i], all[k] = all[k], all[i] })
	killed, lived := 0, []string{}
	for _, c := range all {
		if killed+len(lived) == n {
			break
		}
		noticed, builds, err := c.try(root, patience)
		if err != nil {
			return err
		}
		name, _ := filepath.Rel(root, c.file)
		switch {
		case !builds:
		case noticed:
			killed++
		default:
			lived = append(lived, fmt.Sprintf("%s:%d: %s", name, c.line, c.says))
			fmt.Println(lived[len(lived)-1])
		}
	}
	slices.Sort(lived)
	fmt.Printf("%d of %d noticed, of %d places, seed %d\n", killed, killed+len(lived), len(all), seed)
	return nil
}

// try runs the tests of a changed file's package.
func (c change) try(root string, patience time.Duration) (noticed, builds bool, err error) {
	text, err := c.changed()
	if err != nil {
		return false, false, err
	}
	dir, err := os.MkdirTemp("", "uskel-mutant-")
	if err != nil {
		return false, false, err
	}
	defer os.RemoveAll(dir)
	file, overlay := filepath.Join(dir, "changed.go"), filepath.Join(dir, "overlay.json")
	replace, err := json.Marshal(map[string]any{"Replace": map[string]string{c.file: file}})
	if err != nil {
		return false, false, err
	}
	if err := os.WriteFile(file, text, 0o600); err != nil {
		return false, false, err
	}
	if err := os.WriteFile(overlay, replace, 0o600); err != nil {
		return false, false, err
	}
	ctx, end := context.WithTimeout(context.Background(), patience)
	defer end()
	test := exec.CommandContext(ctx, "go", "test", "-short", "-vet=off", "-failfast", "-overlay", overlay, filepath.Dir(c.file))
	test.Dir = root
	said, failed := test.CombinedOutput()
	if bytes.Contains(said, []byte("[build failed]")) || bytes.Contains(said, []byte("[setup failed]")) {
		return false, false, nil
	}
	return failed != nil, true, nil
}
