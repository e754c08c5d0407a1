// Package cluster reaches one of several MariaDB servers that hold the same data,
// such as the nodes of a Galera cluster, and another where that one fails.
package cluster

import (
	"context"
	"database/sql/driver"
	"errors"
	"fmt"
	"math/rand/v2"
	"net"
	"sync"
	"sync/atomic"
	"time"

	"github.com/go-sql-driver/mysql"
)

// ErrNone is the error where none of the servers can be worked with now.
var ErrNone = errors.New("no database server can be worked with now")

// How often the server in use is looked at, how long one may take to answer, how
// often the first one is looked at while another is in use, and how long it has to
// be well before it is gone back to: that long and up to as long again, so that
// several copies of the program do not come back together.
const (
	lookEvery = 500 * time.Millisecond
	patience  = time.Second
	lookHome  = 2 * time.Second
	wellFor   = 10 * time.Second
)

// Hosts is a driver.Connector over servers, the first of which is preferred. It is
// safe for use by many goroutines.
type Hosts struct {
	servers []*server
	current atomic.Int32
	none    atomic.Bool // no server could be worked with at the last look
	say     func(words string)
	stop    context.CancelFunc
	watched chan struct{}
}

// server is one of the servers and the connections to it.
type server struct {
	addr      string
	connector driver.Connector
	mu        sync.Mutex
	open      map[net.Conn]bool
}

// New returns a connector over the servers at addrs, all by the same config, and
// watches them until Close. say hears in words of every move; it may be nil. One
// server is merely connected to: there is nowhere else to go.
func New(config *mysql.Config, addrs []string, say func(words string)) (*Hosts, error) {
	if say == nil {
		say = func(string) {}
	}
	h := &Hosts{say: say, watched: make(chan struct{})}
	for _, addr := range addrs {
		s := &server{addr: addr, open: map[net.Conn]bool{}}
		c := config.Clone()
		c.Addr, c.DialFunc = addr, s.dial
		if len(addrs) > 1 {
			c.Timeout = patience
		}
		connector, err := mysql.NewConnector(c)
		if err != nil {
			return nil, err
		}
		s.connector = connector
		h.servers = append(h.servers, s)
	}
	ctx, stop := context.WithCancel(context.Background())
	h.stop = stop
	if len(addrs) < 2 {
		close(h.watched)
		return h, nil
	}
	go h.watch(ctx)
	return h, nil
}

// Close ends the watching; connections end with the pool that holds them.
func (h *Hosts) Close() error {
	h.stop()
	<-h.watched
	return nil
}

// Driver is for database/sql.
func (h *Hosts) Driver() driver.Driver { return &mysql.MySQLDriver{} }

// dial is how the driver dials the server: its connections are remembered, so that
// all can be cut when the server does not answer any more.
func (s *server) dial(ctx context.Context, network, addr string) (net.Conn, error) {
	c, err := (&net.Dialer{KeepAlive: 15 * time.Second}).DialContext(ctx, network, addr)
	if err != nil {
		return nil, err
	}
	own := &watchedConn{Conn: c, of: s}
	s.mu.Lock()
	defer s.mu.Unlock()
	s.open[own] = true
	return own, nil
}

// connect connects to the server, whatever state it is in.
func (s *server) connect(ctx context.Context) (full, error) {
	made, err := s.connector.Connect(ctx)
	if err != nil {
		return nil, err
	}
	c, ok := made.(full)
	if !ok {
		made.Close()
		return nil, errors.New("the driver's connections have changed")
	}
	return c, nil
}

// watchedConn forgets itself when it is closed.
type watchedConn struct {
	net.Conn
	of *server
}

func (c *watchedConn) Close() error {
	c.of.mu.Lock()
	delete(c.of.open, c)
	c.of.mu.Unlock()
	return c.Conn.Close()
}

// cut ends all connections: whoever waits on one learns so at once.
func (s *server) cut() {
	s.mu.Lock()
	all := make([]net.Conn, 0, len(s.open))
	for c := range s.open {
		all = append(all, c)
	}
	s.mu.Unlock()
	for _, c := range all {
		c.Close()
	}
}

// Connect connects to the server in use, or to the next that can be worked with.
func (h *Hosts) Connect(ctx context.Context) (driver.Conn, error) {
	if len(h.servers) == 1 {
		return h.servers[0].connector.Connect(ctx)
	}
	if h.none.Load() {
		return nil, ErrNone // the watcher says when one is back: nobody queues up for it
	}
	first := h.current.Load()
	var errs []error
	for i := range h.servers {
		at := (int(first) + i) % len(h.servers)
		c, err := h.connect(ctx, at)
		if err == nil {
			if i > 0 {
				h.move(first, int32(at), fmt.Sprintf("%s cannot be worked with (%v)", h.servers[first].addr, errs[0]))
			}
			return &conn{c, h, int32(at)}, nil
		}
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		errs = append(errs, fmt.Errorf("%s: %w", h.servers[at].addr, err))
	}
	return nil, fmt.Errorf("%w: %w", ErrNone, errors.Join(errs...))
}

// connect connects to one server and asks whether it can be worked with.
func (h *Hosts) connect(ctx context.Context, at int) (full, error) {
	ctx, stop := context.WithTimeout(ctx, patience)
	defer stop()
	c, err := h.servers[at].connect(ctx)
	if err != nil {
		return nil, err
	}
	state, err := look(ctx, c)
	if err == nil {
		err = state.fit()
	}
	if err == nil && state.galera {
		// What one copy has written the others read next; a single statement that
		// another node was quicker with is tried again there.
		_, err = c.ExecContext(ctx, "SET SESSION wsrep_sync_wait = 1, wsrep_retry_autocommit = 10", nil)
	}
	if err != nil {
		c.Close()
		return nil, err
	}
	return c, nil
}

// move makes another server the one in use, if it is still as the mover saw it.
func (h *Hosts) move(from, to int32, why string) {
	if h.current.CompareAndSwap(from, to) {
		h.say(fmt.Sprintf("%s: going on with %s", why, h.servers[to].addr))
	}
}

// watch looks at the servers until ctx ends.
func (h *Hosts) watch(ctx context.Context) {
	defer close(h.watched)
	probes := make([]full, len(h.servers))
	defer func() {
		for _, c := range probes {
			if c != nil {
				c.Close()
			}
		}
	}()
	tick := time.NewTicker(lookEvery)
	defer tick.Stop()
	var home time.Time // since when the first server is well, while another is in use
	looked, wait := time.Time{}, wellFor
	for {
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
		at := h.current.Load()
		err := h.probe(ctx, probes, int(at))
		if ctx.Err() != nil {
			return
		}
		h.leave(ctx, probes, at, err)
		if now := h.current.Load(); now == 0 {
			home = time.Time{}
		} else if time.Since(looked) >= lookHome {
			looked = time.Now()
			switch {
			case h.probe(ctx, probes, 0) != nil:
				home = time.Time{}
			case home.IsZero():
				home, wait = looked, wellFor+rand.N(wellFor)
			case looked.Sub(home) > wait:
				h.move(now, 0, h.servers[0].addr+" is well again")
				home = time.Time{}
			}
		}
	}
}

// leave goes on to the next server that can be worked with where the one in use
// cannot, and says whether there is none.
func (h *Hosts) leave(ctx context.Context, probes []full, at int32, why error) {
	if why == nil {
		h.none.Store(false)
		return
	}
	h.servers[at].cut()
	for i := 1; i < len(h.servers); i++ {
		next := (at + int32(i)) % int32(len(h.servers))
		if h.probe(ctx, probes, int(next)) == nil {
			h.none.Store(false)
			h.move(at, next, fmt.Sprintf("%s cannot be worked with (%v)", h.servers[at].addr, why))
			return
		}
	}
	if ctx.Err() == nil && !h.none.Swap(true) {
		h.say(fmt.Sprintf("%v; the last one: %v", ErrNone, why))
	}
}

// probe looks at a server over a connection of its own, which it keeps.
func (h *Hosts) probe(ctx context.Context, probes []full, at int) error {
	ctx, stop := context.WithTimeout(ctx, patience)
	defer stop()
	if probes[at] == nil {
		c, err := h.servers[at].connect(ctx)
		if err != nil {
			return err
		}
		probes[at] = c
	}
	state, err := look(ctx, probes[at])
	if err == nil {
		return state.fit()
	}
	probes[at].Close()
	probes[at] = nil
	return err
}

// full is all that the driver's connections can do.
type full interface {
	driver.Conn
	driver.ConnBeginTx
	driver.ConnPrepareContext
	driver.ExecerContext
	driver.QueryerContext
	driver.Pinger
	driver.SessionResetter
	driver.Validator
	driver.NamedValueChecker
}

// conn is a connection that is let go once its server is not the one in use.
type conn struct {
	full
	hosts *Hosts
	at    int32
}

func (c *conn) here() bool { return c.hosts.current.Load() == c.at }

// IsValid and ResetSession are asked by the pool when a connection comes back and
// before it is used again.
func (c *conn) IsValid() bool { return c.here() && c.full.IsValid() }

func (c *conn) ResetSession(ctx context.Context) error {
	if !c.here() {
		return driver.ErrBadConn
	}
	return c.full.ResetSession(ctx)
}

// state is how a server is.
type state struct {
	readOnly, galera, ready bool
	node                    string // its state in the cluster
}

// synced is the state of a Galera node that has all that the others have.
const synced = "Synced"

// fit says why a server cannot be worked with, nil where it can.
func (s state) fit() error {
	switch {
	case s.galera && !s.ready:
		return errors.New("it is cut off from the others")
	case s.galera && s.node != synced:
		return fmt.Errorf("it is not up to date with the others, but %s", s.node)
	case s.readOnly:
		return errors.New("it is read-only")
	}
	return nil
}

// look asks a server how it is.
func look(ctx context.Context, c full) (s state, err error) {
	read := func(query string, each func(row []driver.Value)) error {
		rows, err := c.QueryContext(ctx, query, nil)
		if err != nil {
			return err
		}
		defer rows.Close()
		row := make([]driver.Value, len(rows.Columns()))
		for rows.Next(row) == nil {
			each(row)
		}
		return nil
	}
	values := map[string]string{}
	if err := read("SHOW GLOBAL VARIABLES WHERE Variable_name IN ('read_only', 'wsrep_on')", func(row []driver.Value) { values[text(row[0])] = text(row[1]) }); err != nil {
		return s, err
	}
	s.readOnly, s.galera = values["read_only"] == "ON", values["wsrep_on"] == "ON"
	if !s.galera {
		return s, nil
	}
	err = read("SHOW GLOBAL STATUS WHERE Variable_name IN ('wsrep_ready', 'wsrep_local_state_comment')", func(row []driver.Value) { values[text(row[0])] = text(row[1]) })
	s.ready, s.node = values["wsrep_ready"] == "ON", values["wsrep_local_state_comment"]
	return s, err
}

func text(v driver.Value) string {
	switch v := v.(type) {
	case []byte:
		return string(v)
	case string:
		return v
	}
	return fmt.Sprint(v)
}

// InUse returns the address of the server in use.
func (h *Hosts) InUse() string { return h.servers[h.current.Load()].addr }
