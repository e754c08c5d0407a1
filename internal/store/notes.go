package store

import (
	"context"
	"time"
)

// Note is something written down of a project's lesson, or of one student in it.
type Note struct {
	ID        uint64
	ProjectID uint64
	StudentID *uint64
	PictureID *uint64 // a photo of the lesson
	Words     string
	ByWhom    string // a teacher's name; empty in notes of before it was kept
	CreatedAt time.Time
}

// AddNote keeps a note of one of the teacher's projects.
func (s *Store) AddNote(ctx context.Context, teacher uint64, n *Note) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if n.StudentID != nil {
			if err := belongs(tx, teacher, n.ProjectID, *n.StudentID); err != nil {
				return err
			}
		} else if err := s.owns(ctx, teacher, n.ProjectID); err != nil {
			return err
		}
		n.ID = 0
		return tx.Create(n).Error
	})
}

// Notes returns a project's notes, the newest first, those with every word
// looked for, 200 at most; student 0 is everybody.
func (s *Store) Notes(ctx context.Context, project, student uint64, words string) (list []Note, err error) {
	q := s.with(ctx).Where("project_id = ?", project)
	if student != 0 {
		q = q.Where("student_id = ?", student)
	}
	for _, like := range likes(words) {
		q = q.Where("words LIKE ?", like)
	}
	err = q.Order("id DESC").Limit(mostListed).Find(&list).Error
	return list, err
}

// ChangeNote rewrites a note of one of the teacher's projects; without words it
// is deleted, with its photo.
func (s *Store) ChangeNote(ctx context.Context, teacher, id uint64, words string) (Note, error) {
	var n Note
	err := s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		n = Note{}
		if err := tx.Joins("JOIN projects ON projects.id = notes.project_id").Where("projects.teacher_id = ?", teacher).First(&n, "notes.id = ?", id).Error; err != nil {
			return err
		}
		if words != "" {
			return tx.Model(&n).Update("words", words).Error
		}
		if err := tx.Delete(&n).Error; err != nil || n.PictureID == nil {
			return err
		}
		return dropPhoto(tx, *n.PictureID)
	})
	return n, err
}
