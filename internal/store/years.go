package store

import (
	"context"
	"time"

	"gorm.io/gorm"
)

// FirstSteps says what of a school's beginning a teacher has done.
type FirstSteps struct{ Class, Picture, Project, Print bool }

// All reports whether nothing is left to begin.
func (f FirstSteps) All() bool { return f.Class && f.Picture && f.Project && f.Print }

// FirstSteps returns how far a teacher's beginning is. Of projects put away counts
// what was done, as of those in use.
func (s *Store) FirstSteps(ctx context.Context, teacher uint64) (f FirstSteps, err error) {
	err = s.with(ctx).Raw(`SELECT EXISTS (SELECT 1 FROM classes JOIN students ON students.class_id = classes.id WHERE classes.teacher_id = @me) AS class,
		EXISTS (SELECT 1 FROM pictures WHERE teacher_id = @me) AS picture,
		EXISTS (SELECT 1 FROM projects WHERE teacher_id = @me AND plan_version > 0) AS project,
		EXISTS (SELECT 1 FROM projects WHERE teacher_id = @me AND printed_at IS NOT NULL) AS print`, map[string]any{"me": teacher}).Scan(&f).Error
	return f, err
}

// Printed keeps that pages of a project that the caller has fetched were made.
func (s *Store) Printed(ctx context.Context, p Project) error {
	if p.PrintedAt != nil {
		return nil
	}
	return s.with(ctx).Model(&Project{}).Where("id = ? AND printed_at IS NULL", p.ID).UpdateColumn("printed_at", time.Now()).Error
}

// touchStep is how exactly it is known when a project was last at work.
const touchStep = 24 * time.Hour

// Touch keeps that a project that the caller has fetched is at work today.
func (s *Store) Touch(ctx context.Context, p Project) error {
	now := time.Now().UTC()
	if now.Sub(p.UpdatedAt) < touchStep {
		return nil
	}
	return s.with(ctx).Model(&Project{}).Where("id = ?", p.ID).UpdateColumn("updated_at", now).Error
}

// ProjectList returns what a teacher's projects in use are called, with their first
// classes, the newest first.
func (s *Store) ProjectList(ctx context.Context, teacher uint64) (list []Project, err error) {
	err = s.with(ctx).Joins("Class").Where("projects.teacher_id = ? AND "+inUse, teacher).Order("projects.updated_at DESC, projects.id DESC").Find(&list).Error
	return list, err
}

// YearMove is what becomes of a class in a new school year: it goes on under a
// name, or is put away where that is empty.
type YearMove struct {
	Class uint64
	Name  string
}

// NewYear moves a teacher's classes into a new school year, and puts projects
// away; all of it or nothing. ErrNotFound for a class or a project of another's.
func (s *Store) NewYear(ctx context.Context, teacher uint64, moves []YearMove, away []uint64) error {
	return s.Transaction(ctx, func(s *Store) error {
		for _, m := range moves {
			values := map[string]any{"name": m.Name}
			if m.Name == "" {
				values = map[string]any{"put_away_at": time.Now()}
			}
			if err := s.changeClass(ctx, teacher, m.Class, values); err != nil {
				return err
			}
		}
		for _, id := range away {
			if err := s.PutAway(ctx, teacher, id); err != nil {
				return err
			}
		}
		return nil
	})
}

// Hits are what a search found.
type Hits struct {
	Projects []Project // also those put away
	Classes  []Class
	Students []Hit
	Pictures []Picture
}

// Hit is a student that was found, with their class.
type Hit struct {
	Student
	Class string
}

// mostHits bounds what is found of each kind.
const mostHits = 8

// Search returns a teacher's projects, classes, students and pictures, and the
// projects that colleagues share on a day, whose names have every word.
func (s *Store) Search(ctx context.Context, teacher uint64, day, words string) (h Hits, err error) {
	patterns := likes(words)
	if len(patterns) == 0 {
		return h, nil
	}
	q := func(db *gorm.DB, column string) *gorm.DB {
		for _, like := range patterns {
			db = db.Where(column+" LIKE ?", like)
		}
		return db.Limit(mostHits)
	}
	for _, err := range []error{
		q(s.with(ctx).Where(there+" AND (projects.teacher_id = @me OR projects.id IN (SELECT project_id FROM "+shared+" AS shared))", map[string]any{"me": teacher, "day": day}), "projects.name").
			Order("projects.put_away_at IS NOT NULL, projects.updated_at DESC").Find(&h.Projects).Error,
		q(s.with(ctx).Where("teacher_id = ?", teacher), "name").Order("put_away_at IS NOT NULL, id DESC").Find(&h.Classes).Error,
		q(s.with(ctx).Model(&Student{}).Select("students.*, classes.name AS class").Joins("JOIN classes ON classes.id = students.class_id").Where("classes.teacher_id = ?", teacher), "students.name COLLATE "+looked).
			Order("students.left_at IS NOT NULL, classes.put_away_at IS NOT NULL, students.name, students.id").Find(&h.Students).Error,
		q(s.with(ctx).Where("teacher_id = ? AND purpose = ?", teacher, ForReference), "CONCAT(name, ' ', tags)").Order("id DESC").Find(&h.Pictures).Error,
	} {
		if err != nil {
			return h, err
		}
	}
	return h, nil
}
