package store

import (
	"context"
	"fmt"
	"slices"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/plane"
)

// listed asks for check-ins as lists show them: with student and photo, and of
// what was measured the gist alone.
func (s *Store) listed(ctx context.Context) *gorm.DB {
	return s.with(ctx).Omit("report").Joins("Student").Joins("Picture")
}

// CheckIns returns the check-ins of a project that the caller has fetched, the
// newest first, without those of the other classes that draw it.
func (s *Store) CheckIns(ctx context.Context, p Project) (list []CheckIn, err error) {
	q := s.listed(ctx).Where("check_ins.project_id = ?", p.ID)
	if p.ClassID != nil {
		q = q.Where("Student.class_id NOT IN (SELECT class_id FROM project_classes WHERE project_id = ? AND class_id <> ?)", p.ID, *p.ClassID)
	}
	if err = q.Order("check_ins.id DESC").Find(&list).Error; err != nil {
		return nil, err
	}
	return list, s.oldGists(ctx, list)
}

// oldGists fills in the gists of check-ins that were measured before gists were kept.
func (s *Store) oldGists(ctx context.Context, list []CheckIn) error {
	at := map[uint64]*CheckIn{}
	var ids []uint64
	for i := range list {
		if c := &list[i]; c.Gist == nil && c.PlanSum != 0 {
			at[c.ID], ids = c, append(ids, c.ID)
		}
	}
	if len(ids) == 0 {
		return nil
	}
	var whole []CheckIn
	err := s.with(ctx).Select("id", "report").Find(&whole, ids).Error
	for _, c := range whole {
		if c.Report != nil {
			gist := c.Report.Gist()
			at[c.ID].Gist = &gist
		}
	}
	return err
}

// LastMeasured returns a student's check-in with a report that came last before
// another, or last of all where before is 0, in a project that the caller has
// fetched; sum is the plan it was measured against, 0 for any. ErrNotFound where
// there is none.
func (s *Store) LastMeasured(ctx context.Context, project, student, before uint64, sum uint32) (c CheckIn, err error) {
	q := s.with(ctx).Where("project_id = ? AND student_id = ? AND report IS NOT NULL", project, student)
	if before != 0 {
		q = q.Where("id < ?", before)
	}
	if sum != 0 {
		q = q.Where("plan_sum = ?", sum)
	}
	err = known(q.Order("id DESC").First(&c).Error)
	return c, err
}

// mostFilmed is how many drawings of a student are laid on one another.
const mostFilmed = 12

// Filmed returns a student's latest check-ins whose sheet was found, by one plan, the oldest first, without their reports.
func (s *Store) Filmed(ctx context.Context, project, student uint64, sum uint32) (list []CheckIn, err error) {
	err = s.with(ctx).Omit("report").Where("project_id = ? AND student_id = ? AND plan_sum = ? AND report IS NOT NULL AND corners IS NOT NULL", project, student, sum).
		Order("id DESC").Limit(mostFilmed).Find(&list).Error
	slices.Reverse(list)
	return list, err
}

// CheckInBefore returns the number of the check-in of the same project that was
// taken in before this one, of the newest where it is the oldest: its own where
// there is no other.
func (s *Store) CheckInBefore(ctx context.Context, c CheckIn) (uint64, error) {
	var ids []uint64
	err := s.with(ctx).Model(&CheckIn{}).Where("project_id = ?",
		c.ProjectID).Clauses(clause.OrderBy{Expression: clause.Expr{SQL: "id >= ?, id DESC",
		Vars: []any{c.ID}}}).Limit(1).Pluck("id", &ids).Error
	if err != nil || len(ids) == 0 {
		return c.ID, err
	}
	return ids[0], nil
}

// CheckInsEverywhere returns the check-ins of students in all of a teacher's
// projects, the oldest first, with their projects and photos.
func (s *Store) CheckInsEverywhere(ctx context.Context, teacher uint64, students []uint64) (list []CheckIn, err error) {
	err = s.with(ctx).Omit("report").Joins("Project").Joins("Picture").
		Where("Project.teacher_id = ? AND check_ins.student_id IN ?", teacher, students).Order("check_ins.id").Find(&list).Error
	if err != nil {
		return nil, err
	}
	return list, s.oldGists(ctx, list)
}

// CountCheckIns returns how many check-ins each student has in a project that
// the caller has fetched.
func (s *Store) CountCheckIns(ctx context.Context, project uint64) (map[uint64]int, error) {
	var rows []struct {
		StudentID uint64
		N         int
	}
	err := s.with(ctx).Model(&CheckIn{}).Select("student_id, COUNT(*) AS n").Where("project_id = ?", project).Group("student_id").Find(&rows).Error
	by := map[uint64]int{}
	for _, r := range rows {
		by[r.StudentID] = r.N
	}
	return by, err
}

// CheckIn returns one check-in of one of the teacher's projects.
func (s *Store) CheckIn(ctx context.Context, teacher, id uint64) (CheckIn, error) {
	var c CheckIn
	err := s.with(ctx).Joins("Student").Joins("Picture").
		Joins("JOIN projects ON projects.id = check_ins.project_id").
		Where("projects.teacher_id = ?", teacher).First(&c, "check_ins.id = ?", id).Error
	return c, known(err)
}

// AddCheckIn keeps a check-in whose student is in the class of the teacher's project.
func (s *Store) AddCheckIn(ctx context.Context, teacher uint64, c *CheckIn) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if err := belongs(tx, teacher, c.ProjectID, c.StudentID); err != nil {
			return err
		}
		c.ID = 0
		return tx.Omit("Project", "Student", "Picture").Create(c).Error
	})
}

// RemoveCheckIn forgets a check-in of one of the teacher's projects; its photo
// goes where no other check-in shows it.
func (s *Store) RemoveCheckIn(ctx context.Context, teacher, id uint64) error {
	c, err := s.CheckIn(ctx, teacher, id)
	if err != nil {
		return err
	}
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if err := tx.Delete(&CheckIn{}, id).Error; err != nil {
			return err
		}
		return dropPhoto(tx, c.PictureID)
	})
}

// dropPhoto forgets a photo that nothing shows any more.
func dropPhoto(tx *gorm.DB, picture uint64) error {
	for _, model := range []any{&CheckIn{}, &Stray{}, &Note{}} {
		var n int64
		if err := tx.Model(model).Where("picture_id = ?", picture).Count(&n).Error; err != nil || n > 0 {
			return err
		}
	}
	return tx.Where("purpose = ?", ForCheckIn).Delete(&Picture{}, picture).Error
}

// Strays returns the photos of a project that the caller has fetched that wait
// for a student, the oldest first.
func (s *Store) Strays(ctx context.Context, project uint64) (list []Stray, err error) {
	err = s.with(ctx).Preload("Picture").Where("project_id = ?", project).Order("id").Find(&list).Error
	return list, err
}

// AddStray keeps a photo of a project that the caller has fetched.
func (s *Store) AddStray(ctx context.Context, x *Stray) error {
	return s.with(ctx).Omit("Picture").Create(x).Error
}

// Stray returns a waiting photo of one of the teacher's projects.
func (s *Store) Stray(ctx context.Context, teacher, id uint64) (Stray, error) {
	var x Stray
	err := s.with(ctx).Preload("Picture").Joins("JOIN projects ON projects.id = strays.project_id").
		Where("projects.teacher_id = ?", teacher).First(&x, "strays.id = ?", id).Error
	return x, known(err)
}

// RemoveStray takes a waiting photo that the caller has fetched out of the
// tray; the photo itself goes where nothing else shows it.
func (s *Store) RemoveStray(ctx context.Context, x Stray) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if err := tx.Delete(&Stray{}, x.ID).Error; err != nil {
			return err
		}
		return dropPhoto(tx, x.PictureID)
	})
}

// Place keeps corners, landmark positions and what was measured of a check-in
// that the caller has fetched; c.Version is the version seen. ErrConflict if there is a newer one.
func (s *Store) Place(ctx context.Context, c *CheckIn) error {
	seen := c.Version
	c.Version++
	res := s.with(ctx).Model(&CheckIn{}).Where("id = ? AND version = ?", c.ID, seen).
		Select("Corners", "Marks", "Report", "Gist", "PlanSum", "Version").Updates(c)
	if res.Error == nil && res.RowsAffected == 0 {
		c.Version = seen
		return fmt.Errorf("check-in %d: %w", c.ID, ErrConflict)
	}
	return res.Error
}

// Landmarks returns the landmarks of one picture in a project that the caller
// has fetched, oldest first.
func (s *Store) Landmarks(ctx context.Context, project uint64, picture *uint64) (list []Landmark, err error) {
	err = s.with(ctx).Where("project_id = ? AND picture_id <=> ?", project, picture).Order("id").Find(&list).Error
	return list, err
}

// AddLandmark keeps a landmark of a project that the caller has fetched.
func (s *Store) AddLandmark(ctx context.Context, l *Landmark) error {
	return s.with(ctx).Create(l).Error
}

// ChangeLandmark keeps a landmark's name, weight and place. ErrNotFound if the project has none of that id.
func (s *Store) ChangeLandmark(ctx context.Context, l Landmark) error {
	var there Landmark
	if err := s.with(ctx).Where("project_id = ?", l.ProjectID).First(&there, l.ID).Error; err != nil {
		return known(err)
	}
	return s.with(ctx).Save(&l).Error
}

// RemoveLandmark forgets a landmark; one that is gone already is no error.
func (s *Store) RemoveLandmark(ctx context.Context, project, id uint64) error {
	return s.with(ctx).Where("project_id = ?", project).Delete(&Landmark{}, id).Error
}

// CheckInOfPhoto returns the check-in of a student in a project whose photo has
// the given hash; ErrNotFound where there is none.
func (s *Store) CheckInOfPhoto(ctx context.Context, project, student uint64, hash []byte) (c CheckIn, err error) {
	err = known(s.with(ctx).Joins("JOIN pictures ON pictures.id = check_ins.picture_id").
		Where("check_ins.project_id = ? AND check_ins.student_id = ? AND pictures.hash = ?", project, student, hash).First(&c).Error)
	return c, err
}

// StrayOfPhoto returns the waiting photo of a project with the given hash;
// ErrNotFound where there is none.
func (s *Store) StrayOfPhoto(ctx context.Context, project uint64, hash []byte) (x Stray, err error) {
	err = known(s.with(ctx).Joins("Picture").Where("strays.project_id = ? AND Picture.hash = ?", project, hash).First(&x).Error)
	return x, err
}

// SetHandIn changes when a project's students may hand photos in, and whether they see the
// boxes without words.
func (s *Store) SetHandIn(ctx context.Context, teacher, project uint64, when lesson.HandIn, bare bool) error {
	return s.update(ctx, teacher, project, map[string]any{"hand_in": when, "hand_in_bare": bare})
}

// RemoveJobs throws some ended jobs of a project away that the caller has fetched.
func (s *Store) RemoveJobs(ctx context.Context, project uint64, ids []uint64) error {
	if len(ids) == 0 {
		return nil
	}
	return s.with(ctx).Delete(&Job{}, "project_id = ? AND state = ? AND id IN ?", project, Failed, ids).Error
}

// Landmark is a point of one of a project's pictures worth getting right, in
// pixels of the upright picture.
type Landmark struct {
	ID        uint64
	ProjectID uint64
	PictureID *uint64
	Name      string
	Weight    int // 1 to 3
	Class     accuracy.Class
	X         float64 `gorm:"column:x_px"`
	Y         float64 `gorm:"column:y_px"`
}

// CheckIn is a photograph of a student's drawing with what was placed on it.
type CheckIn struct {
	ID        uint64
	ProjectID uint64
	Project   *Project // where it was fetched
	StudentID uint64
	Student   Student
	PictureID uint64
	Picture   Picture
	Corners   *plane.Quad            `gorm:"serializer:json"` // photo pixels; nil until placed
	Marks     map[uint64]plane.Point `gorm:"serializer:json"` // photo pixels by landmark
	Report    *accuracy.Report       `gorm:"serializer:json"` // what was measured; nil until the corners are known, and in lists
	Gist      *accuracy.Gist         `gorm:"serializer:json"` // the report in short
	PlanSum   uint32                 // of the plan that it was measured against
	Version   int
	CreatedAt time.Time
}

// Settle puts what was measured of a check-in into it.
func (c *CheckIn) Settle(r accuracy.Report) {
	gist := r.Gist()
	c.Corners, c.Report, c.Gist = &r.Corners, &r, &gist
}

// Stray is a photograph that waits for somebody to say whose drawing it shows.
type Stray struct {
	ID        uint64
	ProjectID uint64
	PictureID uint64
	Picture   Picture
	Words     string // why it waits
	CreatedAt time.Time
}
