package store

import (
	"context"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// KeepView keeps a picture that a student of the teacher's project took from their own
// seat, and gives it to them to draw from: one they took before is gone. The picture's ID
// is set.
func (s *Store) KeepView(ctx context.Context, teacher, project, student uint64, p *Picture, files []PictureFile) error {
	p.TeacherID, p.Purpose, p.TakenFor, p.TakenBy = teacher, ForView, &project, &student
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if err := belongs(tx, teacher, project, student); err != nil {
			return err
		}
		if err := s.AddPicture(ctx, p, files); err != nil {
			return err
		}
		a := Assignment{ProjectID: project, StudentID: student, PictureID: &p.ID}
		own := clause.OnConflict{DoUpdates: clause.AssignmentColumns([]string{"picture_id", "frame_id"})}
		if err := tx.Omit("Picture", "Frame").Clauses(own).Create(&a).Error; err != nil {
			return err
		}
		if err := dropViews(tx, project, student, p.ID); err != nil {
			return err
		}
		return changed(tx, project, student)
	})
}

// dropViews deletes what a student took for a project, but for one picture.
func dropViews(tx *gorm.DB, project, student, but uint64) error {
	return tx.Where("project_id = ? AND student_id = ? AND id <> ?", project, student, but).Delete(&Picture{}).Error
}

// PressedView is one of several pictures of a project that are brought to one height: the points
// pressed on it lie on the common top and bottom lines.
type PressedView struct {
	ID        uint64
	ProjectID uint64
	PictureID uint64
	Picture   *Picture
	Name      string
	TopX      float64 // in the picture's pixels, as all four
	TopY      float64
	BottomX   float64
	BottomY   float64
	Pressed   bool // somebody set the points: until then they are a guess
}

// TableName names the table of PressedView.
func (PressedView) TableName() string { return "views" }

// Views returns the views of a project that the caller has fetched, from the left.
func (s *Store) Views(ctx context.Context, project uint64) (list []PressedView, err error) {
	err = s.with(ctx).Preload("Picture").Where("project_id = ?", project).Order("id").Find(&list).Error
	return list, err
}

// View returns a view of a project that the caller has fetched, with its picture.
func (s *Store) View(ctx context.Context, project, id uint64) (v PressedView, err error) {
	err = s.with(ctx).Preload("Picture").Where("project_id = ?", project).First(&v, id).Error
	return v, known(err)
}

// KeepPressed keeps a new or changed view of a project that the caller has fetched, of one
// of the pictures on offer there; ErrNotFound for any other.
func (s *Store) KeepPressed(ctx context.Context, v *PressedView) error {
	if _, err := s.OfferedPicture(ctx, v.ProjectID, v.PictureID); err != nil {
		return err
	}
	return s.with(ctx).Omit("Picture").Save(v).Error
}

// RemoveView forgets a view; one that is gone already is no error.
func (s *Store) RemoveView(ctx context.Context, project, id uint64) error {
	return s.with(ctx).Where("project_id = ?", project).Delete(&PressedView{}, id).Error
}

// SetPair changes whether a project's views hang together, edge to edge.
func (s *Store) SetPair(ctx context.Context, teacher, project uint64, pair bool) error {
	return s.update(ctx, teacher, project, map[string]any{"pair": pair})
}

// LandmarksOfAll returns the landmarks of all pictures of a project that the caller has
// fetched, by picture.
func (s *Store) LandmarksOfAll(ctx context.Context, project uint64) (map[uint64][]Landmark, error) {
	var list []Landmark
	err := s.with(ctx).Where("project_id = ? AND picture_id IS NOT NULL", project).Order("id").Find(&list).Error
	by := map[uint64][]Landmark{}
	for _, l := range list {
		by[*l.PictureID] = append(by[*l.PictureID], l)
	}
	return by, err
}
