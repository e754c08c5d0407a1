package store

import (
	"context"
	"strings"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/reading"
)

// AddPicture keeps a picture with its files. The picture's ID is set.
func (s *Store) AddPicture(ctx context.Context, p *Picture, files []PictureFile) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		p.ID = 0
		if err := tx.Create(p).Error; err != nil {
			return err
		}
		for _, f := range files {
			f.PictureID = p.ID
			if err := tx.Create(&f).Error; err != nil {
				return err
			}
		}
		return nil
	})
}

// PictureFile returns one rendering of one of the teacher's pictures.
func (s *Store) PictureFile(ctx context.Context, teacher, id uint64, role Role) (PictureFile, error) {
	var f PictureFile
	err := s.with(ctx).Joins("JOIN pictures ON pictures.id = picture_files.picture_id").
		Where("pictures.teacher_id = ? AND picture_id = ? AND role = ?", teacher, id, role).First(&f).Error
	return f, known(err)
}

// PictureFiles returns one rendering of several of the teacher's pictures, by number.
func (s *Store) PictureFiles(ctx context.Context, teacher uint64, ids []uint64, role Role) (map[uint64]PictureFile, error) {
	var files []PictureFile
	err := s.with(ctx).Joins("JOIN pictures ON pictures.id = picture_files.picture_id").
		Where("pictures.teacher_id = ? AND picture_id IN ? AND role = ?", teacher, ids, role).Find(&files).Error
	by := map[uint64]PictureFile{}
	for _, f := range files {
		by[f.PictureID] = f
	}
	return by, err
}

// Picture returns one of the teacher's pictures.
func (s *Store) Picture(ctx context.Context, teacher, id uint64) (Picture, error) {
	var p Picture
	err := s.with(ctx).Where("teacher_id = ?", teacher).First(&p, id).Error
	return p, known(err)
}

// mostListed bounds one page of the library.
const mostListed = 200

// Library returns the teacher's references whose name or tags have every word
// that was looked for, the newest first, 200 at most.
func (s *Store) Library(ctx context.Context, teacher uint64, words string) (pictures []Picture, err error) {
	q := s.with(ctx).Where("teacher_id = ? AND purpose = ?", teacher, ForReference)
	for _, like := range likes(words) {
		q = q.Where("name LIKE ? OR tags LIKE ?", like, like)
	}
	err = q.Order("id DESC").Limit(mostListed).Find(&pictures).Error
	return pictures, err
}

// looked is how names are compared where words are looked for: capitals and accents do
// not count, which they do where students are told apart.
const looked = "utf8mb4_unicode_520_ci"

// likes returns a pattern for each word that is looked for.
func likes(words string) (patterns []string) {
	for _, word := range strings.Fields(words) {
		patterns = append(patterns, "%"+strings.NewReplacer("\\", "\\\\", "%", "\\%", "_", "\\_").Replace(word)+"%")
	}
	return patterns
}

// KeepHard keeps how hard one of the teacher's pictures is.
func (s *Store) KeepHard(ctx context.Context, teacher, id uint64, h reading.Hard) error {
	return s.with(ctx).Model(&Picture{}).Where("teacher_id = ? AND id = ?", teacher, id).Select("Hard").Updates(Picture{Hard: &h}).Error
}

// DescribePicture changes what the teacher says of a picture.
func (s *Store) DescribePicture(ctx context.Context, teacher, id uint64, name, tags string, difficulty int) error {
	if _, err := s.Picture(ctx, teacher, id); err != nil {
		return err
	}
	return s.with(ctx).Model(&Picture{ID: id}).Updates(map[string]any{"name": name, "tags": tags, "difficulty": difficulty}).Error
}

// RemovePicture deletes one of the teacher's references. ErrTaken if a project draws from it.
func (s *Store) RemovePicture(ctx context.Context, teacher, id uint64) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		var used int64
		if err := tx.Model(&ProjectPicture{}).Where("picture_id = ?", id).Count(&used).Error; err != nil {
			return err
		}
		res := tx.Where("teacher_id = ? AND purpose = ?", teacher, ForReference)
		if used > 0 {
			if err := res.First(&Picture{}, id).Error; err != nil {
				return err
			}
			return ErrTaken
		}
		if res = res.Delete(&Picture{}, id); res.Error == nil && res.RowsAffected == 0 {
			return ErrNotFound
		}
		return res.Error
	})
}

// DrawnFrom returns the names of the teacher's projects that a picture is on offer in.
func (s *Store) DrawnFrom(ctx context.Context, teacher, picture uint64) (names []string, err error) {
	err = s.with(ctx).Model(&Project{}).Joins("JOIN project_pictures ON project_pictures.project_id = projects.id").
		Where("projects.teacher_id = ? AND project_pictures.picture_id = ?", teacher, picture).Order("projects.id").Pluck("projects.name", &names).Error
	return names, err
}

// ProjectPictures returns the pictures on offer in a project that the caller has fetched.
func (s *Store) ProjectPictures(ctx context.Context, project uint64) (pictures []Picture, err error) {
	err = s.with(ctx).Joins("JOIN project_pictures ON project_pictures.picture_id = pictures.id").
		Where("project_pictures.project_id = ?", project).Order("pictures.id").Find(&pictures).Error
	return pictures, err
}

// OfferedPicture returns a picture on offer in a project that the caller has fetched.
func (s *Store) OfferedPicture(ctx context.Context, project, id uint64) (p Picture, err error) {
	err = s.with(ctx).Joins("JOIN project_pictures ON project_pictures.picture_id = pictures.id").
		Where("project_pictures.project_id = ?", project).First(&p, "pictures.id = ?", id).Error
	return p, known(err)
}

// OfferPicture puts one of the teacher's pictures on offer in one of their projects.
func (s *Store) OfferPicture(ctx context.Context, teacher, project, picture uint64) error {
	if _, err := s.Picture(ctx, teacher, picture); err != nil {
		return err
	}
	if err := s.owns(ctx, teacher, project); err != nil {
		return err
	}
	return s.with(ctx).Clauses(clause.OnConflict{DoNothing: true}).Create(&ProjectPicture{project, picture}).Error
}

// WithdrawPicture takes a picture off a project's offer; ErrTaken for the one
// that the plan is made for.
func (s *Store) WithdrawPicture(ctx context.Context, teacher, project, picture uint64) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		var p Project
		if err := tx.Where("teacher_id = ?", teacher).First(&p, project).Error; err != nil {
			return err
		}
		if p.PictureID != nil && *p.PictureID == picture {
			return ErrTaken
		}
		for _, gone := range []any{&Assignment{}, &Frame{}, &PressedView{}, &ProjectPicture{}} {
			if err := tx.Where("project_id = ? AND picture_id = ?", project, picture).Delete(gone).Error; err != nil {
				return err
			}
		}
		return nil
	})
}

// owns returns ErrNotFound unless the project is the teacher's.
func (s *Store) owns(ctx context.Context, teacher, project uint64) error {
	return known(s.with(ctx).Select("id").Where("teacher_id = ? AND "+there, teacher).First(&Project{}, project).Error)
}

// CountPictures returns how many pictures a teacher has for a purpose.
func (s *Store) CountPictures(ctx context.Context, teacher uint64, purpose Purpose) (int, error) {
	var n int64
	err := s.with(ctx).Model(&Picture{}).Where("teacher_id = ? AND purpose = ?", teacher, purpose).Count(&n).Error
	return int(n), err
}

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

// Picture is a reference or a photograph, upright and without metadata. Its
// bytes are PictureFiles.
type Picture struct {
	ID            uint64
	TeacherID     uint64
	Name          string
	Width, Height int
	Size          int64
	Hash          []byte
	Purpose       Purpose
	Tags          string         // words with commas
	Difficulty    int            // 1 to 3, 0 where nobody said
	Facts         *picture.Facts `gorm:"serializer:json"`   // nil for pictures of before they were measured
	Hard          *reading.Hard  `gorm:"serializer:json"`   // nil until somebody asked how hard it is
	TakenFor      *uint64        `gorm:"column:project_id"` // of a student's own view alone: the project
	TakenBy       *uint64        `gorm:"column:student_id"` // and the student
	CreatedAt     time.Time
}

// Pixels returns the picture's width and height, none without a picture.
func (p *Picture) Pixels() [2]int {
	if p == nil {
		return [2]int{}
	}
	return [2]int{p.Width, p.Height}
}

// LineDrawing reports whether a picture is known to be lines on paper; no picture is not.
func (p *Picture) LineDrawing() bool { return p != nil && p.Facts != nil && p.Facts.Drawing }

// Purpose is what a picture was taken in for.
type Purpose string

// A reference is in the teacher's library; a photo belongs to a check-in.
const (
	ForReference Purpose = "reference"
	ForCheckIn   Purpose = "photo"
	ForView      Purpose = "view" // from a student's own seat, to draw from
)

// Role says which rendering of a picture a file is.
type Role string

// The renderings kept: as large as it came, for the screen, and for lists.
const (
	Full  Role = "full"
	View  Role = "view"
	Thumb Role = "thumb"
)

// PictureFile is one encoded rendering of a picture.
type PictureFile struct {
	PictureID uint64 `gorm:"primaryKey"`
	Role      Role   `gorm:"primaryKey"`
	Kind      string // image/jpeg or image/png
	Bytes     []byte
}

// ProjectPicture is a picture on offer in a project, which may have several.
type ProjectPicture struct {
	ProjectID uint64 `gorm:"primaryKey"`
	PictureID uint64 `gorm:"primaryKey"`
}

// Frame is a part of a picture kept aside, as grid.Request reads it.
type Frame struct {
	ID        uint64
	ProjectID uint64
	PictureID uint64
	Name      string
	Frame     string
}

// Assignment gives a student a picture or frame of their own in a project, or a part of the
// boxes to draw instead of all.
type Assignment struct {
	Part      string // from its first box to its last, A1:C4; empty for all
	ProjectID uint64 `gorm:"primaryKey"`
	StudentID uint64 `gorm:"primaryKey"`
	PictureID *uint64
	Picture   *Picture
	FrameID   *uint64
	Frame     *Frame
}

// AfterFind drops what a join made of nothing.
func (a *Assignment) AfterFind(*gorm.DB) error {
	if a.PictureID == nil {
		a.Picture = nil
	}
	if a.FrameID == nil {
		a.Frame = nil
	}
	return nil
}

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
