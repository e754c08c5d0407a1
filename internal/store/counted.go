package store

import (
	"context"
	"sync/atomic"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/logger"
)

// Counted returns the same database, and how many statements were sent to it
// through the store returned.
func (s *Store) Counted() (*Store, *atomic.Int64) {
	c := &counter{Interface: logger.Discard}
	return &Store{s.db.Session(&gorm.Session{Logger: c}), s.common}, &c.n
}

type counter struct {
	logger.Interface
	n atomic.Int64
}

func (c *counter) Trace(context.Context, time.Time, func() (string, int64), error) { c.n.Add(1) }

func (c *counter) LogMode(logger.LogLevel) logger.Interface { return c }
