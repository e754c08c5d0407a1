package store

import (
	"context"

	"gorm.io/gorm/clause"
)

// Frames returns the frames kept aside in a project that the caller has fetched.
func (s *Store) Frames(ctx context.Context, project uint64) (frames []Frame, err error) {
	err = s.with(ctx).Where("project_id = ?", project).Order("id").Find(&frames).Error
	return frames, err
}

// AddFrame keeps a frame aside in one of the teacher's projects; its picture
// must be on offer there.
func (s *Store) AddFrame(ctx context.Context, teacher uint64, f *Frame) error {
	if err := s.owns(ctx, teacher, f.ProjectID); err != nil {
		return err
	}
	if err := s.with(ctx).First(&ProjectPicture{}, "project_id = ? AND picture_id = ?", f.ProjectID, f.PictureID).Error; err != nil {
		return known(err)
	}
	return known(s.with(ctx).Create(f).Error)
}

// RemoveFrame forgets a frame of one of the teacher's projects.
func (s *Store) RemoveFrame(ctx context.Context, teacher, project, id uint64) error {
	if err := s.owns(ctx, teacher, project); err != nil {
		return err
	}
	res := s.with(ctx).Where("project_id = ?", project).Delete(&Frame{}, id)
	if res.Error == nil && res.RowsAffected == 0 {
		return ErrNotFound
	}
	return res.Error
}

// Assignments returns which students have a picture or frame of their own, in
// a project that the caller has fetched.
func (s *Store) Assignments(ctx context.Context, project uint64) (map[uint64]Assignment, error) {
	var all []Assignment
	err := s.with(ctx).Joins("Picture").Joins("Frame").Where("assignments.project_id = ?", project).Find(&all).Error
	by := map[uint64]Assignment{}
	for _, a := range all {
		by[a.StudentID] = a
	}
	return by, err
}

// AssignPart gives a student of the teacher's project a part of the boxes to draw, or all of
// them where it is empty.
func (s *Store) AssignPart(ctx context.Context, teacher, project, student uint64, part string) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if err := belongs(tx, teacher, project, student); err != nil {
			return err
		}
		a := Assignment{ProjectID: project, StudentID: student, Part: part}
		if err := tx.Omit("Picture", "Frame").Clauses(clause.OnConflict{DoUpdates: clause.AssignmentColumns([]string{"part"})}).Create(&a).Error; err != nil {
			return err
		}
		return changed(tx, project, student)
	})
}

// Assign gives a student of the teacher's project a picture on offer, and a
// frame of it or nil; neither takes the student's own back.
func (s *Store) Assign(ctx context.Context, teacher uint64, a Assignment) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if err := belongs(tx, teacher, a.ProjectID, a.StudentID); err != nil {
			return err
		}
		if a.FrameID != nil {
			var f Frame
			if err := tx.Where("project_id = ?", a.ProjectID).First(&f, *a.FrameID).Error; err != nil {
				return err
			}
			a.PictureID = &f.PictureID
		}
		if err := dropViews(tx, a.ProjectID, a.StudentID, 0); err != nil {
			return err
		}
		if a.PictureID == nil {
			return tx.Delete(&Assignment{ProjectID: a.ProjectID, StudentID: a.StudentID}).Error
		}
		if err := tx.First(&ProjectPicture{}, "project_id = ? AND picture_id = ?", a.ProjectID, *a.PictureID).Error; err != nil {
			return err
		}
		return tx.Omit("Picture", "Frame").Clauses(clause.OnConflict{UpdateAll: true}).Create(&a).Error
	})
}
