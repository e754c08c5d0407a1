package store

import (
	"context"
	"strings"

	"gorm.io/gorm/clause"

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
