package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"slices"
	"strings"
	"time"

	"github.com/go-gormigrate/gormigrate/v2"
	"gorm.io/gorm"
)

// Every statement of a migration may run again and then changes nothing: the
// database keeps changes of tables at once, so one that was cut off begins anew.
//
//go:embed migrations/*.sql
var migrations embed.FS

// ErrNewer is the error of a database that a later program has been at.
var ErrNewer = errors.New("this database was last used by a newer Zesty Sketch; start that one, or one as new")

// patience is how long a program waits for another that brings the same tables
// up to date.
const patience = 5 * time.Minute

// awayFor is how long a program that starts waits for a database that goes away meanwhile.
const awayFor = time.Minute

// Tables names the last migration that this program knows: which tables it works with.
func Tables() string {
	all, err := steps()
	if err != nil || len(all) == 0 {
		return ""
	}
	return all[len(all)-1].ID
}

// Database is what a database server says of itself.
type Database struct {
	Version, Tables string // Tables is the last migration that it has had
	Now             time.Time
}

// Database returns which database this is.
func (s *Store) Database(ctx context.Context) (is Database, err error) {
	err = s.with(ctx).Raw("SELECT VERSION() AS version, (SELECT MAX(id) FROM migrations) AS tables, UTC_TIMESTAMP(3) AS now").Scan(&is).Error
	return is, err
}

// older returns the last migration of a database whose tables this program would
// bring up to date; empty where there is nothing to do, or nothing there.
func (s *Store) older(ctx context.Context) (tables string, err error) {
	var there int
	err = s.with(ctx).Raw("SELECT COUNT(*) FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name = 'migrations'").Scan(&there).Error
	if err != nil || there == 0 {
		return "", err
	}
	var last sql.NullString
	if err := s.with(ctx).Raw("SELECT MAX(id) FROM migrations").Scan(&last).Error; err != nil || last.String >= Tables() {
		return "", err
	}
	return last.String, nil
}

// migrate runs every migration that has not run yet, in the order of their names, up to
// the one named, or all of them. Ahead of changing tables that an older program made it
// calls before, which may be nil. Of several programs that start at once one does it and
// the others wait; where the database goes away meanwhile, it is waited for. The error is
// ErrNewer for a migration that this program does not know.
func (s *Store) migrate(ctx context.Context, upTo string, before func(context.Context) error) error {
	return patiently(ctx, func(err error) bool { return Away(err) || passes(err) }, func() error { return s.migrateOnce(ctx, upTo, before) })
}

// patiently does something, and again where its error passes, for awayFor at most.
func patiently(ctx context.Context, passes func(error) bool, do func() error) error {
	for until := time.Now().Add(awayFor); ; {
		err := do()
		if err == nil || !passes(err) || time.Now().After(until) {
			return err
		}
		select {
		case <-ctx.Done():
			return errors.Join(ctx.Err(), err)
		case <-time.After(300 * time.Millisecond):
		}
	}
}

func (s *Store) migrateOnce(ctx context.Context, upTo string, before func(context.Context) error) error {
	steps, err := steps()
	if err != nil {
		return err
	}
	if upTo != "" && !slices.ContainsFunc(steps, func(m *gormigrate.Migration) bool { return m.ID == upTo }) {
		return ErrNewer
	}
	if err := s.with(ctx).Exec(leases).Error; err != nil {
		return err
	}
	return s.alone(ctx, "tables", patience, func() error {
		if err := s.readied(ctx, before); err != nil {
			return err
		}
		options := *gormigrate.DefaultOptions
		options.ValidateUnknownMigrations = true
		all := gormigrate.New(s.with(ctx), &options, steps)
		if upTo != "" {
			err = all.MigrateTo(upTo)
		} else {
			err = all.Migrate()
		}
		if errors.Is(err, gormigrate.ErrUnknownPastMigration) {
			return ErrNewer
		}
		return err
	})
}

// readied calls before, if there is one, where an older program made the tables.
func (s *Store) readied(ctx context.Context, before func(context.Context) error) error {
	if before == nil {
		return nil
	}
	older, err := s.older(ctx)
	if err != nil || older == "" {
		return err
	}
	return before(ctx)
}

// steps returns the migrations, one a file.
func steps() (all []*gormigrate.Migration, err error) {
	files, err := migrations.ReadDir("migrations")
	if err != nil {
		return nil, err
	}
	for _, f := range files {
		text, err := migrations.ReadFile("migrations/" + f.Name())
		if err != nil {
			return nil, err
		}
		all = append(all, &gormigrate.Migration{ID: strings.TrimSuffix(f.Name(), ".sql"), Migrate: func(tx *gorm.DB) error {
			for _, one := range statements(string(text)) {
				if err := tx.Exec(one).Error; err != nil {
					return err
				}
			}
			return nil
		}})
	}
	return all, nil
}

// statements returns a file's statements, each of which ends a line.
func statements(text string) (all []string) {
	for one := range strings.SplitSeq(text, ";\n") {
		if strings.TrimSpace(one) != "" {
			all = append(all, one)
		}
	}
	return all
}
