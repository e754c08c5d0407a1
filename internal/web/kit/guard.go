package kit

import (
	"context"
	"net/http"
	"sync"
	"time"

	lru "github.com/hashicorp/golang-lru/v2"

	"zestysketch/internal/store"
)

// Guard slows guessing. Only wrong tries count, so that a school that comes by
// one address is never shut out by its own good ones: who has made many wrong
// ones of late is answered one at a time and late, and told to wait where others
// wait already. What was wrong is counted in the database, for every copy of the
// program; what is being judged is taken for wrong until it is known, so that many
// at once are counted as they come in.
type Guard struct {
	store  *store.Store
	limit  store.Limit
	strict bool // past the limit nobody is answered late, but told to wait
	mu     sync.Mutex
	known  *lru.Cache[string, *suspect]
	judged map[string]int // that have come in and were not answered yet, by key
}

// suspect is an account or an address that is slowed.
type suspect struct {
	turn  chan struct{} // held by the one try that is being answered
	queue chan struct{} // held by those that wait for it
}

// A slow try is answered after this pause, and so many may wait for their turn.
const (
	slowPause = time.Second
	mostWait  = 8
	mostKnown = 20_000 // accounts and addresses that are slowed at once
)

// NewGuard returns a guard that lets wrong tries pass up to a limit.
func NewGuard(s *store.Store, limit store.Limit) *Guard {
	known, _ := lru.New[string, *suspect](mostKnown) // fails for no size alone
	return &Guard{store: s, known: known, limit: limit, judged: map[string]int{}}
}

// Strictly returns a guard that lets no wrong try pass beyond its limit, not even late: for
// codes that are short.
func Strictly(s *store.Store, limit store.Limit) *Guard {
	g := NewGuard(s, limit)
	g.strict = true
	return g
}

// count counts tries that come in, or are answered, and returns how many of each key are
// being judged.
func (g *Guard) count(keys []string, by int) (now []int) {
	g.mu.Lock()
	defer g.mu.Unlock()
	for _, key := range keys {
		if g.judged[key] += by; g.judged[key] == 0 {
			delete(g.judged, key)
		}
		now = append(now, g.judged[key])
	}
	return now
}

func (g *Guard) of(key string) *suspect {
	g.mu.Lock()
	defer g.mu.Unlock()
	s, ok := g.known.Get(key)
	if !ok {
		s = &suspect{turn: make(chan struct{}, 1), queue: make(chan struct{}, mostWait)}
		g.known.Add(key, s)
	}
	return s
}

// Enter lets a try of these keys pass, at once or late; leave ends it. The error
// is a Trouble where too many wait.
func (g *Guard) Enter(ctx context.Context, keys ...string) (leave func(), err error) {
	var held []*suspect
	judged := g.count(keys, 1)
	leave = func() {
		g.count(keys, -1)
		for _, s := range held {
			<-s.turn
		}
	}
	free, err := g.store.FreeTries(ctx, keys, g.limit)
	if err != nil {
		leave()
		return nil, err
	}
	for i, key := range keys {
		if free[i]-float64(judged[i]-1) >= 1 {
			continue
		}
		if g.strict {
			leave()
			return nil, manyWrong
		}
		s := g.of(key)
		if err := s.wait(ctx); err != nil {
			leave()
			return nil, err
		}
		held = append(held, s)
	}
	return leave, nil
}

var manyWrong = Trouble{Status: http.StatusTooManyRequests, Message: "There were many wrong tries. Wait a minute, then try again."}

// wait takes the one turn of a suspect, after a pause.
func (s *suspect) wait(ctx context.Context) error {
	select {
	case s.queue <- struct{}{}:
	default:
		return manyWrong
	}
	defer func() { <-s.queue }()
	select {
	case s.turn <- struct{}{}:
	case <-ctx.Done():
		return ctx.Err()
	}
	select {
	case <-time.After(slowPause):
		return nil
	case <-ctx.Done():
		<-s.turn
		return ctx.Err()
	}
}

// Wrong counts a wrong try of these keys.
func (g *Guard) Wrong(ctx context.Context, keys ...string) error {
	return g.store.CountWrong(ctx, keys, g.limit)
}

// Good returns how many wrong tries of a key there were since the last good
// one, and begins to count anew.
func (g *Guard) Good(ctx context.Context, key string) (wrong int, err error) {
	return g.store.WrongSince(ctx, key)
}
