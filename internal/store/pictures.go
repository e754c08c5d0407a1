package store

import (
	"context"

	"gorm.io/gorm"
)

// AddPicture keeps a picture with its files. The picture's ID is set.
func (s *Store) AddPicture(ctx context.Context, p *Picture, files []PictureFile) error {
	return s.change(ctx, func(tx *gorm.DB) error {
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
