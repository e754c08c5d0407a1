package kit

import (
	"context"
	"errors"
	"net/http/httptest"
	"sync"
	"testing"
	"time"
)

// Good tries are never slowed, however many come; wrong ones are, by what they
// share, and where many wait the next is told so. Nobody else waits with them.
func TestGuard(t *testing.T) {
	g, ctx := NewGuard(3, time.Hour), context.Background()
	enter := func(key string) (time.Duration, error) {
		began := time.Now()
		leave, err := g.Enter(ctx, key)
		if err == nil {
			leave()
		}
		return time.Since(began), err
	}
	for range 500 {
		if took, err := enter("school"); err != nil || took > slowPause/2 {
			t.Fatalf("a good try took %v, %v", took, err)
		}
	}
	for range 3 {
		g.Wrong("school", "ann")
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
	if n := g.Good("ann"); n != 3 || g.Good("ann") != 0 {
		t.Errorf("%d wrong tries; want 3, told once", n)
	}
}

// Only a proxy that is named is believed, and only about what stands before it.
func TestFrom(t *testing.T) {
	trusted, err := ParseProxies("10.0.0.0/8, 192.0.2.7")
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		remote, forwarded, want string
		proxies                 Proxies
	}{
		{"203.0.113.5:1000", "198.51.100.1", "203.0.113.5", trusted},
		{"10.1.2.3:1000", "198.51.100.1", "198.51.100.1", trusted},
		{"10.1.2.3:1000", "8.8.8.8, 198.51.100.1, 10.9.9.9", "198.51.100.1", trusted},
		{"192.0.2.7:1000", "", "192.0.2.7", trusted},
		{"192.0.2.7:1000", "nonsense", "192.0.2.7", trusted},
		{"10.1.2.3:1000", "198.51.100.1", "10.1.2.3", nil},
		{"[2001:db8::1]:1000", "198.51.100.1", "2001:db8::1", trusted},
	} {
		r := httptest.NewRequest("GET", "/", nil)
		r.RemoteAddr = c.remote
		r.Header.Set("X-Forwarded-For", c.forwarded)
		if got := c.proxies.From(r); got != c.want {
			t.Errorf("%s handed on by %q: %s; want %s", c.remote, c.forwarded, got, c.want)
		}
	}
	if _, err := ParseProxies("the proxy"); err == nil {
		t.Error("nonsense is a proxy")
	}
}
