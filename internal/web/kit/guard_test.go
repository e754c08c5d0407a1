package kit

import (
	"context"
	"errors"
	"os"
	"sync"
	"testing"
	"time"

	"zestysketch/internal/mariadb/mariadbtest"
	"zestysketch/internal/store"
	"zestysketch/internal/store/storetest"
)

func TestMain(m *testing.M) { os.Exit(mariadbtest.Run(m)) }

// Good tries are never slowed, however many come; wrong ones are, by what they
// share, and where many wait the next is told so. Nobody else waits with them.
func TestGuard(t *testing.T) {
	ctx := context.Background()
	db, err := store.Open(ctx, storetest.DSN(t))
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	limit := store.Limit{Burst: 3, Each: time.Hour}
	g, otherCopy := NewGuard(db, limit), NewGuard(db, limit)
	enter := func(key string) (time.Duration, error) {
		began := time.Now()
		leave, err := g.Enter(ctx, key)
		if err == nil {
			leave()
		}
		return time.Since(began), err
	}
	for range 200 {
		if took, err := enter("school"); err != nil || took > slowPause/2 {
			t.Fatalf("a good try took %v, %v", took, err)
		}
	}
	for range 3 { // counted by another copy of the program
		if err := otherCopy.Wrong(ctx, "school", "ann"); err != nil {
			t.Fatal(err)
		}
	}
	if took, err := enter("school"); err != nil || took < slowPause {
		t.Errorf("after three wrong ones: %v, %v; want it late", took, err)
	}
	if took, err := enter("bea"); err != nil || took > slowPause/2 {
		t.Errorf("another account: %v, %v", took, err)
	}
	var all sync.WaitGroup
	var mu sync.Mutex
	told := 0
	for range 4 * mostWait {
		all.Go(func() {
			ctx, stop := context.WithTimeout(ctx, slowPause/2)
			defer stop()
			_, err := g.Enter(ctx, "ann")
			mu.Lock()
			defer mu.Unlock()
			if trouble := (Trouble{}); errors.As(err, &trouble) && trouble.Status == 429 {
				told++
			}
		})
	}
	all.Wait()
	if told != 3*mostWait {
		t.Errorf("%d of %d were told to wait; want %d", told, 4*mostWait, 3*mostWait)
	}
	for _, want := range []int{3, 0} {
		if n, err := g.Good(ctx, "ann"); err != nil || n != want {
			t.Errorf("%d wrong tries, %v; want %d", n, err, want)
		}
	}
	pool, err := db.Pool()
	if err != nil {
		t.Fatal(err)
	}
	// Time gives tries back, but not a clock that goes back.
	for ago, slowed := range map[string]bool{"61 MINUTE": false, "-60 MINUTE": true} {
		if _, err := pool.Exec("UPDATE wrong_tries SET free = 0, at = UTC_TIMESTAMP(3) - INTERVAL " + ago); err != nil {
			t.Fatal(err)
		}
		if took, err := enter("school"); err != nil || (took >= slowPause) != slowed {
			t.Errorf("wrong tries of %s ago: %v, %v", ago, took, err)
		}
	}
}
