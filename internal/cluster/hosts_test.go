package cluster_test

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"strings"
	"sync"
	"testing"
	"time"

	"zestysketch/internal/cluster"
	"zestysketch/internal/cluster/galera"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/store"
)

// trial is a school whose store works on a cluster of three.
type trial struct {
	t       *testing.T
	c       *galera.Cluster
	db      *store.Store
	project store.Project
	student uint64
	n       int
}

func newTrial(t *testing.T) *trial {
	t.Helper()
	ctx := context.Background()
	dir, err := os.MkdirTemp("", "galera")
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { os.RemoveAll(dir) })
	c, err := galera.Start(ctx, dir, 3)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(c.Stop)
	db, err := store.Open(ctx, c.DSN(0))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { db.Close() })
	x := &trial{t: t, c: c, db: db}
	must := func(err error) {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
	}
	teacher, err := db.AddTeacher(ctx, "Quay Lane", "a@quay.example", "A", "a long password")
	must(err)
	class, err := db.AddClass(ctx, teacher.ID, "7")
	must(err)
	must(db.AddStudents(ctx, teacher.ID, class.ID, []string{"Ada"}))
	class, err = db.Class(ctx, teacher.ID, class.ID)
	must(err)
	x.student = class.Students[0].ID
	x.project = store.Project{TeacherID: teacher.ID, ClassID: &class.ID, Name: "P"}
	must(db.AddProject(ctx, &x.project))
	plan, err := grid.Make(grid.Request{Reference: "7x9in", Scale: "1.5", ReferenceSquare: "1in"})
	must(err)
	text, err := grid.Encode(plan)
	must(err)
	_, err = db.SavePlan(ctx, teacher.ID, x.project.ID, 0, "P", string(text), nil, nil)
	must(err)
	return x
}

// tick ticks one more box, and says how long it took.
func (x *trial) tick() (took time.Duration, err error) {
	x.n++
	began := time.Now()
	err = x.db.Tick(context.Background(), x.project.TeacherID, x.project.ID, x.student, fmt.Sprint("B", x.n), true, time.Now())
	return time.Since(began), err
}

// until ticks until it goes again, and says after how long; nothing may fail but by
// the database being away, nor wait long.
func (x *trial) until(why string) time.Duration {
	x.t.Helper()
	began := time.Now()
	for time.Since(began) < 20*time.Second {
		took, err := x.tick()
		if took > 6*time.Second {
			x.t.Errorf("%s: a tick waited %v", why, took)
		}
		if err == nil {
			return time.Since(began)
		}
		if !store.Away(err) {
			x.t.Errorf("%s: %v; want nothing but that the database is away", why, err)
		}
		time.Sleep(50 * time.Millisecond)
	}
	x.t.Fatalf("%s: no tick for 20 s", why)
	return 0
}

// A store goes on with the next node where its own dies, hangs, is read-only or cut
// off; where all are gone it says so at once, and it goes on when they are back.
func TestNodesFail(t *testing.T) {
	x := newTrial(t)
	own := x.c.Nodes[0]
	if x.db.Server() != own.Addr() {
		t.Fatalf("it begins with %s; want the first, %s", x.db.Server(), own.Addr())
	}
	if _, err := x.tick(); err != nil {
		t.Fatal(err)
	}
	// Two copies on two nodes change the same row at once: one is tried again.
	other, err := store.Open(context.Background(), x.c.DSN(1))
	if err != nil {
		t.Fatal(err)
	}
	defer other.Close()
	var both sync.WaitGroup
	for _, db := range []*store.Store{x.db, other} {
		both.Go(func() {
			for range 40 {
				if err := db.RaiseHand(context.Background(), x.project.TeacherID, x.project.ID, x.student, true); err != nil {
					t.Errorf("two copies at once: %v", err)
				}
			}
		})
	}
	both.Wait()
	// What one copy has written the other reads next.
	for range 20 {
		if _, err := x.tick(); err != nil {
			t.Fatal(err)
		}
		done, err := other.StudentTicks(context.Background(), x.project.ID, x.student)
		if err != nil || !done[fmt.Sprint("B", x.n)] {
			t.Fatalf("B%d is not there for another copy, %v", x.n, err)
		}
	}

	if _, err := mysqlExec(own, "SET GLOBAL read_only = 1"); err != nil {
		t.Fatal(err)
	}
	x.moves("a read-only node", own)
	if _, err := mysqlExec(own, "SET GLOBAL read_only = 0"); err != nil {
		t.Fatal(err)
	}
	x.comesHome(own)

	if err := own.Kill(); err != nil {
		t.Fatal(err)
	}
	if took := x.until("a killed node"); took > 6*time.Second {
		t.Errorf("a tick after %v", took)
	}
	x.moves("a killed node", own)
	hung := x.c.Nodes[1]
	if x.db.Server() != hung.Addr() {
		hung = x.c.Nodes[2]
	}
	if err := x.c.Start(context.Background(), own); err != nil {
		t.Fatal(err)
	}
	if err := hung.Freeze(); err != nil {
		t.Fatal(err)
	}
	x.until("a hanging node")
	x.moves("a hanging node", hung)
	if err := hung.Thaw(); err != nil {
		t.Fatal(err)
	}
	want := x.confirmed(t)

	// One of three cannot know whether the others go on without it: it must not be
	// worked with, though it answers.
	for _, n := range x.c.Nodes[1:] {
		if err := n.Kill(); err != nil {
			t.Fatal(err)
		}
	}
	for until := time.Now().Add(15 * time.Second); ; time.Sleep(100 * time.Millisecond) {
		took, err := x.tick()
		if took > 6*time.Second {
			t.Errorf("a tick on a node that is cut off waited %v", took)
		}
		if err != nil && !store.Away(err) {
			t.Errorf("cut off: %v; want that the database is away", err)
		}
		if errors.Is(err, cluster.ErrNone) {
			break
		}
		if time.Now().After(until) {
			t.Fatalf("a node that is cut off is worked with: %v", err)
		}
	}
	if err := own.Kill(); err != nil {
		t.Fatal(err)
	}
	time.Sleep(time.Second)
	if took, err := x.tick(); !store.Away(err) || took > time.Second {
		t.Errorf("all gone: %v after %v; want said at once", err, took)
	}
	if !errors.Is(x.db.Reach(context.Background()), cluster.ErrNone) {
		t.Error("all gone, and it can be reached")
	}
	if got := x.n; got < want {
		t.Errorf("%d ticks", got)
	}
}

// moves waits until the store has left a node, three seconds at most.
func (x *trial) moves(why string, from *galera.Node) {
	x.t.Helper()
	for until := time.Now().Add(3 * time.Second); time.Now().Before(until); time.Sleep(20 * time.Millisecond) {
		if x.db.Server() != from.Addr() {
			x.until(why)
			return
		}
	}
	x.t.Errorf("%s: it stays with %s", why, from.Addr())
}

// comesHome waits until the store is back at its first node, half a minute at most.
func (x *trial) comesHome(to *galera.Node) {
	x.t.Helper()
	for until := time.Now().Add(30 * time.Second); time.Now().Before(until); time.Sleep(100 * time.Millisecond) {
		if _, err := x.tick(); err != nil && !store.Away(err) {
			x.t.Errorf("on the way home: %v", err)
		}
		if x.db.Server() == to.Addr() {
			return
		}
	}
	x.t.Error("it does not come home")
}

// confirmed returns how many boxes are ticked.
func (x *trial) confirmed(t *testing.T) int {
	done, err := x.db.StudentTicks(context.Background(), x.project.ID, x.student)
	if err != nil {
		t.Fatal(err)
	}
	return len(done)
}

// A list of hosts with something wrong in it says what, before anything is tried.
func TestHostLists(t *testing.T) {
	for list, want := range map[string]string{
		"127.0.0.1:1,127.0.0.1:x":  `"127.0.0.1:x"`,
		"one:3306,,two:3306":       `got ""`,
		"one:3306;two:3306,three":  `"one:3306;two:3306"`,
		"one:3306,two:99999":       `"two:99999"`,
		"one:3306, t wo:3306":      `"t wo:3306"`,
		"one:3306,user@two:3306":   `"user@two:3306"`,
		"one:3306,tcp(two:3306":    `"tcp(two:3306"`,
		"one:3306,[fd00::1:3306":   `"[fd00::1:3306"`,
		"one:3306,http://two:3306": `"http://two:3306"`,
	} {
		_, err := store.Open(context.Background(), "zesty:secret@tcp("+list+")/zesty")
		if !errors.Is(err, store.ErrDSN) || !strings.Contains(err.Error(), want) || strings.Contains(err.Error(), "secret") {
			t.Errorf("%s: %v; want %s named", list, err, want)
		}
	}
	// Names that are not there are an error of reaching, and say which.
	_, err := store.Open(context.Background(), "zesty:secret@tcp(127.0.0.1:1,[::1]:2)/zesty")
	if !store.Away(err) || !strings.Contains(err.Error(), "127.0.0.1:1") || !strings.Contains(err.Error(), "[::1]:2") {
		t.Errorf("nobody there: %v", err)
	}
}

// mysqlExec runs a statement on one node.
func mysqlExec(n *galera.Node, statement string) (sql.Result, error) {
	db, err := sql.Open("mysql", n.DSN())
	if err != nil {
		return nil, err
	}
	defer db.Close()
	return db.Exec(statement)
}
