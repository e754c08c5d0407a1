package store

import (
	"errors"
	"fmt"
	"time"

	mysqldriver "github.com/go-sql-driver/mysql"
)

// ErrDSN is wrapped by the error of an address that names no database.
var ErrDSN = errors.New("not the address of a database")

// parseDSN reads an address such as user:password@tcp(host:3306)/zesty and sets
// what this program relies on, whatever the address says: times are read as
// times and in UTC, a row that is found counts though nothing in it changed,
// and letters are all of Unicode.
func parseDSN(dsn string) (*mysqldriver.Config, error) {
	c, err := mysqldriver.ParseDSN(dsn)
	switch {
	case err != nil:
		return nil, fmt.Errorf("%w: wanted user:password@tcp(host:3306)/name; %s", ErrDSN, err)
	case c.DBName == "":
		return nil, fmt.Errorf("%w: it names no database; write its name after the last /", ErrDSN)
	case c.User == "":
		return nil, fmt.Errorf("%w: it names no user; write user:password@ before the host", ErrDSN)
	}
	c.ParseTime, c.Loc, c.ClientFoundRows = true, time.UTC, true
	c.MaxAllowedPacket = 0 // ask the server: pictures are larger than the driver's usual limit
	c.Collation = "utf8mb4_unicode_520_ci"
	if c.Params == nil {
		c.Params = map[string]string{}
	}
	c.Params["time_zone"] = "'+00:00'"
	c.MultiStatements, c.InterpolateParams = false, false
	c.Logger = &mysqldriver.NopLogger{}
	return c, nil
}
