package store

import (
	"errors"
	"fmt"
	"net"
	"regexp"
	"strconv"
	"strings"
	"time"

	mysqldriver "github.com/go-sql-driver/mysql"
)

// ErrDSN is wrapped by the error of an address that names no database.
var ErrDSN = errors.New("not the address of a database")

// place is where in an address the hosts stand.
var place = regexp.MustCompile(`@tcp\(([^)]*)\)/`)

const defaultPort = "3306"

// parseDSN reads an address such as user:password@tcp(host:3306)/zesty, or
// user:password@tcp(one:3306,two:3306)/zesty with several servers of the same data,
// and sets what this program relies on, whatever the address says: times are read as
// times and in UTC, a row that is found counts though nothing in it changed, and
// letters are all of Unicode.
func parseDSN(dsn string) (*mysqldriver.Config, []string, error) {
	dsn, hosts, err := splitHosts(dsn)
	if err != nil {
		return nil, nil, err
	}
	c, err := mysqldriver.ParseDSN(dsn)
	switch {
	case err != nil:
		return nil, nil, fmt.Errorf("%w: wanted user:password@tcp(host:3306)/name; %s", ErrDSN, err)
	case c.DBName == "":
		return nil, nil, fmt.Errorf("%w: it names no database; write its name after the last /", ErrDSN)
	case c.User == "":
		return nil, nil, fmt.Errorf("%w: it names no user; write user:password@ before the host", ErrDSN)
	}
	if len(hosts) == 0 {
		hosts = []string{c.Addr}
	}
	c.ParseTime, c.Loc, c.ClientFoundRows = true, time.UTC, true
	c.MaxAllowedPacket = 0 // ask the server: pictures are larger than the driver's usual limit
	c.Collation = "utf8mb4_unicode_520_ci"
	if c.Params == nil {
		c.Params = map[string]string{}
	}
	c.Params["time_zone"] = "'+00:00'"
	// A cluster checks a change where it is kept, whatever was read before: what others
	// changed meanwhile is seen, not waited for.
	c.Params["tx_isolation"] = "'READ-COMMITTED'"
	c.MultiStatements, c.InterpolateParams = false, false
	c.Logger = &mysqldriver.NopLogger{}
	return c, hosts, nil
}

// splitHosts takes a list of hosts out of an address; none where it holds one at
// most. Each is looked at as it is written: whether it can be reached is seen later.
func splitHosts(dsn string) (one string, hosts []string, err error) {
	found := place.FindAllStringSubmatchIndex(dsn, -1)
	if len(found) == 0 {
		return dsn, nil, nil
	}
	last := found[len(found)-1] // a password may look like it
	list := dsn[last[2]:last[3]]
	if !strings.Contains(list, ",") {
		return dsn, nil, nil
	}
	for _, host := range strings.Split(list, ",") {
		host = strings.TrimSpace(host)
		name, port, err := net.SplitHostPort(host)
		if err != nil {
			name, port = host, defaultPort
			if inner, ok := strings.CutPrefix(host, "["); ok && strings.HasSuffix(inner, "]") {
				name = strings.TrimSuffix(inner, "]")
			}
		}
		if n, err := strconv.Atoi(port); err != nil || n < 1 || n > 65535 || !hostName.MatchString(name) {
			return "", nil, fmt.Errorf("%w: among its hosts wanted name:port with commas between them, got %q", ErrDSN, host)
		}
		hosts = append(hosts, net.JoinHostPort(name, port))
	}
	return dsn[:last[2]] + hosts[0] + dsn[last[3]:], hosts, nil
}

// hostName is a host's name or address (RFC 1123, 2.1; RFC 4291, 2.2).
var hostName = regexp.MustCompile(`^([A-Za-z0-9]([A-Za-z0-9.-]*[A-Za-z0-9])?|[0-9a-fA-F:.]*:[0-9a-fA-F:.]*(%[A-Za-z0-9]+)?)$`)
