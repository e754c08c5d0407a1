package store

import (
	"context"
	"log/slog"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/logger"
)

// slowFrom is how long a statement takes that is logged.
const slowFrom = 500 * time.Millisecond

// slow logs statements that take long, with ? for what was in them: a log holds no
// name, link or password. Errors are their callers' to tell.
type slow struct{}

func (s slow) LogMode(logger.LogLevel) logger.Interface { return s }
func (slow) Info(context.Context, string, ...any)       {}
func (slow) Warn(context.Context, string, ...any)       {}
func (slow) Error(context.Context, string, ...any)      {}

// ParamsFilter keeps the values out of what Trace is told.
func (slow) ParamsFilter(_ context.Context, sql string, _ ...any) (string, []any) { return sql, nil }

func (slow) Trace(ctx context.Context, begin time.Time, what func() (sql string, rows int64), _ error) {
	took := time.Since(begin)
	if took < slowFrom {
		return
	}
	statement, rows := what()
	slog.WarnContext(ctx, "slow statement", "took", took.Round(time.Millisecond), "rows", rows, "statement", statement)
}

var _ gorm.ParamsFilter = slow{}
