package kit

import (
	"context"
	"fmt"
	"net"
	"net/http"
	"strings"
	"sync"
	"time"

	lru "github.com/hashicorp/golang-lru/v2"
	"github.com/realclientip/realclientip-go"
	"golang.org/x/time/rate"
)

// Guard slows guessing. Only wrong tries count, so that a school that comes by
// one address is never shut out by its own good ones: who has made many wrong
// ones of late is answered one at a time and late, and told to wait where others
// wait already.
type Guard struct {
	mu    sync.Mutex
	known *lru.Cache[string, *suspect]
	often rate.Limit
	burst int
}

// suspect is an account or an address with its wrong tries.
type suspect struct {
	free  *rate.Limiter
	turn  chan struct{} // held by the one try that is being answered
	queue chan struct{} // held by those that wait for it
	wrong int           // since the last good one
}

// A slow try is answered after this pause, and so many may wait for their turn.
const (
	slowPause = time.Second
	mostWait  = 8
	mostKnown = 20_000 // accounts and addresses that are remembered
)

// NewGuard returns a guard that lets burst wrong tries pass, and one more each
// time that so long has gone by.
func NewGuard(burst int, each time.Duration) *Guard {
	known, _ := lru.New[string, *suspect](mostKnown) // fails for no size alone
	return &Guard{known: known, often: rate.Every(each), burst: burst}
}

func (g *Guard) of(key string) *suspect {
	g.mu.Lock()
	defer g.mu.Unlock()
	s, ok := g.known.Get(key)
	if !ok {
		s = &suspect{free: rate.NewLimiter(g.often, g.burst), turn: make(chan struct{}, 1), queue: make(chan struct{}, mostWait)}
		g.known.Add(key, s)
	}
	return s
}

// Enter lets a try of these keys pass, at once or late; leave ends it. The error
// is a Trouble where too many wait.
func (g *Guard) Enter(ctx context.Context, keys ...string) (leave func(), err error) {
	var held []*suspect
	leave = func() {
		for _, s := range held {
			<-s.turn
		}
	}
	for _, key := range keys {
		s := g.of(key)
		if s.free.Tokens() >= 1 {
			continue
		}
		if err := s.wait(ctx); err != nil {
			leave()
			return nil, err
		}
		held = append(held, s)
	}
	return leave, nil
}

// wait takes the one turn of a suspect, after a pause.
func (s *suspect) wait(ctx context.Context) error {
	select {
	case s.queue <- struct{}{}:
	default:
		return Trouble{Status: http.StatusTooManyRequests, Message: "There were many wrong tries. Wait a minute, then try again."}
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
func (g *Guard) Wrong(keys ...string) {
	for _, key := range keys {
		s := g.of(key)
		s.free.Allow()
		g.mu.Lock()
		s.wrong++
		g.mu.Unlock()
	}
}

// Good returns how many wrong tries of a key there were since the last good
// one, and begins to count anew.
func (g *Guard) Good(key string) (wrong int) {
	s := g.of(key)
	g.mu.Lock()
	defer g.mu.Unlock()
	wrong, s.wrong = s.wrong, 0
	return wrong
}

// Proxies are the networks whose word on where a request comes from is believed.
type Proxies []net.IPNet

// ParseProxies reads networks such as 10.0.0.0/8, or single addresses, with commas.
func ParseProxies(words string) (Proxies, error) {
	if words == "" {
		return nil, nil
	}
	nets, err := realclientip.AddressesAndRangesToIPNets(strings.FieldsFunc(words, func(c rune) bool { return c == ',' || c == ' ' })...)
	if err != nil {
		return nil, fmt.Errorf("wanted addresses or networks such as 10.0.0.0/8, with commas, got %q", words)
	}
	return nets, nil
}

// From returns the address that a request comes from: of the connection, or
// where that is a trusted proxy's, the last one that it was not handed on by.
func (p Proxies) From(r *http.Request) string {
	host, _, err := net.SplitHostPort(r.RemoteAddr)
	if err != nil {
		host = r.RemoteAddr
	}
	ip := net.ParseIP(host)
	for _, trusted := range p {
		if ip == nil || !trusted.Contains(ip) {
			continue
		}
		strategy, err := realclientip.NewRightmostTrustedRangeStrategy("X-Forwarded-For", p)
		if err != nil {
			break
		}
		if real := strategy.ClientIP(r.Header, r.RemoteAddr); real != "" {
			return real
		}
	}
	return host
}
