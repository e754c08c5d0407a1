package store

import (
	"context"
	"strings"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Classes returns the teacher's classes with their students, oldest first.
func (s *Store) Classes(ctx context.Context, teacher uint64) (classes []Class, err error) {
	err = s.with(ctx).Preload("Students", inOrder).Where("teacher_id = ?", teacher).Order("id").Find(&classes).Error
	return classes, err
}

func inOrder(db *gorm.DB) *gorm.DB { return db.Order("students.name, students.id") }

// Class returns one of the teacher's classes with its students by name.
func (s *Store) Class(ctx context.Context, teacher, id uint64) (Class, error) {
	var c Class
	err := s.with(ctx).Preload("Students", inOrder).Where("teacher_id = ?", teacher).First(&c, id).Error
	return c, known(err)
}

// AddClass makes a class.
func (s *Store) AddClass(ctx context.Context, teacher uint64, name string) (Class, error) {
	c := Class{TeacherID: teacher, Name: name}
	err := s.with(ctx).Create(&c).Error
	return c, err
}

// AddStudents adds students by name to one of the teacher's classes. A name
// that is there already is left alone. It returns how many were new.
func (s *Store) AddStudents(ctx context.Context, teacher, class uint64, names []string) (added int, err error) {
	if _, err := s.Class(ctx, teacher, class); err != nil {
		return 0, err
	}
	err = s.change(ctx, func(tx *gorm.DB) error {
		added = 0
		for _, name := range names {
			student := Student{ClassID: class, Name: strings.TrimSpace(name), Hand: "right"}
			res := tx.Clauses(clause.Insert{Modifier: "IGNORE"}).Create(&student)
			if res.Error != nil {
				return res.Error
			}
			added += int(res.RowsAffected)
		}
		return nil
	})
	return added, err
}
