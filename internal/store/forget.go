package store

import (
	"context"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Forgotten says that a student was forgotten, so that a backup of before that is
// restored forgets them too. It names nobody.
type Forgotten struct {
	StudentID   uint64 `gorm:"primaryKey"`
	ForgottenAt time.Time
}

// TableName names the table of Forgotten.
func (Forgotten) TableName() string { return "forgotten" }

// Forgotten returns the numbers of who was forgotten.
func (s *Store) Forgotten(ctx context.Context) (ids []uint64, err error) {
	err = s.with(ctx).Model(&Forgotten{}).Order("student_id").Pluck("student_id", &ids).Error
	return ids, err
}

// OnForgotten has something done whenever a student was forgotten, before that is
// answered. It is to be called once, before the store is in use.
func (s *Store) OnForgotten(do func(context.Context)) { s.forgotten = do }

// BackupFolder is a folder in which backups were written.
type BackupFolder struct {
	Host   string `gorm:"primaryKey"` // the machine's name
	Folder string `gorm:"primaryKey"`
	Told   uint64 // of how many who were forgotten the list in it tells
}

// AddBackupFolder notes that backups are written to a folder of a machine.
func (s *Store) AddBackupFolder(ctx context.Context, f BackupFolder) error {
	return s.with(ctx).Clauses(clause.OnConflict{DoNothing: true}).Create(&f).Error
}

// Untold returns the folders of backups whose lists do not tell of everybody who was forgotten.
func (s *Store) Untold(ctx context.Context) (list []BackupFolder, err error) {
	err = s.with(ctx).Where("told < (SELECT COUNT(*) FROM forgotten)").Order("host, folder").Find(&list).Error
	return list, err
}

// ToldOf notes of how many who were forgotten the list in a folder tells now.
func (s *Store) ToldOf(ctx context.Context, f BackupFolder) error {
	return s.with(ctx).Model(&BackupFolder{}).Where("host = ? AND folder = ? AND told < ?", f.Host, f.Folder, f.Told).Update("told", f.Told).Error
}

// DropBackupFolder notes that the backups in a folder are no more.
func (s *Store) DropBackupFolder(ctx context.Context, host, folder string) error {
	return found(s.with(ctx).Where("host = ? AND folder = ?", host, folder).Delete(&BackupFolder{}))
}

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

// ForgetStudent deletes a student of one of the teacher's classes and everything
// of theirs: work, photos, notes, links, and class sets that were printed with
// their name. What is left is that number so-and-so was forgotten.
func (s *Store) ForgetStudent(ctx context.Context, teacher, id uint64) error {
	err := s.changeStudent(ctx, teacher, id, func(tx *gorm.DB, one Student) error { return forget(tx, one) })
	if err == nil && s.forgotten != nil {
		s.afterwards(func() { s.forgotten(context.WithoutCancel(ctx)) })
	}
	return err
}

func forget(tx *gorm.DB, one Student) error {
	photos, err := photosOf(tx, one.ID)
	if err != nil {
		return err
	}
	ofTeacher := tx.Model(&Project{}).Select("id").Where("teacher_id = (SELECT teacher_id FROM classes WHERE id = ?)", one.ClassID)
	named := "project_id IN (?) AND (kind = ? OR state NOT IN ? OR JSON_VALUE(spec, '$.student') = ?)"
	if err := tx.Where(named, ofTeacher, SetJob, []JobState{Queued, Running}, one.ID).Delete(&Job{}).Error; err != nil {
		return err
	}
	if err := tx.Delete(&one).Error; err != nil { // from now on nothing more is written of them, see belongs
		return err
	}
	if err := tx.Where("student_id = ?", one.ID).Delete(&Change{}).Error; err != nil {
		return err
	}
	if err := tx.Model(&AuditEntry{}).Where("student_id = ?", one.ID).UpdateColumn("student_id", 0).Error; err != nil {
		return err
	}
	if err := tx.Create(&Forgotten{one.ID, time.Now()}).Error; err != nil {
		return err
	}
	for _, p := range photos {
		if err := dropPhoto(tx, p.ID); err != nil {
			return err
		}
	}
	return nil
}

// ForgetAgain forgets those of some numbers who are there: who was forgotten
// since a backup that was restored.
func (s *Store) ForgetAgain(ctx context.Context, ids []uint64) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		for _, id := range ids {
			var there []Student
			if err := tx.Find(&there, id).Error; err != nil {
				return err
			}
			for _, one := range there {
				if err := forget(tx, one); err != nil {
					return err
				}
			}
		}
		return nil
	})
}
