package store

import "context"

// SchoolClasses returns a school's classes in use with their students, by name.
func (s *Store) SchoolClasses(ctx context.Context, school uint64) (classes []Class, err error) {
	err = s.with(ctx).Preload("Students").Joins("JOIN teachers ON teachers.id = classes.teacher_id").
		Where("teachers.school_id = ? AND classes.put_away_at IS NULL", school).Order("classes.name, classes.id").Find(&classes).Error
	return classes, err
}

// KnowClass keeps how the school's own system knows one of the teacher's classes.
func (s *Store) KnowClass(ctx context.Context, teacher, id uint64, outside string) error {
	return s.changeClass(ctx, teacher, id, map[string]any{"outside_id": outside})
}
