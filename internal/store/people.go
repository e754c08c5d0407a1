package store

import (
	"context"
	"errors"
	"time"

	"gorm.io/gorm/clause"
)

// ErrLast is the error of a change that would leave a school without an administrator.
var ErrLast = errors.New("somebody has to look after the school; make a colleague an administrator first")

// Person is a teacher as their school's administrators see them.
type Person struct {
	Teacher
	SeenAt            *time.Time // last, of late
	Classes, Projects int        // in use
}

// People returns the teachers of a school, those who may sign in first.
func (s *Store) People(ctx context.Context, school uint64) (list []Person, err error) {
	err = s.with(ctx).Model(&Teacher{}).Select(`teachers.*, (SELECT MAX(seen_at) FROM sign_ins WHERE sign_ins.teacher_id = teachers.id) AS seen_at,
		(SELECT COUNT(*) FROM classes WHERE classes.teacher_id = teachers.id AND classes.put_away_at IS NULL) AS classes,
		(SELECT COUNT(*) FROM projects WHERE projects.teacher_id = teachers.id AND projects.deleted_at IS NULL AND projects.put_away_at IS NULL) AS projects`).
		Where("school_id = ?", school).Order("disabled_at IS NOT NULL, name, id").Find(&list).Error
	return list, err
}

// ClassesOfSchool returns the classes of a school that are in use, by teacher.
func (s *Store) ClassesOfSchool(ctx context.Context, school uint64) (map[uint64][]Class, error) {
	var list []Class
	err := s.with(ctx).Joins("JOIN teachers ON teachers.id = classes.teacher_id").
		Where("teachers.school_id = ? AND classes.put_away_at IS NULL", school).Order("classes.id").Find(&list).Error
	by := map[uint64][]Class{}
	for _, c := range list {
		by[c.TeacherID] = append(by[c.TeacherID], c)
	}
	return by, err
}

// Colleagues returns who else may sign in at a teacher's school, by name.
func (s *Store) Colleagues(ctx context.Context, t Teacher) (list []Teacher, err error) {
	err = s.with(ctx).Where("school_id = ? AND id <> ? AND disabled_at IS NULL", t.SchoolID, t.ID).Order("name, id").Find(&list).Error
	return list, err
}

// Colleague returns a teacher of a school; ErrNotFound for one of another.
func (s *Store) Colleague(ctx context.Context, school, id uint64) (t Teacher, err error) {
	err = s.with(ctx).Where("school_id = ?", school).First(&t, id).Error
	return t, known(err)
}

// SetAdmin makes a teacher of a school an administrator, or one no longer. The
// error is ErrLast where nobody would be left to be one.
func (s *Store) SetAdmin(ctx context.Context, school, id uint64, admin bool) error {
	return s.changePerson(ctx, school, id, map[string]any{"admin": admin})
}

// Disable lets a teacher of a school sign in no more, and signs them out; their
// work stays. Nil lets them in again. The error is ErrLast as with SetAdmin.
func (s *Store) Disable(ctx context.Context, school, id uint64, at *time.Time) error {
	return s.Transaction(ctx, func(s *Store) error {
		if err := s.changePerson(ctx, school, id, map[string]any{"disabled_at": at}); err != nil || at == nil {
			return err
		}
		return s.EndSignIns(ctx, id, 0)
	})
}

// changePerson changes a teacher while nobody else changes who looks after the
// school: two administrators who take each other's leave at once do not both go.
func (s *Store) changePerson(ctx context.Context, school, id uint64, values map[string]any) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if err := tx.Clauses(clause.Locking{Strength: "UPDATE"}).First(&School{}, school).Error; err != nil {
			return err
		}
		if err := tx.Where("school_id = ?", school).First(&Teacher{}, id).Error; err != nil {
			return err
		}
		if err := tx.Model(&Teacher{}).Where("id = ?", id).Updates(values).Error; err != nil {
			return err
		}
		var left int64
		err := tx.Model(&Teacher{}).Where("school_id = ? AND admin AND disabled_at IS NULL", school).Count(&left).Error
		if err == nil && left == 0 {
			return ErrLast
		}
		return err
	})
}

// ManySchools reports whether there are several schools in the database.
func (s *Store) ManySchools(ctx context.Context) (bool, error) {
	var n int64
	err := s.with(ctx).Model(&School{}).Count(&n).Error
	return n > 1, err
}
