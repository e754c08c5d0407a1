// Package galera starts a Galera cluster of MariaDB servers on loopback, for tests
// and trials. Nodes can be killed, stopped in the middle, and started again.
package galera

import (
	"context"
	"database/sql"
	"fmt"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"time"

	_ "github.com/go-sql-driver/mysql" // the driver named below

	"zestysketch/internal/ports"
	"zestysketch/internal/process"
)

// Cluster is some nodes that hold the same data.
type Cluster struct {
	dir   string
	Nodes []*Node
}

// Node is one server of a cluster.
type Node struct {
	dir         string
	sql, group  int              // ports: for clients, and for the other nodes
	first, last int              // of the ports of the group's
	running     *process.Process // the last that was started
}

const (
	database, account, secret = "zesty", "zesty", "only on loopback"
	upWithin                  = 90 * time.Second
	provider                  = "/usr/lib/galera/libgalera_smm.so"
)

// Start starts a cluster of n nodes in a folder, and an empty database in it.
func Start(ctx context.Context, dir string, n int) (*Cluster, error) {
	c := &Cluster{dir: dir}
	if err := os.Chmod(dir, 0o755); err != nil { // the nodes run as another user
		return nil, err
	}
	found, err := ports.Free(4 * n)
	if err != nil {
		return nil, err
	}
	for i := range n {
		own := found[4*i:]
		c.Nodes = append(c.Nodes, &Node{dir: filepath.Join(dir, fmt.Sprint("node", i)), sql: own[0], group: own[1], first: own[2], last: own[3]})
	}
	for i, node := range c.Nodes {
		if err := node.install(); err != nil {
			c.Stop()
			return c, err
		}
		join := ""
		if i > 0 {
			join = c.members(node)
		}
		if err := c.start(ctx, node, join); err != nil {
			c.Stop()
			return c, err
		}
	}
	return c, nil
}

// members are the nodes that another may join by.
func (c *Cluster) members(but *Node) string {
	var all []string
	for _, n := range c.Nodes {
		if n != but {
			all = append(all, fmt.Sprintf("127.0.0.1:%d", n.group))
		}
	}
	return strings.Join(all, ",")
}

// Start starts a node again that was killed; it fetches from the others what it missed.
func (c *Cluster) Start(ctx context.Context, n *Node) error { return c.start(ctx, n, c.members(n)) }

func (c *Cluster) start(ctx context.Context, n *Node, join string) error {
	setup := filepath.Join(n.dir, "init.sql")
	text := fmt.Sprintf("CREATE DATABASE IF NOT EXISTS %s CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_520_ci;\nCREATE USER IF NOT EXISTS %s@'127.0.0.1' IDENTIFIED BY '%s';\nGRANT ALL ON *.* TO %s@'127.0.0.1';\n",
		database, account, secret, account)
	if join != "" {
		text = "" // it has them from the others
	}
	if err := os.WriteFile(setup, []byte(text), 0o644); err != nil {
		return err
	}
	socket := filepath.Join(os.TempDir(), fmt.Sprintf("galera-%d.sock", n.sql))
	cmd := exec.Command("mariadbd", append([]string{"--no-defaults", "--datadir=" + filepath.Join(n.dir, "data"),
		"--tmpdir=" + n.temporary(), "--socket=" + socket, "--pid-file=" + filepath.Join(n.dir, "data", "pid"),
		"--log-error=" + filepath.Join(n.dir, "data", "error.log"), "--bind-address=127.0.0.1", fmt.Sprintf("--port=%d", n.sql), "--skip-name-resolve", "--init-file=" + setup,
		"--max-allowed-packet=64M", "--innodb-buffer-pool-size=64M", "--binlog-format=ROW", "--innodb-autoinc-lock-mode=2", "--innodb-flush-log-at-trx-commit=2",
		"--character-set-server=utf8mb4", "--wsrep-on=ON", "--wsrep-provider=" + provider, "--wsrep-cluster-address=gcomm://" + join, "--wsrep-sst-method=rsync",
		fmt.Sprintf("--wsrep-node-address=127.0.0.1:%d", n.group), fmt.Sprintf("--wsrep-sst-receive-address=127.0.0.1:%d", n.last),
		// A node that is gone is given up after two seconds, not five: nobody in a lesson waits longer.
		fmt.Sprintf("--wsrep-provider-options=base_port=%d;gmcast.listen_addr=tcp://127.0.0.1:%d;ist.recv_addr=127.0.0.1:%d;gcache.size=64M;evs.suspect_timeout=PT2S;evs.inactive_timeout=PT5S;evs.keepalive_period=PT0.5S;evs.inactive_check_period=PT0.25S",
			n.group, n.group, n.first)}, asUser()...)...)
	running, err := process.Start(cmd)
	if err != nil {
		return err
	}
	n.running = running
	ctx, stop := context.WithTimeout(ctx, upWithin)
	defer stop()
	for {
		if db, err := sql.Open("mysql", n.DSN()); err == nil {
			var name, state string
			err = db.QueryRowContext(ctx, "SHOW GLOBAL STATUS LIKE 'wsrep_local_state_comment'").Scan(&name, &state)
			db.Close()
			if err == nil && state == "Synced" {
				return nil
			}
		}
		select {
		case <-running.Ended():
			return fmt.Errorf("node %s ended while starting: %s", n.dir, tail(filepath.Join(n.dir, "data", "error.log")))
		case <-ctx.Done():
			return fmt.Errorf("node %s is not up in %v: %s", n.dir, upWithin, tail(filepath.Join(n.dir, "data", "error.log")))
		case <-time.After(100 * time.Millisecond):
		}
	}
}

func tail(path string) string {
	b, _ := os.ReadFile(path)
	lines := strings.Split(strings.TrimSpace(string(b)), "\n")
	return strings.Join(lines[max(0, len(lines)-5):], " | ")
}

// temporary is the node's own folder for temporary tables: one that starts deletes those it finds.
func (n *Node) temporary() string { return filepath.Join(n.dir, "temporary") }

// install makes the node's own tables.
func (n *Node) install() error {
	data, temporary := filepath.Join(n.dir, "data"), n.temporary()
	for _, dir := range []string{data, temporary} {
		if err := os.MkdirAll(dir, 0o755); err != nil {
			return err
		}
	}
	if os.Getuid() == 0 {
		owner, err := user.Lookup("mysql")
		if err != nil {
			return err
		}
		uid, _ := strconv.Atoi(owner.Uid)
		gid, _ := strconv.Atoi(owner.Gid)
		for _, dir := range []string{data, temporary} {
			if err := os.Chown(dir, uid, gid); err != nil {
				return err
			}
		}
	}
	out, err := exec.Command("mariadb-install-db", append([]string{"--no-defaults", "--datadir=" + data,
		"--tmpdir=" + temporary, "--auth-root-authentication-method=normal", "--skip-test-db"},
		asUser()...)...).CombinedOutput()
	if err != nil {
		return fmt.Errorf("installing a node: %w: %s", err, out)
	}
	return nil
}

// asUser runs a node as mysql where we are root: what copies its data to others
// would give up being root by itself, and then cannot read it.
func asUser() []string {
	if os.Getuid() == 0 {
		return []string{"--user=mysql"}
	}
	return nil
}

// Addr is where clients reach the node.
func (n *Node) Addr() string { return fmt.Sprintf("127.0.0.1:%d", n.sql) }

// DSN is the address of the database by this node alone.
func (n *Node) DSN() string {
	return fmt.Sprintf("%s:%s@tcp(%s)/%s", account, secret, n.Addr(), database)
}

// DSN is the address of the database by all nodes, the one at first preferred.
func (c *Cluster) DSN(first int) string {
	var all []string
	for i := range c.Nodes {
		all = append(all, c.Nodes[(first+i)%len(c.Nodes)].Addr())
	}
	return fmt.Sprintf("%s:%s@tcp(%s)/%s", account, secret, strings.Join(all, ","), database)
}

// Kill ends a node at once, as a machine dies.
func (n *Node) Kill() error { return n.running.End(syscall.SIGKILL) }

// Freeze and Thaw let a node answer nothing for a while, as one that is cut off.
func (n *Node) Freeze() error { return n.running.Signal(syscall.SIGSTOP) }
func (n *Node) Thaw() error   { return n.running.Signal(syscall.SIGCONT) }

// Stop ends all nodes and waits for them; one that does not listen is killed.
func (c *Cluster) Stop() {
	for _, n := range c.Nodes {
		if n.running != nil {
			n.Thaw() // it may be frozen, or gone
			n.running.EndWithin(20 * time.Second)
		}
	}
}
