package store

import (
	"context"
	"fmt"
)

// SchoolCount is a school and how much it has.
type SchoolCount struct {
	School
	Teachers, Classes, Projects int
}

// Schools returns every school there is, by name.
func (s *Store) Schools(ctx context.Context) (list []SchoolCount, err error) {
	of := "(SELECT COUNT(*) FROM %s JOIN teachers ON teachers.id = %[1]s.teacher_id WHERE teachers.school_id = schools.id)"
	err = s.with(ctx).Model(&School{}).Select("schools.*, (SELECT COUNT(*) FROM teachers WHERE teachers.school_id = schools.id) AS teachers, " +
		fmt.Sprintf(of, "classes") + " AS classes, " + fmt.Sprintf(of, "projects") + " AS projects").Order("name, id").Find(&list).Error
	return list, err
}

// MakeSchool makes a school without anybody; ErrTaken where there is one of the name.
func (s *Store) MakeSchool(ctx context.Context, name string) (School, error) {
	place := NewSchool(name)
	err := s.Transaction(ctx, func(s *Store) error {
		place.ID = 0
		var there int64
		if err := s.with(ctx).Model(&School{}).Where("name = ?", name).Count(&there).Error; err != nil {
			return err
		}
		if there > 0 {
			return ErrTaken
		}
		return s.with(ctx).Create(&place).Error
	})
	return place, err
}

// DropSchool deletes a school with everything in it, for good.
func (s *Store) DropSchool(ctx context.Context, school uint64) error {
	return found(s.with(ctx).Delete(&School{ID: school}))
}
