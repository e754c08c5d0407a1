package store

import (
	"context"

	"gorm.io/gorm"
)

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
		q(s.with(ctx).Model(&Student{}).Select("students.*, classes.name AS class").Joins("JOIN classes ON classes.id = students.class_id").Where("classes.teacher_id = ?",
			teacher), "students.name COLLATE "+looked).
			Order("students.left_at IS NOT NULL, classes.put_away_at IS NOT NULL, students.name, students.id").Find(&h.Students).Error,
		q(s.with(ctx).Where("teacher_id = ? AND purpose = ?", teacher, ForReference), "CONCAT(name, ' ', tags)").Order("id DESC").Find(&h.Pictures).Error,
	} {
		if err != nil {
			return h, err
		}
	}
	return h, nil
}
