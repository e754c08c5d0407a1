// Command mutants changes one thing at a time in packages and runs their tests: a constant is
// halved or doubled, a condition negated. A change that no test notices lives; it is printed.
// Nothing in the tree changes: the compiler reads the changed file from elsewhere.
//
//	go run ./scripts/mutants [-sample 40] [-seed 1] [-for 120s] ./internal/core/grid ...
package main

import (
	"bytes"
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"io"
	"log"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"time"
)

// mutant is one change of a file.
type mutant struct {
	file     string
	line     int
	from, to int // of the file's bytes
	by       string
}

func main() {
	sample := flag.Int("sample", 0, "so many changes of a package, by chance; 0 for all")
	seed := flag.Uint64("seed", 1, "another chance")
	patience := flag.Duration("for", 2*time.Minute, "how long a package's tests may take before they have noticed")
	flag.Parse()
	for _, folder := range flag.Args() {
		all, err := mutantsOf(folder)
		if err != nil {
			log.Fatal(err)
		}
		rand.New(rand.NewPCG(*seed, 1)).Shuffle(len(all), func(i, j int) { all[i], all[j] = all[j], all[i] })
		tried := all
		if *sample > 0 {
			tried = all[:min(*sample, len(all))]
		}
		killed, lived, none := 0, 0, 0
		for _, m := range tried {
			switch outcome, err := m.try(folder, *patience); {
			case err != nil:
				log.Fatal(err)
			case outcome == notBuilt:
				none++
			case outcome == noticed:
				killed++
			default:
				lived++
				fmt.Printf("lived: %s:%d: %s\n", m.file, m.line, m.by)
			}
		}
		fmt.Printf("%s: %d killed, %d lived, %d %% (%d of %d changes tried, %d of them do not build)\n",
			folder, killed, lived, 100*killed/max(1, killed+lived), len(tried), len(all), none)
	}
}

// mutantsOf returns the changes of a package's files.
func mutantsOf(folder string) (all []mutant, err error) {
	files, err := filepath.Glob(filepath.Join(folder, "*.go"))
	if err != nil {
		return nil, err
	}
	for _, name := range files {
		if strings.HasSuffix(name, "_test.go") {
			continue
		}
		set := token.NewFileSet()
		src, err := os.ReadFile(name)
		if err != nil {
			return nil, err
		}
		f, err := parser.ParseFile(set, name, src, 0)
		if err != nil {
			return nil, err
		}
		at := func(n ast.Node) (from, to int) { return set.Position(n.Pos()).Offset, set.Position(n.End()).Offset }
		add := func(n ast.Node, by string) {
			from, to := at(n)
			all = append(all, mutant{name, set.Position(n.Pos()).Line, from, to, by})
		}
		negate := func(e ast.Expr) {
			from, to := at(e)
			add(e, "!("+string(src[from:to])+")")
		}
		ast.Inspect(f, func(n ast.Node) bool {
			switch n := n.(type) {
			case *ast.ImportSpec:
				return false
			case *ast.IfStmt:
				if !isErr(n.Cond) {
					negate(n.Cond)
				}
			case *ast.SwitchStmt:
				if n.Tag == nil {
					for _, c := range n.Body.List {
						for _, e := range c.(*ast.CaseClause).List {
							negate(e)
						}
					}
				}
			case *ast.BasicLit:
				for _, by := range scaled(n) {
					add(n, by)
				}
			}
			return true
		})
	}
	return all, nil
}

// isErr reports whether a condition only asks for an error: nobody tests each that cannot come.
func isErr(e ast.Expr) bool {
	b, ok := e.(*ast.BinaryExpr)
	if !ok {
		return false
	}
	id, ok := b.X.(*ast.Ident)
	return ok && id.Name == "err"
}

// scaled returns a number's half and double; none of 0 and 1, which are mostly counts and ends.
func scaled(n *ast.BasicLit) []string {
	switch n.Kind {
	case token.INT:
		v, err := strconv.ParseInt(n.Value, 0, 64)
		if err != nil || v < 2 {
			return nil
		}
		return []string{strconv.FormatInt(v/2, 10), strconv.FormatInt(v*2, 10)}
	case token.FLOAT:
		v, err := strconv.ParseFloat(n.Value, 64)
		if err != nil || v == 0 || v == 1 {
			return nil
		}
		return []string{fmt.Sprint(v / 2), fmt.Sprint(v * 2)}
	}
	return nil
}

type outcome int

const (
	unnoticed outcome = iota
	noticed
	notBuilt
)

// try runs a package's tests on a change.
func (m mutant) try(folder string, patience time.Duration) (outcome, error) {
	dir, err := os.MkdirTemp("", "mutant")
	if err != nil {
		return 0, err
	}
	defer os.RemoveAll(dir)
	src, err := os.ReadFile(m.file)
	if err != nil {
		return 0, err
	}
	whole, err := filepath.Abs(m.file)
	if err != nil {
		return 0, err
	}
	changed, overlay := filepath.Join(dir, "changed.go"), filepath.Join(dir, "overlay.json")
	text, err := json.Marshal(map[string]map[string]string{"Replace": {whole: changed}})
	if err != nil {
		return 0, err
	}
	if err := os.WriteFile(changed, append(append(src[:m.from:m.from], m.by...), src[m.to:]...), 0o600); err != nil {
		return 0, err
	}
	if err := os.WriteFile(overlay, text, 0o600); err != nil {
		return 0, err
	}
	ctx, stop := context.WithTimeout(context.Background(), patience+time.Minute)
	defer stop()
	var out bytes.Buffer
	run := exec.CommandContext(ctx, "go", "test", "-vet=off", "-failfast", "-timeout", patience.String(), "-overlay", overlay, "./"+filepath.Clean(folder))
	run.Stdout, run.Stderr = &out, io.Discard
	switch err := run.Run(); {
	case err == nil:
		return unnoticed, nil
	case strings.Contains(out.String(), "[build failed]"):
		return notBuilt, nil
	}
	return noticed, nil
}
