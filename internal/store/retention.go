package store

import (
	"context"
	"time"

	"gorm.io/gorm"
)

// EndingNotice is how long before photos and notes end their teacher is told.
const EndingNotice = 30 * 24 * time.Hour

// Ending is what of a teacher's ends soon, because the school keeps it no longer.
type Ending struct{ Photos, Notes int64 }

// ends returns before which moment photos and notes of a school have ended at a
// moment; the zero time where they never do.
func (place School) ends(at time.Time) (photos, notes time.Time) {
	before := func(months int) (t time.Time) {
		if months > 0 {
			t = at.AddDate(0, -months, 0)
		}
		return t
	}
	return before(place.PhotoMonths), before(place.NoteMonths)
}

// Ending returns how many photos and notes of a teacher of the school end within
// the notice.
func (s *Store) Ending(ctx context.Context, place School, teacher uint64, now time.Time) (e Ending, err error) {
	photos, notes := place.ends(now.UTC().Add(EndingNotice))
	if photos.IsZero() && notes.IsZero() {
		return e, nil
	}
	err = s.with(ctx).Raw(`SELECT
		(SELECT COUNT(*) FROM pictures WHERE teacher_id = @me AND purpose = @photo AND created_at < @photos) AS photos,
		(SELECT COUNT(*) FROM notes JOIN projects ON projects.id = notes.project_id WHERE projects.teacher_id = @me AND notes.created_at < @notes) AS notes`,
		map[string]any{"me": teacher, "photo": ForCheckIn, "photos": photos, "notes": notes}).Scan(&e).Error
	return e, err
}

// mostEnded bounds what is deleted in one transaction.
const mostEnded = 200

// EndOld deletes the photos and notes of every school that it keeps no longer:
// photos of drawings with what was measured on them, photos that waited, and notes
// with theirs. It returns how many photos and notes ended.
func (s *Store) EndOld(ctx context.Context, now time.Time) (e Ending, err error) {
	var schools []School
	if err := s.with(ctx).Where("photo_months > 0 OR note_months > 0").Find(&schools).Error; err != nil {
		return e, err
	}
	for _, place := range schools {
		photos, notes := place.ends(now.UTC())
		of := s.with(ctx).Model(&Teacher{}).Select("id").Where("school_id = ?", place.ID)
		n, err := s.endIn(ctx, photos, &Picture{}, func(tx *gorm.DB) *gorm.DB {
			return tx.Where("purpose = ? AND teacher_id IN (?) AND created_at < ?", ForCheckIn, of, photos)
		}, func(tx *gorm.DB, ids []uint64) error {
			// A note whose words stay loses its photo alone.
			if err := tx.Model(&Note{}).Where("picture_id IN ?", ids).UpdateColumn("picture_id", nil).Error; err != nil {
				return err
			}
			return tx.Delete(&Picture{}, ids).Error // with their check-ins
		})
		e.Photos += n
		if err != nil {
			return e, err
		}
		n, err = s.endIn(ctx, notes, &Note{}, func(tx *gorm.DB) *gorm.DB {
			return tx.Where("created_at < ? AND project_id IN (?)", notes, tx.Session(&gorm.Session{NewDB: true}).Model(&Project{}).Select("id").Where("teacher_id IN (?)", of))
		}, endNotes)
		e.Notes += n
		if err != nil {
			return e, err
		}
	}
	return e, nil
}

// endNotes deletes notes with their photos.
func endNotes(tx *gorm.DB, ids []uint64) error {
	var photos []uint64
	if err := tx.Model(&Note{}).Where("id IN ? AND picture_id IS NOT NULL", ids).Pluck("picture_id", &photos).Error; err != nil {
		return err
	}
	if err := tx.Delete(&Note{}, ids).Error; err != nil {
		return err
	}
	for _, id := range photos {
		if err := dropPhoto(tx, id); err != nil {
			return err
		}
	}
	return nil
}

// endIn deletes what was found a part at a time, so that nobody waits for it long.
func (s *Store) endIn(ctx context.Context, before time.Time, model any, find func(*gorm.DB) *gorm.DB, end func(*gorm.DB, []uint64) error) (n int64, err error) {
	for !before.IsZero() {
		var ids []uint64
		err = s.Transaction(ctx, func(s *Store) error {
			tx := s.with(ctx)
			ids = nil
			if err := find(tx.Model(model)).Order("id").Limit(mostEnded).Pluck("id", &ids).Error; err != nil || len(ids) == 0 {
				return err
			}
			return end(tx, ids)
		})
		n += int64(len(ids))
		if err != nil || len(ids) == 0 {
			return n, err
		}
	}
	return n, nil
}
