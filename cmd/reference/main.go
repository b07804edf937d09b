// Command reference makes wash-shaped problems, has them solved by MiniZinc with Gecode and writes what it proved,
// for the tests of core/schedule.
package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"time"

	"uskel/core/schedule"
	"uskel/core/schedule/reference"
)

func main() {
	first := flag.Int64("first", 1, "first seed")
	count := flag.Int("count", 40, "how many")
	limit := flag.Duration("limit", 60*time.Second, "for each")
	hard := flag.Bool("hard", false, "the harder problems")
	flag.Parse()
	if err := run(*first, *count, *limit, *hard); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

func run(first int64, count int, limit time.Duration, hard bool) error {
	problem := reference.Instance
	if hard {
		problem = reference.Hard
	}
	folder, err := os.MkdirTemp("", "reference")
	if err != nil {
		return err
	}
	defer os.RemoveAll(folder)
	out := json.NewEncoder(os.Stdout)
	for seed := first; seed < first+int64(count); seed++ {
		answer, err := solve(filepath.Join(folder, "wash.mzn"), seed, problem(seed), limit)
		if err != nil {
			return err
		}
		if err := out.Encode(answer); err != nil {
			return err
		}
	}
	return nil
}

// solve asks MiniZinc, which starts from the finish that Uskel finds with much effort: it finds a better one, or
// proves that there is none, or finds that Uskel is wrong. The last number it prints is its best, "==========" says
// that it is proven.
func solve(file string, seed int64, p schedule.Problem, limit time.Duration) (reference.Answer, error) {
	a := reference.Answer{Seed: seed, Activities: len(p.Work), People: len(p.People), Vehicles: len(p.Jobs)}
	ours, err := schedule.Solve(p, schedule.Options{Seed: 1, Effort: 20 * schedule.DefaultEffort})
	if err != nil {
		return a, err
	}
	known := 0
	if ours.Feasible {
		known = int(ours.Finish)
	}
	a.Best = known
	if err := os.WriteFile(file, []byte(reference.Model(p, known)), 0o600); err != nil {
		return a, err
	}
	ctx, cancel := context.WithTimeout(context.Background(), limit+20*time.Second)
	defer cancel()
	printed, err := exec.CommandContext(ctx, "minizinc", "--solver", "gecode", "-a", "--time-limit",
		strconv.FormatInt(limit.Milliseconds(), 10), file).
		CombinedOutput()
	if err != nil {
		return a, fmt.Errorf("seed %d: %w: %s", seed, err, printed)
	}
	for _, line := range strings.Split(string(printed), "\n") {
		line = strings.TrimSpace(line)
		switch {
		case line == "==========":
			a.Proven = true
		case strings.Contains(line, "UNSATISFIABLE"):
			a.Infeasible, a.Proven = true, true
		default:
			if v, err := strconv.Atoi(line); err == nil {
				a.Finish, a.Best = v, min(v, known)
			}
		}
	}
	return a, nil
}
