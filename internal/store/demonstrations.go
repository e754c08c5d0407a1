package store

import (
	"context"

	"gorm.io/gorm/clause"
)

// Demonstration is what is shown of a box in front of a class, the same on every screen
// that shows it.
type Demonstration struct {
	ProjectID uint64 `gorm:"primaryKey" json:"-"`
	Box       string `json:"box"`
	Step      int    `json:"step"` // 0 quarter marks, 1 dots, then a line more each
	Upside    bool   `json:"upside"`
	Covered   bool   `json:"covered"` // all of the picture but the box
}

// MostSteps bounds the steps of a demonstration.
const MostSteps = 200

// OfDemonstration is what a change is about that is of no student.
const OfDemonstration = "demonstration"

// Demonstration returns what a project that the caller has fetched shows: nothing yet
// where its box is "".
func (s *Store) Demonstration(ctx context.Context, project uint64) (d Demonstration, err error) {
	err = s.with(ctx).Where("project_id = ?", project).Limit(1).Find(&d).Error
	return d, err
}

// Demonstrate shows something else of a project of which the caller is sure, and tells the
// screens that look.
func (s *Store) Demonstrate(ctx context.Context, d Demonstration) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if err := tx.Clauses(clause.OnConflict{UpdateAll: true}).Create(&d).Error; err != nil {
			return err
		}
		return tx.Create(&Change{ProjectID: d.ProjectID, About: OfDemonstration}).Error
	})
}
