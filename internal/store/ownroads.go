package store

import (
	"context"
	"errors"

	"zestysketch/internal/core/lesson"
)

// OwnRoad is a road that a teacher keeps under a name, for projects to come.
type OwnRoad struct {
	ID        uint64
	TeacherID uint64
	Name      string
	Road      lesson.Road `gorm:"serializer:json"`
}

// TableName names the table of OwnRoad.
func (OwnRoad) TableName() string { return "own_roads" }

// mostRoads are kept for a teacher.
const mostRoads = 60

// ErrManyRoads is the error of a teacher's list of roads that is full.
var ErrManyRoads = errors.New("sixty roads are kept: drop one first")

// OwnRoads returns the teacher's own roads, by name.
func (s *Store) OwnRoads(ctx context.Context, teacher uint64) (list []OwnRoad, err error) {
	err = s.with(ctx).Where("teacher_id = ?", teacher).Order("name").Limit(mostRoads).Find(&list).Error
	return list, err
}

// KeepRoad keeps a road under its name, in place of the teacher's own of that name.
func (s *Store) KeepRoad(ctx context.Context, road OwnRoad) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		var there []OwnRoad
		if err := tx.Where("teacher_id = ?", road.TeacherID).Find(&there).Error; err != nil {
			return err
		}
		for _, o := range there {
			if o.Name == road.Name {
				road.ID = o.ID
				return tx.Save(&road).Error
			}
		}
		if len(there) >= mostRoads {
			return ErrManyRoads
		}
		return tx.Create(&road).Error
	})
}

// DropRoad forgets one of the teacher's own roads.
func (s *Store) DropRoad(ctx context.Context, teacher, id uint64) error {
	res := s.with(ctx).Where("teacher_id = ?", teacher).Delete(&OwnRoad{}, id)
	if res.Error == nil && res.RowsAffected == 0 {
		return ErrNotFound
	}
	return res.Error
}
