package store

import (
	"context"
	"time"

	"gorm.io/gorm/clause"
)

// Call is what a teacher calls to a class at work, shown on the projector and on every tablet:
// words, a time that runs, or both.
type Call struct {
	ProjectID uint64     `gorm:"primaryKey" json:"-"`
	ClassID   uint64     `gorm:"primaryKey" json:"-"`
	Words     string     `json:"words"`
	Until     *time.Time `json:"until,omitempty"` // nil for no time
}

// OfCall is what a change is about that calls something to a class.
const OfCall = "call"

// calledFor is how long a time that has run out is still shown.
const calledFor = 10 * time.Minute

// Call returns what is called to a class in a project that the caller has fetched, nothing
// where its words are empty and it has no time.
func (s *Store) Call(ctx context.Context, project, class uint64) (c Call, err error) {
	err = s.with(ctx).Where("project_id = ? AND class_id = ? AND (until IS NULL OR until > ?)", project, class, time.Now().UTC().Add(-calledFor)).Limit(1).Find(&c).Error
	return c, err
}

// SetCall calls something to a class of a project of which the caller is sure, or nothing
// more, and tells the screens that look.
func (s *Store) SetCall(ctx context.Context, c Call) error {
	return s.Transaction(ctx, func(s *Store) (err error) {
		tx := s.with(ctx)
		if c.Words == "" && c.Until == nil {
			err = tx.Delete(&c).Error
		} else {
			err = tx.Clauses(clause.OnConflict{UpdateAll: true}).Create(&c).Error
		}
		if err != nil {
			return err
		}
		return tx.Create(&Change{ProjectID: c.ProjectID, About: OfCall}).Error
	})
}
