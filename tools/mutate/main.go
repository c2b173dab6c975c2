// Command mutate makes small random mistakes in the code and in the rules, one at a time,
// and runs the tests that should see them. What no test sees is printed, to be read: a
// mistake that makes the program milder must not survive.
//
//	go run ./mutate -root .. -n 60 -seed 1 limit rules
//
// The areas are limit, readiness, rules, exercise, body and plan. The tree itself is not touched:
// each mistake is laid over it. Mistakes that do not compile are not counted.
package main

import (
	"encoding/json"
	"flag"
	"fmt"
	"maps"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"time"
)

// area is part of the tree with the tests that look after it, the quickest first.
type area struct {
	files string
	tests []string
}

var areas = map[string]area{
	"limit":     {"core/limit/*.go", []string{"./core/limit", "./library"}},
	"readiness": {"core/readiness/*.go", []string{"./core/readiness", "./library"}},
	"rules":     {"library/conditions/*.yaml", []string{"./library"}},
	"exercise":  {"core/exercise/*.go", []string{"./core/exercise", "./core/limit", "./library", "./core/plan"}},
	"body":      {"core/body/*.go", []string{"./core/body", "./core/exercise", "./library"}},
	"plan":      {"core/plan/*.go", []string{"./core/plan"}},
	"progress":  {"core/progress/*.go", []string{"./core/progress", "./app"}},
	"store":     {"store/*.go", []string{"./store", "./app", "./backup"}},
	"app":       {"app/*.go", []string{"./app", "./cmd/restbend"}},
	"web":       {"web/*.go", []string{"./web"}}, // without a browser
}

// mutant is one mistake: what stands in a file from one byte to another becomes
// something else.
type mutant struct {
	file     string
	from, to int
	becomes  string
	line     int
	was      string
}

func (m mutant) String() string {
	return fmt.Sprintf("%s:%d: %s  →  %s", m.file, m.line, short(m.was), short(m.becomes))
}

func short(s string) string {
	s = strings.Join(strings.Fields(s), " ")
	if len(s) > 70 {
		s = s[:67] + "…"
	}
	if s == "" {
		return "(nothing)"
	}
	return s
}

func main() {
	root := flag.String("root", ".", "the folder of the project")
	n := flag.Int("n", 60, "how many mistakes are made in each area")
	seed := flag.Uint64("seed", 1, "of the choice")
	least := flag.Float64("least", 0, "share that must be seen, or the command fails")
	limit := flag.Duration("each", 3*time.Minute, "how long one run of tests may take")
	flag.Parse()
	failed := false
	for _, name := range flag.Args() {
		a, ok := areas[name]
		if !ok {
			fmt.Fprintf(os.Stderr, "mutate: %q is not one of %v\n", name, slices.Sorted(maps.Keys(areas)))
			os.Exit(2)
		}
		all, err := mutants(*root, a)
		if err != nil {
			fmt.Fprintln(os.Stderr, "mutate:", err)
			os.Exit(1)
		}
		random := rand.New(rand.NewPCG(*seed, 0))
		random.Shuffle(len(all), func(i, j int) { all[i], all[j] = all[j], all[i] })
		seen, made := 0, 0
		for _, m := range all {
			if made == *n {
				break
			}
			switch verdict := try(*root, a, m, *limit); verdict {
			case "no mistake":
				continue
			case "seen":
				seen++
			default:
				fmt.Printf("%s: survives: %s\n", name, m)
			}
			made++
		}
		fmt.Printf("%s: %d of %d mistakes were seen (%d possible, seed %d)\n", name, seen, made, len(all), *seed)
		failed = failed || float64(seen) < *least*float64(made)
	}
	if failed {
		fmt.Fprintf(os.Stderr, "mutate: fewer than %.0f%% were seen\n", 100**least)
		os.Exit(1)
	}
}

// mutants lists every mistake that can be made in an area.
func mutants(root string, a area) ([]mutant, error) {
	files, err := filepath.Glob(filepath.Join(root, a.files))
	if err != nil {
		return nil, err
	}
	var out []mutant
	for _, path := range files {
		if strings.HasSuffix(path, "_test.go") {
			continue
		}
		text, err := os.ReadFile(path)
		if err != nil {
			return nil, err
		}
		find := inGo
		if strings.HasSuffix(path, ".yaml") {
			find = inYAML
		}
		found, err := find(path, text)
		if err != nil {
			return nil, err
		}
		out = append(out, found...)
	}
	return out, nil
}

// try lays a mistake over the tree and runs the tests: "seen" when one fails, "survives"
// when none does, "no mistake" when it does not compile.
func try(root string, a area, m mutant, limit time.Duration) string {
	text, err := os.ReadFile(m.file)
	if err != nil {
		return "no mistake"
	}
	dir, err := os.MkdirTemp("", "mutant")
	if err != nil {
		return "no mistake"
	}
	defer os.RemoveAll(dir)
	changed := filepath.Join(dir, filepath.Base(m.file))
	whole := slices.Concat(text[:m.from], []byte(m.becomes), text[m.to:])
	full, err := filepath.Abs(m.file)
	if err != nil || os.WriteFile(changed, whole, 0o600) != nil {
		return "no mistake"
	}
	overlay := filepath.Join(dir, "overlay.json")
	// Nothing that was measured before is to hide the mistake, or to give it away.
	nothing, kept := filepath.Join(dir, "nothing"), filepath.Join(root, "library", "snapshot.bin")
	if kept, err = filepath.Abs(kept); err != nil || os.WriteFile(nothing, nil, 0o600) != nil {
		return "no mistake"
	}
	laid, err := json.Marshal(map[string]any{"Replace": map[string]string{full: changed, kept: nothing}})
	if err != nil || os.WriteFile(overlay, laid, 0o600) != nil {
		return "no mistake"
	}
	for _, pkg := range a.tests {
		// The same random clients each time, so that a run can be repeated.
		args := []string{
			"test",
			"-overlay",
			overlay,
			"-failfast",
			"-short",
			"-skip",
			"^TestSnapshot",
			"-timeout",
			limit.String(),
			pkg,
		}
		run := exec.Command("go", args...)
		run.Dir = root
		said, err := run.CombinedOutput()
		if err == nil {
			continue
		}
		if strings.Contains(string(said), "[build failed]") || strings.Contains(string(said), "[setup failed]") {
			return "no mistake"
		}
		return "seen"
	}
	return "survives"
}
